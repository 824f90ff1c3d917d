import { ROUGH_LEARNED_PCT, ROUGH_PCT } from './limits.ts'
import type { TuneDocument } from './tune.ts'

/** Kink of VE that this tune may have, % of VE: more where a log has taught it. */
export const roughPct = ({ provenance }: Pick<TuneDocument, 'provenance'>): number =>
  /\blearned\b/i.test(provenance.ve ?? '') ? ROUGH_LEARNED_PCT : ROUGH_PCT
