import type { Facts } from './facts.ts'
import { COMPRESSION_SPREAD_PCT, LEAK_DOWN_PCT } from './limits.ts'

/** Spread of compression over the cylinders, % of the best; 0 while fewer than two are known. */
export function compressionSpreadPct({ health }: Facts): number {
  const list = health?.compressionKpa ?? []
  const best = Math.max(0, ...list)
  return list.length > 1 && best > 0 ? (100 * (best - Math.min(...list))) / best : 0
}
/** Worst leak-down of a cylinder, %; 0 while none is known. */
export const worstLeakDownPct = ({ health }: Facts): number => Math.max(0, ...(health?.leakDownPct ?? []))

/** An engine whose cylinders are not alike: the worst of them knocks before the others, so all get less spark (handbook 01). */
export const isTired = (facts: Facts): boolean =>
  compressionSpreadPct(facts) > COMPRESSION_SPREAD_PCT || worstLeakDownPct(facts) > LEAK_DOWN_PCT
