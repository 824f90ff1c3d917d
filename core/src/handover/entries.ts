import { z } from 'zod'
import { entry, type EntryValues, textField } from '../kernel/index.ts'
import { factAt, type FactPath } from '../survey/index.ts'

const afterMark = z.int().min(1).max(5).optional().describe('1 bad to 5 good, by the driver who gave the mark before')
const markField = (path: FactPath) => {
  const { label, input } = factAt(path)
  return { label, input }
}
export const handoverEntries = {
  'handover.after': entry({
    title: 'As it drives now, by the same driver',
    proof: null,
    schema: z.strictObject({
      idleRpm: z.number().min(200).max(3000).optional(),
      coldStartS: z.number().min(0).max(300).optional().describe('s'),
      hotRestartS: z.number().min(0).max(300).optional().describe('after 20 minutes, s'),
      fuelUseLPer100km: z.number().min(2).max(80).optional(),
      dynoKw: z.number().min(5).max(1000).optional(),
      pullAway: afterMark,
      partThrottle: afterMark,
      acceleration: afterMark,
      restart: afterMark,
      smell: afterMark,
    }),
    says: (v) => `Driven after the conversion: ${Object.keys(v).length} of ten figures and marks`,
    fields: {
      idleRpm: markField('baseline.idleRpm'),
      coldStartS: markField('baseline.coldStartS'),
      hotRestartS: markField('baseline.hotRestartS'),
      fuelUseLPer100km: markField('baseline.fuelUseLPer100km'),
      dynoKw: markField('baseline.dynoKw'),
      pullAway: markField('baseline.pullAway'),
      partThrottle: markField('baseline.partThrottle'),
      acceleration: markField('baseline.acceleration'),
      restart: markField('baseline.restart'),
      smell: markField('baseline.smell'),
    },
    answers: [{ label: 'Record how it drives now', value: {} }],
  }),
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
