/**
 * Share with its 95 % interval, %, as text.
 * @source E. B. Wilson, Probable inference, JASA 22 (1927): the score interval, which holds for few trials and shares near 0 or 1
 */
export function shareOf(hits: number, trials: number): string {
  if (trials === 0) return 'none'
  const z = 1.96
  const p = hits / trials
  const middle = (p + (z * z) / (2 * trials)) / (1 + (z * z) / trials)
  const half = (z * Math.sqrt((p * (1 - p)) / trials + (z * z) / (4 * trials * trials))) / (1 + (z * z) / trials)
  const pct = (share: number) => (100 * Math.min(1, Math.max(0, share))).toFixed(1)
  return `${hits} of ${trials}: ${pct(p)} % (${pct(middle - half)} to ${pct(middle + half)})`
}
