import { weightedLine } from '../kernel/index.ts'
import type { IdlePoint } from './air.ts'
import { overTarget } from './over-target.ts'
import { OFF_TARGET_RPM, PLATE_SHARE, VALVE_BAND_PCT } from './limits.ts'

/** How far to turn the throttle screw, and how sure that is. Open positive. */
export interface ScrewAdvice {
  turns: number
  /** one sigma of it, turns; null: a guess of a quarter turn, since one look does not tell */
  sigmaTurns: number | null
  /** valve for each turn of the screw, %; null: not told yet */
  valvePctPerTurn: number | null
  wantedPct: number
  because: string
  /** set when the looks contradict each other */
  refused: string | null
}
/** what a display shows of a valve, %, and how well a turn is told, turns, one sigma */
const READS_PCT = 0.5
const TURNS_WITHIN = 0.04
const QUARTER = 0.25
const MOST_TURNS = 1.5

/**
 * Procedure B: turns against valve from looks at a held speed; two are enough. Weighted straight line through what was read.
 * Source: Bevington and Robinson, Data Reduction, section 6.3 (line and its uncertainty).
 * @param bandPct where a warm valve belongs
 * @param offsetsRpm what the unit adds to its target with the fan on and in gear
 */
export function screwByValve(
  points: readonly IdlePoint[],
  targetRpm: number,
  bandPct: readonly [number, number] = VALVE_BAND_PCT,
  offsetsRpm: readonly number[] = [],
): ScrewAdvice | null {
  const isHeld = (p: IdlePoint) => Math.abs(overTarget(p.rpm, targetRpm, offsetsRpm)) <= OFF_TARGET_RPM
  const held = points.filter((p) => !p.blocked && !p.screwShut && isHeld(p) && p.valvePct > 0.5)
  const last = points.filter((p) => !p.blocked && !p.screwShut).at(-1)
  if (!last) return null
  const wantedPct = (bandPct[0] + bandPct[1]) / 2
  const inBand = last.valvePct >= bandPct[0] && last.valvePct <= bandPct[1] && isHeld(last)
  const spread = held.length ? Math.max(...held.map((p) => p.turns)) - Math.min(...held.map((p) => p.turns)) : 0
  const shown = `valve ${last.valvePct.toFixed(0)} % at ${last.rpm.toFixed(0)} rpm`
  if (inBand)
    return {
      turns: 0,
      sigmaTurns: 0,
      valvePctPerTurn: null,
      wantedPct,
      because: `${shown}: between ${bandPct[0]} and ${bandPct[1]} %`,
      refused: null,
    }
  if (held.length < 2 || spread < QUARTER / 2) {
    // fast or wide: one look tells the direction alone
    const open = last.valvePct > bandPct[1] && overTarget(last.rpm, targetRpm, offsetsRpm) <= OFF_TARGET_RPM
    return {
      turns: open ? QUARTER : -QUARTER,
      sigmaTurns: null,
      valvePctPerTurn: null,
      wantedPct,
      because: `${shown}; one look tells the direction, the next how far`,
      refused: null,
    }
  }
  const { b: slope, varB } = weightedLine(
    held.map((p) => p.turns),
    held.map((p) => p.valvePct),
    held.map(() => 1),
  )
  if (slope > -1)
    return {
      turns: 0,
      sigmaTurns: null,
      valvePctPerTurn: slope,
      wantedPct,
      because: `${shown}; the valve went ${slope > 0 ? 'up' : 'hardly down'} as the screw was opened`,
      refused:
        'The valve must close as the screw opens. Was a turn told the wrong way, the zero not learned, or did something else change? Look again at both places.',
    }
  const turns = (wantedPct - last.valvePct) / slope
  // each valve reads to half a percent, and each turn is told to a few hundredths
  const perPoint = Math.hypot(READS_PCT, slope * TURNS_WITHIN)
  const sigmaSlope = perPoint * Math.sqrt(varB)
  const sigmaTurns = Math.hypot(perPoint / slope, (turns * sigmaSlope) / slope)
  return {
    turns: Math.max(-MOST_TURNS, Math.min(MOST_TURNS, Math.round(turns * 20) / 20)),
    sigmaTurns,
    valvePctPerTurn: slope,
    wantedPct,
    because: `${shown}; a turn moves it by ${slope.toFixed(0)} %`,
    refused: null,
  }
}

/** Procedure A: with the valve out of play the plate alone holds so much of the target. @returns what to do with the screw at a speed, in words, and whether it is done */
export function screwByPlate(rpm: number, targetRpm: number): { done: boolean; wantedRpm: number; turn: 'open' | 'shut' | null } {
  const wantedRpm = PLATE_SHARE * targetRpm
  const off = rpm - wantedRpm
  const done = Math.abs(off) <= OFF_TARGET_RPM / 2
  return { done, wantedRpm, turn: done ? null : off > 0 ? 'shut' : 'open' }
}
