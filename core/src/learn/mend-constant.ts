import { CoreError } from '../kernel/index.ts'
import { type TuneDocument } from '../tune/index.ts'
import { MENDED_WITHIN_PCT } from './limits.ts'
import type { LearnResult } from './result.ts'

interface MendedCell {
  i: number
  j: number
  fromPct: number
  toPct: number
  /** fuel delivered after it against before, less one, % */
  deliveredPct: number
}
export interface MendedConstant {
  tune: TuneDocument
  fromCcMin: number
  toCcMin: number
  cells: MendedCell[]
  /** the largest change of delivered fuel over the cells, % */
  worstPct: number
}
const round = (value: number, step: number): number => Number((Math.round(value / step) * step).toFixed(6))

/**
 * A constant that a unit has learned everywhere, put into the answer it belongs to: the injector flow, by which every pulse is scaled alike. What was
 * learned is scaled the other way, so that the fuel delivered stays the same: base x (1 + learned) with the base larger by the constant.
 * @param constantPct what the whole map needs, %: flow is told smaller by that, and every pulse gets longer
 * @param steps smallest steps of the answer, cm3/min, and of the learned values, %
 * @throws CoreError OUT_OF_RANGE when nothing was learned, or delivered fuel would change by more than half a per cent
 */
export function mendConstant(
  tune: TuneDocument,
  { cells }: Pick<LearnResult, 'cells'>,
  constantPct: number,
  steps: { ccMin: number; learnedPct: number } = { ccMin: 1, learnedPct: 0.1 },
): MendedConstant {
  const fromCcMin = tune.parameters.injectorCcMin
  const toCcMin = round(fromCcMin / (1 + constantPct / 100), steps.ccMin)
  const factor = fromCcMin / toCcMin
  const held = cells.filter((c) => c.learnedPct != null)
  if (held.length === 0) throw new CoreError('OUT_OF_RANGE', 'learned values', 'no cell tells what was learned there')
  const mended = held.map((c): MendedCell => {
    const toPct = round(100 * ((1 + c.learnedPct! / 100) / factor - 1), steps.learnedPct)
    return {
      i: c.i,
      j: c.j,
      fromPct: c.learnedPct!,
      toPct,
      deliveredPct: 100 * ((factor * (1 + toPct / 100)) / (1 + c.learnedPct! / 100) - 1),
    }
  })
  const worstPct = Math.max(...mended.map((c) => Math.abs(c.deliveredPct)))
  if (worstPct > MENDED_WITHIN_PCT)
    throw new CoreError(
      'OUT_OF_RANGE',
      'learned values',
      `in steps of ${steps.learnedPct} % the fuel would change by ${worstPct.toFixed(2)} %; ${MENDED_WITHIN_PCT} % is allowed. Clear them and let the unit learn anew from a saved state`,
    )
  const parameters = { ...tune.parameters, injectorCcMin: toCcMin }
  const provenance = {
    ...tune.provenance,
    injectorCcMin: `learned: ${fromCcMin} mended by ${constantPct.toFixed(1)} % that was learned everywhere`,
  }
  return { tune: { ...tune, parameters, provenance }, fromCcMin, toCcMin, cells: mended, worstPct }
}
