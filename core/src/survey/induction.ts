import type { Context } from '../kernel/index.ts'
import type { Facts } from './facts.ts'

/** Highest boost that a survey speaks of, kPa over the barometer, whatever else is said of the induction: boost told is boost sized for. */
export const boostKpaOf = ({ induction }: Facts): number => induction?.boostKpa ?? 0

export const boosted = ({ facts }: Pick<Context, 'facts'>): boolean =>
  facts.induction?.kind === 'draw-through' || facts.induction?.kind === 'blow-through' || boostKpaOf(facts) > 0

/** Nitrous adds power for which fuel must come from somewhere, kW. */
export const nitrousKwOf = ({ induction }: Facts): number => (induction?.nitrous ? (induction.nitrousKw ?? 0) : 0)
