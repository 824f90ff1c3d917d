import { z } from 'zod'
import type { Dimension } from '../quantity/units.ts'

/** The stations that are built, in working order. One that is not built yet does not appear on the line. */
export const stations = [
  { id: 'survey', number: 1, title: 'Survey', question: 'What is there, and do the facts agree?' },
  { id: 'plan', number: 2, title: 'Plan', question: 'Which conversion suits this car, what does it take, and when is it done?' },
  { id: 'fuel', number: 3, title: 'Fuel', question: 'Is the pressure right in every state, and is every joint dry?' },
  { id: 'spark', number: 4, title: 'Spark', question: 'When does the pulse come, and which terminal is the rotor under?' },
  { id: 'tune', number: 7, title: 'Base tune', question: 'Will it start, idle and be safe at full load on the first turn of the key?' },
  { id: 'start', number: 8, title: 'First start', question: 'Is it safe to turn the key, and is the timing what the unit says?' },
  { id: 'learn', number: 10, title: 'Learn', question: 'Where is the mixture proven, and what should be driven next?' },
  { id: 'handover', number: 12, title: 'Hand-over', question: 'What was done, measured and left open?' },
] as const
export type StationId = (typeof stations)[number]['id']
export const StationState = z.enum(['blocked', 'open', 'ready', 'cleared'])
export type StationState = z.infer<typeof StationState>
export const Severity = z.enum(['stop', 'warn', 'note'])
export type Severity = z.infer<typeof Severity>

/** Something the core concludes from the facts. It is never stored: change a fact and it changes. */
export const Finding = z.object({
  id: z.string(),
  severity: Severity,
  message: z.string().describe('what'),
  because: z.string().describe('the numbers'),
  remedy: z.string().describe('what to do'),
})
export type Finding = z.infer<typeof Finding>

/** A computed number with what made it: the catalogue entry, the numbers put in, and which of them were assumed. */
export interface DerivedNumber {
  id: string
  station: StationId
  label: string
  value: number | null
  dimension: Dimension
  formula: string
  source: string
  inputs: { name: string; value: string }[]
  assumed: string[]
}

/** Inputs of a calculation as a person reads them behind a number. */
export const shown = (inputs: Record<string, unknown>): { name: string; value: string }[] =>
  Object.entries(inputs).map(([name, value]) => ({
    name,
    value: typeof value === 'number' ? String(Math.round(value * 1000) / 1000) : String(value),
  }))
