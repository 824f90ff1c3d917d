import { type Context, readingsOf, type StoredReading, tuneInCar } from '../kernel/index.ts'
import type { IdlePoint } from './air.ts'
import type { Regime } from './entries.ts'
import { HUNT_RPM, OFF_TARGET_RPM, SAME_RPM, SAME_VALVE_PCT, WARM_IDLES } from './limits.ts'
import { carIdleOptions, idleChanges, valveBandPct } from './options.ts'

/** One look at the idle, from a verdict or from a display. */
interface IdleLook {
  id: string
  at: string
  rpm: number
  valvePct: number | null
  amplitudeRpm: number | null
  good: boolean | null
}
/** Something turned or sent between two looks. */
export interface IdleMove {
  id: string
  at: string
  /** turns of the screw; null: another version of the tune */
  turns: number | null
  what: string
  before: IdleLook | null
  after: IdleLook | null
  /** null: not looked at yet, or not before */
  better: boolean | null
}

const at = (r: StoredReading): string => r.receivedAt ?? r.takenAt
const lookOf = (r: StoredReading): IdleLook | null => {
  if (r.kind === 'idle.point' && r.value.valve !== 'blocked' && r.value.screw !== 'shut')
    return { id: r.id, at: at(r), rpm: r.value.rpm, valvePct: r.value.valvePct, amplitudeRpm: null, good: null }
  if (r.kind === 'idle.verdict' && r.value.meanRpm !== null && (r.value.regime ?? 'neutral') === 'neutral')
    return {
      id: r.id,
      at: at(r),
      rpm: r.value.meanRpm,
      valvePct: r.value.valveMeanPct ?? null,
      amplitudeRpm: r.value.amplitudeRpm ?? null,
      good: r.value.verdict === 'good',
    }
  return null
}
/** How far a look is from a good idle: each part counts one where it is at its own limit. */
function farFromGood(
  look: Pick<IdleLook, 'rpm' | 'valvePct' | 'amplitudeRpm'>,
  targetRpm: number,
  band: readonly [number, number],
): number {
  const { rpm, valvePct, amplitudeRpm } = look
  const outOfBand = valvePct === null ? 0 : Math.max(0, band[0] - valvePct, valvePct - band[1])
  return (
    Math.abs(rpm - targetRpm) / OFF_TARGET_RPM + outOfBand / (band[1] - band[0]) + Math.max(0, (amplitudeRpm ?? 0) - HUNT_RPM) / HUNT_RPM
  )
}
/** looks that differ by less are alike */
const ALIKE = 0.15

/** What was turned and sent at this idle, in order, each with the looks about it. */
export function idleMoves(c: Pick<Context, 'build' | 'readings'>): IdleMove[] {
  const options = carIdleOptions(c.build)
  const band = valveBandPct(options)
  const target = options.targetRpm
  const moves: IdleMove[] = []
  let seen: IdleLook | null = null
  let tuneId: string | null = null
  for (const r of c.readings) {
    if (r.kind === 'idle.verdict' && r.value.tuneId !== null) {
      const changed = changedBetween(c, tuneId, r.value.tuneId)
      if (changed) moves.push({ id: r.id, at: at(r), turns: null, what: changed, before: seen, after: null, better: null })
      tuneId = r.value.tuneId
    }
    if (r.kind === 'idle.screw')
      moves.push({
        id: r.id,
        at: at(r),
        turns: r.value.turns,
        what: `screw ${Math.abs(r.value.turns).toFixed(2)} turns ${r.value.turns > 0 ? 'open' : 'shut'}`,
        before: seen,
        after: null,
        better: null,
      })
    const look = lookOf(r)
    if (!look) continue
    const last = moves.at(-1)
    if (last && last.after === null) {
      last.after = look
      if (last.before && target !== undefined) {
        const by = farFromGood(last.before, target, band) - farFromGood(look, target, band)
        last.better = Math.abs(by) < ALIKE ? null : by > 0
      }
    }
    seen = look
  }
  return moves
}
function changedBetween({ build }: Pick<Context, 'build'>, thenId: string | null, nowId: string): string | null {
  const [then, now] = [thenId, nowId].map((id) => build.tunes.find((t) => t.id === id))
  return then && now && idleChanges(then, now).length ? `version ${now.number} for ${then.number}` : null
}

/** Turns of the screw so far, open positive. */
export const turnsSoFar = (readings: readonly StoredReading[]): number =>
  readings.reduce((sum, r) => sum + (r.kind === 'idle.screw' ? r.value.turns : 0), 0)

/** Every look at a display as a point of the air's balance, turns counted from the first. */
export function idlePoints(readings: readonly StoredReading[]): IdlePoint[] {
  let turns = 0
  const points: IdlePoint[] = []
  for (const r of readings) {
    if (r.kind === 'idle.screw') turns += r.value.turns
    if (r.kind === 'idle.point')
      points.push({
        rpm: r.value.rpm,
        mapKpa: r.value.mapKpa,
        valvePct: r.value.valvePct,
        blocked: r.value.valve === 'blocked',
        screwShut: r.value.screw === 'shut',
        turns,
      })
  }
  return points
}

/** The last idle judged good in a regime on what is in the car now, and why an earlier one does not count; null: never. */
export function goodIdle(c: Pick<Context, 'build' | 'readings'>, regime: Regime): { changed: string[] } | null {
  const last = readingsOf(c.readings, 'idle.verdict')
    .filter((r) => (r.value.regime ?? 'neutral') === regime)
    .at(-1)
  if (!last || last.value.verdict !== 'good') return null
  const now = tuneInCar(c.build)
  const then = c.build.tunes.find((t) => t.id === last.value.tuneId)
  return { changed: now && then ? idleChanges(then, now) : [] }
}

/** Warm idles of different days that a self-learning idle is believed on, and whether they agree. */
export function warmDays(readings: readonly StoredReading[]): { days: number; rpmApart: number; valveApart: number; agree: boolean } {
  const byDay = new Map<string, { rpm: number; valve: number }>()
  for (const r of readingsOf(readings, 'idle.verdict')) {
    const { verdict, meanRpm, valveMeanPct, regime } = r.value
    if (verdict === 'good' && meanRpm !== null && valveMeanPct != null && (regime ?? 'neutral') === 'neutral')
      byDay.set(at(r).slice(0, 10), { rpm: meanRpm, valve: valveMeanPct })
  }
  const last = [...byDay.values()].slice(-WARM_IDLES)
  const apart = (values: number[]) => (values.length ? Math.max(...values) - Math.min(...values) : 0)
  const rpmApart = apart(last.map((d) => d.rpm))
  const valveApart = apart(last.map((d) => d.valve))
  return {
    days: last.length,
    rpmApart,
    valveApart,
    agree: last.length >= WARM_IDLES && rpmApart <= SAME_RPM && valveApart <= SAME_VALVE_PCT,
  }
}
