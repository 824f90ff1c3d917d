import { at, say, station } from '../kernel/index.ts'
import { surveyContribution } from './contribution.ts'
import { surveyEntries } from './entries.ts'
import { factCatalogue } from './facts.ts'
import { surveyRules } from './findings.ts'
import { missingFacts } from './needs.ts'
import { surveyNumbers } from './numbers.ts'

export const survey = station({
  id: 'survey',
  number: 1,
  title: 'Survey',
  question: 'What is there, and do the facts agree?',
  key: 's',
  after: [],
  facts: factCatalogue,
  entries: surveyEntries,
  rules: surveyRules,
  requirements: (c) => {
    const [first] = missingFacts(c)
    return [
      {
        id: 'facts',
        met: first === undefined,
        action: first ? say`Enter the ${first.label}: ${first.why}` : '',
        where: first ? at('survey', undefined, `facts.${first.path}`) : undefined,
      },
    ]
  },
  numbers: surveyNumbers,
  cautions: ['law'],
  contributes: surveyContribution,
})
