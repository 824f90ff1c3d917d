import type { BuildData, Evaluation, Facts, LogMapping, NextAction, StationState, TuneDocument, TuneSummary } from '@vectum/core'

export interface BoardEntry {
  id: string
  title: string
  car: NonNullable<Facts['car']>
  updatedAt: string
  stations: { id: string; title: string; state: StationState; stops: string[] }[]
  next: NextAction
}
export interface Build extends BuildData, Evaluation {
  version: number
  createdAt: string
  updatedAt: string
}
export interface Tune extends TuneSummary {
  createdBy: string
  logId: string | null
  document: TuneDocument
}
export interface ImportedLog {
  id: string
  name: string
  rows: number
  durationS: number
  rejected: { channel: string; reason: string; count: number }[]
  channels: string[]
  mapping: LogMapping
}
export interface LogbookEntry {
  seq: number
  at: string
  who: string
  kind: string
  summary: string
  detail: unknown
}
