import { z } from 'zod'
import { zodErrors } from '../calc/wording.ts'
import { patchFor } from '../job/patch.ts'
import { Choices } from '../plan/choices.ts'
import { Facts } from './facts.ts'

const Both = z.strictObject({ facts: Facts.optional(), choices: Choices.optional() })

/** What is wrong with one fact or choice, in words with bound and unit; null when it can be taken. The same schema decides on the server. */
export function checkFact(path: string, value: unknown): string | null {
  if (value === undefined) return null
  const parsed = Both.safeParse(patchFor(path, value))
  return parsed.success ? null : (zodErrors(parsed.error)[0]?.message ?? 'cannot be taken')
}
