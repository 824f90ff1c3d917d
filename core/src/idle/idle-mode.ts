/** a valve whose every move over a look stays under this stands still, %; a display that rounds to whole percents cannot show less */
const STANDS_WITHIN_PCT = 0.02
/** speed that wanders by less gives it nothing to answer, rpm; and so long is looked, s */
const WANDERS_RPM = 4
const LOOK_S = 4

interface Seen {
  timeS: number
  rpm: number
  idleValvePct: number | null
}
/**
 * Whether the unit was seen in its idle mode: its valve answers a speed that wanders. `false`: the speed wanders and the valve stands, in a stream
 * that has shown finer moves; null: too little, or a valve told in whole percents, which may answer unseen.
 */
export function idleModeSeen(frames: readonly Seen[]): boolean | null {
  const last = frames.at(-1)
  if (!last) return null
  const recent = frames.filter((f) => f.timeS > last.timeS - LOOK_S && f.idleValvePct !== null)
  if (recent.length < 10 || last.timeS - recent[0].timeS < LOOK_S / 2) return null
  const range = (values: readonly number[]) => Math.max(...values) - Math.min(...values)
  if (range(recent.map((f) => f.rpm)) < WANDERS_RPM) return null
  if (range(recent.map((f) => f.idleValvePct!)) > STANDS_WITHIN_PCT) return true
  const fine = frames.some((f) => f.idleValvePct !== null && Math.abs(f.idleValvePct - Math.round(f.idleValvePct)) > STANDS_WITHIN_PCT)
  return fine ? false : null
}
