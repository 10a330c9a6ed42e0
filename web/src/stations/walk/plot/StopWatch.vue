<script setup lang="ts">
import { computed, onBeforeUnmount, ref, watch } from 'vue'
import { useI18n } from 'vue-i18n'

import { plain } from '@/texts/format'

/**
 * Times how long something takes in the plot, such as water to go into the soil; or, with a `limit` in s, says when
 * the time that one watches for is over. It runs on while the page is closed: `place`: under which its start is kept
 * on this device.
 */
const props = defineProps<{ place: string; disabled: boolean; limit?: number }>()
const emit = defineEmits<{ timed: [seconds: number] }>()
const { t } = useI18n()
const key = `apercu.timer.${props.place}`
const started = ref(Number(localStorage.getItem(key)) || 0)
const now = ref(Date.now())
const ticking = setInterval(() => (now.value = Date.now()), 250)
onBeforeUnmount(() => clearInterval(ticking))

const seconds = computed(() =>
  started.value ? Math.max(0, Math.round((now.value - started.value) / 1000)) : 0,
)
const over = computed(() => props.limit !== undefined && seconds.value >= props.limit)
const shown = computed(() => {
  const all = props.limit === undefined ? seconds.value : Math.max(0, Math.ceil(props.limit - seconds.value))
  return `${Math.floor(all / 60)}:${String(all % 60).padStart(2, '0')}`
})
// One looks at the flowers, not at the phone.
watch(over, (is) => is && navigator.vibrate?.([400, 200, 400]))
function start() {
  started.value = now.value = Date.now()
  try {
    localStorage.setItem(key, String(started.value))
  } catch {
    // the device is full: the timer runs as long as this page is open
  }
}
function stop() {
  now.value = Date.now()
  const took = seconds.value
  forget()
  if (took > 0) emit('timed', took)
}
function forget() {
  started.value = 0
  localStorage.removeItem(key)
}
</script>

<template>
  <div class="timer">
    <template v-if="started">
      <output role="timer">{{ shown }}</output>
      <template v-if="limit !== undefined">
        <strong v-if="over" role="alert">{{ t('walk.timer.over') }}</strong>
        <button type="button" class="tap" @click="forget">
          {{ over ? t('walk.timer.close') : t('walk.timer.cancel') }}
        </button>
      </template>
      <template v-else>
        <button type="button" class="tap" @click="stop">{{ t('walk.timer.stop', { s: seconds }) }}</button>
        <button type="button" class="link-button" @click="forget">{{ t('walk.timer.cancel') }}</button>
      </template>
    </template>
    <button v-else type="button" class="tap" :disabled="disabled" @click="start">
      {{ limit === undefined ? t('walk.timer.start') : t('walk.timer.watch', { min: plain(limit / 60) }) }}
    </button>
  </div>
</template>

<style scoped>
.timer {
  display: flex;
  flex-wrap: wrap;
  gap: 12px;
  align-items: center;
  margin: 8px 0;
}
output {
  font-size: 30px;
  font-weight: 800;
  font-variant-numeric: tabular-nums;
}
</style>
