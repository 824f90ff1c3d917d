import { causes } from '../diagnose/index.ts'
import { type EntryTable, finding, type Rule, sayAll } from '../kernel/index.ts'
import { currentLearn } from './current.ts'
import { learningRules } from './learning-findings.ts'
import { CONVERGED_RMS_PCT, CONVERGED_TIME_PCT } from './limits.ts'
import { logDoubtsSaid } from './other-car.ts'

/** Whether a log was driven with a tune: it came after the tune went into the car. An older log says nothing about it. */
export const drivenWith = (log: { createdAt: string }, tune: { inCarSince: string | null } | null | undefined): boolean =>
  !!tune?.inCarSince && log.createdAt >= tune.inCarSince

/** Whether a solve says that learning has converged: enough of the time proven, little error left. */
export const converged = (result: EntryTable['learn.result']): boolean =>
  result.settled !== undefined
    ? result.settled
    : (result.provenTimePct ?? 0) >= CONVERGED_TIME_PCT && (result.errorRmsPct ?? Infinity) <= CONVERGED_RMS_PCT

export const learnRules: Rule[] = [
  ...learningRules,
  {
    id: 'learn.other-car',
    check: (c) => {
      const doubted = c.build.logs.map((log) => ({ log, doubts: logDoubtsSaid(c, log) })).find((d) => d.doubts.length > 0)
      return doubted
        ? finding(
            'warn',
            `The log “${doubted.log.name}” may be of another car`,
            sayAll(doubted.doubts, ' '),
            'Say that it was driven with this car, or bring the right one; until then nothing is learned from it.',
          )
        : null
    },
  },
  {
    id: 'learn.unsafe',
    check: (c) => {
      const result = currentLearn(c)
      return result && result.value.unsafeCells > 0
        ? finding(
            'stop',
            'Lean at high load',
            `${result.value.unsafeCells} ${result.value.unsafeCells === 1 ? 'cell reads' : 'cells read'} more than 0.05 lambda over target above 0.85 barometer.`,
            'Accept the correction and put the new version in the car before it is driven hard again.',
          )
        : null
    },
  },
  {
    id: 'learn.not-sound',
    check: (c) => {
      const suspect = currentLearn(c)?.value.suspect
      return suspect
        ? finding('warn', 'Nothing is learned from the last log yet', `Most likely ${causes[suspect].is}.`, causes[suspect].test)
        : null
    },
  },
  {
    id: 'learn.not-converged',
    check: (c) => {
      const result = currentLearn(c)
      if (!result || result.value.suspect || result.value.provenTimePct === null || result.value.settled !== undefined) return null
      const { provenTimePct, errorRmsPct } = result.value
      return provenTimePct < CONVERGED_TIME_PCT || (errorRmsPct ?? 0) > CONVERGED_RMS_PCT
        ? finding(
            'warn',
            'Learning is not finished',
            `${provenTimePct.toFixed(0)} % of the driving time is in proven cells (${CONVERGED_TIME_PCT} % wanted); ${(errorRmsPct ?? 0).toFixed(1)} % rms error is left (${CONVERGED_RMS_PCT} % wanted).`,
            'Accept the correction, drive again with the new version, and bring that log.',
          )
        : null
    },
  },
  {
    id: 'learn.driving',
    check: () =>
      finding(
        'note',
        'Driving to learn',
        'A driver who watches a screen does not watch the road.',
        'A passenger works the screen, or the log is read afterwards. Public-road limits hold; high-load cells go to a dyno.',
      ),
  },
]
