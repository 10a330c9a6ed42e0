import { ref, watch } from 'vue'

const KEPT = 'apercu.pace'
const USUAL_M = 0.75

/** Length of one pace of who holds this device, m; what others pace is theirs. */
export const pace = ref(Number(localStorage.getItem(KEPT)) || USUAL_M)
watch(pace, (now) => {
  if (now >= 0.3 && now <= 2) localStorage.setItem(KEPT, String(now))
})

/** Whole paces of a way in metres. */
export const paces = (metres: number) => Math.round(metres / pace.value)
