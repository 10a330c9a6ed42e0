<script setup lang="ts">
import { useMutation } from '@tanstack/vue-query'
import { useI18n } from 'vue-i18n'

import { api, inItsUnits, queryClient, sessionQuery, type Session } from '@/api/queries'

/** In which units the person is shown figures, on every machine. */
const props = defineProps<{ session: Session }>()
const { t } = useI18n()

const { mutate: turn, isPending: busy } = useMutation({
  mutationFn: async () => {
    const units = props.session.units === 'us' ? 'metric' : 'us'
    queryClient.setQueryData(sessionQuery.queryKey, inItsUnits(await api.prefer(units)))
  },
})
</script>

<template>
  <button
    type="button"
    class="units"
    :disabled="busy"
    :aria-label="t('units.label', { now: t(`units.${session.units}`) })"
    @click="turn()"
  >
    {{ t(`units.${session.units}`) }}
  </button>
</template>

<style scoped>
.units {
  border: 1px solid var(--band-quiet);
  border-radius: 999px;
  padding: 2px 11px;
  min-height: 30px;
  font: inherit;
  font-size: 13px;
  background: transparent;
  color: var(--on-band);
}
@media (max-width: 720px) {
  .units {
    min-height: 48px;
  }
}
</style>
