import { z } from 'zod'
import type { TuneDocument, TuneParameters } from './tune.ts'

/** What the last log that was believed left at each cell, kept with the tune that was made of it, so that the next log can be held against it. */
export const KnownTable = z.strictObject({
  ve: z.array(z.number()).describe('VE that it was found for, %'),
  basis: z.string().max(600).describe('the parameters of fuel that it was found with'),
  leftPct: z.array(z.number()).describe('fuel still to be added at each cell, %'),
  standardErrorPct: z
    .array(z.number())
    .describe('how well that is known; as much as the usual first table is off by where it was never driven'),
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
/** The parameters that fuel hangs on, as one line. */
export const fuelBasis = (parameters: TuneParameters): string => JSON.stringify(ofFuel.map((name) => parameters[name]))

/** What is known of the table as it stands now: a cell changed by hand since moves by as much. Null where nothing is, or the constants of fuel changed. */
export function knownNow(
  tune: Pick<TuneDocument, 'tables' | 'parameters' | 'known'>,
): Pick<KnownTable, 'leftPct' | 'standardErrorPct'> | null {
  const { known } = tune
  if (!known || known.basis !== fuelBasis(tune.parameters) || known.ve.length !== tune.tables.ve.length) return null
  return {
    leftPct: known.leftPct.map((left, c) => 100 * (((1 + left / 100) * known.ve[c]) / tune.tables.ve[c] - 1)),
    standardErrorPct: known.standardErrorPct,
  }
}
