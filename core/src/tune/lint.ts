import { kPa, say, type Told } from '../kernel/index.ts'
import { type Facts, type ResolvedFacts, resolveFacts } from '../survey/index.ts'
import type { TuneObjection } from './checks.ts'
import { CATALYST_BAND, LEAST_DEAD_MS, LOADED_KPA, RISE_DEG, ROUGH_PCT, SENSOR_SPARE_KPA, THROTTLE_SPAN_V } from './limits.ts'
import { mapTopKpa } from './sensors.ts'
import type { TuneDocument } from './tune.ts'

/** Further things wrong with a tune, each a rule of its own: what a careful second pair of eyes would say of the tables and sensors. */
interface TuneRule {
  code: string
  check: (tune: TuneDocument, r: ResolvedFacts, facts: Facts) => Omit<TuneObjection, 'code'> | null
}

const DEAD_TIME_AT_V = 14
/** where a car cruises, as share of the redline and of the barometer */
const CRUISE = { rpm: [0.28, 0.6], load: [0.35, 0.72] } as const

const rules: TuneRule[] = [
  {
    code: 've-rough-load',
    check: ({ axes, tables }) => {
      const n = axes.rpm.length
      let worst: { i: number; j: number; bend: number } | null = null
      for (let j = 1; j < axes.mapKpa.length - 1; j++)
        for (let i = 0; i < n; i++) {
          const bend = Math.abs(tables.ve[(j - 1) * n + i] - 2 * tables.ve[j * n + i] + tables.ve[(j + 1) * n + i])
          if (bend > ROUGH_PCT && bend > (worst?.bend ?? 0)) worst = { i, j, bend }
        }
      return worst
        ? {
            severity: 'warn',
            message: 'The VE table is not smooth over load',
            because: `A kink of ${worst.bend.toFixed(1)} % at ${axes.rpm[worst.i]} rpm, ${axes.mapKpa[worst.j]} kPa.`,
            remedy: 'Smooth it, unless a log has shown the step to be real.',
          }
        : null
    },
  },
  {
    code: 'spark-rises-with-load',
    check: ({ axes, tables }) => {
      const n = axes.rpm.length
      let worst: { i: number; j: number; rise: number } | null = null
      for (let j = 1; j < axes.mapKpa.length; j++)
        for (let i = 0; axes.mapKpa[j - 1] > LOADED_KPA && i < n; i++) {
          const rise = tables.spark[j * n + i] - tables.spark[(j - 1) * n + i]
          if (rise > RISE_DEG && rise > (worst?.rise ?? 0)) worst = { i, j, rise }
        }
      return worst
        ? {
            severity: 'warn',
            message: 'Spark comes earlier with more load',
            because: `${worst.rise.toFixed(1)}° more from ${axes.mapKpa[worst.j - 1]} to ${axes.mapKpa[worst.j]} kPa at ${axes.rpm[worst.i]} rpm.`,
            remedy: 'A denser charge burns faster: take the higher row down to the lower one or less.',
          }
        : null
    },
  },
  {
    code: 'dead-time-missing',
    check: ({ parameters: p }) => {
      const [, ms] = p.deadTimeMs.reduce((a, b) => (Math.abs(b[0] - DEAD_TIME_AT_V) < Math.abs(a[0] - DEAD_TIME_AT_V) ? b : a))
      return ms < LEAST_DEAD_MS
        ? {
            severity: 'warn',
            message: 'Injector dead time is missing',
            because: `${ms.toFixed(2)} ms near ${DEAD_TIME_AT_V} V: every injector takes time to open, more with less voltage.`,
            remedy: 'Take it from the injector’s sheet, or leave the starting values; idle and voltage drops hang on it.',
          }
        : null
    },
  },
  {
    code: 'map-sensor-small',
    check: ({ parameters: p }, r, facts) => {
      const top = mapTopKpa(p)
      const wanted = Math.max(r.barometerKpa, p.barometerKpa) + (facts.induction?.boostKpa ?? 0)
      return top < wanted + SENSOR_SPARE_KPA
        ? {
            severity: 'stop',
            message: 'The manifold pressure sensor ends too early',
            because: say`It tells up to ${kPa(top)}; ${kPa(wanted)} are to be told. Past its end the unit fuels for too little air.`,
            remedy: 'Fit a sensor of a larger range and put its values in.',
          }
        : null
    },
  },
  {
    code: 'catalyst-cruise',
    check: ({ axes, tables }, r, facts) => {
      if (!facts.exhaust?.catalyst) return null
      const n = axes.rpm.length
      let worst: { i: number; j: number; off: number } | null = null
      axes.mapKpa.forEach((map, j) =>
        axes.rpm.forEach((rpm, i) => {
          const cruising =
            rpm >= CRUISE.rpm[0] * r.redlineRpm &&
            rpm <= CRUISE.rpm[1] * r.redlineRpm &&
            map >= CRUISE.load[0] * r.barometerKpa &&
            map <= CRUISE.load[1] * r.barometerKpa
          const off = Math.abs(tables.lambdaTarget[j * n + i] - 1)
          if (cruising && off > CATALYST_BAND && off > (worst?.off ?? 0)) worst = { i, j, off }
        }),
      )
      const at = worst as { i: number; j: number; off: number } | null
      return at
        ? {
            severity: 'warn',
            message: 'The catalyst wants lambda 1 in cruise',
            because: `Target ${tables.lambdaTarget[at.j * n + at.i].toFixed(3)} at ${axes.rpm[at.i]} rpm, ${axes.mapKpa[at.j]} kPa.`,
            remedy: 'Set 1.00 where the car cruises; lean it out only without one.',
          }
        : null
    },
  },
  {
    code: 'nitrous-retard',
    check: ({ parameters: p }, _, facts) =>
      facts.induction?.nitrous && p.nitrousRetardDeg <= 0
        ? {
            severity: 'stop',
            message: 'Nitrous without drawing the spark back',
            because: 'The survey speaks of nitrous and the tune draws the spark back by 0° while it flows: it burns faster and knocks.',
            remedy: 'Set what the maker’s sheet of the system says, and never flow it before that.',
          }
        : null,
  },
  {
    code: 'throttle-ends',
    check: ({ parameters: p }) =>
      Math.abs(p.throttleOpenV - p.throttleShutV) < THROTTLE_SPAN_V
        ? {
            severity: 'stop',
            message: 'Throttle shut and open are too near each other',
            because: `${p.throttleShutV} V and ${p.throttleOpenV} V.`,
            remedy: 'Measure both ends at the sensor’s wire; two to four volts lie between them.',
          }
        : null,
  },
]

/** @returns what the rules have against a tune, in the order of the rules */
export function lintTune(tune: TuneDocument, told: Told): TuneObjection[] {
  const r = resolveFacts(told)
  return rules.flatMap(({ code, check }) => {
    const found = check(tune, r, told.facts)
    return found ? [{ code, ...found }] : []
  })
}
