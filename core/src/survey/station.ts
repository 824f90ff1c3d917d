import { at, say, station } from '../kernel/index.ts'
import { surveyContribution } from './contribution.ts'
import { surveyEntries } from './entries.ts'
import { factAt, factCatalogue } from './facts.ts'
import { surveyRules } from './findings.ts'
import { notLookedAt, SurveyChoices } from './like.ts'
import { missingFacts } from './needs.ts'
import { surveyNumbers } from './numbers.ts'
import { factInWords } from './resolve.ts'

export const survey = station({
  id: 'survey',
  number: 1,
  title: 'Survey',
  question: 'What is there, and do the facts agree?',
  key: 's',
  after: [],
  facts: factCatalogue,
  choices: { survey: SurveyChoices },
  entries: surveyEntries,
  rules: surveyRules,
  requirements: (c) => {
    const [first] = missingFacts(c)
    const alike = notLookedAt(c)
    return [
      {
        id: 'facts',
        met: first === undefined,
        action: first ? say`Enter the ${first.label}: ${first.why}` : '',
        where: first ? at('survey', undefined, `facts.${first.path}`) : undefined,
      },
      ...(c.build.choices.survey?.like
        ? [
            {
              id: 'alike',
              met: alike.length === 0,
              action: alike.length
                ? `Look at ${factInWords(factAt(alike[0]))} on this car${alike.length > 1 ? `, and at ${alike.length - 1} other facts` : ''}: taken over from ${c.build.choices.survey.like.title}`
                : '',
              where: alike.length ? at('survey', undefined, `facts.${alike[0]}`) : undefined,
            },
          ]
        : []),
    ]
  },
  numbers: surveyNumbers,
  cautions: ['law'],
  contributes: surveyContribution,
})
