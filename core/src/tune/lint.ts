import { kPa, say, type Told } from '../kernel/index.ts'
import { guardDeg } from '../spark/index.ts'
import { boostKpaOf, type Facts, idleTargetRpm, type ResolvedFacts, resolveFacts } from '../survey/index.ts'
import { bilinear, kinkPct } from './axes.ts'
import type { TuneObjection } from './checks.ts'
import type { ExpectedVe } from './expected-ve.ts'
import {
  CATALYST_BAND,
  CRUISE_LAMBDA_BAND,
  CRUISE_SPARK_DEG,
  FULL_LOAD_SHARE,
  FULL_SPARK_LATE_DEG,
  IDLE_LAMBDA_BAND,
  IDLE_SPARK_DEG,
  LEAN_OF_PAPERS,
  LEAST_DEAD_MS,
  LEAST_FULL_LAMBDA,
  LOADED_KPA,
  PART_LOAD_OFF,
  RICH_OF_PAPERS,
  RISE_DEG,
  RUNNER_LEAN,
  SENSOR_SPARE_KPA,
  THROTTLE_SPAN_V,
} from './limits.ts'
import { roughPct } from './rough.ts'
import { mapTopKpa } from './sensors.ts'
import type { TuneDocument } from './tune.ts'

/** Further things wrong with a tune, each a rule of its own: what a careful second pair of eyes would say of the tables and sensors. */
interface TuneRule {
  code: string
  check: (tune: TuneDocument, r: ResolvedFacts, facts: Facts, expected: ExpectedVe) => Omit<TuneObjection, 'code'> | null
}

const DEAD_TIME_AT_V = 14
/** what is compared with the papers begins at this share of the redline; part load lies between these shares of the barometer */
const SLOW_SHARE = 0.2
const PART_FROM = 0.4
const PART_TO = 0.85
/** over this opening the plates of single runners hardly matter any more, % */
const RUNNER_OPEN_PCT = 75
/** where a car cruises, as share of the redline and of the barometer */
const CRUISE = { rpm: [0.28, 0.6], load: [0.35, 0.72] } as const

/** the worst of a list by how far each is off; null of none */
const farthest = <T extends { off: number }>(list: readonly T[]): T | null =>
  list.reduce<T | null>((worst, at) => (worst && Math.abs(worst.off) >= Math.abs(at.off) ? worst : at), null)
const percent = (share: number): string => `${share > 0 ? '+' : ''}${(100 * share).toFixed(0)} %`

const rules: TuneRule[] = [
  {
    code: 've-papers',
    check: ({ axes, tables }, r, _, expected) => {
      const n = axes.rpm.length
      const off = axes.mapKpa.flatMap((map, j) =>
        axes.rpm.flatMap((rpm, i) => {
          if (map < FULL_LOAD_SHARE * r.barometerKpa || rpm < SLOW_SHARE * r.redlineRpm || rpm > r.redlineRpm) return []
          return [{ rpm, map, off: tables.ve[j * n + i] / expected.ve(rpm, map) - 1 }]
        }),
      )
      const lean = farthest(off.filter((c) => c.off < -LEAN_OF_PAPERS))
      const rich = farthest(off.filter((c) => c.off > RICH_OF_PAPERS))
      const worst = lean ?? rich
      return worst
        ? {
            severity: lean ? 'stop' : 'warn',
            message: lean ? 'VE at full load is far under what the power needs' : 'VE at full load is far over what the power needs',
            because: say`${percent(worst.off)} against the papers at ${worst.rpm.toFixed(0)} rpm and ${kPa(worst.map)}.${lean ? ' So lean it burns pistons.' : ''}`,
            remedy:
              'Compare with the computed tune; keep it only if a log at full load has proved that cell, and the power in Survey is then wrong.',
          }
        : null
    },
  },
  {
    code: 've-part-load',
    check: ({ axes, tables }, r, _, expected) => {
      const n = axes.rpm.length
      const worst = farthest(
        axes.mapKpa.flatMap((map, j) =>
          axes.rpm.flatMap((rpm, i) => {
            if (map < PART_FROM * r.barometerKpa || map > PART_TO * r.barometerKpa || rpm < SLOW_SHARE * r.redlineRpm) return []
            const off = tables.ve[j * n + i] / expected.ve(rpm, map) - 1
            return Math.abs(off) > PART_LOAD_OFF ? [{ rpm, map, off }] : []
          }),
        ),
      )
      return worst
        ? {
            severity: 'warn',
            message: 'VE at part load is far from any engine of this kind',
            because: say`${percent(worst.off)} against the computed tune at ${worst.rpm.toFixed(0)} rpm and ${kPa(worst.map)}.`,
            remedy: 'A constant is wrong, or a fault was learned: injectors, pressure and leaks first, then the table.',
          }
        : null
    },
  },
  {
    code: 'runner-papers',
    check: ({ axes, runner, parameters: p }, r, facts, expected) => {
      if (!runner) return null
      const n = axes.rpm.length
      const fullKpa = r.barometerKpa + boostKpaOf(facts)
      const worst = farthest(
        runner.throttlePct.flatMap((pct, j) =>
          axes.rpm.flatMap((rpm, i) => {
            if (pct < RUNNER_OPEN_PCT || rpm < SLOW_SHARE * r.redlineRpm || rpm > r.redlineRpm) return []
            const off = runner.ve[j * n + i] / ((expected.ve(rpm, fullKpa) * fullKpa) / p.barometerKpa) - 1
            return off < -RUNNER_LEAN || off > RICH_OF_PAPERS ? [{ rpm, pct, off }] : []
          }),
        ),
      )
      return worst
        ? {
            severity: worst.off < 0 ? 'stop' : 'warn',
            message: worst.off < 0 ? 'VE by throttle is far under what the power needs' : 'VE by throttle is far over what the power needs',
            because: `${percent(worst.off)} against the papers at ${worst.rpm.toFixed(0)} rpm and ${worst.pct.toFixed(0)} % throttle: there the throttle alone decides the fuel.`,
            remedy: 'Compute it anew, or bring it to what a log at full load has proved.',
          }
        : null
    },
  },
  {
    code: 'idle-spark',
    check: ({ axes, tables }, r) => {
      const deg = bilinear(axes, tables.spark, idleTargetRpm(r), r.idleMapKpa)
      return deg < IDLE_SPARK_DEG[0] || deg > IDLE_SPARK_DEG[1]
        ? {
            severity: 'warn',
            message: deg < IDLE_SPARK_DEG[0] ? 'Idle spark is too late' : 'Idle spark is too early',
            because: `${deg.toFixed(1)}° at the idle; ${IDLE_SPARK_DEG[0]}° to ${IDLE_SPARK_DEG[1]}° is usual. ${deg < IDLE_SPARK_DEG[0] ? 'It runs hot, thirsty and weak.' : 'Nothing is left for spark to catch a falling speed with, and it kicks.'}`,
            remedy: 'Start from 12° to 18°, 18° to 24° with a wild cam.',
          }
        : null
    },
  },
  {
    code: 'cruise-spark',
    check: ({ axes, tables }, r) => {
      const [rpm, map] = [0.45 * r.redlineRpm, 0.5 * r.barometerKpa]
      const deg = bilinear(axes, tables.spark, rpm, map)
      return deg < CRUISE_SPARK_DEG[0] || deg > CRUISE_SPARK_DEG[1]
        ? {
            severity: 'warn',
            message: deg < CRUISE_SPARK_DEG[0] ? 'Cruise spark is too late' : 'Cruise spark is too early',
            because: say`${deg.toFixed(1)}° at ${rpm.toFixed(0)} rpm and ${kPa(map)}; ${CRUISE_SPARK_DEG[0]}° to ${CRUISE_SPARK_DEG[1]}° is usual.`,
            remedy: 'A thin charge burns slowly and wants 36° to 44° in all.',
          }
        : null
    },
  },
  {
    code: 'full-load-spark-late',
    check: ({ axes, tables }, r, facts) => {
      const [rpm, map] = [0.7 * r.redlineRpm, r.barometerKpa + boostKpaOf(facts)]
      const deg = bilinear(axes, tables.spark, rpm, map)
      const guard = guardDeg(r, rpm, map, r.barometerKpa)
      return deg < guard - FULL_SPARK_LATE_DEG
        ? {
            severity: 'warn',
            message: 'Full-load spark is very late',
            because: say`${deg.toFixed(1)}° at ${rpm.toFixed(0)} rpm and ${kPa(map)}; the guard stands at ${guard.toFixed(1)}°. So late it burns in the exhaust.`,
            remedy: 'Bring it to a few degrees under the guard, with a knock check.',
          }
        : null
    },
  },
  {
    code: 'target-lambda',
    check: ({ axes, tables }, r, facts) => {
      const fullKpa = r.barometerKpa + boostKpaOf(facts)
      const places = [
        { what: 'idle', rpm: idleTargetRpm(r), map: r.idleMapKpa, band: IDLE_LAMBDA_BAND },
        { what: 'cruise', rpm: 0.45 * r.redlineRpm, map: 0.5 * r.barometerKpa, band: CRUISE_LAMBDA_BAND },
        { what: 'full load', rpm: 0.7 * r.redlineRpm, map: fullKpa, band: [LEAST_FULL_LAMBDA, 9] as const },
      ]
      const bad = places
        .map((at) => ({ ...at, lambda: bilinear(axes, tables.lambdaTarget, at.rpm, at.map) }))
        .find((at) => at.lambda < at.band[0] || at.lambda > at.band[1])
      return bad
        ? {
            severity: 'warn',
            message: `Target lambda at ${bad.what} is too ${bad.lambda < bad.band[0] ? 'rich' : 'lean'}`,
            because: `${bad.lambda.toFixed(3)} at ${bad.rpm.toFixed(0)} rpm; ${bad.band[0]}${bad.band[1] < 9 ? ` to ${bad.band[1]}` : ' at least'} is usual there.`,
            remedy: 'Start from 1.00 in cruise, the cam’s usual mixture at idle and 0.86 to 0.88 at full load.',
          }
        : null
    },
  },
  {
    code: 've-rough-load',
    check: (tune) => {
      const { axes, tables } = tune
      const rough = roughPct(tune)
      const n = axes.rpm.length
      let worst: { i: number; j: number; bend: number } | null = null
      for (let j = 1; j < axes.mapKpa.length - 1; j++)
        for (let i = 0; i < n; i++) {
          const bend = kinkPct(axes.mapKpa, j, tables.ve[(j - 1) * n + i], tables.ve[j * n + i], tables.ve[(j + 1) * n + i])
          if (bend > rough && bend > (worst?.bend ?? 0)) worst = { i, j, bend }
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
      const wanted = Math.max(r.barometerKpa, p.barometerKpa) + boostKpaOf(facts)
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
export function lintTune(tune: TuneDocument, told: Told, expected: ExpectedVe): TuneObjection[] {
  const r = resolveFacts(told)
  return rules.flatMap(({ code, check }) => {
    const found = check(tune, r, told.facts, expected)
    return found ? [{ code, ...found }] : []
  })
}
