<script setup lang="ts">
import { onBeforeUnmount, ref, useTemplateRef } from 'vue'
import { useI18n } from 'vue-i18n'

/** Reads a label’s QR code by the device’s camera; without one, or without leave, it says what to do instead. */
const emit = defineEmits<{ scanned: [text: string] }>()
const { t } = useI18n()
const open = ref(false)
const problem = ref('')
const video = useTemplateRef<HTMLVideoElement>('video')
/** Pixels of the longer side that are looked at: enough for a label at arm’s length, quick on an old phone. */
const LOOKED_AT = 800
const EVERY_MS = 120
let stream: MediaStream | null = null
let timer: ReturnType<typeof setTimeout> | undefined

async function start() {
  problem.value = ''
  open.value = true
  try {
    if (!navigator.mediaDevices) throw new Error('no camera')
    const { decodeQR } = await import('qr/decode.js')
    stream = await navigator.mediaDevices.getUserMedia({ video: { facingMode: 'environment' } })
    if (!open.value || !video.value) return stop()
    video.value.srcObject = stream
    await video.value.play()
    look(decodeQR)
  } catch {
    problem.value = t('scan.noCamera')
  }
}
function look(decode: typeof import('qr/decode.js').decodeQR) {
  if (!open.value || !video.value) return
  const { videoWidth, videoHeight } = video.value
  const scale = Math.min(1, LOOKED_AT / Math.max(videoWidth, videoHeight, 1))
  const [width, height] = [Math.round(videoWidth * scale), Math.round(videoHeight * scale)]
  if (width && height) {
    const canvas = new OffscreenCanvas(width, height)
    const context = canvas.getContext('2d', { willReadFrequently: true })!
    context.drawImage(video.value, 0, 0, width, height)
    const text = read(() => decode(context.getImageData(0, 0, width, height)))
    if (text) {
      navigator.vibrate?.(80)
      stop()
      emit('scanned', text)
      return
    }
  }
  timer = setTimeout(() => look(decode), EVERY_MS)
}
/** A picture without a code that can be read raises; the next one may have it. */
function read(decode: () => string): string {
  try {
    return decode()
  } catch {
    return ''
  }
}
function stop() {
  clearTimeout(timer)
  stream?.getTracks().forEach((track) => track.stop())
  stream = null
  open.value = false
}
onBeforeUnmount(stop)
</script>

<template>
  <button type="button" class="pill" @click="start">{{ t('scan.start') }}</button>
  <v-dialog
    :model-value="open"
    max-width="520"
    :aria-label="t('scan.title')"
    @update:model-value="(now) => now || stop()"
  >
    <div class="scan">
      <h2>{{ t('scan.title') }}</h2>
      <p v-if="problem" role="alert">{{ problem }}</p>
      <template v-else>
        <video ref="video" muted playsinline :aria-label="t('scan.picture')" />
        <p role="status">{{ t('scan.hold') }}</p>
      </template>
      <button type="button" class="pill" @click="stop">{{ t('scan.close') }}</button>
    </div>
  </v-dialog>
</template>

<style scoped>
.scan {
  background: var(--paper);
  color: var(--ink);
  border-radius: 12px;
  padding: 18px;
}
video {
  width: 100%;
  max-height: 60vh;
  border-radius: 8px;
  background: #000000;
}
</style>
