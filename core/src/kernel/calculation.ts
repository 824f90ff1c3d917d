import type { z } from 'zod'

/**
 * One closed calculation: typed input and output, the formula as text, where it comes from, and a pure run.
 * The server exposes it, the interface shows the formula behind the number, the tests try it, all from this one entry.
 */
export interface Calculation<I extends z.ZodType = z.ZodType, O extends z.ZodType = z.ZodType> {
  id: string
  title: string
  input: I
  output: O
  formula: string
  source: string
  run: (input: z.output<I>) => z.output<O>
}

export function defineCalculation<I extends z.ZodType, O extends z.ZodType>(calculation: Calculation<I, O>): Calculation<I, O> {
  return calculation
}
