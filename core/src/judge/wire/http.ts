import { z } from 'zod'
import type { DynoRow } from '../../bench/index.ts'
import type { Evaluation } from '../roof.ts'
import {
  type BuildData,
  Finding,
  SayingSchema,
  Severity,
  sources,
  StationState,
  type StoredReading,
  TuneStatus,
  Where,
  type LogSummary,
  type TuneSummary,
} from '../../kernel/index.ts'
import type { LogMapping } from '../../logfile/index.ts'
import type { SpeedSpike } from '../../spark/index.ts'
import { TuneDocument } from '../../tune/index.ts'
import { id, Next, Said, when } from './board.ts'

/** Every answer of the HTTP interface, once: the server documents and checks by these, the screens read by them. */

/** An answer that nobody reads. */
export const Anything = z.unknown()

const Quantity = z.object({ value: z.number(), dimension: z.string() })
const DerivedNumberOnWire = z.object({
  id: z.string(),
  station: z.string(),
  label: z.string(),
  value: z.number().nullable(),
  dimension: z.string(),
  formula: z.string(),
  source: z.string(),
  inputs: z.array(z.object({ name: z.string(), value: z.string(), quantity: Quantity.optional() })),
  assumed: z.array(Said),
})
const StationAnswer = z.object({
  id: z.string(),
  number: z.int(),
  title: z.string(),
  question: z.string(),
  key: z.string(),
  state: StationState,
  waitsFor: z.array(z.string()),
  findings: z.array(Finding),
  numbers: z.array(DerivedNumberOnWire),
  requirements: z.array(
    z.object({
      id: z.string(),
      met: z.boolean(),
      action: z.string(),
      said: Said,
      where: Where.optional(),
      void: z.string().optional().describe('why an earlier proof no longer stands'),
      voidSaid: Said.optional(),
    }),
  ),
})

/** An entry as it is kept; its value is of its kind's schema, and of an older one when it was written then. */
export const ReadingAnswer = z.object({
  id,
  kind: z.string(),
  value: z.record(z.string(), z.unknown()),
  instrument: z.string().nullable(),
  who: z.string(),
  takenAt: when,
  conditions: z.string().nullable(),
  supersedes: id.nullable(),
  seq: z.int().describe('place in the build’s one order'),
  source: z.enum(sources),
  receivedAt: when,
  seen: z.int().nullable(),
  client: z.string().nullable(),
  clientSeq: z.int().nullable(),
  basis: z
    .record(z.string(), z.unknown())
    .nullable()
    .describe('what a proof was taken on; null for kinds that prove nothing, or from before it was kept'),
  from: z.record(z.string(), z.unknown()).nullish().describe('what the app worked it out from: entries, a session, a log, a file'),
} satisfies Record<keyof StoredReading, z.ZodType>) as unknown as z.ZodType<StoredReading>
/** The same with what it is worth now. */
export const JudgedReadingAnswer = z.intersection(
  ReadingAnswer,
  z.object({
    stands: z.boolean().nullable().describe('null for kinds that prove nothing, and for failures'),
    voidBecause: z.string().optional(),
    withdrawn: z.object({ who: z.string(), at: when, reason: z.string() }).optional(),
  }),
)
export const Readings = z.array(JudgedReadingAnswer)

const Problem = z.object({
  code: z.string(),
  severity: Severity,
  message: z.string(),
  because: z.string(),
  remedy: z.string(),
  said: Finding.shape.said.optional(),
})
// what an answer leaves out is not there for the browser: every key of what is judged, also those that may be missing
const TuneSummaryAnswer = z.object({
  id,
  number: z.int(),
  name: z.string(),
  status: TuneStatus,
  origin: z.enum(['computed', 'edited', 'learned', 'imported']),
  parentId: id.nullable(),
  logId: id.nullable(),
  createdBy: z.string(),
  createdAt: when,
  inCarSince: when.nullable(),
  problems: z.array(Problem),
  figures: z.record(z.string(), z.number()).optional().describe('single numbers of the tune that a unit asks on a display'),
  changed: z.array(z.string()).optional().describe('parts that differ from the version it was made of, or from the one numbered before it'),
} satisfies Record<keyof TuneSummary, z.ZodType> & Record<string, z.ZodType>)
export const TuneAnswer = TuneSummaryAnswer.extend({ document: TuneDocument })
export type Tune = z.infer<typeof TuneAnswer>
export const Tunes = z.array(TuneSummaryAnswer)

const LogSummaryAnswer = z.object({
  id,
  name: z.string(),
  rows: z.int(),
  durationS: z.number(),
  source: z.enum(['import', 'bench']),
  createdAt: when,
  topRpm: z.number().nullish().describe('highest speed in it; null: not kept'),
  topMapKpa: z.number().nullish().describe('highest manifold pressure in it; null: not kept'),
  tuneId: id.nullish().describe('the tune it was driven on; null: not known'),
  loopOpen: z.boolean().optional().describe('said at its import: nothing was corrected while it ran'),
} satisfies Record<keyof LogSummary, z.ZodType>)

/** A build with its judgement. Facts and choices are of the schemas that `PATCH` takes. */
export interface Build extends BuildData, Omit<Evaluation, 'failures' | 'standings'> {
  version: number
  createdAt: string
  updatedAt: string
}
export const BuildAnswer = z.object({
  id,
  title: z.string(),
  version: z.int(),
  createdAt: when,
  updatedAt: when,
  facts: z.record(z.string(), z.unknown()) as unknown as z.ZodType<BuildData['facts']>,
  choices: z.record(z.string(), z.unknown()) as unknown as z.ZodType<BuildData['choices']>,
  readings: z.array(ReadingAnswer),
  tunes: Tunes,
  logs: z.array(LogSummaryAnswer),
  unreadable: z.array(z.object({ what: z.string(), because: z.string() })).optional(),
  stations: z.array(StationAnswer),
  next: Next,
}) as unknown as z.ZodType<Build>

const LogMappingOnWire = z
  .object({ channels: z.record(z.string(), z.unknown()), stoichAfr: z.number(), barometerKpa: z.number().nullable() })
  .loose() as unknown as z.ZodType<LogMapping>
const Rejected = z.array(z.object({ channel: z.string(), reason: z.string(), count: z.int() }))
export const ImportedLog = z.object({
  id,
  name: z.string(),
  rows: z.int(),
  durationS: z.number(),
  rejected: Rejected,
  channels: z.array(z.string()),
  mapping: LogMappingOnWire,
  fileHash: z.string().nullable().describe('SHA-256 of the file, hex'),
  tuneId: id.nullable().describe('the tune it was driven on'),
})
export type ImportedLog = z.infer<typeof ImportedLog>
export const LogAnswer = ImportedLog.extend({ buildId: id, source: z.enum(['import', 'bench']), createdAt: when })
export const SpeedSpikes = z.array(z.object({}).loose()) as unknown as z.ZodType<SpeedSpike[]>
export const BenchDriveAnswer = z.object({ id, name: z.string(), rows: z.int(), durationS: z.number(), stalls: z.int() })
export const DynoAnswer = z.object({
  tune: z.object({ id: z.string(), number: z.int() }),
  rows: z.array(z.object({}).loose()) as unknown as z.ZodType<DynoRow[]>,
})

export const LogbookEntry = z.object({
  seq: z.int(),
  at: when,
  who: z.string(),
  kind: z.string(),
  summary: z.string().describe('metric text'),
  detail: z.unknown(),
})
export type LogbookEntry = z.infer<typeof LogbookEntry>
export const LogbookPage = z.object({ entries: z.array(LogbookEntry), more: z.boolean() })

export const FileAnswer = z.object({
  id,
  item: z.string(),
  name: z.string(),
  type: z.string(),
  size: z.int(),
  thumb: z.boolean(),
  who: z.string(),
  createdAt: when,
})
export const Files = z.array(FileAnswer)

const Span = z.object({ low: z.number(), mid: z.number(), high: z.number() })
const PartAnswer = z.object({
  id: z.string(),
  name: z.string(),
  spec: z.string().describe('metric text'),
  said: SayingSchema,
  quantity: z.number(),
  unit: z.enum(['pc', 'm']),
  used: z.string(),
  price: z.number(),
  status: z.enum(['to-buy', 'ordered', 'have', 'fitted']),
  arrives: z.string().nullable(),
  note: z.string().nullable(),
})
export const Parts = z.array(PartAnswer)
export const PartsPatched = z.object({ changed: z.array(z.unknown()).or(z.int()), parts: Parts })
export const PlanAnswer = z.object({
  routes: z.array(
    z
      .object({ route: z.string(), fit: z.enum(['fits', 'limit', 'work', 'no']), cost: z.number(), hours: Span, weighed: z.number() })
      .loose(),
  ),
  recommendation: z.object({ reasons: z.array(Said), wouldChange: z.array(Said) }).loose(),
  sizes: z.array(DerivedNumberOnWire.loose()),
  cost: z.object({ total: z.number(), toBuy: z.number() }),
  hours: Span,
})
const Ends = z.object({ low: z.number(), high: z.number() })
const PlacedFinding = Finding.extend({ station: z.string() })
export const EffectAnswer = z.object({
  cost: z.object({ before: z.number(), after: z.number() }),
  hours: z.object({ before: Ends, after: Ends }),
  appears: z.array(PlacedFinding),
  clears: z.array(PlacedFinding),
})
export const ScheduleAnswer = z
  .object({
    start: z.iso.date(),
    criticalPath: z.array(z.string()),
    hours: Span,
    end: z.object({ low: z.iso.date(), mid: z.iso.date(), high: z.iso.date() }),
    assumed: z.array(z.string()),
    tasks: z.array(z.object({ id: z.string(), title: z.string(), station: z.string(), start: z.iso.date(), end: z.iso.date() }).loose()),
  })
  .loose()
export const NetworkAnswer = z.object({ path: z.array(z.string()), activities: z.array(z.object({ id: z.string() }).loose()) }).loose()

export const SolutionAnswer = z
  .object({
    state: z.string(),
    railKpa: z.number(),
    targetKpa: z.number(),
    pumpFlowLph: z.number(),
    branches: z.array(z.object({}).loose()),
  })
  .loose()
export const FuelAnswer = z
  .object({ solutions: z.array(SolutionAnswer), assumed: z.array(Said), lowestSettableKpa: z.number().nullable() })
  .loose()
export const JointsAnswer = z.object({
  joints: z.array(z.object({ id: z.string(), section: z.string(), label: z.string(), type: z.string(), place: z.string() }).loose()),
  wet: z.array(z.string()),
  unseen: z.array(z.object({ id: z.string() }).loose()),
  passed: z.boolean(),
  lastAt: z.string().nullable(),
})
export const CatalogueAnswer = z.array(z.object({ id: z.string(), title: z.string(), formula: z.string(), source: z.string() }).loose())
