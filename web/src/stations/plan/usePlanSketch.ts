import { computed, ref } from 'vue'

import type { Constraint, PlanIn, Sketch, Trial } from '@/api/queries'
import type { Design } from './designs'
import { shownIn } from '@/texts/format'

/** The plan while it is being worked out: lengths as typed, in the person's own unit. */
export function usePlanSketch(trial: () => Trial) {
  const drawn = trial().plan
  const typed = (metres: number) => shownIn(trial().length_factor, metres)
  const proposal = trial().proposal
  const design = ref<Design>(drawn?.design ?? proposal.design)
  const wholeFactor = ref(drawn?.whole_factor || proposal.whole_factor)
  const columnFactor = ref(drawn?.column_factor || proposal.column_factor)
  const blockSize = ref(String(drawn?.block_size || proposal.block_size || ''))
  const { size } = proposal
  const blocks = ref(Math.max(size.least_blocks, drawn?.blocks ?? size.blocks))
  const width = ref(typed(drawn?.width ?? size.width))
  const length = ref(typed(drawn?.length ?? size.length))
  const gap = ref(typed(drawn?.gap ?? size.gap))
  const alley = ref(typed(drawn?.alley ?? size.alley))
  /** How blocks lie to each other; null: as is proposed. */
  const sideBySide = ref<boolean | null>(drawn ? drawn.side_by_side : null)
  const serpentine = ref(drawn?.serpentine ?? false)
  const seed = ref('')
  const wholeShare = ref('1')
  const plotMinutes = ref('')
  const frameMinutes = ref('')
  const hours = ref('')
  const frameCv = ref<Record<string, string>>({})
  const systematic = ref(trial().allocation === 'systematic' && Boolean(drawn))
  const demonstration = ref(drawn?.blocks === 1)
  const notGrown = ref<string[]>([...(trial().not_grown ?? [])])
  const kept = ref<Constraint['kind'][]>((drawn?.constraints ?? []).map((one) => one.kind))

  const factors = computed(() => trial().factors.map((f) => f.name))
  const replicates = computed(() => design.value === 'incomplete_block')
  const needsWhole = computed(() => design.value === 'split_plot' || design.value === 'strip_plot')
  const factorsOfDesign = computed(() => ({
    whole_factor: needsWhole.value ? wholeFactor.value : '',
    column_factor: design.value === 'strip_plot' ? columnFactor.value : '',
    block_size: replicates.value ? blockSize.value || null : null,
  }))
  const sketch = computed<Sketch>(() => ({
    blocks: demonstration.value ? 1 : blocks.value,
    systematic: systematic.value,
    demonstration: demonstration.value,
    design: design.value,
    not_grown: notGrown.value,
    width: width.value,
    length: length.value,
    gap: gap.value || '0',
    alley: alley.value || '0',
    side_by_side: sideBySide.value,
    whole_share: wholeShare.value,
    plot_minutes: plotMinutes.value,
    frame_minutes: frameMinutes.value,
    hours: hours.value,
    frame_cv: frameCv.value,
    ...factorsOfDesign.value,
  }))
  const control = computed(() => trial().treatments.find((one) => one.is_control)?.name)
  const asked = computed<PlanIn>(() => ({
    blocks: sketch.value.blocks,
    systematic: systematic.value,
    demonstration: demonstration.value,
    width: width.value,
    length: length.value,
    gap: gap.value || '0',
    alley: alley.value || '0',
    serpentine: serpentine.value,
    side_by_side: sideBySide.value,
    seed: seed.value.trim() || null,
    design: design.value,
    ...factorsOfDesign.value,
    not_grown: notGrown.value,
    constraints: kept.value.map((kind) => ({
      kind,
      treatments: kind === 'not-at-the-edge' && control.value ? [control.value] : [],
      most: 1,
    })),
  }))

  function more(step: number) {
    blocks.value = Math.min(size.most_blocks, Math.max(size.least_blocks, blocks.value + step))
  }
  function takeProposal() {
    design.value = trial().proposal.design
    wholeFactor.value = trial().proposal.whole_factor
    columnFactor.value = trial().proposal.column_factor
    blockSize.value = String(trial().proposal.block_size || '')
  }
  return {
    plotMinutes, frameMinutes, hours, frameCv, design, wholeFactor, columnFactor, blockSize, blocks, width, length, gap, alley, serpentine, sideBySide, seed, wholeShare, kept, notGrown, systematic, demonstration,
    factors, needsWhole, replicates, sketch, asked, control, more, takeProposal, typed,
  } // prettier-ignore
}
