import { z } from 'zod'
import { entry } from '../../kernel/index.ts'

export const oneChangeEntries = {
  'learn.reversal': entry({
    title: 'One change put back alone',
    proof: null,
    schema: z.strictObject({
      tuneId: z.uuid().describe('the version made for it'),
      ofTuneId: z.uuid().describe('the version tested last, which it is but for one change'),
      toTuneId: z.uuid().describe('the version tested before, whose part it has'),
      what: z.string().trim().min(1).max(120).describe('the change that was put back'),
    }),
    says: (v) => `Reversal: ${v.what} put back alone`,
  }),
} as const
