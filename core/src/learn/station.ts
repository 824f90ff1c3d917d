import { at, readingsOf, station } from '../kernel/index.ts'
import { causes } from '../diagnose/index.ts'
import { idleRequirement } from '../idle/index.ts'
import { releaseRequirement } from '../unit/index.ts'
import { LearnChoices } from './choices.ts'
import { feltRequirement } from './felt/index.ts'
import { learnEntries } from './entries.ts'
import { acceptedOf, currentLearn } from './current.ts'
import { converged, learnRules } from './findings.ts'
import { learningRequirements, learnOn, learnsItself } from './learning-findings.ts'

export const learn = station({
  id: 'learn',
  number: 10,
  title: 'Learn',
  question: 'Where is the mixture proven, and what should be driven next?',
  key: 'l',
  after: ['start'],
  choices: { learn: LearnChoices },
  entries: learnEntries,
  rules: learnRules,
  requirements: (c) => {
    const result = currentLearn(c)
    const { logs } = c.build
    const accepted = acceptedOf(c)
    return [
      {
        id: 'log',
        met: logs.some((l) => l.source === 'import') || result !== null,
        action: 'Drive, then bring the log',
        where: at('learn'),
      },
      {
        id: 'solve',
        proof: ['learn.result'],
        met: result !== null,
        action: logs.length ? 'Drive with the tune now in the car, bring that log and solve it' : 'Bring a log and solve it',
        where: at('learn'),
      },
      {
        id: 'converged',
        met: result !== null && converged(result.value),
        action: result?.value.suspect
          ? `Test what the log is wrong by: ${causes[result.value.suspect].is}`
          : learnsItself(c) && !accepted
            ? learnOn(c, result?.value.codes)
            : accepted
              ? `Put version ${accepted.number} in the car and drive again`
              : 'Accept the correction, put the new version in the car and drive again',
        where: accepted && !result?.value.suspect ? at('tune') : at('learn'),
      },
      feltRequirement(c),
      idleRequirement(c, 'neutral'),
      ...learningRequirements(c),
      ...releaseRequirement(c, ['learning-off', 'loop-off']),
    ]
  },
  cautions: ['drive'],
  contributes: {
    tasks: ({ readings }) => [
      {
        id: 'learning',
        title: 'Learning drives',
        station: 'learn',
        kind: 'work',
        base: 3,
        after: ['idle'],
        helper: true,
        provenDone: readingsOf(readings, 'learn.result').find((r) => converged(r.value))?.takenAt,
      },
    ],
  },
})
