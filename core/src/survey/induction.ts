import type { Context } from '../kernel/index.ts'

export const boosted = ({ facts }: Pick<Context, 'facts'>): boolean =>
  facts.induction?.kind === 'draw-through' || facts.induction?.kind === 'blow-through'
