import { describe, expect, it } from 'vitest'
import { wordsOf } from '../kernel/index.ts'
import { contextOf, evaluate } from '../judge/judgement.ts'
import { madeReading } from '../judge/made-up.fixture.ts'
import type { Hazard, Place } from './car-plan.ts'
import { wiringEntries } from './entries.ts'
import { jointsOhm } from './harness.ts'
import { runOf } from './route.ts'
import { chargingA, crankingAtUnitV, solveState } from './supply.ts'
import { keyedVerdict, relayInstead } from './keyed.ts'
import { compareVersions, outputOver, outputProblem, outputSentence, outputSweep, senderCurve, senderProblem } from './more.ts'
import { found, wired, wiredBuild, wireOf } from '../judge/wired.fixture.ts'

const keyed = { wire: 'white', batteryV: 12.6, offV: 0, onV: 12.5, lampV: 12.3, accessoryV: 0, crankingV: 10, batteryCrankingV: 10.3 }

describe('what a circuit may lose, and where it lies', () => {
  it('the limits of handbook 04, by what is fed', () => {
    const c = wired({}, { facts: { electrics: { fan: 'electric' } } })
    const limit = (id: string) => wireOf(c, id).circuit.dropLimitV
    expect(['unit-feed', 'pump', 'sensor-ground', 'coil-feed', 'fan', 'unit-ground'].map(limit)).toEqual([0.2, 0.5, 0.02, 0.3, 0.5, 0.1])
    // half of the unit’s for the feed it shares, half a volt for any other load
    expect(['main-feed', 'injector-feed'].map(limit)).toEqual([0.1, 0.5])
  })
  it('joints: two crimps, a pin at each plug, the contacts of a relay; a bolted eyelet has no pin', () => {
    const c = wired()
    expect(jointsOhm(wireOf(c, 'pump').circuit)).toBeCloseTo(0.013, 9)
    expect(jointsOhm(wireOf(c, 'main-feed').circuit)).toBeCloseTo(0.002, 9)
    expect(jointsOhm(wireOf(c, 'unit-ground').circuit)).toBeCloseTo(0.005, 9)
  })
  it('air of 80 degC in the bay and 40 elsewhere, unless measured', () => {
    expect([wireOf(wired(), 'injector-feed').ambientC, wireOf(wired(), 'keyed').ambientC]).toEqual([80, 40])
    expect(wireOf(wired({ bayC: 95 }), 'injector-feed').ambientC).toBe(95)
  })
  const past = (kind: Hazard['kind'], mm: number) => {
    const at = (xMm: number): Place => ({ id: 'x', label: 'x', zone: 'bay', usual: false, xMm, yMm: 0 })
    const hazard: Hazard = { kind, label: 'x', from: { xMm: -50, yMm: mm }, to: { xMm: 50, yMm: mm } }
    return runOf({ graph: { points: new Map(), edges: [] }, hazards: [hazard], key: `${kind} ${mm}` }, at(-1000), at(1000), []).near.length
  }
  it.each([
    ['highTension', 74, 76],
    ['exhaust', 99, 101],
    ['moving', 49, 51],
  ] as const)('%s: near at %d mm, clear at %d', (kind, near, clear) => expect([past(kind, near), past(kind, clear)]).toEqual([1, 0]))
  it('a lead is crossed from 60 degrees on; the exhaust never', () => {
    const across = (kind: Hazard['kind'], deg: number) => {
      const at = (xMm: number): Place => ({ id: 'x', label: 'x', zone: 'bay', usual: false, xMm, yMm: 0 })
      const [dx, dy] = [500 * Math.cos((deg * Math.PI) / 180), 500 * Math.sin((deg * Math.PI) / 180)]
      const hazard: Hazard = { kind, label: 'x', from: { xMm: -dx, yMm: -dy }, to: { xMm: dx, yMm: dy } }
      return runOf({ graph: { points: new Map(), edges: [] }, hazards: [hazard], key: `${kind} ${deg}` }, at(-1000), at(1000), []).near
        .length
    }
    expect([across('highTension', 59), across('highTension', 61), across('exhaust', 90)]).toEqual([1, 0, 1])
  })
})

describe('a keyed supply by meter and lamp', () => {
  it.each([
    ['good', {}],
    // a poor joint over 0.5 V under the lamp
    ['good', { lampV: 12.11 }],
    ['poor-joint', { lampV: 12.09 }],
    // over 2 V under it with all of them there without load: a resistor
    ['poor-joint', { lampV: 10.61 }],
    ['resistor-fed', { lampV: 10.59 }],
    ['poor-joint', { lampV: 10.5, onV: 12.05 }],
    // half a volt under the battery while cranking
    ['good', { crankingV: 9.81 }],
    ['poor-joint', { crankingV: 9.79 }],
    ['dead', { onV: 0.9 }],
    ['good', { onV: 12.4 }],
    ['not-keyed', { offV: 1.1 }],
    ['good', { offV: 0.9 }],
    ['dead-on-crank', { crankingV: 0.9 }],
    ['accessory', { crankingV: 0.9, accessoryV: 12.4 }],
    ['dead-on-crank', { droppedOut: true }],
  ] as const)('%s: %o', (kind, more) => expect(keyedVerdict({ ...keyed, ...more }).kind).toBe(kind))
  it.each([
    ['offV', /key off/],
    ['onV', /nothing on it/],
    ['lampV', /21 W lamp/],
    ['crankingV', /Crank with the lamp/],
    ['batteryCrankingV', /battery while cranking/],
  ] as const)('without %s it is not told, and the test that tells is named', (left, next) => {
    const v = keyedVerdict({ ...keyed, [left]: undefined })
    expect(v.kind).toBe('unknown')
    expect(v.next).toMatch(next)
  })
  it('where none is good a weak wire still pulls a relay, a dead one does not', () => {
    const tried = (...more: object[]) => relayInstead(more.map((m, i) => ({ ...keyed, wire: `wire ${i}`, ...m })))
    expect(tried({ lampV: 9 }, { crankingV: 0, accessoryV: 12 })).toEqual({ trigger: 'wire 0' })
    expect(tried({ onV: 0 })).toEqual({ trigger: null })
    expect([tried({ lampV: 9 }, {}), tried({ offV: undefined }), tried()]).toEqual([null, null, null])
  })
  it('dead while cranking, accessory not tried: names the test that parts the two', () =>
    expect(keyedVerdict({ ...keyed, crankingV: 0, accessoryV: undefined }).next).toContain('accessory'))
})

const reading = (kind: string, value: object) => madeReading(kind as never, value)
describe('readings against their limits', () => {
  it.each([
    ['ground-drop', 'unit', 0.1, undefined],
    ['ground-drop', 'unit', 0.11, 'warn'],
    ['ground-drop', 'engine', 0.3, undefined],
    ['ground-drop', 'engine', 0.31, 'warn'],
    ['ground-drop', 'sensor', 0.02, undefined],
    ['ground-drop', 'sensor', 0.021, 'warn'],
  ])('%s of %s, %d V', (id, which, dropV, severity) =>
    expect(found(id, {}, {}, [reading('wiring.ground-drop', { which, state: 'loads-on', dropV })])?.severity).toBe(severity),
  )
  it.each([
    [9.5, undefined],
    [9.4, 'warn'],
    [8.1, 'warn'],
    [7.9, 'stop'],
  ])('%d V at the unit while cranking', (atUnitV, severity) =>
    expect(found('crank-volts', {}, {}, [reading('wiring.crank-volts', { atUnitV })])?.severity).toBe(severity),
  )
  it('resets by its own sheet', () =>
    expect(found('crank-volts', { resetV: 6 }, {}, [reading('wiring.crank-volts', { atUnitV: 7.9 })])?.severity).toBe('warn'))
  it.each([
    [0.05, undefined],
    [0.051, 'warn'],
  ])('parked, %d A', (drawA, severity) =>
    expect(found('parked-draw', {}, {}, [reading('wiring.parked-draw', { drawA })])?.severity).toBe(severity),
  )
  it('a parked draw of 0.5 A empties half of 50 Ah in two days', () =>
    expect(found('parked-draw', {}, {}, [reading('wiring.parked-draw', { drawA: 0.5 })])!.because).toContain('in 2 days'))
  it.each([
    [10_000, undefined],
    [9_900, 'stop'],
  ])('%d ohm before the fuses', (leastOhm, severity) =>
    expect(found('short', {}, {}, [reading('wiring.insulation', { leastOhm })])?.severity).toBe(severity),
  )
  it('a unit grounded by its casting wants a measured drop', () => {
    expect(found('casting', { unitGround: 'casting' })?.severity).toBe('warn')
    const drop = reading('wiring.ground-drop', { which: 'unit', state: 'loads-on', dropV: 0.05 })
    expect(found('casting', { unitGround: 'casting' }, {}, [drop])).toBeUndefined()
  })
  it('a plug that is not latched is a stop, a bus that reads 120 ohm a warning, until looked at again', () => {
    const plug = (latched: boolean) => reading('wiring.connector', { place: 'unit', seated: true, latched, tugged: latched })
    expect(found('failed', {}, {}, [plug(false)])?.severity).toBe('stop')
    expect(found('failed', {}, {}, [plug(false), plug(true)])).toBeUndefined()
    expect(found('failed', { bus: { ends: 2 } }, {}, [reading('wiring.bus', { ohm: 120 })])?.severity).toBe('warn')
    expect(found('failed', { bus: { ends: 2 } }, {}, [reading('wiring.bus', { ohm: 60 })])).toBeUndefined()
  })
  it('a splice that did not hold is told until it was made again', () => {
    const bad = reading('wiring.splice', { where: 'ground', how: 'connector', sleeve: true, pulled: false })
    const good = reading('wiring.splice', { where: 'ground', how: 'sealed-crimp', sleeve: true, pulled: true })
    expect(found('splice', {}, {}, [bad])?.because).toContain('did not hold')
    expect(found('splice', {}, {}, [bad, good])).toBeUndefined()
  })
})

describe('what is chosen against its limits', () => {
  it.each([
    // 0.5 mm2 in 80 degC alone bears 9.30 A, 0.75 mm2 11.8
    [{ areaMm2: 0.5, fuseA: 10 }, 'stop'],
    [{ areaMm2: 0.75, fuseA: 10 }, undefined],
  ])('a fuse over its wire: %o', (pump, severity) => expect(found('fuse-over-wire', { circuits: { pump } })?.severity).toBe(severity))
  it('no fuse, no relay, too thin', () => {
    expect(found('unfused', { circuits: { pump: { fuseA: 0 } } })?.severity).toBe('stop')
    expect(found('no-relay', { circuits: { pump: { relay: false } } })?.severity).toBe('stop')
    expect(found('no-relay', { circuits: { keyed: { relay: false } } })).toBeUndefined()
    expect(found('overloaded', { circuits: { pump: { areaMm2: 0.5, continuousA: 9.5, fuseA: 15 } } })?.severity).toBe('stop')
    expect(found('overloaded', { circuits: { pump: { areaMm2: 0.5, continuousA: 9.1, fuseA: 15 } } })).toBeUndefined()
  })
  it('a loss over the limit of what it feeds: 0.5 V for a pump', () => {
    const pump = (measuredM: number) => found('drop', { circuits: { pump: { areaMm2: 1, continuousA: 5, measuredM } } })
    // 5 A: bears 13.945, copper at 83.2 degC, 0.02152 ohm mm2/m; 0.065 V in its joints: 0.435 V at 4.04 m
    expect(pump(4.0)).toBeUndefined()
    expect(pump(4.1)?.because).toContain('of 0.50 V')
  })
  it.each([
    [0.3, undefined],
    [0.31, 'A branch of the bus is too long'],
  ])('a stub of %d m', (stubM, message) => expect(found('bus', { bus: { ends: 2, stubM } })?.message).toBe(message))
  it.each([
    [20, undefined],
    [20.5, 'The bus is too long'],
  ])('a bus of %d m', (lengthM, message) => expect(found('bus', { bus: { ends: 2, lengthM } })?.message).toBe(message))
  it.each([0, 1, 3])('a bus with %d resistors', (ends) => expect(found('bus', { bus: { ends } })?.severity).toBe('warn'))
  it.each([
    [54, true],
    [53.9, false],
    [66, true],
    [66.1, false],
  ])('%d ohm across the bus passes: %s', (ohm, met) => {
    const b = wiredBuild({ bus: { ends: 2 } }, {}, [reading('wiring.bus', { ohm })])
    const bus = evaluate(b)
      .stations.find((s) => s.id === 'wiring')!
      .requirements.find((r) => r.id === 'bus')!
    expect(bus.met).toBe(met)
  })
  it('a hole without a grommet, once it was looked at; brittle loom; enabled without a wire', () => {
    expect(found('no-grommet', { grommets: { 'hole-left': false } })?.severity).toBe('stop')
    expect(found('no-grommet', { grommets: { 'hole-left': true } })).toBeUndefined()
    expect(found('no-grommet', { grommets: { 'hole-boot': false } })).toBeUndefined()
    expect(found('brittle', { loom: 'brittle' })?.severity).toBe('warn')
    expect(found('unused-enabled', { circuits: { 'idle-valve': { leftOut: 'screw idle', enabled: true } } })?.severity).toBe('note')
  })
  it.each([
    [301, undefined],
    [299, 'warn'],
  ])('the unit %d mm from the coil', (apart, severity) => {
    const coil = { xMm: 500, yMm: 480 }
    expect(found('unit-near-coil', { places: { coil, unit: { xMm: 500 + apart, yMm: 480 } } })?.severity).toBe(severity)
  })
  // over corner-left 205 and 107 mm: 1.25 x 313 + 300, up to 0.7 m; 25 % of what was measured
  it.each([
    [0.57, undefined],
    [0.55, 'note'],
    [0.93, undefined],
    [0.94, 'note'],
  ])('the main feed measured at %d m', (measuredM, severity) =>
    expect(found('length-measured', { wheelbaseMm: 2550, circuits: { 'main-feed': { measuredM, via: ['corner-left'] } } })?.severity).toBe(
      severity,
    ),
  )
  it('firmware older than another part wants, or not known', () => {
    const box = (firmware?: string) =>
      found('firmware', { boxes: { driver: { name: 'Coil driver', firmware, wantedBy: 'the unit', least: '2.10' } } })
    expect([box('2.9'), box()].map((f) => f?.severity)).toEqual(['warn', 'warn'])
    expect([box('2.10'), box('3')]).toEqual([undefined, undefined])
    expect(compareVersions('2.10', '2.9')).toBeGreaterThan(0)
    expect(compareVersions('2', '2.0.0')).toBe(0)
  })
})

describe('the supply, state by state', () => {
  const car = { facts: { electrics: { chargingIdleA: 20, chargingRatedA: 90, fan: 'electric', crankingV: 10.3 } } }
  it('an alternator asked for more than it gives is held at that, and the battery gives the rest', () => {
    const c = wired({}, car)
    const idle = solveState(c, 'idle')
    expect(idle.chargingA).toBe(20)
    // loads of the harness while it idles, and 24 A of the old car
    const drawn = idle.loads.reduce((sum, l) => sum + wireOf(c, l.id).circuit.continuousA, 0) + 24
    expect(idle.loadA).toBeCloseTo(drawn, 3)
    expect(idle.batteryA).toBeCloseTo(drawn - 20, 3)
    // half of 50 Ah
    expect(idle.drainMin).toBeCloseTo((60 * 25) / (drawn - 20), 2)
    expect(found('drained', {}, car)?.severity).toBe('warn')
    expect(found('drained', {}, { facts: { electrics: { ...car.facts.electrics, chargingIdleA: 60 } } })).toBeUndefined()
    // 60 minutes: 25 Ah at 25 A
    expect(found('drained', {}, { facts: { electrics: { ...car.facts.electrics, chargingIdleA: drawn - 24 } } })).toBeUndefined()
    expect(found('drained', {}, { facts: { electrics: { ...car.facts.electrics, chargingIdleA: drawn - 26 } } })?.severity).toBe('warn')
  })
  it('a larger battery lasts in proportion', () => {
    const [small, large] = [50, 100].map((batteryAh) => solveState(wired({ batteryAh }, car), 'idle').drainMin!)
    expect(large / small).toBeCloseTo(2, 6)
  })
  it('what a dynamo and an alternator give at idle while nobody told it, with the words', () => {
    const c = (charging: string) => wired({}, { facts: { electrics: { charging, chargingRatedA: 40, chargingIdleA: null } } })
    expect(chargingA(c('alternator'), 'idle')).toMatchObject({ amps: 16, assumed: '40 % of rated at idle' })
    expect(chargingA(c('dynamo'), 'idle')).toMatchObject({ amps: 4 })
    expect(chargingA(c('alternator'), 'cruise').amps).toBe(40)
  })
  it('nothing runs with the key off; each load gets the battery less its wires', () => {
    const c = wired({}, car)
    expect(solveState(c, 'off').loads).toEqual([])
    const cruise = solveState(c, 'cruise')
    for (const l of cruise.loads) {
      expect(l.volt).toBeLessThan(cruise.nodes.plus)
      expect(l.volt).toBeGreaterThan(cruise.nodes.plus - 2)
    }
    // the pump’s own wire is within its limit, the shared feed comes on top: Kirchhoff round the loop
    const pump = cruise.loads.find((l) => l.id === 'pump')!
    expect(pump.lostV).toBeCloseTo(cruise.nodes.plus - cruise.nodes['pump load'], 9)
    expect(pump.lostV).toBeGreaterThan(wireOf(c, 'pump').size!.dropV * 0.9)
  })
  it('a strap that was measured poor lifts what is grounded over it', () => {
    const drop = madeReading('wiring.ground-drop', { which: 'body', state: 'loads-on', dropV: 0.6, currentA: 30 })
    const [before, after] = [[], [drop]].map((r) => solveState(contextOf(wiredBuild({}, car, r)), 'cruise').nodes.body)
    expect(before).toBeLessThan(0.2)
    // 0.02 ohm against 0.003
    expect(after / before).toBeCloseTo(0.02 / 0.003, 1)
  })
  it('volts at the unit while cranking: measured before worked out; not told without the battery’s', () => {
    expect(crankingAtUnitV(wired({}, car))!).toMatchObject({ measured: false })
    expect(crankingAtUnitV(wired({}, car))!.volt).toBeLessThan(10.3)
    expect(crankingAtUnitV(wired({}, { facts: { electrics: { crankingV: null } } }))).toBeNull()
    expect(crankingAtUnitV(wired({}, car, [madeReading('wiring.crank-volts', { atUnitV: 9.9 })]))).toEqual({ volt: 9.9, measured: true })
  })
})

describe('senders and outputs', () => {
  // Steinhart and Hart's law with a = 1.4e-3, b = 2.37e-4, c = 1e-7 at four resistances
  const law = (ohm: number) => 1 / (1.4e-3 + 2.37e-4 * Math.log(ohm) + 1e-7 * Math.log(ohm) ** 3) - 273.15
  const points = [300, 1000, 2500, 9000].map((signal) => ({ signal, value: law(signal) }))
  it('a thermistor’s curve is found by its law, between the points too', () => {
    const curve = senderCurve({ signal: 'ohm', unit: '°C', points })
    expect(curve.kind).toBe('thermistor')
    expect(curve.at(1600)).toBeCloseTo(law(1600), 3)
    expect(curve.worstShare).toBeLessThan(1e-6)
  })
  it('volts go by straight pieces; a bend between two points is told from 3 % of the range', () => {
    const bent = (middle: number) => ({
      signal: 'volt' as const,
      unit: 'kPa',
      points: [
        { signal: 0.5, value: 0 },
        { signal: 2.5, value: middle },
        { signal: 4.5, value: 100 },
      ],
    })
    expect(senderCurve(bent(50)).at(1.5)).toBeCloseTo(25, 9)
    expect(found('sender', { senders: { oil: { name: 'Oil', ...bent(38.1) } } })).toBeUndefined()
    expect(found('sender', { senders: { oil: { name: 'Oil', ...bent(37.9) } } })?.severity).toBe('note')
  })
  it('points that make no curve are named', () => {
    expect(
      senderProblem({
        points: [
          { signal: 1, value: 1 },
          { signal: 1, value: 2 },
        ],
      }),
    ).toContain('two points at a signal of 1')
    expect(
      senderProblem({
        points: [
          { signal: 1, value: 1 },
          { signal: 2, value: 3 },
          { signal: 3, value: 2 },
        ],
      }),
    ).toContain('neither rise nor fall')
    expect(senderProblem({ points })).toBeNull()
  })
  const fan = { channel: 'coolantC', on: 95, off: 90, delayS: 2 } as const
  it('a condition is a sentence', () => {
    expect(outputSentence({ ...fan, andRpmOver: 500 })).toBe(
      'On when coolant is over 95 °C for 2 s, while speed is over 500 rpm; off when it is under 90 °C.',
    )
    expect(outputSentence({ channel: 'batteryV', on: 12, off: 13 })).toBe('On when battery is under 12 V; off when it is over 13 V.')
    expect(outputProblem({ channel: 'rpm', on: 3000, off: 3000 })).toContain('chatter')
    expect(found('output', { outputs: { light: { name: 'Shift light', when: { channel: 'rpm', on: 3000, off: 3000 } } } })?.severity).toBe(
      'warn',
    )
  })
  it('tried on a channel led past both values and back, it is off, on, off, and late by its delay', () => {
    const rows = outputSweep(fan)
    const on = rows.map((r) => r.on)
    expect(on.filter((v, i) => i > 0 && v !== on[i - 1])).toHaveLength(2)
    // 85 to 100 and back in a minute: half a degree a second; 95 is passed at 20 s, and two seconds later it is on; 90 on the way down at 50 s
    expect(rows.find((r) => r.on)!.timeS).toBeCloseTo(22.5, 5)
    expect(rows.findLast((r) => r.on)!.timeS).toBeCloseTo(50, 5)
  })
  it('goes on after its delay and off past the other value, and only while it may', () => {
    const rows = [94, 96, 96, 96, 92, 89, 96].map((value, timeS) => ({ timeS, value, rpm: 800 }))
    expect(outputOver(fan, rows)).toEqual([false, false, false, true, true, false, false])
    expect(outputOver({ ...fan, delayS: 0, andRpmOver: 900 }, rows).some(Boolean)).toBe(false)
    const low = { channel: 'batteryV', on: 12, off: 13 } as const
    expect(
      outputOver(
        low,
        [12.5, 11.9, 12.5, 13.1].map((value, timeS) => ({ timeS, value, rpm: 0 })),
      ),
    ).toEqual([false, true, true, false])
  })
})

describe('what Wiring asks before it is cleared', () => {
  const station = (b: ReturnType<typeof wiredBuild>) => evaluate(b).stations.find((s) => s.id === 'wiring')!
  it('begins with the earthed terminal, ends with the draw of the parked car', () => {
    const ids = station(wiredBuild()).requirements.map((r) => r.id)
    expect([ids[0], ids.at(-1)]).toEqual(['isolated', 'parked-draw'])
    expect(ids.indexOf('insulation')).toBeLessThan(ids.indexOf('power-on'))
  })
  it('a car that ran before it was on record is warned, not shut', () => {
    const ran = madeReading('start.ran', { secondsToFire: 1, idleRpm: 700, coolantC: 80, tuneId: '6d0f4a52-0c1e-4f7a-9d3b-1f62a0c80009' })
    expect(found('unproved', {}, {}, [ran])?.severity).toBe('warn')
    expect(found('unproved')).toBeUndefined()
  })
  it('says what the keyed wire was, in the logbook', () => {
    const f = found('keyed', {}, {}, [reading('wiring.keyed', { ...keyed, lampV: 9 })])!
    expect(f.message).toContain('fed through a resistor')
    expect(wordsOf(f.because)).toContain('3.60 V are lost')
    expect(found('keyed', {}, {}, [reading('wiring.keyed', { ...keyed, lampV: 9 }), reading('wiring.keyed', keyed)])).toBeUndefined()
  })
})
it.each([
  [true, 0.2, true],
  [true, 0.21, false],
  [false, 0.1, false],
])('a relay that clicks (%s) and drops %d V over its contacts passes: %s', (clicks, dropV, passes) => {
  const { proof } = wiringEntries['wiring.relay']
  expect(proof!.passes!({ circuit: 'pump', clicks, dropV })).toBe(passes)
})
