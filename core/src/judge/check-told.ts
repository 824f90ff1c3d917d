import { z } from 'zod'
import { patchFor, zodErrors } from '../kernel/index.ts'
import { Choices, ToldFacts } from './judgement.ts'

const Both = z.strictObject({ facts: ToldFacts.optional(), choices: Choices.optional() })

/** What is wrong with one fact or choice, in words with bound and unit; null when it can be taken. The same schema decides on the server. */
export function checkFact(path: string, value: unknown): string | null {
  if (value === undefined) return null
  const parsed = Both.safeParse(patchFor(path, value))
  return parsed.success ? null : (zodErrors(parsed.error)[0]?.message ?? 'cannot be taken')
}
