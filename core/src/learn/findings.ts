import { causes } from '../diagnose/index.ts'
import { type EntryTable, finding, latest, type Rule, sayAll } from '../kernel/index.ts'
import { acceptedOf, currentLearn } from './current.ts'
import { learningRules, learnsItself, mendsBaseBy } from './learning-findings.ts'
import { CONVERGED_RMS_PCT, CONVERGED_TIME_PCT } from './limits.ts'
import { logDoubtsSaid } from './other-car.ts'
import { feltRules } from './felt/index.ts'
import { oneChangeRules } from './one-change/index.ts'
import { trialRules } from './trial/index.ts'

/** Whether a log was driven with a tune: it came after the tune went into the car. An older log says nothing about it. */
export const drivenWith = (log: { createdAt: string }, tune: { inCarSince: string | null } | null | undefined): boolean =>
  !!tune?.inCarSince && log.createdAt >= tune.inCarSince

/** Whether a solve says that learning has converged: enough of the time proven, little error left, constants that are still to be mended counted. */
export const converged = (result: EntryTable['learn.result']): boolean =>
  result.settled !== undefined
    ? result.settled
    : (result.provenTimePct ?? 0) >= CONVERGED_TIME_PCT && (result.deliveredRmsPct ?? result.errorRmsPct ?? Infinity) <= CONVERGED_RMS_PCT

export const learnRules: Rule[] = [
  ...learningRules,
  ...trialRules,
  ...feltRules,
  ...oneChangeRules,
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
      // a new version in the car is no proof: the cell stays unsafe until a log has shown it right
      const result = currentLearn(c) ?? latest(c.readings, 'learn.result')
      if (!result || result.value.unsafeCells === 0) return null
      const { unsafeCells: n } = result.value
      return finding(
        'stop',
        'Lean at high load',
        `${n} ${n === 1 ? 'cell' : 'cells'} read more than 0.05 lambda over target above 0.85 barometer, and no log since has proven ${n === 1 ? 'it' : 'them'}.`,
        acceptedOf(c)
          ? `Put version ${acceptedOf(c)!.number} in the car before it is driven hard again.`
          : currentLearn(c) && learnsItself(c)
            ? `Its loop is open there, so it never learns it: ${mendsBaseBy(c)}, and put that in the car before it is driven hard again.`
            : currentLearn(c)
              ? 'Accept the correction and put the new version in the car before it is driven hard again.'
              : 'Hold these cells on a dynamometer, or in short pulls with a passenger at the mixture, on the version now in the car, and bring that log.',
      )
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
      const { provenTimePct, errorRmsPct, deliveredRmsPct } = result.value
      const mends = (deliveredRmsPct ?? 0) > CONVERGED_RMS_PCT
      return provenTimePct < CONVERGED_TIME_PCT || (errorRmsPct ?? 0) > CONVERGED_RMS_PCT || mends
        ? finding(
            'warn',
            'Learning is not finished',
            `${provenTimePct.toFixed(0)} % of the driving time is in proven cells (${CONVERGED_TIME_PCT} % wanted); ${(errorRmsPct ?? 0).toFixed(1)} % rms error is left (${CONVERGED_RMS_PCT} % wanted)${mends ? `, and ${deliveredRmsPct!.toFixed(1)} % rms is delivered wrong until the constants that were taken out first are mended` : ''}.`,
            acceptedOf(c)
              ? `Put version ${acceptedOf(c)!.number} in the car, drive it, and bring that log.`
              : 'Accept the correction, drive again with the new version, and bring that log.',
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
