import type { LearnCell } from '@vectum/core'

/** Where a cell stands, in words. */
export const cellWords: Record<LearnCell['state'], string> = {
  proven: 'proven',
  'needs-correction': 'needs correction',
  thin: 'thin',
  'passed-through': 'passed through only',
  untouched: 'untouched',
  unsafe: 'unsafe here',
}

/** What a number of the map stands for: with a unit that learns by itself what it holds and what the base needs are layers of their own. */
export type CellLayer = 'coverage' | 'correction' | 'learned' | 'table' | 'needed' | 'nearest' | 'change'

/** What is left at a cell and how well that is known, %: where it was driven, if the unit learns by itself; else what the cell itself wants. */
export const leftAt = (c: LearnCell): { pct: number | null; errorPct: number | null } =>
  c.leftPct === undefined ? { pct: c.correctionPct, errorPct: c.standardErrorPct } : { pct: c.leftPct, errorPct: c.leftErrorPct ?? null }

/** What tells the load of a table: manifold pressure, or the throttle where each runner has its own. */
export const loadWords = {
  pressure: { table: 'Table by pressure', name: 'manifold pressure', unit: 'kPa' },
  throttle: { table: 'Table by throttle', name: 'throttle', unit: '%' },
} as const

/** Why a cell changes when a correction is accepted. */
export const changeWords = {
  solved: 'from its own readings',
  spread: 'carried from the cells that were driven; nobody drove here long enough',
} as const

/** A change in per cent, with its sign. */
export const signed = (v: number): string => `${v > 0 ? '+' : ''}${v.toFixed(1)}`
