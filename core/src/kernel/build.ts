import { z } from 'zod'
import type { StoredReading } from './entry.ts'
import type { Finding } from './finding.ts'
import type { ChoiceTable, FactTable } from './told.ts'

export const TuneStatus = z.enum(['draft', 'ready', 'in-car', 'retired'])
export type TuneStatus = z.infer<typeof TuneStatus>

/** A problem as it was stored; older ones have their text alone. */
export type StoredProblem = Omit<Finding, 'id' | 'said'> & { code: string; said?: Finding['said'] }

/** What judgement needs to know of a tune version: not its tables, only where it stands and what its own checks said. */
export interface TuneSummary {
  id: string
  number: number
  name: string
  status: TuneStatus
  origin: 'computed' | 'edited' | 'learned' | 'imported'
  parentId: string | null
  /** the log it was learned from */
  logId?: string | null
  createdAt: string
  inCarSince: string | null
  /** findings of the tune's own checks, computed when it was stored */
  problems: StoredProblem[]
  /** its single numbers, for what a unit asks on a display (`tune/figures.ts`); worked out like the problems */
  figures?: Readonly<Record<string, number>>
  /** parts that differ from the version it was made of (`madeFrom`); left out: there is none */
  changed?: readonly string[]
}
export interface LogSummary {
  id: string
  name: string
  rows: number
  durationS: number
  source: 'import' | 'bench'
  createdAt: string
  /** highest speed and manifold pressure in it; null: not kept */
  topRpm?: number | null
  topMapKpa?: number | null
  /** the tune it was driven on; null or left out: not known */
  tuneId?: string | null
  /** said at its import: nothing was corrected while it ran */
  loopOpen?: boolean
}

/** Something stored that today's schemas do not take: named where it stood, never hidden. */
export interface Unreadable {
  what: string
  because: string
}

/** Everything judgement works from. Findings are a pure function of it. */
export interface BuildData {
  id: string
  title: string
  facts: FactTable
  choices: ChoiceTable
  readings: StoredReading[]
  tunes: TuneSummary[]
  logs: LogSummary[]
  unreadable?: Unreadable[]
}

/** What was told of a car: facts, and the choices taken so far. */
export type Told = Pick<BuildData, 'facts'> & Partial<Pick<BuildData, 'choices'>>

/** The version that another was made of: the one it names, else the one numbered before it. */
export const madeFrom = <T extends Pick<TuneSummary, 'id' | 'number'>>(
  tunes: readonly T[],
  tune: Pick<TuneSummary, 'number' | 'parentId'>,
): T | undefined => tunes.find((t) => (tune.parentId ? t.id === tune.parentId : t.number === tune.number - 1))
export const tuneInCar = (build: Pick<BuildData, 'tunes'>): TuneSummary | null => build.tunes.find((t) => t.status === 'in-car') ?? null
