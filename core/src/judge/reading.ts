import { z } from 'zod'
import type { EntryKind } from '../kernel/index.ts'
import { entryKinds } from './judgement.ts'

const kinds = Object.keys(entryKinds) as [EntryKind, ...EntryKind[]]

/** A reading as it is sent: what was measured or witnessed, by whom, with what. */
export const Reading = z.strictObject({
  kind: z.enum(kinds),
  value: z.record(z.string(), z.unknown()),
  instrument: z.string().trim().max(80).optional(),
  who: z.string().trim().min(1).max(80).optional(),
  takenAt: z.iso.datetime().optional(),
  conditions: z.string().trim().max(400).optional(),
  supersedes: z.uuid().optional(),
  view: z.literal('rehearsal').optional().describe('made while practising on the bench: it never counts for the car'),
  seen: z.int().min(0).optional().describe('last seq that this browser knew when it was made; left out: all'),
  client: z.string().min(1).max(64).optional().describe('the browser’s own id'),
  clientSeq: z.int().min(0).optional().describe('its count, so that its own queue keeps its order'),
})
export type ReadingInput = z.infer<typeof Reading>
