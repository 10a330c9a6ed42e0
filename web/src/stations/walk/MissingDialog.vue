<script setup lang="ts">
import { computed, ref, watch } from 'vue'
import { useI18n } from 'vue-i18n'

import SheetDialog from '@/parts/SheetDialog.vue'
import { useRequired } from '@/parts/useRequired'

/** Why a plot has no value. A failed cover is zero in what is measured on the cover itself; the rest is counted. */
const props = defineProps<{ plot: string; measures: { name: string; zero_when_failed: boolean }[] }>()
const emit = defineEmits<{ mark: [missingStatus: 'failed' | 'damaged' | 'not-taken', reason: string] }>()
const open = defineModel<boolean>({ required: true })
const { t } = useI18n()
const STATUSES = ['damaged', 'failed', 'not-taken'] as const
const missingStatus = ref<(typeof STATUSES)[number]>('damaged')
const reason = ref('')
const zero = computed(() => props.measures.filter((m) => m.zero_when_failed).map((m) => m.name))
const left = computed(() => props.measures.filter((m) => !m.zero_when_failed).map((m) => m.name))
const lead = (f: (typeof STATUSES)[number]) => {
  if (f !== 'failed') return t(`walk.missingStatusLead.${f}`)
  if (!zero.value.length) return t('walk.noneZero', { open: left.value.join(', ') })
  const said = t('walk.becomeZero', { zero: zero.value.join(', ') })
  return left.value.length ? `${said} ${t('walk.stayOpen', { open: left.value.join(', ') })}` : said
}
const { missing, missingAt, complete } = useRequired(
  () => (reason.value.trim() ? [] : [{ where: 'reason', what: t('walk.sayWhy') }]),
  open,
)

watch(open, (now) => {
  if (!now) return
  missingStatus.value = 'damaged'
  reason.value = ''
})
function keep() {
  if (complete()) emit('mark', missingStatus.value, reason.value.trim())
}
</script>

<template>
  <SheetDialog
    v-model="open"
    :title="t('walk.missing', { p: plot })"
    :act="t('walk.keepMissing')"
    :cancel="t('margin.cancel')"
    :problem="null"
    :missing="missing"
    @act="keep"
  >
    <fieldset>
      <legend class="seen-by-readers-only">{{ t('walk.whyMissing') }}</legend>
      <label v-for="f in STATUSES" :key="f">
        <input
          v-model="missingStatus"
          type="radio"
          name="missing-status"
          :value="f"
          :disabled="f === 'failed' && !zero.length"
        />
        <span
          ><strong>{{ t(`walk.missingStatus.${f}`) }}</strong
          ><span class="quiet">{{ lead(f) }}</span></span
        >
      </label>
    </fieldset>
    <v-text-field
      v-model="reason"
      data-where="reason"
      :label="t('missing.required', { label: t('walk.reason') })"
      :error-messages="missingAt('reason')"
      aria-required="true"
      maxlength="200"
    />
  </SheetDialog>
</template>

<style scoped>
fieldset {
  border: 0;
  padding: 0;
  margin: 0;
}
label {
  display: flex;
  gap: 12px;
  align-items: flex-start;
  min-height: 48px;
  padding: 6px 0;
}
label span span {
  display: block;
}
input {
  width: 22px;
  height: 22px;
  margin: 0;
  flex: none;
  accent-color: var(--accent);
}
</style>
