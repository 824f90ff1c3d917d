import { contextOf } from '../job/context.ts'
import { evaluate } from '../job/evaluate.ts'
import { madeReading, soundBuild } from '../job/made-up.fixture.ts'
import { startGates } from './gates.ts'
import { describe, expect, it } from 'vitest'
import type { Frame } from '../bench/rig.ts'
import { observe, sanityChecks, startStopRules, startWatch, stopRule } from './index.ts'

const frame = (more: Partial<Frame> = {}): Frame => ({
  timeS: 0,
  state: 'key-on',
  rpm: 0,
  mapKpa: 99,
  throttlePct: 0,
  lambda: 2.2,
  lambdaTarget: 1,
  coolantC: 20,
  intakeAirC: 20,
  batteryV: 12.6,
  correctionPct: 0,
  enrichmentPct: 0,
  pulseMs: 0,
  advanceDegBtdc: 10,
  idleValvePct: 30,
  fuelCut: 0,
  pumpOn: false,
  fuelPressureKpa: 0,
  oilPressureKpa: 0,
  faultFlags: [],
  ...more,
})
const facts = { place: { barometerKpa: 99 } }
const sweep = (top: number, step = 4) => {
  const up = Array.from({ length: Math.ceil(top / step) }, (_, k) => Math.min(top, (k + 1) * step))
  return [...up, ...[...up].reverse().slice(1), 0].map((throttlePct) => ({ throttlePct }))
}
const watched = (frames: Partial<Frame>[]) =>
  [...Array(12).fill({}), ...frames].reduce((w, f) => observe(w, frame(f as Partial<Frame>)), startWatch())
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
    ['a throttle with a dead spot', [...sweep(100, 40), ...sweep(100, 40)], 'throttle'],
    ['two sweeps that do not agree', [...sweep(100), ...sweep(98)], 'throttle'],
  ])('find %s', (_what, frames, id) => expect(stateOf(frames, id)).toBe('fail'))
  it('take standard air at the altitude, with more room, when no barometer is known', () => {
    // ISA at 1,200 m is 87.7 kPa
    expect(stateOf(many({ mapKpa: 91 }), 'map', { place: { altitudeM: 1200 } })).toBe('pass')
    expect(stateOf(many({ mapKpa: 94 }), 'map', { place: { altitudeM: 1200 } })).toBe('fail')
  })
  it('do not ask a warm engine to be as cool as the air', () => expect(stateOf(many({ coolantC: 82 }), 'temperatures')).toBe('pass'))
})

describe('stop rules', () => {
  const run = (frames: Partial<Frame>[]) => {
    let state = startStopRules()
    for (const f of frames) {
      const judged = stopRule(state, frame({ state: 'running', rpm: 800, oilPressureKpa: 200, lambda: 0.97, mapKpa: 48, ...f }), 99)
      if (judged.reason) return judged.reason
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
