import { describe, expect, it } from 'vitest'
import { contextOf } from '../judge/judgement.ts'
import { madeReading, severityOf, soundBuild } from '../judge/made-up.fixture.ts'
import { wordsOf } from '../kernel/say.ts'
import { dryCrankProblems } from './dry-crank.ts'
import type { CrankSeen } from './crank-seen.ts'
import { firstFire } from './first-fire.ts'
import { madeFrame } from './frame.fixture.ts'
import { observe, sanityChecks, startWatch } from './sanity.ts'
import { startStopRules, stopRule } from './stop-rules.ts'
import { ranProblems } from './ran.ts'
import { sweepProblems, type ThrottleSweep } from './throttle-sweep.ts'

/** Both sides of each limit of handbook 06, written by hand. */
const c = contextOf(soundBuild())
describe('cranking without fuel', () => {
  const seen = { rpm: 200, dropouts: 0, spikes: 0, lightDeg: 10, commandedDeg: 10 }
  it.each([
    [{ rpm: 119 }, 1],
    [{ rpm: 120 }, 0],
    [{ rpm: 280 }, 0],
    [{ rpm: 281 }, 1],
    [{ lightDeg: 15 }, 0],
    [{ lightDeg: 15.1 }, 1],
    [{ lightDeg: 5 }, 0],
    [{ lightDeg: 4.9 }, 1],
  ])('%o', (more, problems) => expect(dryCrankProblems(c, { ...seen, ...more })).toHaveLength(problems))
})

describe('stop rules of a running engine', () => {
  /** The reason at the end of two frames of the same engine, `seconds` apart. */
  const after = (seconds: number, more: object) => {
    const first = stopRule(
      startStopRules(),
      madeFrame({ state: 'running', rpm: 900, timeS: 0, mapKpa: 40, lambda: 0.95, coolantC: 80, oilPressureKpa: 200, ...more }),
      100,
    )
    return stopRule(
      first.state,
      madeFrame({ state: 'running', rpm: 900, timeS: seconds, mapKpa: 40, lambda: 0.95, coolantC: 80, oilPressureKpa: 200, ...more }),
      100,
    ).reason
  }
  it.each([
    [10, { oilPressureKpa: 29 }, null],
    [10.1, { oilPressureKpa: 29 }, 'No oil pressure after 10 s (29 kPa)'],
    [10.1, { oilPressureKpa: 30 }, null],
    [0.49, { lambda: 1.1, mapKpa: 90 }, null],
    [0.5, { lambda: 1.1, mapKpa: 90 }, 'Lean at high load: 1.10 λ at 90 kPa for 0.5 s'],
    [0.5, { lambda: 1.1, mapKpa: 85 }, null],
    [0.5, { lambda: 1.1, mapKpa: 85.5 }, 'Lean at high load: 1.10 λ at 86 kPa for 0.5 s'],
    [1, { coolantC: 112 }, null],
    [1, { coolantC: 112.6 }, 'Coolant 113 °C'],
  ])('%d s of %o', (seconds, more, reason) => {
    const said = after(seconds, more)
    expect(said === null ? null : wordsOf(said)).toBe(reason)
  })
})

describe('key-on checks', () => {
  const state = (id: string, frame: object, place: object = { barometerKpa: 99 }) => {
    let watch = startWatch()
    for (let i = 0; i < 12; i++) watch = observe(watch, madeFrame({ timeS: i * 0.1, ...frame }))
    return sanityChecks(watch, { place }).find((check) => check.id === id)!.state
  }
  it.each<[string, object, object | undefined, string]>([
    ['battery', { batteryV: 12.1 }, undefined, 'fail'],
    ['battery', { batteryV: 12.2 }, undefined, 'pass'],
    ['map', { mapKpa: 101.5 }, undefined, 'pass'],
    ['map', { mapKpa: 101.6 }, undefined, 'fail'],
    // standard air at 0 m is 101.325 kPa
    ['map', { mapKpa: 96.4 }, { altitudeM: 0 }, 'pass'],
    ['map', { mapKpa: 96.2 }, { altitudeM: 0 }, 'fail'],
    ['temperatures', { coolantC: 20, intakeAirC: 25 }, undefined, 'pass'],
    ['temperatures', { coolantC: 20, intakeAirC: 25.1 }, undefined, 'fail'],
    // hot, in free air, it reads leaner than 1.8
    ['sensor', { lambda: 1.81 }, undefined, 'pass'],
    ['sensor', { lambda: 1.8 }, undefined, 'fail'],
  ])('%s with %o', (id, frame, place, expected) => expect(state(id, frame, place)).toBe(expected))
})

describe('two presses of the throttle', () => {
  const press = (more: Partial<ThrottleSweep> = {}): ThrottleSweep =>
    ({ restPct: 0, topPct: 100, largestJumpPct: 5, deadSpotsPct: [], ...more }) as ThrottleSweep
  const problems = (a: Partial<ThrottleSweep>, b: Partial<ThrottleSweep> = a) => sweepProblems([press(a), press(b)]).length
  it.each([
    [problems({ topPct: 97 }), 0],
    [problems({ topPct: 96.9 }), 1],
    [problems({ restPct: 2 }), 0],
    [problems({ restPct: 2.1 }), 1],
    [problems({ largestJumpPct: 25 }), 0],
    [problems({ largestJumpPct: 25.1 }), 1],
    [problems({ topPct: 100 }, { topPct: 99 }), 0],
    [problems({ topPct: 100 }, { topPct: 98.9 }), 1],
    [problems({ restPct: 0 }, { restPct: 1 }), 0],
    [problems({ restPct: 0 }, { restPct: 1.1 }), 1],
  ])('%d problems of %d', (found, wanted) => expect(found).toBe(wanted))
})

describe('the first-fire tree', () => {
  const crank: CrankSeen = {
    seconds: 5,
    fuelled: true,
    rpm: 200,
    dropouts: 0,
    spikes: 0,
    pulseMs: 8,
    pressureKpa: 300,
    batteryV: 10.5,
    ranMapKpa: null,
    stillMapKpa: null,
    caughtRpm: null,
    diedAfterS: null,
    streamEnded: false,
    coolantC: 20,
    throttlePct: 0,
  }
  const branch = (more: Partial<CrankSeen>) => firstFire({ ...crank, ...more }, {}, { setKpa: 300 })!.id
  it.each<[Partial<CrankSeen>, string]>([
    [{ batteryV: 9 }, 'ask-plugs'],
    [{ batteryV: 8.9 }, 'battery'],
    [{ rpm: 100 }, 'ask-plugs'],
    [{ rpm: 99 }, 'battery'],
    [{ pressureKpa: 240 }, 'ask-plugs'],
    [{ pressureKpa: 239 }, 'no-pressure'],
    [{ seconds: 2 }, 'ask-plugs'],
    [{ seconds: 1.9 }, 'short'],
    [{ caughtRpm: 600, diedAfterS: 2, ranMapKpa: 94, stillMapKpa: 99 }, 'caught-died'],
    [{ caughtRpm: 600, diedAfterS: 2, ranMapKpa: 94.1, stillMapKpa: 99 }, 'no-vacuum'],
  ])('%o leads to %s', (more, id) => expect(branch(more)).toBe(id))
  it.each([
    [79, 'The unit commands no fuel'],
    [80, 'No fuel by the unit: it clears a flooded engine'],
  ])('no pulse at %d %% throttle: %s', (throttlePct, title) =>
    expect(firstFire({ ...crank, pulseMs: 0, throttlePct }, {}, { setKpa: 300 })!.title).toBe(title),
  )
})

it.each([
  [4, null],
  [5, 'warn'],
])('%d key-ons with fuel without a start', (primes, severity) =>
  expect(severityOf('start.many-primes', {}, [madeReading('start.injectors', { clicked: [1, 2], silent: [], primes })])).toBe(severity),
)

describe('it ran: watched for 20 s, steady within 30 % of its mean, on a mixture that burns', () => {
  // 850 and 1150 rpm are 300 apart on a mean of 1000
  const stretch = { seconds: 20, rpmLow: 850, rpmHigh: 1150, lambda: 0.9 }
  it.each<[Partial<typeof stretch> | { lambda: null }, string]>([
    [{}, ''],
    [{ seconds: 19.9 }, '20 s or more'],
    [{ rpmLow: 848, rpmHigh: 1152 }, 'is steady'],
    [{ rpmLow: 300, rpmHigh: 400 }, ''],
    [{ rpmLow: 299, rpmHigh: 400 }, '300 is running'],
    [{ lambda: 0.6 }, ''],
    [{ lambda: 0.59 }, 'burns'],
    [{ lambda: 1.3 }, ''],
    [{ lambda: 1.31 }, 'burns'],
    [{ lambda: null }, 'sensor is hot'],
  ])('%o: %s', (more, words) => {
    const problems = ranProblems({ ...stretch, ...more })
    if (words) expect(problems).toEqual([expect.stringContaining(words)])
    else expect(problems).toEqual([])
  })
})
