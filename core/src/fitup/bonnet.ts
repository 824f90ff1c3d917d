import type { FitupChoices, StackPart } from './choices.ts'
import { stackParts } from './choices.ts'
import { LIFT_MM } from './limits.ts'

const ORDER = Object.keys(stackParts) as StackPart[]
/** Own figures of usual heights and what they may differ by, mm; a rule of wood replaces each. */
const USUAL: Record<StackPart, { heightMm: number; spreadMm: number; leastMm: number }> = {
  adapter: { heightMm: 12, spreadMm: 1, leastMm: 6 },
  spacer: { heightMm: 0, spreadMm: 0, leastMm: 0 },
  body: { heightMm: 85, spreadMm: 3, leastMm: 85 },
  base: { heightMm: 6, spreadMm: 1, leastMm: -25 },
  element: { heightMm: 60, spreadMm: 2, leastMm: 38 },
  lid: { heightMm: 4, spreadMm: 1, leastMm: 4 },
  stud: { heightMm: 12, spreadMm: 2, leastMm: 3 },
}

interface StackRow {
  part: StackPart
  label: string
  heightMm: number
  spreadMm: number
  leastMm: number
  /** top of it over the flange, mm */
  topMm: number
  told: boolean
}
export interface BonnetStack {
  rows: StackRow[]
  sumMm: number
  /** what the sum may differ by, two sigma of the parts' own */
  spreadMm: number
  /** what an edge of the leaning cleaner stands higher, mm */
  tiltMm: number
  liftMm: number
  /** free over the flange with the bonnet shut; null: not measured */
  freeMm: number | null
  /** left under the bonnet with the engine lifted, as told, and at its worst; null: the free height is not known */
  leftMm: number | null
  worstMm: number | null
  /** parts that can be lower, the one that gives most first, and what each gives, mm */
  lower: { part: StackPart; label: string; givesMm: number }[]
}
/**
 * What stands on the flange against what is free under the bonnet, the engine lifted on its mounts.
 * @param freeMm flange to bonnet, mm
 * @source sum of heights; spreads of parts that have nothing to do with each other by the root of their squares
 */
export function bonnetStack(
  f: Pick<FitupChoices, 'stack' | 'liftMm' | 'tiltDeg' | 'cleanerMm'>,
  freeMm: number | null,
  adapter: boolean,
): BonnetStack {
  let topMm = 0
  const rows = ORDER.filter((part) => f.stack?.[part] || (part !== 'spacer' && (part !== 'adapter' || adapter))).map((part): StackRow => {
    const told = f.stack?.[part]
    const usual = USUAL[part]
    const heightMm = told?.heightMm ?? usual.heightMm
    topMm += heightMm
    return {
      part,
      label: stackParts[part],
      heightMm,
      spreadMm: told ? (told.spreadMm ?? 0) : usual.spreadMm,
      leastMm: Math.min(heightMm, told?.leastMm ?? (told ? heightMm : usual.leastMm)),
      topMm,
      told: told !== undefined,
    }
  })
  const tiltMm = ((f.cleanerMm ?? 0) / 2) * Math.sin(((f.tiltDeg ?? 0) * Math.PI) / 180)
  const spreadMm = Math.hypot(...rows.map((r) => r.spreadMm))
  const liftMm = f.liftMm ?? LIFT_MM
  const leftMm = freeMm === null ? null : freeMm - liftMm - topMm - tiltMm
  return {
    rows,
    sumMm: topMm,
    spreadMm,
    tiltMm,
    liftMm,
    freeMm,
    leftMm,
    worstMm: leftMm === null ? null : leftMm - spreadMm,
    lower: rows
      .map((r) => ({ part: r.part, label: r.label, givesMm: r.heightMm - r.leastMm }))
      .filter((r) => r.givesMm > 0)
      .sort((a, b) => b.givesMm - a.givesMm),
  }
}
