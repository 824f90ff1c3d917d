import { wordsOf } from '../kernel/say.ts'
import { describe, expect, it } from 'vitest'
import { contextOf, evaluate } from '../judge/judgement.ts'
import { madeReading, soundBuild } from '../judge/made-up.fixture.ts'
import { stopsBefore } from '../judge/roof.ts'
import type { TuneSummary } from '../kernel/build.ts'
import { nextTaking, provisionalLimit, takingRules, tuneTaking } from '../tune/taking.ts'
import { flagRegister, flagRules, openFlags } from './fault-flags.ts'
import { faultFlagKinds } from './flag-kinds.ts'
import { madeFrame } from './frame.fixture.ts'
import { type Frame, FrameLine, frameOfLine, frameOfLog, stateOfSpeed } from './frame.ts'
import { startGates } from './gates.ts'
import { injectorRules } from './injectors.ts'
import { observe, sanityChecks, startWatch } from './sanity.ts'
import { startStopRules, stopRule } from './stop-rules.ts'
import { readSweep, sweepProblems } from './throttle-sweep.ts'
import { throttleEnds, throttleReading, throttleRules } from './throttle.ts'

const frame = madeFrame
const facts = { place: { barometerKpa: 99 } }
/** One press of the throttle and half a second of rest, twenty-five samples a second. */
const sweep = (top: number, step = 4, rest = 0) => {
  const up = Array.from({ length: Math.ceil(top / step) }, (_, k) => Math.min(top, (k + 1) * step))
  return [...up, ...[...up].reverse().slice(1), ...Array<number>(13).fill(rest)].map((throttlePct) => ({ throttlePct }))
}
const watched = (frames: Partial<Frame>[]) =>
  [...(Array(12).fill({}) as Partial<Frame>[]), ...frames].reduce<ReturnType<typeof startWatch>>(
    (w, f, i) => observe(w, frame({ timeS: i * 0.04, ...f })),
    startWatch(),
  )
const stateOf = (frames: Partial<Frame>[], id: string, f: object = facts) =>
  sanityChecks(watched(frames), f).find((c) => c.id === id)!.state
const many = (f: Partial<Frame>) => Array(40).fill(f) as Partial<Frame>[]

describe('key-on checks', () => {
  it('all pass on a sound car after two full presses of the throttle', () => {
    expect(sanityChecks(watched([...sweep(100), ...sweep(100)]), facts).map((c) => c.state)).toEqual(Array(7).fill('pass'))
  })
  it('wait, rather than fail, for what has not been shown', () => {
    expect(sanityChecks(startWatch(), facts).every((c) => c.state === 'waiting')).toBe(true)
    expect(stateOf(sweep(100), 'throttle')).toBe('waiting')
    expect(stateOf(many({ lambda: null }), 'sensor')).toBe('waiting')
  })
  it.each<[string, Partial<Frame>[], string]>([
    ['a flat battery', many({ batteryV: 11.4 }), 'battery'],
    ['a MAP hose on the wrong port', many({ mapKpa: 92 }), 'map'],
    ['a coolant sensor that disagrees cold', many({ coolantC: 35 }), 'temperatures'],
    ['a sensor that reads no free air', many({ lambda: 1 }), 'sensor'],
    ['a fault flag', many({ faultFlags: ['throttle range'] }), 'flags'],
    ['a crank that turns', many({ rpm: 300 }), 'link'],
    ['a throttle that jumps', [...sweep(100, 40), ...sweep(100, 40)], 'throttle'],
    ['a throttle with a dead spot', [...sweep(100), ...sweep(100).map((f, i) => (i === 9 ? { throttlePct: 0 } : f))], 'throttle'],
    ['a plate that sticks', [...sweep(100), ...sweep(100, 4, 5)], 'throttle'],
    ['a throttle that does not open', [...sweep(92), ...sweep(92)], 'throttle'],
    ['two sweeps that do not agree', [...sweep(100), ...sweep(98)], 'throttle'],
  ])('find %s', (_what, frames, id) => expect(stateOf(frames, id)).toBe('fail'))
  it('take standard air at the altitude, with more room, when no barometer is known', () => {
    // ISA at 1,200 m is 87.7 kPa
    expect(stateOf(many({ mapKpa: 91 }), 'map', { place: { altitudeM: 1200 } })).toBe('pass')
    expect(stateOf(many({ mapKpa: 94 }), 'map', { place: { altitudeM: 1200 } })).toBe('fail')
  })
  it('do not ask a warm engine to be as cool as the air', () => expect(stateOf(many({ coolantC: 82 }), 'temperatures')).toBe('pass'))
})

describe('a press of the throttle', () => {
  const samples = (pcts: number[]) => pcts.map((pct, i) => ({ timeS: i * 0.04, pct }))
  const ramp = Array.from({ length: 26 }, (_, i) => i * 4)
  const press = [...ramp, ...[...ramp].reverse()]
  it('a smooth one: its ends, its longest step, nothing dead', () =>
    expect(readSweep(samples(press))).toEqual({ topPct: 100, restPct: 0, seconds: 51 * 0.04, largestJumpPct: 4, deadSpotsPct: [] }))
  it('a spot that reads nothing is found once, where the foot was, on the way up and down', () => {
    const worn = press.map((pct) => (Math.abs(pct - 36) < 3 ? 0 : pct))
    expect(readSweep(samples(worn)).deadSpotsPct).toEqual([36])
  })
  it('two spots are two, and stuck wiring that holds a value is a jump, not a spot', () => {
    const worn = press.map((pct) => (Math.abs(pct - 24) < 3 || Math.abs(pct - 72) < 3 ? 1 : pct))
    expect(readSweep(samples(worn)).deadSpotsPct).toEqual([24, 72])
    const held = press.map((pct) => (pct > 20 && pct < 60 ? 20 : pct))
    expect(readSweep(samples(held))).toMatchObject({ largestJumpPct: 40, deadSpotsPct: [] })
  })
  it('good twice has nothing against it; once is not enough', () => {
    const good = readSweep(samples(press))
    expect(sweepProblems([good, good])).toEqual([])
    expect(sweepProblems([good])).toEqual(['two full presses are wanted'])
    expect(sweepProblems([good, { ...good, topPct: 91 }]).join()).toMatch(/opens to 100 % once and 91 % then.*97 % is wanted/)
  })
})

describe('what two presses are taken for', () => {
  const c = (value: object) =>
    contextOf(
      soundBuild({}, [
        madeReading('start.throttle', { shutPct: 0, openPct: 100, largestJumpPct: 4, deadSpotsPct: [], problems: [], ...value }),
      ]),
    )
  it('a worn sensor stops, uneven ends warn, good presses say nothing', () => {
    expect(throttleRules[0].check(c({ deadSpotsPct: [36], problems: ['the reading drops out at 36 %'] }))).toMatchObject({
      severity: 'stop',
    })
    expect(throttleRules[0].check(c({ openPct: 91, problems: ['opens to 91 %'] }))).toMatchObject({ severity: 'warn' })
    expect(throttleRules[0].check(c({}))).toBeNull()
  })
  it('what is written down: the narrower opening, the last rest, the longest jump, each spot once', () => {
    const press = (more: object) => ({ topPct: 99.96, restPct: 0, seconds: 2, largestJumpPct: 4.04, deadSpotsPct: [36], ...more })
    expect(
      throttleReading([press({}), press({ topPct: 98.24, restPct: 1.06, largestJumpPct: 6.27, deadSpotsPct: [36, 72] })], ['worn']),
    ).toEqual({
      shutPct: 1.1,
      openPct: 98.2,
      largestJumpPct: 6.3,
      deadSpotsPct: [36, 72],
      problems: ['worn'],
    })
  })
  it('the ends in volts: 91 % between 0.5 and 4.5 V is 4.14 V', () => {
    const ends = { throttleShutV: 0.5, throttleOpenV: 4.5 }
    expect(throttleEnds(c({ openPct: 91, problems: ['opens to 91 %'] }), ends)).toEqual({ throttleShutV: 0.5, throttleOpenV: 4.14 })
    expect(throttleEnds(c({ shutPct: 6, problems: ['rests at 6 %'] }), ends)).toEqual({ throttleShutV: 0.74, throttleOpenV: 4.5 })
    expect(throttleEnds(c({}), ends)).toBeNull()
    expect(throttleEnds(contextOf(soundBuild({}, [])), ends)).toBeNull()
  })
})

describe('a frame of another device', () => {
  it('a line with time and speed is enough; what it does not tell is null, its state is told by the speed', () => {
    const parsed = FrameLine.parse({ timeS: 3, rpm: 190 })
    expect(frameOfLine(parsed)).toMatchObject({ timeS: 3, rpm: 190, state: 'cranking', mapKpa: null, oilPressureKpa: null, faultFlags: [] })
    expect([0, 190, 700].map(stateOfSpeed)).toEqual(['key-on', 'cranking', 'running'])
  })
  it.each([
    ['no time', { rpm: 100 }, 'timeS'],
    ['a speed no engine has', { timeS: 1, rpm: 99999 }, 'rpm'],
    ['a number that is none', { timeS: 1, rpm: 100, mapKpa: 'high' }, 'mapKpa'],
  ])('refuses %s by name', (_, line, field) => expect(FrameLine.safeParse(line).error?.issues[0].path).toEqual([field]))
  it('a row of a log: what it has, and null where a cell is empty or the channel is not there', () => {
    const log = { timeS: Float64Array.of(0, 0.1), channels: { rpm: Float32Array.of(800, 810), lambda: Float32Array.of(NaN, 0.98) } }
    expect(frameOfLog(log, 0)).toMatchObject({ rpm: 800, lambda: null, mapKpa: null, state: 'running' })
    expect(frameOfLog(log, 1).lambda).toBeCloseTo(0.98, 5)
  })
  it('stop rules ask nothing of a device that does not tell it', () => {
    let state = startStopRules()
    for (let t = 0; t < 30; t += 0.1) {
      const judged = stopRule(
        state,
        frame({ timeS: t, state: 'running', rpm: 800, oilPressureKpa: null, mapKpa: null, lambda: 1.2, coolantC: null }),
        99,
      )
      expect(judged.reason).toBeNull()
      state = judged.state
    }
  })
})

describe('flags of the unit', () => {
  const c = (readings: ReturnType<typeof madeReading>[]) => contextOf(soundBuild({}, readings))
  it('a flag says its limits in the units of whoever reads it', () => {
    const inch = { system: 'inch', mixture: 'AFR', stoichAfr: 14.7 } as const
    const { means } = faultFlagKinds['coolant-range']
    // -38 x 9 / 5 + 32 = -36.4; 135 x 9 / 5 + 32 = 275
    expect(wordsOf(means, inch)).toBe('Colder than -36 °F or hotter than 275 °F: open or shorted.')
    expect(wordsOf(means)).toBe('Colder than -38 °C or hotter than 135 °C: open or shorted.')
  })
  it('each stands once with how often it was seen, until something cleared it; seen again it stands again', () => {
    const seen = () => madeReading('start.flag', { flag: 'map-range' })
    const cleared = madeReading('start.flag', { flag: 'map-range', clearedBy: 'plug dried' })
    const [a, b] = [seen(), seen()]
    expect(flagRegister(c([a, b]))).toMatchObject([{ flag: 'map-range', times: 2, clearedBy: null, firstAt: a.takenAt, lastAt: b.takenAt }])
    const after = { ...cleared, takenAt: '2031-01-01T00:00:00.000Z' }
    expect(openFlags(c([a, b, after]))).toEqual([])
    const again = { ...seen(), takenAt: '2031-01-02T00:00:00.000Z' }
    expect(openFlags(c([a, b, after, again]))).toMatchObject([{ times: 3 }])
  })
  it('an open one is a warning with where to look, an unknown one keeps its own words', () => {
    expect(flagRules[0].check(c([madeReading('start.flag', { flag: 'map-range' })]))).toMatchObject({
      severity: 'warn',
      message: expect.stringContaining('manifold pressure out of range'),
    })
    expect(flagRules[0].check(c([madeReading('start.flag', { flag: 'code 17' })]))?.message).toContain('code 17')
    expect(flagRules[0].check(c([]))).toBeNull()
  })
})

describe('injectors', () => {
  const check = (id: string, value: object) =>
    injectorRules
      .find((r) => r.id === id)!
      .check(contextOf(soundBuild({}, [madeReading('start.injectors', { clicked: [1], silent: [], ...value })])))
  it('a silent one is a stop, no spray and many primes are warnings, all heard is nothing', () => {
    expect(check('start.injector-silent', { silent: [2] })).toMatchObject({ severity: 'stop', message: 'Injector 2 does not click' })
    expect(check('start.injector-silent', {})).toBeNull()
    expect(check('start.no-spray', { spraySeen: false })?.severity).toBe('warn')
    expect(check('start.no-spray', { spraySeen: true })).toBeNull()
    expect(check('start.many-primes', { primes: 5 })?.severity).toBe('warn')
    expect(check('start.many-primes', { primes: 4 })).toBeNull()
  })
})

describe('did the unit take the tune', () => {
  const tune: TuneSummary = {
    id: 't1',
    number: 2,
    name: 'x',
    status: 'in-car',
    origin: 'computed',
    parentId: null,
    createdAt: '',
    inCarSince: null,
    problems: [],
  }
  const taking = (...steps: object[]) =>
    contextOf({
      ...soundBuild(
        {},
        steps.map((s) => madeReading('tune.taking', { tuneId: 't1', ...s })),
      ),
      tunes: [tune],
    })
  const all = [{ step: 'sent' }, { step: 'stored' }, { step: 'power-cycled' }]
  it('the steps count in order, and only a read-back without a difference is taken', () => {
    expect(tuneTaking(taking())).toMatchObject({ step: 'edited', taken: false })
    expect(tuneTaking(taking({ step: 'sent' }, { step: 'power-cycled' }, { step: 'read-back', differences: 0 })).step).toBe('sent')
    expect(tuneTaking(taking(...all, { step: 'read-back', differences: 0, revLimitRpm: 5200 }))).toMatchObject({
      taken: true,
      revLimitRpm: 5200,
    })
    // read back with nothing compared is asked for again
    expect(tuneTaking(taking(...all, { step: 'read-back' }))).toMatchObject({ taken: false, differences: null })
    expect(nextTaking(tuneTaking(taking(...all, { step: 'read-back' })))).toBe('read-back')
    expect(tuneTaking(taking(...all, { step: 'read-back', differences: 3 }))).toMatchObject({ taken: false, differences: 3 })
    expect(tuneTaking(taking(...all, { step: 'read-back', differences: 0 }, { step: 'sent' }))).toMatchObject({
      step: 'sent',
      taken: false,
    })
  })
  it('the next step is the one after the last, from the start when it came back different, none when it is held', () => {
    const next = (...steps: object[]) => nextTaking(tuneTaking(taking(...steps)))
    expect([next(), next({ step: 'sent' }), next(...all)]).toEqual(['sent', 'stored', 'read-back'])
    expect(next(...all, { step: 'read-back', differences: 2 })).toBe('sent')
    expect(next(...all, { step: 'read-back', differences: 0 })).toBeNull()
  })
  it('a low limit is proposed only while the timing is open and the tune allows more', () =>
    expect([provisionalLimit(false, 5200), provisionalLimit(true, 5200), provisionalLimit(false, 2500)]).toEqual([3000, null, null]))
  it('it is a gate of the starter, with or without fuel; an engine that ran on that tune had it', () => {
    const gate = (c: ReturnType<typeof contextOf>) => startGates(c, []).crank.find((g) => g.id === 'tune-taken')!
    expect(gate(taking({ step: 'sent' }))).toMatchObject({ met: false, why: 'so far sent to the unit' })
    expect(startGates(taking(), [])['dry-crank'].some((g) => g.id === 'tune-taken' && !g.met)).toBe(true)
    expect(gate(taking(...all, { step: 'read-back', differences: 0 })).met).toBe(true)
    const ran = { ...taking(), readings: [madeReading('start.ran', { secondsToFire: 1, idleRpm: 700, coolantC: 80, tuneId: 't1' })] }
    expect(gate(ran as never).met).toBe(true)
  })
  it('a unit that forgot it does not shut the key: it must be sent again', () => {
    const forgot = taking(...all, { step: 'read-back', differences: 2, revLimitRpm: 9900 }).build
    const gates = startGates(contextOf(forgot), stopsBefore(evaluate(forgot).stations, 'start'))
    expect(gates['key-on'].find((g) => g.id === 'stops')!.why).not.toMatch(/keep the tune|rev limit/)
    expect(gates.crank.find((g) => g.id === 'tune-taken')!.met).toBe(false)
  })
  it('a unit that forgot it, or tells another engine’s limit, is a stop', () => {
    const found = (c: ReturnType<typeof contextOf>) => takingRules.map((r) => r.check(c)?.message).filter(Boolean)
    expect(found(taking(...all, { step: 'read-back', differences: 2, revLimitRpm: 9900 }))).toEqual([
      'The unit did not keep the tune',
      'The rev limit in the unit is not this engine’s',
    ])
    expect(found(taking(...all, { step: 'read-back', differences: 0, revLimitRpm: 5200 }))).toEqual([])
  })
})

describe('stop rules', () => {
  const run = (frames: Partial<Frame>[]) => {
    let state = startStopRules()
    for (const f of frames) {
      const judged = stopRule(state, frame({ state: 'running', rpm: 800, oilPressureKpa: 200, lambda: 0.97, mapKpa: 48, ...f }), 99)
      if (judged.reason) return wordsOf(judged.reason)
      state = judged.state
    }
    return null
  }
  const seconds = (n: number, f: Partial<Frame>) => Array.from({ length: n * 10 }, (_, k) => ({ timeS: k / 10, ...f }))
  it('no oil pressure ten seconds after it fired', () => {
    expect(run(seconds(9, { oilPressureKpa: 0 }))).toBeNull()
    expect(run(seconds(12, { oilPressureKpa: 0 }))).toContain('oil pressure')
  })
  it('lean at high load for half a second, not a flicker, and not in a fuel cut', () => {
    expect(run(seconds(2, { mapKpa: 90, lambda: 1.08 }))).toContain('Lean at high load')
    expect(
      run([
        { timeS: 0, mapKpa: 90, lambda: 1.1 },
        { timeS: 0.2, mapKpa: 90, lambda: 0.9 },
        { timeS: 0.6, mapKpa: 90, lambda: 1.1 },
      ]),
    ).toBeNull()
    expect(run(seconds(2, { mapKpa: 90, lambda: 2, fuelCut: 1 }))).toBeNull()
    expect(run(seconds(2, { mapKpa: 60, lambda: 1.1 }))).toBeNull()
  })
  it('coolant that runs away', () => expect(run(seconds(1, { coolantC: 118 }))).toContain('Coolant'))
  it('nothing on a sound engine', () => expect(run(seconds(30, { lambda: 0.97, mapKpa: 48 }))).toBeNull())
})

describe('flooding', () => {
  const state = (readings: ReturnType<typeof madeReading>[]) => {
    const start = evaluate(soundBuild({}, readings)).stations.find((s) => s.id === 'start')!
    return {
      stopped: start.findings.some((f) => f.id === 'start.flooded'),
      gate: startGates(contextOf(soundBuild({}, readings)), []).crank.find((g) => g.id === 'flooded'),
    }
  }
  it('shuts the starter until plugs are out and the oil is clean', () => {
    const flooded = madeReading('start.flooded', {})
    expect(state([]).gate).toBeUndefined()
    expect(state([flooded])).toMatchObject({ stopped: true, gate: { met: false } })
    const oily = madeReading('start.flood-cleared', { pumpOff: true, plugsOut: true, oilClean: false })
    expect(state([flooded, oily]).stopped).toBe(true)
    const clean = madeReading('start.flood-cleared', { pumpOff: true, plugsOut: true, oilClean: true })
    expect(state([flooded, oily, clean])).toEqual({ stopped: false, gate: undefined })
    expect(state([clean, madeReading('start.flooded', {})]).stopped).toBe(true)
  })
})
