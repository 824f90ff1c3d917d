/** Speed over the nearest of the targets that may be meant: bare, with the fan, in gear, both. */
export function overTarget(meanRpm: number, targetRpm: number, offsetsRpm: readonly number[]): number {
  const targets = offsetsRpm.reduce<number[]>((all, offset) => [...all, ...all.map((t) => t + offset)], [targetRpm])
  const high = Math.max(...targets)
  const low = Math.min(...targets)
  return meanRpm > high ? meanRpm - high : meanRpm < low ? meanRpm - low : 0
}
