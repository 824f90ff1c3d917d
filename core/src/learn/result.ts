import { z } from 'zod'
import type { SampleLimits } from './samples.ts'

export const CellState = z.enum(['proven', 'needs-correction', 'thin', 'passed-through', 'untouched', 'unsafe'])
export type CellState = z.infer<typeof CellState>

export const LearnCell = z.object({
  i: z.int().describe('index on the rpm axis'),
  j: z.int().describe('index on the MAP axis'),
  rpm: z.number(),
  mapKpa: z.number(),
  correctionPct: z.number().nullable().describe('fuel still to be added at this cell, %; null where nothing was measured'),
  standardErrorPct: z.number().nullable(),
  seconds: z.number().describe('used seconds, by bilinear share'),
  missingSeconds: z.number().describe('for a thin cell: seconds still to be driven, estimated; else 0'),
  nearestMeanPct: z.number().nullable().describe('what plain averaging into the nearest cell gives, for comparison only'),
  state: CellState,
})
export type LearnCell = z.infer<typeof LearnCell>

export const LearnResult = z.object({
  rpm: z.array(z.number()),
  mapKpa: z.array(z.number()),
  cells: z.array(LearnCell),
  totals: z.object({
    samples: z.int(),
    used: z.int(),
    usedSeconds: z.number(),
    excluded: z.record(z.string(), z.int()),
    provenTimePct: z.number().nullable(),
    errorRmsPct: z.number().nullable().describe('rms of the error still in the table, weighted by used time'),
    noisePct: z.number().nullable(),
    autocorrelationFactor: z.number().nullable(),
  }),
  delay: z.object({ lagS: z.number(), cycles: z.number(), pipe: z.number(), events: z.int(), fitted: z.boolean() }),
  verdicts: z.array(z.object({ code: z.string(), message: z.string() })),
})
export type LearnResult = z.infer<typeof LearnResult>

export interface LearnOptions {
  limits?: Partial<SampleLimits>
  barometerKpa?: number
  /** target from the tune in force, for a log that carries none */
  targetLambdaAt?: (rpm: number, mapKpa: number) => number
  onProgress?: (share: number) => void
}
