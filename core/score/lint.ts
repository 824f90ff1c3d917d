import { benchDrive, everydayDrive } from '../src/bench/index.ts'
import { applyCorrection, learnSetup, solveWithSetup } from '../src/learn/index.ts'
import { checkTune, computeBaseTune, type TuneDocument, type TuneParameters } from '../src/tune/index.ts'
import { idleTargetRpm, type ResolvedFacts, resolveFacts } from '../src/survey/index.ts'
import { buildOf, type ScoreCar } from './cars.ts'

/** One thing done wrong to a tune that was right, and the finding that must name it. */
export interface WrongTune {
  name: string
  codes: readonly string[]
  /** cars it can be done to; left out: all */
  only?: (car: ScoreCar) => boolean
  spoil: (tune: TuneDocument, r: ResolvedFacts, car: ScoreCar) => void
}
const parameters =
  (change: (p: TuneParameters, r: ResolvedFacts, car: ScoreCar) => Partial<TuneParameters>) =>
  (tune: TuneDocument, r: ResolvedFacts, car: ScoreCar) =>
    void Object.assign(tune.parameters, change(tune.parameters, r, car))
const cells =
  (table: 've' | 'spark' | 'lambdaTarget', change: (value: number, rpm: number, mapKpa: number, r: ResolvedFacts) => number) =>
  (tune: TuneDocument, r: ResolvedFacts) => {
    const { rpm, mapKpa } = tune.axes
    tune.tables[table] = tune.tables[table].map((v, c) => change(v, rpm[c % rpm.length], mapKpa[Math.floor(c / rpm.length)], r))
  }
const curve = (points: [number, number][], change: (y: number) => number): [number, number][] => points.map(([x, y]) => [x, change(y)])
const nearIdle = (rpm: number, mapKpa: number, r: ResolvedFacts): boolean => rpm < 1.6 * idleTargetRpm(r) && mapKpa < r.idleMapKpa + 15
const boosted = (car: ScoreCar): boolean => (car.facts.induction?.boostKpa ?? 0) > 0

export const wrongTunes: WrongTune[] = [
  {
    name: 'VE 30 % low round peak torque',
    codes: ['ve-papers', 've-rough', 've-rough-load'],
    spoil: cells('ve', (v, rpm, map, r) =>
      map > 0.85 * r.barometerKpa && Math.abs(rpm - 0.55 * r.redlineRpm) < 0.16 * r.redlineRpm ? 0.7 * v : v,
    ),
  },
  {
    name: 'whole runner table x 0.6',
    codes: ['runner-papers'],
    only: (c) => c.choices.plan?.route === 'individual-runner',
    spoil: (t) => void (t.runner!.ve = t.runner!.ve.map((v) => 0.6 * v)),
  },
  {
    name: 'injector flow x 1.5 against the plan',
    codes: ['injector-flow-plan'],
    spoil: parameters((p) => ({ injectorCcMin: 1.5 * p.injectorCcMin })),
  },
  { name: 'cranking advance 30°', codes: ['cranking-advance'], spoil: parameters(() => ({ crankingAdvanceDeg: 30 })) },
  {
    name: 'idle spark 40°',
    codes: ['idle-spark', 'spark-over-guard'],
    spoil: cells('spark', (v, rpm, map, r) => (nearIdle(rpm, map, r) ? 40 : v)),
  },
  { name: 'spark 0° everywhere', codes: ['idle-spark', 'cruise-spark'], spoil: cells('spark', () => 0) },
  { name: 'dead time 4 ms', codes: ['dead-time-odd'], spoil: parameters((p) => ({ deadTimeMs: curve(p.deadTimeMs, () => 4) })) },
  { name: 'fuel-cut return over its start', codes: ['cut-order'], spoil: parameters((p) => ({ cutReturnRpm: p.cutAboveRpm + 200 })) },
  { name: 'fan on at 120 °C', codes: ['fan-hot'], spoil: parameters(() => ({ fanOnC: 120, fanOffC: 115 })) },
  {
    name: 'MAP scale x 2',
    codes: ['map-scale'],
    spoil: parameters((p) => ({ mapKpaPerV: 2 * p.mapKpaPerV, mapAtZeroVKpa: 2 * p.mapAtZeroVKpa })),
  },
  {
    name: '35° at 1,200 rpm full load',
    codes: ['spark-over-guard'],
    spoil: cells('spark', (v, rpm, map, r) => (rpm > 900 && rpm < 1500 && map > 0.9 * r.barometerKpa ? 35 : v)),
  },
  { name: 'another fuel’s ratio', codes: ['stoich-fuel'], spoil: parameters((p) => ({ stoichAfr: p.stoichAfr < 12 ? 14.7 : 9.8 })) },
  { name: 'VE x 0.7', codes: ['ve-papers'], spoil: cells('ve', (v) => 0.7 * v) },
  { name: 'VE x 1.45', codes: ['ve-papers', 'fuel-cross-check'], spoil: cells('ve', (v) => Math.min(200, 1.45 * v)) },
  { name: 'one VE cell + 25', codes: ['ve-rough', 've-rough-load'], spoil: (t) => void (t.tables.ve[5 * t.axes.rpm.length + 5] += 25) },
  {
    name: 'VE x 2 at part load',
    codes: ['ve-part-load', 've-rough-load'],
    spoil: cells('ve', (v, _, map, r) => (map < 0.7 * r.barometerKpa ? Math.min(200, 2 * v) : v)),
  },
  {
    name: 'full load at lambda 1',
    codes: ['lean-full-load'],
    spoil: cells('lambdaTarget', (v, _, map, r) => (map > 0.85 * r.barometerKpa ? 1 : v)),
  },
  {
    name: 'full load at lambda 0.65',
    codes: ['target-lambda'],
    spoil: cells('lambdaTarget', (v, _, map, r) => (map > 0.85 * r.barometerKpa ? 0.65 : v)),
  },
  {
    name: 'cruise at lambda 1.2',
    codes: ['target-lambda'],
    spoil: cells('lambdaTarget', (v, _, map, r) => (map < 0.7 * r.barometerKpa ? 1.2 : v)),
  },
  {
    name: 'idle at lambda 0.75',
    codes: ['target-lambda'],
    spoil: cells('lambdaTarget', (v, rpm, map, r) => (nearIdle(rpm, map, r) ? 0.75 : v)),
  },
  { name: 'spark + 12° everywhere', codes: ['spark-over-guard', 'cruise-spark'], spoil: cells('spark', (v) => Math.min(60, v + 12)) },
  {
    name: 'full-load spark 5°',
    codes: ['full-load-spark-late'],
    spoil: cells('spark', (v, _, map, r) => (map > 0.85 * r.barometerKpa ? Math.min(v, 5) : v)),
  },
  {
    name: 'cruise spark 10°',
    codes: ['cruise-spark'],
    spoil: cells('spark', (v, rpm, map, r) => (map < 0.7 * r.barometerKpa && rpm > 0.25 * r.redlineRpm ? 10 : v)),
  },
  {
    name: 'cranking fuel x 0.35',
    codes: ['cranking-fuel'],
    spoil: parameters((p) => ({ crankingPct: curve(p.crankingPct, (y) => Math.max(50, 0.35 * y)) })),
  },
  {
    name: 'cranking fuel x 2.2',
    codes: ['cranking-fuel'],
    spoil: parameters((p) => ({ crankingPct: curve(p.crankingPct, (y) => 2.2 * y) })),
  },
  { name: 'cranking fuel gone in 5 firings', codes: ['cranking-decay'], spoil: parameters(() => ({ crankingDecayFirings: 5 })) },
  { name: 'prime pulse 45 ms', codes: ['prime-pulse'], spoil: parameters(() => ({ primeMs: 45 })) },
  { name: 'pump primes 10 s', codes: ['prime-time'], spoil: parameters(() => ({ primeS: 10 })) },
  { name: 'flood clear at 55 %', codes: ['flood-clear'], spoil: parameters(() => ({ floodClearPct: 55 })) },
  { name: 'no after-start fuel', codes: ['after-start'], spoil: parameters((p) => ({ afterStartPct: curve(p.afterStartPct, () => 0) })) },
  {
    name: 'warm-up fuel never ends',
    codes: ['warm-up'],
    spoil: parameters((p) => ({ warmupPct: curve(p.warmupPct, (y) => Math.max(y, 15)) })),
  },
  { name: 'no warm-up fuel', codes: ['warm-up'], spoil: parameters((p) => ({ warmupPct: curve(p.warmupPct, () => 0) })) },
  { name: 'no acceleration fuel', codes: ['acceleration'], spoil: parameters(() => ({ accelPctPer100: 0 })) },
  { name: 'acceleration fuel 200 %', codes: ['acceleration'], spoil: parameters(() => ({ accelPctPer100: 200 })) },
  {
    name: 'fuel cut under the idle',
    codes: ['cut-low'],
    spoil: parameters((_, r) => ({ cutAboveRpm: Math.max(800, idleTargetRpm(r) + 150), cutReturnRpm: Math.max(600, idleTargetRpm(r)) })),
  },
  {
    name: 'idle target 1,800 rpm',
    codes: ['idle-target'],
    spoil: parameters((p) => ({ idleTargetRpm: curve(p.idleTargetRpm, () => 1800) })),
  },
  { name: 'idle target 400 rpm', codes: ['idle-target'], spoil: parameters((p) => ({ idleTargetRpm: curve(p.idleTargetRpm, () => 400) })) },
  { name: 'idle valve shut', codes: ['idle-valve'], spoil: parameters((p) => ({ idleValvePct: curve(p.idleValvePct, () => 0) })) },
  { name: 'loop from a cold engine', codes: ['loop-cold'], spoil: parameters(() => ({ loopMinCoolantC: -20 })) },
  { name: 'loop at once', codes: ['loop-delay'], spoil: parameters(() => ({ loopDelayS: 0 })) },
  { name: 'loop authority 50 %', codes: ['loop-authority'], spoil: parameters(() => ({ loopAuthorityPct: 50 })) },
  { name: 'loop at full load', codes: ['loop-full-load'], spoil: parameters(() => ({ loopMaxMapKpa: 250 })) },
  { name: 'loop only over 4,500 rpm', codes: ['loop-floor-high'], spoil: parameters(() => ({ loopFloorRpm: 4500 })) },
  { name: 'rev limit 20 % over the redline', codes: ['rev-limit'], spoil: parameters((p) => ({ revLimitRpm: 1.2 * p.revLimitRpm })) },
  { name: 'rev limit 1,800 rpm', codes: ['rev-limit-low'], spoil: parameters(() => ({ revLimitRpm: 1800 })) },
  { name: 'fan off over on', codes: ['fan'], spoil: parameters((p) => ({ fanOffC: p.fanOnC + 2 })) },
  { name: 'charge heated to the coolant', codes: ['charge-heat'], spoil: parameters(() => ({ chargeHeatShare: 1 })) },
  { name: 'barometer of a mountain', codes: ['barometer-survey'], spoil: parameters((p) => ({ barometerKpa: p.barometerKpa - 20 })) },
  {
    name: 'one injector too few',
    codes: ['injectors-plan'],
    only: (c) => (c.choices.plan?.injectors ?? 1) > 1,
    spoil: parameters((p) => ({ injectors: p.injectors - 1 })),
  },
  {
    name: 'twice the openings',
    codes: ['openings-route'],
    spoil: parameters((p) => ({ injectionsPerCycle: Math.min(12, 2 * p.injectionsPerCycle) })),
  },
  {
    name: 'displacement of another engine',
    codes: ['displacement-survey'],
    spoil: parameters((p) => ({ displacementCc: 1.25 * p.displacementCc })),
  },
  {
    name: 'cylinders of another engine',
    codes: ['cylinders-survey'],
    spoil: parameters((p) => ({ cylinders: p.cylinders === 4 ? 6 : 4 })),
  },
  { name: 'fuel pressure 200 kPa', codes: ['fuel-pressure-plan'], spoil: parameters(() => ({ fuelPressureKpa: 200 })) },
  {
    name: 'coolant sensor ten times its ohms',
    codes: ['temperature-sensor'],
    spoil: parameters((p) => ({
      coolantSensorOhm: p.coolantSensorOhm.map(([c, ohm]) => [c, 10 * ohm]) as TuneParameters['coolantSensorOhm'],
    })),
  },
  { name: 'throttle open at 1 V', codes: ['throttle-ends', 'throttle-voltages'], spoil: parameters(() => ({ throttleOpenV: 1 })) },
  { name: 'mixture meter of half the scale', codes: ['mixture-scale'], spoil: parameters(() => ({ lambdaPerV: 0.1 })) },
  { name: 'no guard against hot air', codes: ['air-retard'], spoil: parameters(() => ({ airRetardDegPerK: 0 })) },
  {
    name: 'boost cut under the boost',
    codes: ['overboost'],
    only: boosted,
    spoil: parameters((_, r, car) => ({ overboostKpa: r.barometerKpa + 0.5 * (car.facts.induction?.boostKpa ?? 0) })),
  },
  {
    name: 'injectors too small under boost',
    codes: ['duty', 'injector-flow-plan'],
    only: boosted,
    spoil: parameters((p) => ({ injectorCcMin: 0.72 * p.injectorCcMin })),
  },
]
const FIRST = 3

/** Whether a wrong tune of a car is named in the first three findings. */
export function wrongIsNamed(wrong: WrongTune, car: ScoreCar): { named: boolean; found: string[] } {
  const tune = structuredClone(computeBaseTune(car.facts, car.choices))
  wrong.spoil(tune, resolveFacts(car), car)
  const found = checkTune(tune, car).map((f) => f.code)
  return { named: found.slice(0, FIRST).some((code) => wrong.codes.includes(code)), found }
}

/** A good tune: computed for a car, or learned there from a drive of its bench engine; and what the checks have against it. */
export function goodTune(
  car: ScoreCar,
  seed: number,
  learned: boolean,
): { car: string; learned: boolean; found: { code: string; severity: string }[] } {
  let tune = computeBaseTune(car.facts, car.choices)
  if (learned) {
    const build = buildOf(car, seed)
    for (let round = 0; round < 2; round++) {
      const drive = benchDrive(build, tune, everydayDrive(9, seed + round), { coolantC: 80 })
      tune = applyCorrection(tune, solveWithSetup(drive, learnSetup(car, tune)), `learned from drive ${seed + round}`).tune
    }
  }
  return { car: car.name, learned, found: checkTune(tune, car).map(({ code, severity }) => ({ code, severity })) }
}
