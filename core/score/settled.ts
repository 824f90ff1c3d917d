import { type BenchChoices, benchDrive, drivePlan, type FaultId } from '../src/bench/index.ts'
import { heldNow, type LearnResult, learnSetup, settledNow, solveWithSetup } from '../src/learn/index.ts'
import { bilinear, computeBaseTune, nearestIndex, type TuneDocument } from '../src/tune/index.ts'
import { buildOf, type ScoreCar, scoreCars } from './cars.ts'

/** Six cars of the score whose unit learns by itself, unlike each other. */
export const settleCars = [0, 2, 4, 5, 7, 12].map((k) => scoreCars[k])
/** cells of its own, as its sheet says */
const axesOf = ({ axes: { rpm } }: TuneDocument) => ({
  learnedRpm: Array.from({ length: 9 }, (_, i) => Math.round(500 + (i * (rpm.at(-1)! - 500)) / 8)),
  learnedMapKpa: [20, 30, 40, 50, 60, 72, 85, 100],
})
const DRIVE_MIN = 10
const MOST_DRIVES = 8

/** What poisons learning, with its size and the verdicts that name it: more than one where a log alone cannot part them. */
export const poisons: readonly { fault: FaultId; size?: number; named: readonly string[] }[] = [
  { fault: 'exhaust-leak', size: 30, named: ['lean-at-low-flow', 'learned-at-limit'] },
  { fault: 'lean-cylinder', size: 100, named: ['learned-at-limit', 'uniform-error', 'correction-saturated'] },
  { fault: 'sensor-cold', named: ['lean-at-low-flow', 'comes-and-goes'] },
  { fault: 'pressure-low', size: 70, named: ['uniform-error', 'learned-at-limit'] },
  { fault: 'purge', size: 60, named: ['comes-and-goes', 'lean-at-low-flow'] },
  { fault: 'throttle-zero', size: 5, named: ['throttle-zero'] },
]

export interface SettledOutcome {
  car: string
  fault: FaultId | null
  /** after each drive: what the app says and what is true */
  drives: {
    said: boolean
    because: string[]
    codes: string[]
    trueRmsPct: number
    trueTwicePct: number
    totals: LearnResult['totals']
    cells: LearnResult['cells']
  }[]
}

interface Seen {
  rpm: number
  mapKpa: number
  /** fuel that is missing over the base at that moment, as a share: by the mixture in the port, not by any sensor */
  need: number
}

/** Delivered error of what the unit holds now, over the cells of its tune that were driven; and over those that were visited twice. */
function trueError(tune: TuneDocument, seen: readonly Seen[], held: (rpm: number, mapKpa: number) => number) {
  const { rpm, mapKpa } = tune.axes
  const cells = new Map<number, { sum: number; n: number; visits: number; last: number }>()
  seen.forEach((s, t) => {
    const c = nearestIndex(mapKpa, s.mapKpa) * rpm.length + nearestIndex(rpm, s.rpm)
    const cell = cells.get(c) ?? { sum: 0, n: 0, visits: 0, last: -Infinity }
    cell.sum += (1 + s.need) / (1 + held(s.rpm, s.mapKpa) / 100) - 1
    cell.n++
    if (t - cell.last > 10 * FRAMES_PER_S) cell.visits++
    cell.last = t
    cells.set(c, cell)
  })
  const rms = (list: { sum: number; n: number }[]) => {
    const n = list.reduce((a, c) => a + c.n, 0)
    return n ? 100 * Math.sqrt(list.reduce((a, c) => a + c.n * (c.sum / c.n) ** 2, 0) / n) : NaN
  }
  const driven = [...cells.values()].filter((c) => c.n >= 3 * FRAMES_PER_S)
  return { all: rms(driven), twice: rms(driven.filter((c) => c.visits >= 2)) }
}
const FRAMES_PER_S = 20
const STEADY_KPA = 1.5
const STEADY_RPM = 40

/** Drives a car whose unit learns by itself until the app says settled, or for as long as anybody would. */
export function scoreSettled(car: ScoreCar, seed: number, poison: (typeof poisons)[number] | null, drives = MOST_DRIVES): SettledOutcome {
  const bench: BenchChoices | undefined = poison
    ? { faults: [{ id: poison.fault, ...(poison.size === undefined ? {} : { size: poison.size }) }] }
    : undefined
  const tune = computeBaseTune(car.facts, car.choices)
  const told = { ...car, choices: { ...car.choices, unit: { learns: 'itself' as const, learnLimitPct: 20, ...axesOf(tune) } } }
  const build = buildOf({ ...told, choices: { ...told.choices, ...(bench ? { bench } : {}) } }, seed)
  const outcome: SettledOutcome = { car: car.name, fault: poison?.fault ?? null, drives: [] }
  let learned: readonly number[] | undefined
  let before: (number | null)[] | undefined
  let was = { rpm: 0, mapKpa: 0 }
  for (let k = 0; k < drives; k++) {
    const seen: Seen[] = []
    const drive = benchDrive(build, tune, drivePlan(DRIVE_MIN, seed * 31 + k), {
      coolantC: 80,
      learned,
      onFrame: ({ unit, crank, mapKpa, rpm, heat }) => {
        const { out } = unit
        const steady = Math.abs(mapKpa - was.mapKpa) < STEADY_KPA && Math.abs(rpm - was.rpm) < STEADY_RPM
        was = { rpm, mapKpa }
        if (!steady || out.fuelCut || rpm < 400 || heat.coolantC < 75 || out.enrichmentPct > 0.5 || !(crank.portPhi > 0.3)) return
        const held = (1 + out.correctionPct / 100) * (1 + out.learnedPct / 100)
        seen.push({ rpm, mapKpa, need: held / crank.portPhi / out.lambdaTarget - 1 })
      },
    })
    learned = [...drive.learned.pct]
    const result = solveWithSetup(drive, { ...learnSetup(told, tune), before })
    before = heldNow(result, before)
    const said = settledNow(result)
    const error = trueError(tune, seen, (rpm, mapKpa) =>
      bilinear({ rpm: [...drive.learned.rpm], mapKpa: [...drive.learned.mapKpa] }, drive.learned.pct, rpm, mapKpa),
    )
    outcome.drives.push({
      said: said.settled,
      because: said.because,
      codes: result.verdicts.map((v) => v.code),
      trueRmsPct: error.all,
      trueTwicePct: error.twice,
      totals: result.totals,
      cells: result.cells,
    })
    if (said.settled) break
  }
  return outcome
}
