import { z } from 'zod'
import { Cause, type DiagnosedCar, Suspect } from '../diagnose/index.ts'
import { type Axes, KnownTraces, type RunnerTable } from '../tune/index.ts'
import type { Learns } from '../unit/index.ts'
import type { SampleLimits } from '../samples/index.ts'

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
  learnedPct: z.number().nullable().optional().describe('where the unit learns by itself: what it holds at this cell now, %'),
  neededBasePct: z.number().nullable().optional().describe('(1 + learned) (1 + remainder) - 1: what the base is off by, %'),
  movedPct: z.number().nullable().optional().describe('how far what is held moved since the visit before the last, %; null: visited once'),
  leftPct: z
    .number()
    .optional()
    .describe('where the unit learns by itself: mean of what is left at the readings around this cell, %; the state goes by it'),
  newestSeconds: z.number().optional().describe('of several drives solved as one: used seconds in the last, by bilinear share'),
  leftErrorPct: z.number().optional().describe('its standard error, %'),
  mendPct: z
    .number()
    .optional()
    .describe('what constants and curves that were taken out first add here, %: until they are mended it is delivered wrong by that too'),
  uncorrected: z.boolean().optional().describe('lambda stays off its target here: no trim works, so the unit never learns it'),
  settled: z.boolean().optional().describe('proven, visited twice, and moved by less than the limit'),
})
export type LearnCell = z.infer<typeof LearnCell>

/** What a cell delivers wrong as it was driven, %: what is left to its table, and constants that were taken out first. */
export const deliveredPct = ({ correctionPct, mendPct = 0 }: Pick<LearnCell, 'correctionPct' | 'mendPct'>): number =>
  100 * ((1 + (correctionPct ?? 0) / 100) * (1 + mendPct / 100) - 1)

/** The same of a table by throttle. */
export const RunnerCell = LearnCell.omit({ mapKpa: true }).extend({ throttlePct: z.number() })
export type RunnerCell = z.infer<typeof RunnerCell>

export const LearnResult = z.object({
  rpm: z.array(z.number()),
  mapKpa: z.array(z.number()),
  cells: z.array(LearnCell),
  runner: z
    .object({ throttlePct: z.array(z.number()), cells: z.array(RunnerCell) })
    .optional()
    .describe('where throttles on the runners tell the load: what the table by throttle needs'),
  totals: z.object({
    samples: z.int(),
    used: z.int(),
    usedSeconds: z.number(),
    excluded: z.record(z.string(), z.int()),
    provenTimePct: z.number().nullable(),
    errorRmsPct: z.number().nullable().describe('rms of the error still in the table, weighted by used time'),
    deliveredRmsPct: z
      .number()
      .optional()
      .describe('as driven: with constants and curves that were taken out first; left out where none were'),
    settledTimePct: z
      .number()
      .nullable()
      .optional()
      .describe('share of the used time in settled cells, where the unit learns by itself, %'),
    remainderRmsPct: z
      .number()
      .nullable()
      .optional()
      .describe('rms over the cells of what is left beyond what it has learned, weighted by used time, %'),
    movedRmsPct: z.number().nullable().optional().describe('rms of how far what is held moved between visits, weighted by used time, %'),
    noisePct: z.number().nullable(),
    autocorrelationFactor: z.number().nullable(),
  }),
  delay: z.object({ lagS: z.number(), cycles: z.number(), pipe: z.number(), events: z.int(), fitted: z.boolean() }),
  verdicts: z.array(z.object({ code: z.string(), message: z.string() })),
  sound: z.boolean().describe('whether what the log says of the table may be believed; else no cell is proven or needs correction'),
  diagnosis: z.array(Suspect).describe('what the log may be wrong by, likeliest first'),
  correctedFor: z.array(Cause).optional().describe('constants and curves that were taken out first; corrections are what is left'),
  mends: z
    .array(z.object({ cause: Cause, size: z.number() }))
    .optional()
    .describe('size of each: %, ms of opening, share of the way from air to coolant'),
  traces: KnownTraces.optional(),
  uncorrected: z
    .object({ cells: z.array(LearnCell), runner: z.array(RunnerCell).optional() })
    .optional()
    .describe('where the unit learns by itself: what the base wants at cells where it never learns, and nothing elsewhere'),
})
export type LearnResult = z.infer<typeof LearnResult>

export interface LearnOptions {
  limits?: Partial<SampleLimits>
  barometerKpa?: number
  /** who corrects the fuel; left out: not told, and a learned column counts as what the table is off by */
  learns?: Learns
  /** the unit makes its base itself from answers: no table can be given to it; whether an answer was mended for that before */
  ownBase?: { mended: boolean }
  /** what it held at the cells after the drive before this one, %, on the same axes: a cell visited once is held against it */
  before?: readonly (number | null)[]
  /** where several drives are solved as one: when the last begins, s; what a unit that learns by itself delivers now is seen from there on */
  newestFromS?: number
  /** breakpoints of the unit's own learned cells, where they are known */
  learnedAxes?: Axes
  /** most that the unit may learn, % */
  learnLimitPct?: number
  /** what the diagnosis that comes first knows of the car; left out: nothing is diagnosed, the log is believed */
  car?: DiagnosedCar
  /** target from the tune in force, for a log that carries none */
  targetLambdaAt?: (rpm: number, mapKpa: number) => number
  /** the table by throttle, where throttles on the runners tell the load */
  runner?: Pick<RunnerTable, 'throttlePct' | 'blendFromPct' | 'blendToPct'>
  onProgress?: (share: number) => void
}
