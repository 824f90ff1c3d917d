/** A moment of a log as a clock counts it: minutes and seconds, hours from the first on. */
export function clock(atS: number): string {
  const s = Math.max(0, Math.round(atS * 10) / 10)
  const [h, m] = [Math.floor(s / 3600), Math.floor((s % 3600) / 60)]
  const rest = s % 60
  const seconds = (Number.isInteger(rest) ? String(rest) : rest.toFixed(1)).padStart(Number.isInteger(rest) ? 2 : 4, '0')
  return h > 0 ? `${h}:${String(m).padStart(2, '0')}:${seconds}` : `${m}:${seconds}`
}
