import {
  computed,
  inject,
  provide,
  ref,
  shallowRef,
  type ComputedRef,
  type InjectionKey,
  type Ref,
} from 'vue'

import type { PlotFace, WayLeg } from '@/ground/GroundMap.vue'

/** What a station shows on the ground: a title, and a face for each plot. */
export interface GroundView {
  title: string
  unit: string
  faces: Record<string, PlotFace>
  /** The way of a drill over the plots. */
  way?: WayLeg[]
  cleaned?: number[]
  /** Plot → the strips of it that are sown, in metres: x, y, width, length; the rest is crossed out. */
  strips?: Record<string, number[][]>
  /** Where samples are taken, in metres: x, y, width, length. */
  samples?: number[][]
  /** Ground that has failed, in metres: x, y, width, length. */
  failed?: number[][]
  /** Names, codes and colours of treatments are hidden. */
  blind?: boolean
}
interface Shared {
  view: ComputedRef<GroundView>
  /** From now on the ground shows this; it isn’t worked out where no map is on the screen. */
  show: (view: () => GroundView) => void
  chosen: Ref<string[]>
  doubts: Ref<number | null>
}
const KEY: InjectionKey<Shared> = Symbol('ground')

/** The frame owns the ground; stations inside it say what it shows. Plots chosen in one place are chosen in all. */
export function provideGround(): Shared {
  const shown = shallowRef<() => GroundView>(() => ({ title: '', unit: '', faces: {} }))
  const shared: Shared = {
    view: computed(() => shown.value()),
    show: (view) => (shown.value = view),
    chosen: ref([]),
    doubts: ref(null),
  }
  provide(KEY, shared)
  return shared
}

export function useGround(): Shared {
  const shared = inject(KEY)
  if (!shared) throw new Error('useGround needs TrialFrame above it')
  return shared
}

/** What a station shows on the ground, kept up as it changes. */
export function useStationGround(view: () => GroundView) {
  const shared = useGround()
  shared.show(view)
  return shared
}
