import { z } from 'zod'
import { entry, type EntryValues, quantityField, textField } from '../kernel/index.ts'

const shown = z.number().min(0).max(20000)
export const tachEntries = {
  'tach.step': entry({
    title: 'Needle on a step of speed',
    proof: null,
    schema: z.strictObject({
      fromRpm: z.number().min(0).max(15000),
      toRpm: z.number().min(0).max(15000),
      points: z
        .array(z.strictObject({ timeS: z.number().min(0.01).max(30), shownRpm: shown }))
        .min(2)
        .max(40),
    }),
    says: (v) => `Tachometer followed from ${v.fromRpm} to ${v.toRpm} rpm`,
    fields: { fromRpm: quantityField('From', 'rpm'), toRpm: quantityField('To', 'rpm') },
    tool: 'phone camera',
  }),
  'tach.driven': entry({
    title: 'Tachometer driven alone',
    proof: null,
    schema: z.strictObject({
      frequencyHz: z.number().min(1).max(3000),
      shownRpm: shown,
      setting: z.string().trim().min(1).max(60).optional().describe('of the tachometer or of its converter'),
    }),
    says: (v) => `Driven alone with ${v.frequencyHz} Hz${v.setting ? `, ${v.setting}` : ''}, the tachometer shows ${v.shownRpm}`,
    fields: {
      frequencyHz: quantityField('Frequency, Hz', 'number', 'square wave of its own level'),
      shownRpm: quantityField('It shows', 'rpm'),
      setting: textField('Setting', 'of its switch or converter, as marked'),
    },
    tool: 'signal generator',
  }),
  'tach.reading': entry({
    title: 'Tachometer against true speed',
    proof: null,
    schema: z.strictObject({ trueRpm: z.number().min(100).max(15000), shownRpm: shown }),
    says: (v) => `Tachometer shows ${v.shownRpm} at ${v.trueRpm} rpm`,
    fields: { trueRpm: quantityField('True speed', 'rpm'), shownRpm: quantityField('It shows', 'rpm') },
  }),
} as const

declare module '../kernel/told.ts' {
  interface EntryTable extends EntryValues<typeof tachEntries> {}
}
