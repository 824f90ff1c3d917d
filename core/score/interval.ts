/**
 * 95 % interval of a share, 0 to 1.
 * @source E. B. Wilson, Probable inference, JASA 22 (1927): the score interval, which holds for few trials and shares near 0 or 1
 */
export function wilson(hits: number, trials: number): [low: number, high: number] {
  const z = 1.96
  const p = hits / trials
  const middle = (p + (z * z) / (2 * trials)) / (1 + (z * z) / trials)
  const half = (z * Math.sqrt((p * (1 - p)) / trials + (z * z) / (4 * trials * trials))) / (1 + (z * z) / trials)
  return [Math.max(0, middle - half), Math.min(1, middle + half)]
}
/** Share with its 95 % interval, %, as text. */
export function shareOf(hits: number, trials: number): string {
  if (trials === 0) return 'none'
  const pct = (share: number) => (100 * share).toFixed(1)
  const [low, high] = wilson(hits, trials)
  return `${hits} of ${trials}: ${pct(hits / trials)} % (${pct(low)} to ${pct(high)})`
}

/** A table in Markdown. */
export function tableOf(head: readonly string[], rows: readonly (readonly string[])[]): string {
  const cells = (list: readonly string[]) => `| ${list.join(' | ')} |`
  return [cells(head), cells(head.map(() => '---')), ...rows.map(cells)].join('\n')
}
