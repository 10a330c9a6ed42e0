<script setup lang="ts">
import { useQuery, useQueryClient } from '@tanstack/vue-query'
import { computed, ref, toRef, watch } from 'vue'
import { useI18n } from 'vue-i18n'

import { photoCountQuery, samplePhotographsApi, type Corners, type PhotoCount, type SamplePhotograph } from '@/api/samplePhotographs' // prettier-ignore
import { newId } from '@/parts/newId'
import ProblemNote from '@/parts/ProblemNote.vue'
import { plain, threeDigits } from '@/texts/format'

import FrameForm from './FrameForm.vue'
import PictureLines from './PictureLines.vue'

/** One photograph large: its scale from a frame or a ruler on it, and lengths measured on it. */
const props = defineProps<{ photograph: SamplePhotograph; mayRecord: boolean }>()
const emit = defineEmits<{ scaled: [] }>()
const { t } = useI18n()
const queries = useQueryClient()
const id = toRef(() => props.photograph.id)
const { data: count, error } = useQuery(photoCountQuery(id))
const state = ref<'look' | 'corners' | 'ruler' | 'length'>('look')
const corners = ref<Corners>([])
const sides = ref({ width: '', length: '' })
const ends = ref<number[][]>([])
const typed = ref('')
const busy = ref(false)
const problem = ref<Error | null>(null)
watch(id, () => begin('look'))

const INSIDE: Corners = [[0.1, 0.1], [0.9, 0.1], [0.9, 0.9], [0.1, 0.9]] // prettier-ignore
const WHOLE: Corners = [[0, 0], [1, 0], [1, 1], [0, 1]] // prettier-ignore
const shape = computed(() => props.photograph.height / props.photograph.width)
const scaled = computed(() => count.value?.width !== null && count.value?.width !== undefined)
const lengths = computed(() =>
  (count.value?.lengths ?? []).map((one) => ({
    ...one,
    said: `${one.name} ${one.length === null ? '–' : `${threeDigits(one.length)} ${count.value!.unit}`}`,
  })),
)
function begin(next: typeof state.value) {
  state.value = next
  ends.value = []
  typed.value = ''
  problem.value = null
  corners.value = count.value?.straightened ? count.value.corners : INSIDE
  // A size that somebody typed stays, or setting a corner anew would change every length.
  const known = count.value?.straightened ? count.value : { width: null, length: null }
  sides.value = { width: sideOf(known.width), length: sideOf(known.length) }
}
const sideOf = (side: number | null) => (side === null ? '' : plain(Number(side.toPrecision(6))))
async function keep(work: () => Promise<PhotoCount>) {
  busy.value = true
  problem.value = null
  try {
    queries.setQueryData(photoCountQuery(id).queryKey, await work())
    begin('look')
    emit('scaled')
  } catch (thrown) {
    problem.value = thrown as Error
  } finally {
    busy.value = false
  }
}
const straighten = () =>
  keep(() =>
    samplePhotographsApi.keepCorners(id.value, '', corners.value, sides.value, { marks: [], were: WHOLE }),
  )
const rule = () => keep(() => samplePhotographsApi.keepRuler(id.value, ends.value, typed.value))
const keepLength = () =>
  keep(() =>
    samplePhotographsApi.keepLength(id.value, newId(), typed.value.trim(), count.value!.corners, ends.value),
  )
const remove = (length: string) => keep(() => samplePhotographsApi.removeLength(id.value, length))
</script>

<template>
  <ProblemNote v-if="problem ?? (count ? null : error)" :problem="(problem ?? error)!" />
  <template v-if="!count">
    <img class="whole" :src="`/api/v1/photographs/${photograph.id}`" :alt="t('walk.photos.picture')" />
  </template>
  <template v-else-if="state === 'corners'">
    <FrameForm
      v-model:corners="corners"
      v-model:sides="sides"
      :src="`/api/v1/photographs/${photograph.id}`"
      :unit="count.unit"
    />
    <v-btn color="accent" :loading="busy" @click="straighten">{{ t('walk.count.straighten') }}</v-btn>
  </template>
  <template v-else-if="state === 'ruler'">
    <p>{{ t('walk.photos.rulerLead') }}</p>
    <PictureLines
      v-model="ends"
      :src="`/api/v1/photographs/${photograph.id}`"
      :shape="shape"
      :lines="[]"
      :may="true"
    />
    <div class="fields">
      <v-text-field
        v-model="typed"
        :label="t('walk.photos.between')"
        :suffix="count.unit"
        inputmode="decimal"
      />
      <v-btn color="accent" :disabled="ends.length < 2 || !typed.trim()" :loading="busy" @click="rule">{{
        t('walk.photos.saveScale')
      }}</v-btn>
    </div>
  </template>
  <template v-else>
    <p v-if="state === 'length'">{{ t('walk.photos.lengthLead') }}</p>
    <PictureLines
      v-model="ends"
      :src="
        samplePhotographsApi.straight(photograph.id, [
          ...count.corners,
          [count.width ?? 0, count.length ?? 0],
        ])
      "
      :shape="count.shape"
      :lines="lengths"
      :may="state === 'length'"
    />
    <div v-if="state === 'length'" class="fields">
      <v-text-field v-model="typed" :label="t('walk.photos.what')" maxlength="80" />
      <v-btn
        color="accent"
        :disabled="ends.length < 2 || !typed.trim()"
        :loading="busy"
        @click="keepLength"
        >{{ t('walk.photos.saveLength') }}</v-btn
      >
    </div>
    <ul v-if="lengths.length" class="lengths">
      <li v-for="one in lengths" :key="one.id">
        <strong>{{ one.said }}</strong> <span class="quiet by">{{ one.by }}</span>
        <button
          v-if="mayRecord"
          type="button"
          class="link-button"
          :aria-label="t('walk.photos.removeLength', { what: one.said })"
          @click="remove(one.id)"
        >
          {{ t('ask.remove') }}
        </button>
      </li>
    </ul>
    <p class="quiet small">
      {{
        scaled
          ? t('walk.photos.scale', {
              w: threeDigits(count.width!),
              l: threeDigits(count.length!),
              unit: count.unit,
            })
          : t('walk.photos.noScale')
      }}
    </p>
  </template>
  <p v-if="mayRecord && count" class="acts">
    <template v-if="state === 'look'">
      <button type="button" class="pill" @click="begin('corners')">{{ t('walk.photos.setFrame') }}</button>
      <button type="button" class="pill" @click="begin('ruler')">{{ t('walk.photos.setRuler') }}</button>
      <button v-if="scaled" type="button" class="pill" @click="begin('length')">
        {{ t('walk.photos.addLength') }}
      </button>
    </template>
    <button v-else type="button" class="link-button" @click="begin('look')">{{ t('margin.cancel') }}</button>
  </p>
</template>

<style scoped>
.whole {
  width: 100%;
  max-height: 66vh;
  object-fit: contain;
}
.fields {
  display: flex;
  flex-wrap: wrap;
  gap: 10px;
  align-items: center;
  margin-top: 10px;
}
.fields > :not(.v-btn) {
  max-width: 240px;
  min-width: 140px;
}
.lengths {
  margin: 8px 0;
  padding-left: 18px;
}
.by {
  margin-right: 12px;
}
.acts {
  display: flex;
  flex-wrap: wrap;
  gap: 10px;
  align-items: center;
}
</style>
