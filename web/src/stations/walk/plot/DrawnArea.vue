<script setup lang="ts">
import { computed, onBeforeUnmount, ref } from 'vue'
import { useI18n } from 'vue-i18n'

import type { Plot, SheetMeasure, Trial } from '@/api/queries'
import { squaresIn, squaresSaid } from '@/rules/squares'
import { plain, saidIn } from '@/texts/format'

import { gridOf } from './failedGround'

/**
 * An area of a plot, drawn with a finger on the squares of a grid. `text`: the squares’ numbers as they are kept, from
 * the corner where samples are measured from, first across the plot; here that corner is at the lower left.
 */
const props = defineProps<{
  trial: Trial
  plot: Plot
  measure: SheetMeasure
  corner: string
  text: string
  disabled: boolean
}>()
/** `left`: somebody goes on to another plot. */
const emit = defineEmits<{ drawn: [text: string]; left: [] }>()
const { t } = useI18n()

const across = computed(() => gridOf(props.measure).across)
const along = computed(() => gridOf(props.measure).along)
const total = computed(() => across.value * along.value)
const drawn = computed(() => new Set((squaresIn(props.text, total.value) ?? []).filter(Boolean)))
const none = computed(() => props.text.trim() === '0')

/** A map without dimensions has plots of a size that nobody measured. */
const measured = computed(() => !props.trial.schematic && props.plot.width > 0 && props.plot.length > 0)
/** As the plot lies, but no square too small for a thumb. */
const size = computed(() => {
  const shape = measured.value ? props.plot.length / along.value / (props.plot.width / across.value) : 1
  const width = Math.min(38, 240 / across.value)
  return { width, height: Math.min(Math.max(width * shape, 28), 38) }
})
const box = computed(() => ({
  width: size.value.width * across.value,
  height: size.value.height * along.value,
}))
const squares = computed(() =>
  Array.from({ length: total.value }, (_, i) => ({
    n: i + 1,
    x: (i % across.value) * size.value.width,
    y: (along.value - 1 - Math.floor(i / across.value)) * size.value.height,
  })),
)

/** Whether the stroke marks squares or clears them: as the first one that it touches wasn’t. */
let marking: boolean | null = null
const picture = ref<SVGSVGElement>()
/** Where the stroke is, in squares from the upper left. */
let last = [0, 0]
function placeOf(event: PointerEvent): [number, number] {
  const { left, top, width, height } = picture.value!.getBoundingClientRect()
  return [((event.clientX - left) / width) * across.value, ((event.clientY - top) / height) * along.value]
}
function under([x, y]: number[]): number | null {
  const column = Math.floor(x!)
  const row = along.value - 1 - Math.floor(y!)
  const inside = column >= 0 && column < across.value && row >= 0 && row < along.value
  return inside ? row * across.value + column + 1 : null
}
function begin(event: PointerEvent) {
  last = placeOf(event)
  const one = under(last)
  if (props.disabled || one === null) return
  picture.value!.setPointerCapture?.(event.pointerId)
  marking = !drawn.value.has(one)
  mark([one])
}
/** A quick finger skips squares; all that lie between are touched too. */
function move(event: PointerEvent) {
  if (marking === null) return
  const [from, to] = [last, placeOf(event)]
  last = to
  const steps = Math.ceil(4 * Math.max(Math.abs(to[0]! - from[0]!), Math.abs(to[1]! - from[1]!))) || 1
  const touched = Array.from({ length: steps }, (_, i) => {
    const share = (i + 1) / steps
    return under([from[0]! + share * (to[0]! - from[0]!), from[1]! + share * (to[1]! - from[1]!)])
  })
  mark(touched.filter((one) => one !== null))
}
function mark(touched: number[]) {
  const now = new Set(drawn.value)
  for (const one of touched)
    if (marking) now.add(one)
    else now.delete(one)
  if (touched.some((one) => drawn.value.has(one) !== marking)) emit('drawn', squaresSaid(now))
}
const said = computed(() =>
  none.value || drawn.value.size
    ? t('walk.drawn.said', {
        n: drawn.value.size,
        of: total.value,
        percent: plain(Number(((100 * drawn.value.size) / total.value).toPrecision(3))),
      })
    : t('walk.drawn.empty'),
)
onBeforeUnmount(() => emit('left'))
const metres = (value: number) => `${saidIn(props.trial.length_factor, value)} ${props.trial.length_unit}`
const about = computed(() => {
  const { width, length } = props.plot
  const square = { a: metres(width / across.value), b: metres(length / along.value) }
  return [
    measured.value ? t('walk.drawn.square', square) : '',
    props.corner ? t('walk.drawn.corner', { corner: props.corner }) : '',
  ]
    .filter(Boolean)
    .join(' ')
})
</script>

<template>
  <div class="drawn">
    <svg
      ref="picture"
      :width="box.width + 2"
      :height="box.height + 2"
      :viewBox="`-1 -1 ${box.width + 2} ${box.height + 2}`"
      role="img"
      :aria-label="`${t('walk.plot', { p: plot.label })}: ${said}`"
      :class="{ off: disabled }"
      @pointerdown="begin"
      @pointermove="move"
      @pointerup="marking = null"
      @pointercancel="marking = null"
    >
      <rect
        v-for="{ n, x, y } in squares"
        :key="n"
        :x="x"
        :y="y"
        :width="size.width"
        :height="size.height"
        :class="{ failed: drawn.has(n) }"
      />
      <rect class="plot" v-bind="box" />
      <circle class="corner" cx="0" :cy="box.height" r="5" />
    </svg>
    <div class="beside">
      <p class="said" role="status">{{ said }}</p>
      <p v-if="about" class="quiet small">{{ about }}</p>
    </div>
    <div class="choices">
      <button type="button" class="tap" :disabled="disabled || none" @click="emit('drawn', '0')">
        {{ t('walk.drawn.none') }}
      </button>
      <button type="button" class="tap" :disabled="disabled || !text.trim()" @click="emit('drawn', '')">
        {{ t('walk.drawn.again') }}
      </button>
    </div>
  </div>
</template>

<style scoped>
.drawn {
  display: grid;
  grid-template-columns: auto 1fr;
  gap: 12px 16px;
  align-items: start;
}
.choices {
  grid-column: 1 / -1;
  display: flex;
  flex-wrap: wrap;
  gap: 10px;
}
svg {
  flex: none;
  overflow: visible;
  touch-action: none;
  cursor: crosshair;
}
.off {
  cursor: default;
}
rect {
  fill: var(--paper);
  stroke: var(--rule);
}
.failed {
  fill: var(--loss);
  stroke: var(--paper);
}
.plot {
  fill: none;
  stroke: var(--ink);
  stroke-width: 2;
  pointer-events: none;
}
.corner {
  fill: var(--accent);
}
.beside {
  display: grid;
  gap: 10px;
  min-width: 0;
}
.beside p {
  margin: 0;
}
.said {
  font-size: 18px;
  font-weight: 700;
}
.tap {
  flex: 1 1 auto;
}
</style>
