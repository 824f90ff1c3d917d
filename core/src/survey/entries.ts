import { z } from 'zod'
import { entry, type EntryValues, quantityField, textField, yesNoField } from '../kernel/index.ts'

export const surveyEntries = {
  'survey.old-timing': entry({
    title: 'Old timing by the light',
    schema: z.strictObject({
      rpm: z.number().min(50).max(15000),
      observedDeg: z.number().min(-60).max(120).describe('crank degrees BTDC, old ignition'),
      vacuumCan: z.boolean().describe('true with the vacuum can connected'),
    }),
    says: (v) => `Old timing ${v.observedDeg}° at ${v.rpm} rpm, vacuum can ${v.vacuumCan ? 'on' : 'off'}`,
    fields: {
      rpm: quantityField('Speed', 'rpm'),
      observedDeg: quantityField('Seen on the damper', 'angle', 'crank degrees BTDC'),
      vacuumCan: yesNoField('Vacuum can', 'on', 'off'),
    },
    tool: 'timing light',
  }),
  note: entry({
    title: 'Note',
    schema: z.strictObject({ text: z.string().trim().min(1).max(4000) }),
    says: (v) => v.text,
    fields: { text: textField('Note for the logbook') },
  }),
} as const

declare module '../kernel/told.ts' {
  interface EntryTable extends EntryValues<typeof surveyEntries> {}
}
