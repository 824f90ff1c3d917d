import { type Context, CoreError, type EntryTable, latest, type StoredReading, tuneInCar } from '../kernel/index.ts'
import type { DryCrank } from './dry-crank.ts'
import { type CrankSeen, crankSeen } from './crank-seen.ts'
import { firstFire } from './first-fire.ts'
import { readBeside, startWanted } from './read-beside.ts'
import type { Frame } from './frame.ts'
import { LEAST_CRANK_S } from './limits.ts'
import { ranProblems } from './ran.ts'
import { type SanityCheck, sanityChecks, startWatch } from './sanity.ts'
import { throttleReading } from './throttle.ts'
import { sweepProblems, type ThrottleSweep } from './throttle-sweep.ts'

/** What a verdict of First start is worked out from: what the session saw, and what a person read and heard. */
export interface StartEvidence {
  frames: readonly Frame[] | null
  entries: readonly StoredReading[]
}
type Value<K extends keyof EntryTable> = EntryTable[K]

const missing = (what: string, why: string) => new CoreError('EVIDENCE_MISSING', what, why)
function named<K extends 'start.key-on-shown' | 'start.crank-shown' | 'start.run-shown'>({ entries }: StartEvidence, kind: K): Value<K> {
  const entry = latest(entries, kind)
  if (!entry) throw missing('the verdict', `it wants an entry of the kind ${kind}`)
  return entry.value as Value<K>
}
const round1 = (value: number): number => Math.round(value * 10) / 10

/** The two presses that a display shows by their ends alone; that nothing jumped or dropped between them is told. */
function pressesShown(v: Value<'start.key-on-shown'>): [ThrottleSweep, ThrottleSweep] {
  const press = { topPct: v.throttleOpenPct, restPct: v.throttleShutPct, seconds: 0, largestJumpPct: 0, deadSpotsPct: [] }
  return [press, press]
}
const DISPLAY = 'display on, engine still'
/** The key-on checks on what the display showed: the same limits as on a stream. */
export function checksShown(c: Pick<Context, 'build'>, v: Value<'start.key-on-shown'>): SanityCheck[] {
  const { batteryV, mapKpa, coolantC, intakeAirC, lambda } = v
  const watch = startWatch()
  const seen = { ...watch, frames: Infinity, batteryV, mapKpa, coolantC, intakeAirC, lambda, faultFlags: v.flagShown ? ['shown'] : [] }
  const checks = sanityChecks({ ...seen, sweep: { ...watch.sweep, done: pressesShown(v) } }, c.build.facts)
  return checks.map((check) => (check.id === 'link' ? { ...check, seen: DISPLAY, said: { ...check.said, seen: DISPLAY } } : check))
}

/** @throws CoreError EVIDENCE_MISSING without an entry of what the display showed */
export function sanityVerdict(c: Context, evidence: StartEvidence): Value<'start.sanity'> {
  const checks = checksShown(c, named(evidence, 'start.key-on-shown')).map(({ id, state, seen }) => ({ id, state, seen }))
  return { passed: checks.every((check) => check.state === 'pass'), checks }
}
/** @throws CoreError EVIDENCE_MISSING without an entry of what the display showed */
export function throttleVerdict(_: Context, evidence: StartEvidence): Value<'start.throttle'> {
  const presses = pressesShown(named(evidence, 'start.key-on-shown'))
  return throttleReading(presses, sweepProblems(presses))
}

/** A crank as a person read it off the display, in the shape a stream gives. What no display tells is not known. */
function crankShown(v: Value<'start.crank-shown'>): CrankSeen {
  return {
    seconds: v.seconds,
    rpm: v.rpm,
    fuelled: v.fuelled,
    dropouts: v.steady ? 0 : 1,
    spikes: 0,
    pulseMs: null,
    pressureKpa: v.pressureKpa ?? null,
    batteryV: v.batteryV ?? null,
    ranMapKpa: null,
    stillMapKpa: null,
    caughtRpm: v.ranS === undefined ? null : v.rpm,
    diedAfterS: v.ranS ?? null,
    streamEnded: !v.displayStayedOn,
    coolantC: null,
    throttlePct: null,
  }
}
function crankOf(evidence: StartEvidence): CrankSeen {
  if (!evidence.frames) return crankShown(named(evidence, 'start.crank-shown'))
  const seen = crankSeen(evidence.frames)
  if (!seen) throw missing('the verdict', 'the session has seen nothing turn')
  return seen
}

/**
 * A crank without fuel, from the stream or the display, with the light that was read at the same time.
 * @throws CoreError EVIDENCE_MISSING when nothing turned, or it was cranked with fuel
 */
export function dryCrankVerdict(_: Context, evidence: StartEvidence): DryCrank {
  const seen = crankOf(evidence)
  if (seen.fuelled) throw missing('a crank without fuel', 'it was cranked with fuel')
  if (seen.seconds < LEAST_CRANK_S)
    throw missing('a crank without fuel', `${seen.seconds.toFixed(1)} s; ${LEAST_CRANK_S} s or more are wanted`)
  const light = latest(evidence.entries, 'start.crank-light')?.value
  const oilKpa = evidence.frames
    ? evidence.frames.findLast((f) => f.state === 'cranking')?.oilPressureKpa
    : latest(evidence.entries, 'start.crank-shown')?.value.oilKpa
  return {
    rpm: Math.round(seen.rpm),
    dropouts: seen.dropouts,
    spikes: seen.spikes,
    ...(oilKpa == null ? {} : { oilKpa: Math.round(oilKpa) }),
    ...(light ? { lightDeg: light.observedDeg, commandedDeg: light.commandedDeg } : {}),
  }
}

/**
 * An attempt to start, with the branch of the first-fire tree it leads to.
 * @throws CoreError EVIDENCE_MISSING when nothing turned, it was cranked without fuel, or no set pressure is planned to compare with
 */
export function attemptVerdict(c: Context, evidence: StartEvidence): Value<'start.attempt'> {
  const seen = crankOf(evidence)
  const { heard, plugs } =
    latest(evidence.entries, 'start.crank-heard')?.value ?? latest(evidence.entries, 'start.crank-shown')?.value ?? {}
  const asked = { ...(heard ? { heard } : {}), ...(plugs ? { plugs } : {}) }
  const wanted = startWanted(c)
  if (!wanted) throw missing('the branch', 'no fuel pressure is planned to compare with')
  const branch = firstFire(seen, { ...asked, ...readBeside(c) }, wanted)
  if (!branch) throw missing('the branch', 'it was cranked without fuel, which says nothing of why it does not start')
  return {
    branch: branch.id,
    seconds: round1(seen.seconds),
    rpm: Math.round(seen.rpm),
    ...(seen.pressureKpa === null ? {} : { pressureKpa: Math.max(0, Math.round(seen.pressureKpa)) }),
    ...(seen.batteryV === null ? {} : { batteryV: round1(seen.batteryV) }),
    ...asked,
  }
}

/**
 * That it ran, from what the display showed.
 * @throws CoreError EVIDENCE_MISSING when what was shown is not a running engine, in words, or no tune is in the car
 */
export function ranVerdict(c: Context, evidence: StartEvidence): Value<'start.ran'> {
  const { secondsToFire, watchedS, rpmLow, rpmHigh, coolantC, lambda } = named(evidence, 'start.run-shown')
  const problems = ranProblems({ seconds: watchedS, rpmLow, rpmHigh, lambda })
  if (problems.length) throw missing('that it ran', problems.join('; '))
  const tune = tuneInCar(c.build)
  if (!tune) throw missing('that it ran', 'no tune is in the car')
  return { secondsToFire, idleRpm: Math.round((rpmLow + rpmHigh) / 2), coolantC, lambda, tuneId: tune.id }
}
