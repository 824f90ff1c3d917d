import { z } from 'zod'
import { type Axes, bilinear } from './axes.ts'
import { runnerShare, type RunnerTable } from './runner.ts'
import type { TuneDocument, TuneParameters } from './tune.ts'

const found = {
  ve: z.array(z.number()).describe('VE that it was found for, %'),
  leftPct: z.array(z.number()).describe('fuel still to be added at each cell, %'),
  standardErrorPct: z.array(z.number()).describe('how well that is known; as much as a first table is off by where it was never driven'),
}
/** What the traces of a log show besides the table, kept so that the next log can be held against it. */
export const KnownTraces = z.strictObject({
  delayS: z.number().optional().describe('how late lambda comes after fuel cuts, at 2,000 rpm and 50 kPa'),
  pipe: z.number().optional().describe('how much later it comes the less gas flows, s rpm kPa'),
  shake: z
    .strictObject({
      rpm: z.number().positive().describe('of the speed from row to row at idle, rms'),
      jump: z.number().positive().describe('of lambda from row to row, as a share: the middle one'),
      tail: z.number().positive().describe('rms of the jumps over the middle one'),
    })
    .optional(),
  shutShare: z.number().optional().describe('manifold pressure with the throttle shut at idle over the barometer'),
  coolantHeldC: z.number().optional().describe('where the coolant levelled out'),
  mapLagS: z.number().optional().describe('how late manifold pressure follows the throttle'),
})
export type KnownTraces = z.infer<typeof KnownTraces>
/** What the last log that was believed left at each cell, kept with the tune that was made of it, so that the next log can be held against it. */
export const KnownTable = z.strictObject({
  ...found,
  basis: z.string().max(1500).describe('the parameters of fuel and the breakpoints that it was found with'),
  runner: z.strictObject(found).optional().describe('the same of the table by throttle'),
  traces: KnownTraces.optional(),
})
export type KnownTable = z.infer<typeof KnownTable>

/** A cell that was never driven is known to no better than this, %. */
export const UNKNOWN_PCT = 25

const ofFuel = [
  'displacementCc',
  'injectors',
  'injectorCcMin',
  'fuelPressureKpa',
  'stoichAfr',
  'deadTimeMs',
  'chargeHeatShare',
] as const satisfies readonly (keyof TuneParameters)[]
/** What fuel hangs on besides VE, as one line: parameters, and the breakpoints that VE stands at. */
export const fuelBasis = ({ parameters, axes, runner }: Pick<TuneDocument, 'parameters' | 'axes' | 'runner'>): string =>
  JSON.stringify([ofFuel.map((name) => parameters[name]), axes.rpm, axes.mapKpa, runner?.throttlePct ?? null])

type Found = Pick<KnownTable, 've' | 'leftPct' | 'standardErrorPct'>
/** What is known of a tune's fuel, by place; plain data. */
export interface KnownFuel {
  axes: Axes
  leftPct: readonly number[]
  standardErrorPct: readonly number[]
  runner?: Pick<RunnerTable, 'throttlePct' | 'blendFromPct' | 'blendToPct'> & {
    leftPct: readonly number[]
    standardErrorPct: readonly number[]
  }
}

/** What is known of the tables as they stand now: a cell changed by hand since moves by as much. Null where nothing is, or the constants of fuel or the breakpoints changed. */
export function knownNow(tune: Pick<TuneDocument, 'axes' | 'tables' | 'parameters' | 'runner' | 'known'>): KnownFuel | null {
  const { known, runner, axes, tables } = tune
  if (!known || known.basis !== fuelBasis(tune) || known.ve.length !== tables.ve.length) return null
  if (runner && known.runner?.ve.length !== runner.ve.length) return null
  const now = ({ ve, leftPct, standardErrorPct }: Found, at: readonly number[]) => ({
    leftPct: leftPct.map((left, c) => 100 * (((1 + left / 100) * ve[c]) / at[c] - 1)),
    standardErrorPct,
  })
  return {
    axes,
    ...now(known, tables.ve),
    ...(runner && known.runner
      ? {
          runner: {
            throttlePct: runner.throttlePct,
            blendFromPct: runner.blendFromPct,
            blendToPct: runner.blendToPct,
            ...now(known.runner, runner.ve),
          },
        }
      : {}),
  }
}

/** What is known to be left at a place, and how well, %. */
export function knownAt(
  { axes, runner, ...known }: KnownFuel,
  { rpm, mapKpa, throttlePct }: { rpm: number; mapKpa: number; throttlePct: number },
): { leftPct: number; standardErrorPct: number } {
  const share = runner && throttlePct === throttlePct ? runnerShare(runner, throttlePct) : 0
  const at = (what: 'leftPct' | 'standardErrorPct'): number =>
    (share < 1 ? (1 - share) * bilinear(axes, known[what], rpm, mapKpa) : 0) +
    (share > 0 ? share * bilinear({ rpm: axes.rpm, mapKpa: runner!.throttlePct }, runner![what], rpm, throttlePct) : 0)
  return { leftPct: at('leftPct'), standardErrorPct: at('standardErrorPct') }
}
