import { z } from 'zod'
import { entry, type EntryValues, quantityField } from '../kernel/index.ts'
import { takingWords } from './taking-words.ts'

export const tuneEntries = {
  'tune.taking': entry({
    title: 'Tune on its way into the unit',
    proof: null,
    schema: z.strictObject({
      tuneId: z.uuid(),
      step: z.enum(['sent', 'stored', 'power-cycled', 'read-back']),
      differences: z.int().min(0).optional().describe('values that came back other than sent'),
      revLimitRpm: z.number().min(0).max(20000).optional().describe('as the unit told it'),
    }),
    says: (v) =>
      `Tune ${takingWords[v.step]}${v.differences ? `: NOT, ${v.differences} values differ` : ''}${v.revLimitRpm === undefined ? '' : `, rev limit ${v.revLimitRpm} rpm`}`,
    fields: {
      differences: quantityField('Values that came back other', 'count'),
      revLimitRpm: quantityField('Rev limit, as the unit tells it', 'rpm'),
    },
  }),
} as const

declare module '../kernel/told.ts' {
  interface EntryTable extends EntryValues<typeof tuneEntries> {}
}
