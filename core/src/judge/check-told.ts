import { z } from 'zod'
import { patchFor, zodErrors } from '../kernel/index.ts'
import { Choices, ToldFacts } from './judgement.ts'

const Both = z.strictObject({ facts: ToldFacts.optional(), choices: Choices.optional() })

/**
 * What is wrong with one fact or choice, in words with bound and unit; null when it can be taken. The same schema decides on the server. What is
 * missing beside it is not this field's fault: it stands in the build already.
 */
export function checkFact(path: string, value: unknown): string | null {
  if (value === undefined) return null
  const parsed = Both.safeParse(patchFor(path, value))
  if (parsed.success) return null
  const issues = parsed.error.issues.filter((issue) => {
    const at = issue.path.join('.')
    return at === path || at.startsWith(`${path}.`) || path.startsWith(at === '' ? '' : `${at}.`)
  })
  return issues.length ? (zodErrors(new z.ZodError(issues))[0]?.message ?? 'cannot be taken') : null
}
