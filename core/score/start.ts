import { readFileSync } from 'node:fs'
import { join } from 'node:path'
import { Bench, benchCarFor, benchFaults, type FaultId, outfitBench } from '../src/bench/index.ts'
import { type BuildData, seedOf } from '../src/kernel/index.ts'
import { contextOf } from '../src/judge/index.ts'
import {
  type CauseId,
  coolPorts,
  type CrankAsked,
  crankSeen,
  firstFire,
  type FireBranch,
  type Frame,
  signsOf,
  startWanted,
} from '../src/start/index.ts'
import { computeBaseTune } from '../src/tune/index.ts'
import { scoreCars } from './cars.ts'

/** Causes that name a fault of the bench: more than one where nothing but work at the thing itself parts them. */
export const causeOf: { [F in FaultId]?: readonly CauseId[] } = {
  'no-speed-signal': ['signal'],
  'gap-wide': ['signal', 'ragged-signal'],
  'noise-high': ['ragged-signal', 'interference'],
  'pulse-extra': ['ragged-signal', 'interference'],
  'pulse-missing': ['ragged-signal', 'one-cylinder-spark'],
  interference: ['interference', 'ragged-signal'],
  'supply-drops': ['feed'],
  'battery-low': ['battery'],
  'pump-dead': ['pump'],
  'pressure-low': ['pressure-low', 'pump'],
  'filter-clogged': ['pressure-low'],
  'pump-wiring': ['pressure-low'],
  'return-narrow': ['return'],
  'regulator-capped': ['return'],
  'vapour-lock': ['pressure-low'],
  'injectors-dead': ['injector-plug'],
  'injector-size': ['injector-small', 'injector-large'],
  flooded: ['flooded'],
  'coolant-sensor': ['coolant-hot', 'coolant-cold'],
  'coolant-stuck': ['coolant-hot', 'coolant-cold'],
  'map-hose-off': ['map-hose'],
  'map-ported': ['map-hose'],
  'map-stuck': ['map-sensor'],
  'idle-valve-shut': ['idle-valve'],
  'vacuum-leak': ['air-leak'],
  'screw-off': ['air-leak', 'air-short'],
  'plate-sticks': ['air-leak', 'throttle-zero'],
  'throttle-zero': ['throttle-zero'],
  'stroke-out': ['stroke'],
  'order-reversed': ['order', 'crossed'],
  'leads-crossed': ['crossed', 'order'],
  'reference-off': ['early', 'late'],
  'edge-wrong': ['early', 'late'],
  'polarity-reversed': ['early', 'late'],
  'delay-long': ['late'],
  'zero-slipped': ['early', 'late'],
  'weights-move': ['early'],
  'phase-off': ['rotor', 'weak-spark'],
  ballast: ['weak-spark', 'rotor'],
  'coil-dead': ['dead-coil', 'one-cylinder-spark'],
  'lead-bad': ['one-cylinder-spark'],
  'plug-worn': ['one-cylinder-spark'],
  'lean-cylinder': ['one-cylinder-fuel'],
  'water-in-fuel': ['water'],
  'exhaust-blocked': ['exhaust'],
  'cam-tooth': ['cam'],
}
/** Sizes that are tried besides a fault's usual one. */
const otherSizes: { [F in FaultId]?: readonly number[] } = {
  'injector-size': [250],
  'reference-off': [-20, 30],
  'coolant-sensor': [-50],
  'pressure-low': [20],
  'screw-off': [-2],
  'lean-cylinder': [100],
  'phase-off': [-44],
}
export interface StartTrial {
  fault: FaultId
  size?: number
}
/** Every fault that may change a start, at the sizes tried; the others stand in no list of causes. */
export const startTrials: StartTrial[] = (Object.keys(causeOf) as FaultId[]).flatMap((fault) => [
  { fault },
  ...(otherSizes[fault] ?? []).map((size) => ({ fault, size })),
])
/** Faults of the bench that no rule of First start is asked to name. */
export const unasked = (Object.keys(benchFaults) as FaultId[]).filter((id) => !causeOf[id])

const demo = (file: string): BuildData => {
  const { id, title, facts, choices } = JSON.parse(readFileSync(join(process.cwd(), 'demo/cars', file), 'utf8'))
  return { id, title, facts, choices, readings: [], tunes: [], logs: [] }
}
/** Six cars: three with their fuel circuit drawn, three without. */
export const startCars = (): BuildData[] => [
  ...['1-lowland.json', '2-rampart.json', '3-staffetta.json'].map(demo),
  ...[0, 6, 8].map((k) => ({
    id: '',
    title: scoreCars[k].name,
    facts: scoreCars[k].facts,
    choices: scoreCars[k].choices,
    readings: [],
    tunes: [],
    logs: [],
  })),
]

const FRAME_S = 0.03
const COLD_C = 18
interface Attempt {
  bench: Bench
  frames: Frame[]
  asked: CrankAsked
}

/** As the steps of First start go: key on until the sensor is hot, cranked without fuel with the light, then with fuel, and watched. */
function attempt(build: BuildData, seed: number, trial: StartTrial | null): Attempt {
  const faults = trial ? [{ id: trial.fault, ...(trial.size === undefined ? {} : { size: trial.size }) }] : []
  const withFaults: BuildData = { ...build, id: `${build.title} ${seed}`, choices: { ...build.choices, bench: { faults } } }
  const bench = new Bench(benchCarFor(build.facts, build.choices, seedOf(withFaults.id)), computeBaseTune(build.facts, build.choices), {
    coolantC: COLD_C,
  })
  // it is flooded by an attempt before this one, not by the crank without fuel
  const floods = trial?.fault === 'flooded'
  outfitBench(bench, floods ? { ...withFaults, choices: build.choices } : withFaults)
  const frames: Frame[] = []
  const run = (seconds: number, until: () => boolean = () => false) => {
    for (let t = 0; t < seconds && !until(); t += FRAME_S) {
      bench.run(FRAME_S)
      if (bench.linkUp) frames.push(bench.frame())
    }
  }
  bench.keyOn = true
  run(20)
  const asked: CrankAsked = { stood: true }
  bench.unit.injectorsOn = false
  bench.starter = true
  run(1)
  const flashes: number[] = []
  let dark = false
  for (let i = 0; i < 10; i++) {
    run(0.2)
    try {
      const { observedDeg, commandedDeg } = bench.timingLight()
      flashes.push(observedDeg - commandedDeg)
    } catch {
      dark = true
    }
  }
  if (dark || flashes.length) asked.light = dark ? 'dark' : flashes.reduce((a, v) => a + v, 0) / flashes.length
  // where the unit does not time the spark, the old distributor's own setting is no error
  if (!build.choices.spark?.trigger || build.choices.spark.trigger === 'speed-signal') delete asked.light
  bench.starter = false
  run(2)
  bench.unit.injectorsOn = true
  if (floods) bench.setFaults(withFaults.choices.bench)
  const quiet = { ...bench.heard }
  bench.starter = true
  run(6, () => bench.rpm > 400)
  bench.starter = false
  run(14)
  const count = (what: 'inlet' | 'exhaust' | 'kick') => bench.heard[what] - quiet[what]
  const loudest = Math.max(count('inlet'), count('exhaust'), count('kick'))
  asked.heard = loudest < 1 ? 'nothing' : loudest === count('kick') ? 'kick' : loudest === count('inlet') ? 'inlet' : 'exhaust'
  return { bench, frames, asked }
}

/** What the step named next shows, by the bench's instruments. */
function carriedOut(sign: NonNullable<FireBranch['next']>['sign'], { bench }: Attempt): CrankAsked {
  if (sign === 'plugs') return { plugs: bench.plugs() }
  if (sign === 'glass') return { glass: bench.condition.waterShare > 0 ? 'water' : 'fuel' }
  if (sign === 'valve') return { valve: bench.condition.idleValveMoves ? 'moves' : 'stuck' }
  if (sign === 'clicks') {
    const clicking = Array.from({ length: bench.car.injectors }, (_, i) => bench.clicks(i + 1)).filter(Boolean).length
    return { clicks: clicking === bench.car.injectors ? 'all' : clicking === 0 ? 'none' : 'some' }
  }
  const ports = Object.fromEntries(bench.crank.portK.map((k, place) => [`port${place + 1}C`, k]))
  return { ports: coolPorts(ports).length ? 'some cool' : 'even' }
}

export interface StartOutcome {
  car: string
  seed: number
  fault: FaultId | null
  size: number | null
  branch: string
  /** place of the true cause among the causes at first, and after the steps named; 0 is the first, -1 not there */
  placeAtFirst: number
  place: number
  steps: string[]
  minutes: number
  /** shows nothing that a sound start does not */
  unchanged: boolean
}
const MOST_STEPS = 4

export function scoreStart(build: BuildData, seed: number, trial: StartTrial | null): StartOutcome | null {
  const c = contextOf(build)
  if (trial && !benchFaults[trial.fault].befalls(c)) return null
  const needsCircuit = trial && ['filter-clogged', 'return-narrow', 'pump-wiring', 'regulator-capped'].includes(trial.fault)
  if (needsCircuit && !build.choices.fuel) return null
  const wanted = startWanted(c)!
  const made = attempt(build, seed, trial)
  const seen = crankSeen(made.frames)
  if (!seen) return null
  let asked = made.asked
  let branch = firstFire(seen, asked, wanted)!
  const expected = trial ? causeOf[trial.fault]! : []
  const placeOf = () => branch.look.findIndex((l) => expected.includes(l.cause))
  const placeAtFirst = placeOf()
  const steps: string[] = []
  let minutes = 0
  while (branch.next && steps.length < MOST_STEPS) {
    const { sign } = branch.next
    steps.push(sign)
    minutes += branch.next.minutes
    asked = { ...asked, ...carriedOut(sign, made) }
    branch = firstFire(seen, asked, wanted)!
  }
  const sound =
    branch.id === 'runs' && asked.heard === 'nothing' && !Object.entries(signsOf(seen, asked, wanted)).some(([sign, v]) => odd(sign, v))
  return {
    car: build.title,
    seed,
    fault: trial?.fault ?? null,
    size: trial?.size ?? null,
    branch: branch.id,
    placeAtFirst,
    place: placeOf(),
    steps,
    minutes,
    unchanged: sound,
  }
}
/** A sign that a sound start does not show. */
const SOUND: Record<string, readonly string[]> = {
  stream: ['whole'],
  turns: ['well'],
  speed: ['steady'],
  pressure: ['right'],
  idles: ['at target'],
  vacuum: ['seen'],
  still: ['barometer'],
  throttle: ['zero'],
  cold: ['agrees'],
  mixture: ['burns'],
  light: ['right'],
  clicks: ['all'],
  valve: ['moves'],
  ports: ['even'],
  fired: ['runs'],
}
const odd = (sign: string, value: string | undefined): boolean =>
  value !== undefined && SOUND[sign] !== undefined && !SOUND[sign].includes(value)
