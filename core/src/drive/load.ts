import { rootBetween } from '../kernel/index.ts'
import { bilinear, type RunnerTable, type TuneDocument } from '../tune/index.ts'

/** What tells the load on the map that is planned for: manifold pressure, or the throttle of each runner. */
export interface LoadScale {
  by: 'pressure' | 'throttle'
  rpm: readonly number[]
  /** breakpoints, kPa or % */
  axis: readonly number[]
  /** air that a cylinder takes, as the pressure at which it would be filled whole, kPa */
  airKpa: (rpm: number, load: number) => number
  mapKpa: (rpm: number, load: number) => number
  /** where throttles tell it: how the tables share the fuel */
  runner?: Pick<RunnerTable, 'throttlePct' | 'blendFromPct' | 'blendToPct'>
}

const LOWEST_MAP_KPA = 10
/** Where pressure has to be searched for: so many points of each axis are looked up instead. */
const LOOK_UP = { rpm: 24, load: 48 }

/** The scale of a tune: its table by throttle, where it has one, gives most of the fuel and tells where the throttle stands. */
export function loadScaleOf({ axes, tables, runner }: TuneDocument, barometerKpa: number): LoadScale {
  const filledKpa = (rpm: number, mapKpa: number) => (bilinear(axes, tables.ve, rpm, mapKpa) / 100) * mapKpa
  if (!runner) return { by: 'pressure', rpm: axes.rpm, axis: axes.mapKpa, airKpa: filledKpa, mapKpa: (_, mapKpa) => mapKpa }
  const own = { rpm: axes.rpm, mapKpa: runner.throttlePct }
  const airKpa = (rpm: number, throttlePct: number) => (bilinear(own, runner.ve, rpm, throttlePct) / 100) * barometerKpa
  const searched = (rpm: number, throttlePct: number) =>
    rootBetween((mapKpa) => filledKpa(rpm, mapKpa) - airKpa(rpm, throttlePct), LOWEST_MAP_KPA, barometerKpa)
  const spread = (axis: readonly number[], n: number) =>
    Array.from({ length: n }, (_, k) => axis[0] + ((axis.at(-1)! - axis[0]) * k) / (n - 1))
  const at = { rpm: spread(axes.rpm, LOOK_UP.rpm), mapKpa: spread(runner.throttlePct, LOOK_UP.load) }
  const found = at.mapKpa.flatMap((throttlePct) => at.rpm.map((rpm) => searched(rpm, throttlePct)))
  return { by: 'throttle', rpm: axes.rpm, axis: runner.throttlePct, airKpa, mapKpa: (rpm, t) => bilinear(at, found, rpm, t), runner }
}
