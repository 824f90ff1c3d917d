import { describe, expect, it } from 'vitest'
import type { EntryKind, StoredReading } from '../kernel/entry.ts'
import { wordsOf } from '../kernel/say.ts'
import { madeFrame } from '../start/frame.fixture.ts'
import type { Frame } from '../start/frame.ts'
import { contextOf, entryKinds } from './judgement.ts'
import { madeReading, soundBuild } from './made-up.fixture.ts'
import { type VerdictEvidence, type VerdictKind, verdictKinds, verdictOf } from './verdicts.ts'
import { isRehearsed } from './views.ts'

const none: VerdictEvidence = { entries: [], frames: null, learned: null, idle: null, trace: null }
const tune = { id: 't1', number: 1, name: 'x', status: 'in-car' as const, origin: 'computed' as const, parentId: null }
const build = (...readings: StoredReading[]) => ({
  ...soundBuild({}, readings),
  tunes: [{ ...tune, createdAt: '2026-01-01', inCarSince: '2026-01-01', problems: [] }],
})
const of = <K extends VerdictKind>(kind: K, evidence: Partial<VerdictEvidence>) =>
  verdictOf(kind, contextOf(build(...(evidence.entries ?? []))), { ...none, ...evidence })
const refusal = (kind: VerdictKind, evidence: Partial<VerdictEvidence>): string => {
  try {
    of(kind, evidence)
    return ''
  } catch (e) {
    return (e as Error).message
  }
}

it('every kind that the app alone writes can be asked for, and no other', () => {
  const appKinds = (Object.keys(entryKinds) as EntryKind[]).filter((k) => entryKinds[k].writtenBy === 'app')
  expect([...verdictKinds].sort()).toEqual(appKinds.sort())
  for (const kind of verdictKinds) expect(refusal(kind, {})).toContain('cannot be worked out')
})

// the car's barometer is 99 kPa, +-2.5; cold engine; 12.2 V at least; shut under 2 %, open over 97 %
const shown = {
  batteryV: 12.4,
  mapKpa: 98.6,
  coolantC: 18,
  intakeAirC: 17,
  throttleShutPct: 0.5,
  throttleOpenPct: 99,
  pressedTwice: true,
  lambda: 2.1,
  flagShown: false,
}
describe('what the display shows at key-on is judged by the limits of a stream', () => {
  const judged = (more: object) => {
    const { passed, checks } = of('start.sanity', { entries: [madeReading('start.key-on-shown', { ...shown, ...more })] })
    return { passed, failed: checks.filter((c) => c.state !== 'pass').map((c) => c.id) }
  }
  it.each([
    [{}, []],
    [{ batteryV: 12.2 }, []],
    [{ batteryV: 12.1 }, ['battery']],
    [{ mapKpa: 96.5 }, []],
    [{ mapKpa: 96.4 }, ['map']],
    [{ intakeAirC: 13 }, []],
    [{ intakeAirC: 12 }, ['temperatures']],
    [{ throttleShutPct: 2 }, []],
    [{ throttleShutPct: 2.5 }, ['throttle']],
    [{ throttleOpenPct: 96 }, ['throttle']],
    [{ lambda: 1.2 }, ['sensor']],
    [{ flagShown: true }, ['flags']],
  ])('%j', (more, failed) => expect(judged(more)).toEqual({ passed: failed.length === 0, failed }))
  it('the throttle’s ends go on record too', () =>
    expect(of('start.throttle', { entries: [madeReading('start.key-on-shown', { ...shown, throttleShutPct: 4 })] })).toMatchObject({
      shutPct: 4,
      openPct: 99,
      problems: [expect.stringContaining('learn the zero')],
    }))
})

describe('cranking', () => {
  const cranked = (more: Partial<Frame> = {}) =>
    Array.from({ length: 30 }, (_, i) => madeFrame({ timeS: i * 0.1, state: 'cranking', rpm: 190, oilPressureKpa: 80, ...more }))
  const light = madeReading('start.crank-light', { observedDeg: 11, commandedDeg: 10 })
  const display = (more: object = {}) =>
    madeReading('start.crank-shown', { fuelled: false, rpm: 190, seconds: 3, steady: true, displayStayedOn: true, ...more })
  it('without fuel: from the session, with the light named', () =>
    expect(of('start.dry-crank', { frames: cranked({ fuelHeld: true }), entries: [light] })).toEqual({
      rpm: 190,
      dropouts: 0,
      spikes: 0,
      oilKpa: 80,
      lightDeg: 11,
      commandedDeg: 10,
    }))
  it('without fuel: from the display', () => {
    expect(of('start.dry-crank', { entries: [display({ oilKpa: 70 }), light] })).toMatchObject({ rpm: 190, dropouts: 0, oilKpa: 70 })
    expect(of('start.dry-crank', { entries: [display({ seconds: 2 })] }).rpm).toBe(190)
    expect(refusal('start.dry-crank', { entries: [display({ seconds: 1.9 })] })).toContain('1.9 s; 2 s or more')
    expect(of('start.dry-crank', { entries: [display({ steady: false })] })).toMatchObject({ dropouts: 1 })
  })
  it('a crank with fuel is no crank without, and the other way round', () => {
    expect(refusal('start.dry-crank', { frames: cranked() })).toContain('it was cranked with fuel')
    expect(refusal('start.attempt', { frames: cranked({ fuelHeld: true }) })).toContain('it was cranked without fuel')
    expect(refusal('start.attempt', { frames: [madeFrame()] })).toContain('nothing turn')
  })
  it('an attempt leads to its branch, with what was heard beside the engine', () => {
    const heard = madeReading('start.crank-heard', { heard: 'exhaust' })
    expect(of('start.attempt', { frames: cranked({ pulseMs: 8, fuelPressureKpa: 300, batteryV: 10.6 }), entries: [heard] })).toEqual({
      branch: 'late',
      seconds: 2.9,
      rpm: 190,
      pressureKpa: 300,
      batteryV: 10.6,
      heard: 'exhaust',
    })
    const byHand = (more: object) => of('start.attempt', { entries: [display({ fuelled: true, ...more })] }).branch
    expect(byHand({ displayStayedOn: false })).toBe('supply')
    // 9 V and 80 % of 300 kPa are the limits of the tree
    expect([byHand({ batteryV: 8.9 }), byHand({ batteryV: 9 })]).toEqual(['battery', 'ask-plugs'])
    expect([byHand({ pressureKpa: 239 }), byHand({ pressureKpa: 240 })]).toEqual(['no-pressure', 'ask-plugs'])
    expect(byHand({ ranS: 3 })).toBe('caught-died')
  })
})

describe('that it ran', () => {
  const run = { secondsToFire: 2, watchedS: 30, rpmLow: 760, rpmHigh: 840, coolantC: 40, lambda: 0.92 }
  const ran = (more: object) => ({ entries: [madeReading('start.run-shown', { ...run, ...more })] })
  it('from the display, on the tune in the car', () =>
    expect(of('start.ran', ran({}))).toEqual({ secondsToFire: 2, idleRpm: 800, coolantC: 40, lambda: 0.92, tuneId: 't1' }))
  it.each([
    [{ watchedS: 10 }, '20 s or more are wanted'],
    [{ rpmHigh: 1200 }, 'is steady'],
    [{ lambda: 1.6 }, 'burns'],
  ])('not with %j', (more, words) => expect(refusal('start.ran', ran(more))).toContain(words))
})

describe('a verdict hangs on what it names', () => {
  const id = '6d0f4a52-0c1e-4f7a-9d3b-1f62a0c80001'
  const light = (more: object = {}) =>
    madeReading('spark.timing-light', { rpm: 900, observedDeg: 18, commandedDeg: 15, referenceDeg: 54, delayUs: 0 }, more)
  it('the fit is of the readings named, on the settings of now', () => {
    const a = light()
    const b = { ...light(), value: { rpm: 900, observedDeg: 16, commandedDeg: 15, referenceDeg: 60, delayUs: 0 } } as StoredReading
    expect(of('spark.fit', { entries: [a] })).toMatchObject({ referenceErrorDeg: 3, delayErrorUs: null, readings: 1 })
    expect(refusal('spark.fit', { entries: [a, b] })).toContain('1 of the readings named were taken on other settings')
    expect(refusal('spark.fit', { entries: [b] })).toContain('now in the unit')
  })
  it('it falls with an entry that is withdrawn, and is the rehearsal’s with one of the bench', () => {
    const input = madeReading('start.key-on-shown', shown, { id })
    const verdict = madeReading('start.sanity', { passed: true, checks: [] }, { source: 'app', from: { entryIds: [id] } })
    const withdrawn = madeReading('entry.withdrawn' as EntryKind, { entryId: id, reason: 'typed 12 for 11' })
    const worth = (...readings: StoredReading[]) => contextOf(build(...readings)).standings.get(verdict.id)!
    expect(worth(input, verdict).counts).toBe(true)
    expect(worth(input, verdict, withdrawn)).toMatchObject({ counts: false, by: 'withdrawn' })
    expect(wordsOf(worth(input, verdict, withdrawn).because!)).toBe('what it was worked out from was withdrawn')
    const bench = { ...input, source: 'bench' as const } as StoredReading
    expect([isRehearsed(verdict, build(input, verdict)), isRehearsed(verdict, build(bench, verdict))]).toEqual([false, true])
  })
})
