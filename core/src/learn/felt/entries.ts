import { z } from 'zod'
import { entry } from '../../kernel/index.ts'
import { feltKinds, type FeltKind } from './felt.ts'

const number = z.number().nullable()
export const feltEntries = {
  'learn.felt': entry({
    title: 'Felt while driving',
    proof: null,
    schema: z.strictObject({
      what: z.enum(Object.keys(feltKinds) as [FeltKind, ...FeltKind[]]),
      moment: z.strictObject({
        rpm: z.number().min(0).max(20000),
        mapKpa: number,
        advanceDegBtdc: number,
        coolantC: number,
        stepPct: number.describe('largest rise of the throttle in half a second, %'),
        leanLambda: number.describe('most over its target'),
        richLambda: number.describe('most under its target'),
        hunts: z.number().min(0).describe('how far the speed came and went, rpm'),
      }),
      tuneId: z.uuid().nullable(),
      logId: z.uuid().optional().describe('log that carries the mark'),
      atS: z.number().min(0).optional().describe('on its clock'),
    }),
    says: ({ what, moment }) =>
      `${feltKinds[what]} felt at ${moment.rpm.toFixed(0)} rpm${moment.mapKpa === null ? '' : `, ${moment.mapKpa.toFixed(0)} kPa`}`,
  }),
  'learn.felt-closed': entry({
    title: 'What was felt is settled',
    proof: null,
    schema: z.strictObject({
      feltId: z.uuid(),
      readingId: z.uuid().describe('the reading that settled it'),
      said: z.string().trim().min(1).max(300),
    }),
    says: (v) => `Settled: ${v.said}`,
  }),
} as const
