import { z } from 'zod'

/** What the person who drives allows. */
export const LearnChoices = z.strictObject({
  topKmh: z.number().min(30).max(250).optional().describe('never driven faster than this, km/h'),
  steepestPct: z.number().min(0).max(15).optional().describe('steepest climb at hand, %; 0: there is none'),
})
export type LearnChoices = z.infer<typeof LearnChoices>

declare module '../kernel/told.ts' {
  interface ChoiceTable {
    learn?: LearnChoices
  }
}
