import { z } from 'zod'
import { entry, type EntryValues, quantityField, textField, yesNoField } from '../kernel/index.ts'

export const surveyEntries = {
  'survey.old-timing': entry({
    title: 'Old timing by the light',
    proof: null,
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
  'car.changed': entry({
    title: 'The car was changed',
    proof: null,
    schema: z.strictObject({
      what: z.string().max(400).describe('in words'),
      paths: z.array(z.string().max(200)).max(200).describe('facts and choices that changed'),
      fell: z.array(z.uuid()).max(1000).describe('proofs that no longer speak of the car'),
    }),
    says: (v) =>
      `${v.what}${v.fell.length ? `: ${v.fell.length} ${v.fell.length === 1 ? 'proof has' : 'proofs have'} to be taken again` : ''}`,
    writtenBy: 'server',
  }),
  'car.corrected': entry({
    title: 'The record was corrected',
    proof: null,
    schema: z.strictObject({
      what: z.string().max(400),
      rebased: z.array(z.strictObject({ id: z.uuid(), basis: z.record(z.string(), z.unknown()) })).max(1000),
    }),
    says: (v) => `Record corrected, the car is as it was: ${v.what}`,
    writtenBy: 'server',
  }),
  'entry.withdrawn': entry({
    title: 'An entry withdrawn',
    proof: null,
    schema: z.strictObject({ entryId: z.uuid(), reason: z.string().trim().min(3).max(400) }),
    says: (v) => `Withdrawn: ${v.reason}`,
    writtenBy: 'server',
  }),
  note: entry({
    title: 'Note',
    proof: null,
    schema: z.strictObject({ text: z.string().trim().min(1).max(4000) }),
    says: (v) => v.text,
    fields: { text: textField('Note for the logbook') },
  }),
} as const

declare module '../kernel/told.ts' {
  interface EntryTable extends EntryValues<typeof surveyEntries> {}
}
