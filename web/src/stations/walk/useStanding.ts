import { useQuery } from '@tanstack/vue-query'
import { computed, shallowRef, watch, type Ref } from 'vue'
import { useI18n } from 'vue-i18n'

import type { Trial, Visit } from '@/api/queries'
import { standingQuery, type Standing } from '@/api/sow'
import type { Cell } from '@/offline/cells'
import { painted } from '@/parts/painted'
import { checkHere, standingHere } from '@/rules/onDevice'

import type { Sheet } from './useSheet'

/** Sentences about one measure in the plot; `hidden`: some could give a hidden treatment away and aren’t said. */
export interface StandingLine {
  measure: string
  name: string
  unit: string
  /** In the unit that it is shown in. */
  threshold: number | null
  said: string[]
  hidden: boolean
}

/**
 * What the counts of a plot come to so far, with what is being typed and what waits to be sent: worked out on this
 * device by the rules that the server sent, with or without a network. `blind`: whether treatments are hidden.
 */
export function useStanding(
  trial: () => Trial,
  visit: () => Visit,
  unit: Ref<string>,
  sheet: Sheet,
  blind: () => boolean,
) {
  const { t } = useI18n()
  const { data, refetch } = useQuery(standingQuery(() => visit().id))
  const lines = shallowRef<StandingLine[]>([])
  const treatmentOf = computed(() => new Map(trial().plots.map((plot) => [plot.id, plot.treatment])))
  const measures = computed(() => data.value ?? [])
  const typed = computed(() =>
    sheet.byStatus.value.draft.map((c) => Object.values(c.fields).join()).join('|'),
  )
  let asked = 0

  watch(
    [measures, unit, sheet.byStatus, typed, blind],
    async () => {
      const mine = ++asked
      await painted()
      if (mine !== asked) return
      const found = await Promise.all(measures.value.map(lineOf))
      if (mine === asked) lines.value = found
    },
    { immediate: true },
  )

  async function lineOf(one: Standing): Promise<StandingLine> {
    const treatment = treatmentOf.value.get(unit.value) ?? ''
    const beyond = { value: false }
    const samples = await samplesOf(one, treatment, beyond)
    const here = [...(samples.get(unit.value)?.values() ?? [])]
    const { measure, name, threshold, shown, stand, rate, each, sown } = one
    const there = sown[treatment]
    const said: string[] = []
    if (there && !blind()) {
      const values = here.map((value) => value * one.per_m2!)
      said.push(await standingHere('sown', { values, ...there }, { stand, rate }, each))
    }
    if (threshold !== null && !(one.alike && blind())) {
      const values = one.alike ? meansOf(one, samples, treatment) : here
      const held = standingHere('threshold', { values, threshold }, { measure: shown }, each)
      said.push(beyond.value ? t('walk.threshold.beyond') : await held)
    }
    const hidden = blind() && (Object.keys(sown).length > 0 || (one.alike && threshold !== null))
    return {
      measure, name, unit: shown.unit, threshold: threshold === null ? null : threshold * shown.factor,
      said: said.filter(Boolean), hidden,
    } // prettier-ignore
  }

  /**
   * Plot → sample → its value in the stored unit; what is told by parts added up or, of layers, their mean. `beyond`
   * becomes true where one lies beyond what was measured, so that the others don’t stand for all.
   */
  async function samplesOf(one: Standing, treatment: string, beyond: { value: boolean }) {
    const parts = new Map<string, Map<number, number[]>>()
    for (const cell of sheet.cells.values()) {
      if (cell.place.measure !== one.measure || (!one.alike && cell.place.unit !== unit.value)) continue
      const value = await valueOf(cell)
      if (value === 'beyond')
        beyond.value ||=
          cell.place.unit === unit.value || treatmentOf.value.get(cell.place.unit) === treatment
      if (value === null || value === 'beyond') continue
      const plot = parts.get(cell.place.unit) ?? new Map<number, number[]>()
      plot.set(cell.place.sample, [...(plot.get(cell.place.sample) ?? []), value])
      parts.set(cell.place.unit, plot)
    }
    const made = (own: number[]) => sum(own) / (one.parts_make === 'mean' ? own.length : 1)
    return new Map(
      [...parts].map(([plot, own]) => [plot, new Map([...own].map(([sample, all]) => [sample, made(all)]))]),
    )
  }
  /** One value of each plot of the treatment; of those on other pages of the sheet, what the server had. */
  function meansOf(one: Standing, samples: Map<string, Map<number, number>>, treatment: string) {
    const here = new Set(visit().order)
    const plots = trial().plots.filter((plot) => plot.treatment === treatment)
    return plots.flatMap(({ id }) => {
      const own = [...(samples.get(id)?.values() ?? [])]
      if (here.has(id)) return own.length ? [sum(own) / own.length] : []
      return one.means[id] ?? []
    })
  }
  async function valueOf(cell: Cell): Promise<number | 'beyond' | null> {
    if (!['queued', 'draft'].includes(cell.status))
      return cell.row?.value ?? (typeof cell.row?.bound === 'number' ? 'beyond' : null)
    const rules = visit().measures.find((m) => m.id === cell.place.measure)?.rules
    if (!rules || cell.missingStatus || (cell.units && cell.units !== visit().units)) return null
    const checked = await checkHere(rules, cell.fields)
    if (!('value' in checked)) return null
    return checked.value ?? 'beyond'
  }
  return { lines, refetch }
}
const sum = (values: number[]) => values.reduce((all, one) => all + one, 0)
