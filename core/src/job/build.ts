import { z } from 'zod'
import type { Choices } from '../plan/choices.ts'
import type { Facts } from '../survey/facts.ts'
import type { StoredReading } from './readings.ts'

export const TuneStatus = z.enum(['draft', 'ready', 'in-car', 'retired'])
export type TuneStatus = z.infer<typeof TuneStatus>

/** What judgement needs to know of a tune version: not its tables, only where it stands and what its own checks said. */
export interface TuneSummary {
  id: string
  number: number
  name: string
  status: TuneStatus
  origin: 'computed' | 'edited' | 'learned' | 'imported'
  parentId: string | null
  createdAt: string
  inCarSince: string | null
  /** findings of the tune's own checks, computed when it was stored */
  problems: { code: string; severity: 'stop' | 'warn' | 'note'; message: string; because: string; remedy: string }[]
}

export interface LogSummary {
  id: string
  name: string
  rows: number
  durationS: number
  source: 'import' | 'bench'
  createdAt: string
}

/** Everything judgement works from. Findings are a pure function of it. */
export interface BuildData {
  id: string
  title: string
  facts: Facts
  choices: Choices
  readings: StoredReading[]
  tunes: TuneSummary[]
  logs: LogSummary[]
}
