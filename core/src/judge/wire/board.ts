import { z } from 'zod'
import { SayingSchema, StationState, Where } from '../../kernel/index.ts'
import type { NextAction } from '../roof.ts'

/** What the first screen reads, apart from the rest: it does not wait for the schemas of all others. */
export const Said = z.union([z.string(), SayingSchema])
export const when = z.string().describe('ISO 8601, UTC')
export const id = z.string().describe('UUID')

export const Health = z.object({ ok: z.boolean(), database: z.enum(['up', 'down']), version: z.string() })

export const Next = z.object({
  station: z.string(),
  action: z.string().describe('metric text'),
  said: Said,
  where: Where,
}) as unknown as z.ZodType<NextAction>
export const BoardEntry = z.object({
  id,
  title: z.string(),
  car: z
    .object({
      year: z.int().optional(),
      make: z.string().optional(),
      model: z.string().optional(),
      body: z.string().optional(),
      owner: z.string().optional(),
    })
    .loose(),
  updatedAt: when,
  stations: z.array(z.object({ id: z.string(), title: z.string(), state: StationState, stops: z.array(z.string()) })),
  temporary: z.string().nullable().describe('what stands in the unit for the time being, and until when'),
  next: Next,
})
export type BoardEntry = z.infer<typeof BoardEntry>
export const Board = z.array(BoardEntry)
