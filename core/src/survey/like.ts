import { z } from 'zod'
import { type Context, type Told, valueAt } from '../kernel/index.ts'
import { allFacts, type FactPath, type Facts, findFact } from './facts.ts'

/** What a car was begun from: the like one, and every fact that was taken over with its value then. */
export const SurveyChoices = z.strictObject({
  like: z
    .strictObject({
      title: z.string().min(1).max(120),
      taken: z.record(z.string().max(60), z.unknown()).describe('facts taken over and not yet looked at on this car'),
    })
    .optional(),
})

/** A key without dots, so that one of them can be taken away by its path. */
export const takenKey = (path: FactPath): string => path.replace('.', '/')

/** Facts of the car itself, its day and its people: they are never those of another. */
const NEVER_ALIKE = [
  'car.owner',
  'car.year',
  'health.',
  'baseline.',
  'intake.',
  'electrics.restV',
  'electrics.crankingV',
  'place.barometerKpa',
  'place.startsFrom',
]
/** Of the plan only what was chosen for the kind of car goes over: no parts bought, no tasks done, no figures of a person. */
const OF_THAT_JOB = ['parts', 'tasks', 'overrides', 'start', 'tools'] as const

/** Facts and choices that a build begins with when it is like another of the shop. Entries, proofs and tunes stay where they were made. */
export function likeCar({ title, facts, choices = {} }: Told & { title: string }): { facts: Facts; choices: NonNullable<Told['choices']> } {
  const paths = allFacts
    .map((f) => f.path)
    .filter((path) => !NEVER_ALIKE.some((never) => path.startsWith(never)) && valueAt(facts, path) !== undefined)
  const begun: Record<string, Record<string, unknown>> = {}
  for (const path of paths) {
    const [group, name] = path.split('.')
    begun[group] = { ...begun[group], [name]: valueAt(facts, path) }
  }
  const { plan, fuel, spark } = choices
  const kept = Object.fromEntries(Object.entries(plan ?? {}).filter(([key]) => !(OF_THAT_JOB as readonly string[]).includes(key)))
  return {
    facts: begun as Facts,
    choices: {
      ...(plan ? { plan: kept } : {}),
      ...(fuel ? { fuel } : {}),
      ...(spark ? { spark } : {}),
      survey: {
        like: { title: title.slice(0, 120), taken: Object.fromEntries(paths.map((path) => [takenKey(path), valueAt(facts, path)])) },
      },
    } as NonNullable<Told['choices']>,
  }
}

/** Facts taken over that still stand as they were taken: one that was changed since has been looked at. */
export function notLookedAt({ build: { facts, choices } }: Pick<Context, 'build'>): FactPath[] {
  const taken = choices.survey?.like?.taken ?? {}
  return Object.entries(taken)
    .map(([key, value]): [string, unknown] => [key.replace('/', '.'), value])
    .filter(([path, value]) => findFact(path) && JSON.stringify(valueAt(facts, path)) === JSON.stringify(value))
    .map(([path]) => path as FactPath)
}

declare module '../kernel/told.ts' {
  interface ChoiceTable {
    survey?: z.infer<typeof SurveyChoices>
  }
}
