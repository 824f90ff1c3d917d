import { z } from 'zod'
import { entry, type EntryValues, textField } from '../kernel/index.ts'

export const handoverEntries = {
  'handover.signed': entry({
    title: 'Signed by the owner',
    proof: null,
    schema: z.strictObject({ name: z.string().trim().min(1).max(80) }),
    says: (v) => `Hand-over signed by ${v.name}`,
    fields: { name: textField('Owner who received it') },
    answers: [{ label: 'Record the signature', value: {} }],
  }),
} as const

declare module '../kernel/told.ts' {
  interface EntryTable extends EntryValues<typeof handoverEntries> {}
}
