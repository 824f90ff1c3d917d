import { z } from 'zod'
import { asSaying, type Said, type Saying, wordsOf } from './say.ts'
import type { Dimension } from './units.ts'

export const StationState = z.enum(['blocked', 'open', 'ready', 'cleared'])
export type StationState = z.infer<typeof StationState>
export const Severity = z.enum(['stop', 'warn', 'note'])
export type Severity = z.infer<typeof Severity>

/** A place on a screen: a station, a room of it, a field or an element there, and a value to offer. One tap leads to it. */
export const Where = z.object({
  station: z.string(),
  part: z.string().optional().describe('tab or room of the station'),
  field: z.string().optional().describe('dotted path of a fact or choice, or the id of an element'),
  offer: z.union([z.number(), z.string(), z.boolean()]).optional().describe('value to offer there'),
})
export type Where = z.infer<typeof Where>
export const at = (station: string, part?: string, field?: string, offer?: Where['offer']): Where => ({
  station,
  ...(part === undefined ? {} : { part }),
  ...(field === undefined ? {} : { field }),
  ...(offer === undefined ? {} : { offer }),
})

export const SayingSchema = z.object({
  text: z.array(z.string()),
  quantities: z.array(z.object({ value: z.number(), dimension: z.string(), decimals: z.number().optional() })),
})

/** Something the core concludes from the facts. It is never stored: change a fact and it changes. */
export const Finding = z.object({
  id: z.string(),
  severity: Severity,
  message: z.string().describe('what, metric'),
  because: z.string().describe('the numbers, metric'),
  remedy: z.string().describe('what to do, metric'),
  said: z.object({ message: SayingSchema, because: SayingSchema, remedy: SayingSchema }).describe('the same with its quantities apart'),
  where: Where.optional().describe('the place that settles it'),
})
export interface Finding {
  id: string
  severity: Severity
  message: string
  because: string
  remedy: string
  said: { message: Saying; because: Saying; remedy: Saying }
  where?: Where
}

/** What a rule answers: three sentences and the place that settles it. */
export const finding = (severity: Severity, message: Said, because: Said, remedy: Said, where?: Where): Omit<Finding, 'id'> => ({
  severity,
  message: wordsOf(message),
  because: wordsOf(because),
  remedy: wordsOf(remedy),
  said: { message: asSaying(message), because: asSaying(because), remedy: asSaying(remedy) },
  ...(where ? { where } : {}),
})

/** A computed number with what made it: the catalogue entry, the numbers put in, and which of them were assumed. */
export interface DerivedNumber {
  id: string
  station: string
  label: string
  value: number | null
  dimension: Dimension
  formula: string
  source: string
  inputs: ShownInput[]
  assumed: Said[]
}
/** An input as a person reads it behind a number: its name in words, and its value in text or as a quantity. */
export interface ShownInput {
  name: string
  value: string
  quantity?: { value: number; dimension: Dimension }
}
