import type { Frame } from '../start/index.ts'
import type { IdlePoint } from './air.ts'

/** a look is the mean of so much of the stream, s */
const LOOK_S = 3
/** What the last of a stream shows, as a look at the idle; null: it does not tell speed, valve and pressure. */
export function lookAt(frames: readonly Frame[], blocked: boolean, turns: number): IdlePoint | null {
  const last = frames.at(-1)
  if (!last) return null
  const recent = frames.filter((f) => f.timeS > last.timeS - LOOK_S && f.timeS <= last.timeS)
  const mean = (of: (f: Frame) => number | null): number | null => {
    const told = recent.map(of).filter((v): v is number => v !== null)
    return told.length ? told.reduce((sum, v) => sum + v, 0) / told.length : null
  }
  const [rpm, mapKpa, valvePct] = [mean((f) => f.rpm), mean((f) => f.mapKpa), mean((f) => f.idleValvePct)]
  if (rpm === null || mapKpa === null || valvePct === null) return null
  return {
    ...{ rpm, mapKpa, valvePct, blocked, turns, screwShut: false },
    coolantC: mean((f) => f.coolantC) ?? undefined,
    airC: mean((f) => f.intakeAirC) ?? undefined,
  }
}
