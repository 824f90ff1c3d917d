import { Bench, benchCarFor, crankUp } from '../src/bench/index.ts'
import { alongCurve } from '../src/kernel/index.ts'
import { bilinear, computeBaseTune, type TuneDocument } from '../src/tune/index.ts'
import type { ScoreCar } from './cars.ts'

/** What a base tune does on one engine that it has never met. */
export interface TuneOutcome {
  car: string
  seed: number
  /** seconds of cranking at 12 degC until it runs, and goes on running; null: it does not */
  startS: number | null
  /** warm idle against its target, rpm */
  idleOffRpm: number
  /** worst share of cycles that knock at a point of the dynamometer, and where */
  knockShare: number
  knockAt: string
  /** leanest mixture at full load, and most fuel over target there, % */
  leanestLambda: number
  leanestAt: string
  mostOverPct: number
}
export const COLD_C = 12
export const WARM_C = 85
const THROTTLES_PCT = [100, 45, 22]
const FULL_SHARE = 0.92
const COOLED_C = 90
const HOLD_STEP_S = 0.002
const SETTLE_S = 1.6
const FIRST_SETTLE_S = 10
const MEASURE_S = 1.2

/** Seconds of cranking until it runs, and goes on running; null: it does not. */
function crank(bench: Bench): number | null {
  const seconds = crankUp(bench)
  if (seconds === null) return null
  bench.run(6)
  return bench.rpm > 300 ? seconds : null
}

/** Holds the crank at a speed, as a brake without limits does, for so long. */
function hold(bench: Bench, rpm: number, seconds: number): { fuelG: number; airG: number } {
  const omega = (rpm * Math.PI) / 30
  const airKg = bench.inlet.outKg
  let fuelG = 0
  for (let t = 0; t < seconds; t += HOLD_STEP_S) {
    bench.crank.omega = omega
    // a test bed cools by water from outside
    bench.heat.coolantC = Math.min(bench.heat.coolantC, COOLED_C)
    bench.run(HOLD_STEP_S)
    fuelG += bench.fuel.arrivingGps * HOLD_STEP_S
  }
  return { fuelG, airG: (bench.inlet.outKg - airKg) * 1000 }
}

export function scoreBaseTune(car: ScoreCar, seed: number, tune: TuneDocument = computeBaseTune(car.facts, car.choices)): TuneOutcome {
  // timing is proved by then: every spark comes as commanded
  const engine = benchCarFor(car.facts, car.choices, seed)
  const onBench = (coolantC: number) => new Bench(engine, tune, { coolantC })
  const startS = crank(onBench(COLD_C))

  const bench = onBench(WARM_C)
  const outcome: TuneOutcome = {
    car: car.name,
    seed,
    startS,
    idleOffRpm: -9999,
    knockShare: 0,
    knockAt: '',
    leanestLambda: 0,
    leanestAt: '',
    mostOverPct: -100,
  }
  if (crank(bench) !== null) {
    bench.run(60)
    let sum = 0
    for (let i = 0; i < 100; i++) {
      bench.run(0.1)
      sum += bench.rpm
    }
    const { parameters: p } = tune
    const target = alongCurve(p.idleTargetRpm, bench.heat.coolantC) + (bench.unit.out.fanOn ? p.idleFanRpm : 0)
    outcome.idleOffRpm = sum / 100 - target
  }
  const speeds = [1000, 1200, 1500, 2000, ...[0.4, 0.52, 0.64, 0.76, 0.86, 0.95].map((s) => s * engine.redlineRpm)].filter(
    (rpm, i, list) => i < 4 || rpm > list[3] + 200,
  )
  for (const throttlePct of THROTTLES_PCT)
    for (const rpm of speeds) {
      bench.throttlePct = throttlePct
      // what the loop had corrected at idle fades first
      hold(bench, rpm, rpm === speeds[0] ? FIRST_SETTLE_S : SETTLE_S)
      const knocks = bench.heard.knock
      const { fuelG, airG } = hold(bench, rpm, MEASURE_S)
      const phi = (fuelG * engine.fuel.stoichAfr) / airG
      const cycles = (rpm / 120) * MEASURE_S * engine.cylinders
      const at = `${Math.round(rpm)} rpm, ${bench.mapKpa.toFixed(0)} kPa`
      const share = (bench.heard.knock - knocks) / cycles
      if (share > outcome.knockShare) [outcome.knockShare, outcome.knockAt] = [share, at]
      if (bench.mapKpa < FULL_SHARE * engine.barometerKpa) continue
      const target = bilinear(tune.axes, tune.tables.lambdaTarget, rpm, bench.mapKpa)
      if (1 / phi > outcome.leanestLambda) [outcome.leanestLambda, outcome.leanestAt] = [1 / phi, at]
      outcome.mostOverPct = Math.max(outcome.mostOverPct, 100 * (phi * target - 1))
    }
  return outcome
}
