import { benchDrive, driveByPlan, everydayDrive } from '../src/bench/index.ts'
import type { LogData } from '../src/logfile/index.ts'
import type { BuildData } from '../src/kernel/index.ts'
import { planDrive } from '../src/drive/index.ts'
import {
  applyCorrection,
  converged,
  heldNow,
  joinLogs,
  latestTogether,
  type LearnResult,
  learnReading,
  learnSetup,
  mendBase,
  settledNow,
  solveWithSetup,
  unsoundCodes,
} from '../src/learn/index.ts'
import { computeBaseTune } from '../src/tune/index.ts'
import { buildOf, type ScoreCar, scoreCars } from './cars.ts'
import { mendsNow, ownCells } from './settled.ts'

/** Six cars of the score, unlike each other, one with a throttle to each runner; with gears and tyres, which the score's own cars do not tell. */
export const drivenCars = [0, 2, 4, 5, 7, 12].map((k): ScoreCar => {
  const car = scoreCars[k]
  const { gearing } = car.facts
  const gearRatios = gearing?.gearbox === 'automatic' ? [2.45, 1.45, 1] : [3.4, 2.05, 1.36, 1]
  return {
    ...car,
    facts: { ...car.facts, gearing: { ...gearing, gearRatios, axleRatio: 3.9, tyreCircumferenceM: 1.95 } },
    choices: { ...car.choices, learn: { topKmh: 100, steepestPct: 4 } },
  }
})
/** By the plan of what is missing; over town, road and hills for 20 minutes, as the bench drives without one; in pieces of 8 minutes. */
export const ways = ['plan', 'everyday 20 min', 'everyday 8 min'] as const
export type Way = (typeof ways)[number]
export const schools = ['tables', 'itself'] as const
export type School = (typeof schools)[number]

export interface DrivenOutcome {
  car: number
  way: Way
  school: School
  /** simulated minutes until learning has converged, or settled; null: not within the drives anybody would do */
  minutes: number | null
  drives: number
  /** share of the expected driving in proven cells by then, % */
  provenUsePct: number
  /** drives of a sound car that were called unsound */
  unsound: number
}
type Log = Pick<LogData, 'timeS' | 'channels'>
const MOST_MIN = 120
const MOST_DRIVES = 16
const KEY_ON_C = 60

/** As the station clears by it. */
const isConverged = (result: LearnResult): boolean =>
  result.sound && !result.cells.some((c) => c.state === 'unsafe') && converged(learnReading(result, '', null))

/** With a cell that is measured and off, or a constant still to be mended, a correction is accepted; without, what is missing is driven on the same tune. */
const correctFirst = ({ cells, runner, mends }: LearnResult): boolean =>
  (mends?.length ?? 0) > 0 || (runner?.cells ?? cells).some((c) => c.state === 'needs-correction' || c.state === 'unsafe')

/** Drives one car one way until learning has converged: a correction accepted after each drive, or the unit learning by itself. */
export function scoreDriven(car: number, seed: number, way: Way, school: School): DrivenOutcome {
  const told = drivenCars[car]
  let tune = computeBaseTune(told.facts, told.choices)
  const unit = school === 'itself' ? { learns: 'itself' as const, learnLimitPct: 25, ...ownCells(tune) } : { learns: 'nobody' as const }
  const build: BuildData = buildOf({ ...told, choices: { ...told.choices, unit } }, seed)
  let log: Log | undefined
  let logs: Log[] = []
  let result: LearnResult | null = null
  let learned: readonly number[] | undefined
  let before: (number | null)[] | undefined
  let minutes = 0
  let drives = 0
  let provenUsePct = 0
  let unsound = 0
  const outcome = (done: boolean): DrivenOutcome => ({ car, way, school, minutes: done ? minutes : null, drives, provenUsePct, unsound })
  while (minutes < MOST_MIN && drives < MOST_DRIVES) {
    const drive =
      way === 'plan'
        ? driveByPlan(build, tune, { result, log }, learned, seed * 31 + drives)
        : benchDrive(build, tune, everydayDrive(way === 'everyday 20 min' ? 20 : 8, seed * 31 + drives), { coolantC: KEY_ON_C, learned })
    minutes += drive.timeS.at(-1)! / 60
    drives++
    learned = [...drive.learned.pct]
    // logs of one tune are solved together, as the app does
    const together = school === 'itself' ? latestTogether([...logs, drive], ({ timeS }) => timeS.at(-1)! - timeS[0]) : [...logs, drive]
    log = joinLogs(together)
    result = solveWithSetup(log, { ...learnSetup(build, tune), before })
    if (!result.sound) unsound++
    const poisoned = result.verdicts.some((v) => unsoundCodes.includes(v.code))
    if (school === 'tables' || (result.sound && !poisoned)) logs.push(drive)
    provenUsePct = planDrive(build, tune, result, { log }).provenUsePct
    if (school === 'itself') {
      before = heldNow(result, before)
      const { settled, because } = settledNow(result)
      if (settled) return outcome(true)
      // what it never learns goes into its base, as the screen says
      if (logs.includes(drive) && mendsNow(result, because)) {
        tune = mendBase(tune, result, `drive ${drives}`).tune
        result = null
        logs = []
        before = undefined
      }
      continue
    }
    if (isConverged(result)) return outcome(true)
    if (!result.sound) continue
    if (correctFirst(result)) {
      tune = applyCorrection(tune, result, `drive ${drives}`).tune
      result = null
      logs = []
    }
  }
  return outcome(false)
}
