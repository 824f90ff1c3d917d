import { CORRECTION_SAID_PCT } from './limits.ts'
import type { IdleMeasures } from './measure.ts'

/** What the loop holds at a good idle is Learn's to put into the table. */
export const heldByLoop = ({ correctionMeanPct: correction }: Pick<IdleMeasures, 'correctionMeanPct'>): string[] =>
  correction !== null && Math.abs(correction) > CORRECTION_SAID_PCT
    ? [
        `The loop ${correction > 0 ? 'adds' : 'takes'} ${Math.abs(correction).toFixed(0)} % to hold the mixture: Learn puts that into the table.`,
      ]
    : []
