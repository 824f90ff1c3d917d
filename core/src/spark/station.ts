import { at, station } from '../kernel/index.ts'
import { TachChoices, tachEntries, tachRules } from '../tach/index.ts'
import { SparkChoices } from './choices.ts'
import { sparkPairs, sparkParts, sparkTasks, sparkUnitFunctions } from './contribution.ts'
import { sparkEntries } from './entries.ts'
import { sparkNumbers, sparkRules } from './findings.ts'
import { interferenceRules } from './interference.ts'
import { sparkProcedure } from './procedure.ts'

export const spark = station({
  id: 'spark',
  number: 4,
  title: 'Spark',
  question: 'When does the pulse come, and which terminal is the rotor under?',
  key: 'p',
  after: ['survey'],
  choices: { spark: SparkChoices, tach: TachChoices },
  entries: { ...sparkEntries, ...tachEntries },
  rules: [...sparkRules, ...interferenceRules, ...tachRules],
  requirements: (c) => [
    { id: 'trigger', met: c.spark.trigger !== undefined, action: 'Choose how the unit will see the crank', where: at('spark', 'trigger') },
    ...sparkProcedure(c)
      .filter((step) => step.required)
      .map((step) => ({ id: step.id, met: step.state === 'done', action: step.title, where: at('spark', 'steps', step.id) })),
  ],
  numbers: sparkNumbers,
  cautions: ['earth-first', 'moving', 'sheet'],
  contributes: { parts: sparkParts, tasks: sparkTasks, unitFunctions: sparkUnitFunctions, pairs: sparkPairs },
})
