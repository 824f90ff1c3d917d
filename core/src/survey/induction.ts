import type { Context } from '../kernel/index.ts'
import type { Facts } from './facts.ts'

export const boosted = ({ facts }: Pick<Context, 'facts'>): boolean =>
  facts.induction?.kind === 'draw-through' || facts.induction?.kind === 'blow-through'

/** Boost that a survey speaks of, kPa over the barometer; none for an engine said to breathe by itself. */
export const boostKpaOf = ({ induction }: Facts): number => (induction?.kind === 'natural' ? 0 : (induction?.boostKpa ?? 0))
