import type { Bench } from './rig.ts'

const LOOKS_EACH_S = 0.05
const STARTED_RPM = 400
const PRIME_S = 3

/** Key on, primed, and cranked until it runs. @returns seconds at the starter; null: it did not fire in the time given */
export function crankUp(bench: Bench, mostS = 8): number | null {
  bench.keyOn = true
  bench.run(PRIME_S)
  bench.starter = true
  let seconds = 0
  while (seconds < mostS && bench.rpm < STARTED_RPM) {
    bench.run(LOOKS_EACH_S)
    seconds += LOOKS_EACH_S
  }
  bench.starter = false
  return bench.rpm < STARTED_RPM ? null : seconds
}
