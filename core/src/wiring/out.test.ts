import { describe, expect, it } from 'vitest'
import { partsList } from '../plan/parts.ts'
import { planTasks } from '../plan/tasks.ts'
import { designOf } from '../fuel/design.ts'
import { startGates } from '../start/gates.ts'
import { contextOf, Choices } from '../judge/judgement.ts'
import { madeReading } from '../judge/made-up.fixture.ts'
import { harnessOf } from './harness.ts'
import { billOf, circuitsFromCsv, circuitsToCsv, connectorsOf, fuseCard, labelsOf, plugsOf } from './out.ts'
import { wired, wiredBuild, wireOf } from '../judge/wired.fixture.ts'

const h = harnessOf(wired())

describe('what goes out on paper', () => {
  it('each wire stands in the pin-out of both its ends, its pins in order', () => {
    const connectors = connectorsOf(h)
    expect(connectors.reduce((n, k) => n + k.pins.length, 0)).toBe(2 * h.wires.length)
    const unit = connectors.find((k) => k.place === 'unit')!
    expect(unit.pins.map((p) => p.pin)).toEqual(unit.pins.map((_, i) => String(i + 1)))
    const told = harnessOf(wired({ circuits: { pump: {}, 'unit-feed': { pin: 'A12' } } }))
    expect(
      connectorsOf(told)
        .find((k) => k.place === 'unit')!
        .pins.find((p) => p.circuit === 'unit-feed')!.pin,
    ).toBe('A12')
  })
  it('battery and body are bolted, no plugs', () => {
    const places = plugsOf(h).map((k) => k.place)
    expect(places).toContain('unit')
    expect(places).not.toContain('battery')
  })
  it('the fuse card names each fuse with what it feeds; the bill sums wire and ends', () => {
    expect(fuseCard(h).find((f) => f.circuit === 'pump')).toMatchObject({ feeds: 'Fuel pump', relay: true })
    const bill = billOf(h)
    expect(bill.wire.reduce((m, w) => m + w.lengthM, 0)).toBeCloseTo(
      h.wires.reduce((m, w) => m + w.lengthM, 0),
      9,
    )
    expect(bill.eyelets + bill.terminals).toBe(2 * h.wires.length)
    expect(bill.fuses.reduce((n, f) => n + f.count, 0)).toBe(fuseCard(h).length)
  })
  it('a label at each end says where the other end is', () => {
    const labels = labelsOf(h).filter((l) => l.circuit === 'pump')
    expect(labels).toHaveLength(2)
    expect(labels[0].text).toMatch(/^Fuel pump · Fuses and relays \d+ → Fuel pump \d+$/)
  })
})

describe('the list as CSV, both ways', () => {
  const csv = circuitsToCsv(h)
  it('unchanged it brings nothing back; what was changed comes back as an edit', () => {
    expect(circuitsFromCsv(csv, h)).toEqual({})
    const pump = wireOf(wired(), 'pump')
    const changed = csv
      .split('\n')
      .map((line) => (line.startsWith('pump,') ? line.replace(`,${pump.lengthM},`, ',4.25,').replace(pump.colour, 'green') : line))
      .join('\n')
    expect(circuitsFromCsv(changed, h)).toEqual({ pump: { measuredM: 4.25, colour: 'green' } })
  })
  it.each([
    ['circuit\nhorn', /line 2, circuit: this harness has no circuit "horn"/],
    ['circuit,lengthM\npump,-2', /line 2, lengthM: must be 0.05 to 20 m/],
    ['circuit,areaMm2\npump,90', /must be 0.22 to 70 mm2/],
    ['circuit,fuseA\npump,12', /12 A is no standard fuse: 1, 2, 3, 4, 5, 7.5/],
    ['circuit,continuousA\npump,many', /"many" is not a number/],
  ])('%s is refused by line, bound and unit', (text, message) => expect(() => circuitsFromCsv(text, h)).toThrow(message))
  it('choices refuse a fuse of no standard and a negative length too', () => {
    const pump = (edit: object) => Choices.safeParse({ wiring: { circuits: { pump: edit } } }).success
    expect([pump({ fuseA: 12 }), pump({ measuredM: -1 }), pump({ areaMm2: 71 }), pump({ leftOut: 'x' })]).toEqual([
      false,
      false,
      false,
      false,
    ])
    expect(pump({ to: 'nowhere' })).toBe(false)
    expect([pump({ fuseA: 15 }), pump({ fuseA: 0 }), pump({ measuredM: 3 })]).toEqual([true, true, true])
  })
})

describe('what Wiring gives to others', () => {
  it('wire and relays of the plan’s parts are those of the harness', () => {
    const part = (id: string, c = wired()) => partsList(c).find((p) => p.id === id)!
    expect(part('wire').quantity).toBe(Math.ceil(h.wires.reduce((m, w) => m + w.lengthM, 0)))
    const fan = (kind: string) => part('relay', wired({}, { facts: { electrics: { fan: kind } } })).quantity
    expect(fan('electric') - fan('belt')).toBe(1)
  })
  // handbook 01: 6 h, and 0.4 for each circuit over eight
  it('hours grow with circuits of one’s own', () => {
    const hours = (own: object) => planTasks(wired({ own } as never)).find((t) => t.id === 'wiring')!.base
    const horn = { name: 'Horn', from: 'fuses', to: 'fan', continuousA: 8, feed: 'battery', why: 'old wire gone' }
    expect(hours({ horn }) - hours({})).toBeCloseTo(0.4, 9)
  })
  it('the pump’s wire, once laid, is what Fuel counts with; what is entered there goes before it', () => {
    const ohm = (wiring: object, fuel: object = { wiring: null }) =>
      designOf(wired(wiring as never, { choices: { fuel } }))!.circuit.wireOhm
    const thin = ohm({ circuits: { pump: { measuredM: 6, areaMm2: 0.75 } } })
    // 0.01724 x (1 + 0.00393 x 20) x 6 / 0.75, at the 40 degC of Fuel
    expect(thin).toBeCloseTo(0.14876, 4)
    expect(ohm({})).not.toBeCloseTo(thin, 3)
    expect(ohm({ circuits: { pump: { measuredM: 6, areaMm2: 0.75 } } }, { wiring: { lengthM: 3, areaMm2: 0.75 } })).toBeCloseTo(thin / 2, 6)
  })
  it('First start wants connectors, a keyed supply and grounds; a car that ran is let through with words', () => {
    const gates = (readings: ReturnType<typeof madeReading>[]) => startGates(contextOf(wiredBuild({}, {}, readings)), [])
    const met = (list: { id: string; met: boolean }[], id: string) => list.find((g) => g.id === id)!.met
    const bare = gates([])
    expect(['connectors', 'keyed-supply'].map((id) => met(bare['key-on'], id))).toEqual([false, false])
    expect(met(bare.crank, 'grounds')).toBe(false)
    expect(bare['dry-crank'].some((g) => g.id === 'grounds')).toBe(false)
    const done = gates([
      ...plugsOf(h).map((k) => madeReading('wiring.connector', { place: k.place, seated: true, latched: true, tugged: true })),
      madeReading('wiring.keyed', {
        wire: 'white',
        batteryV: 12.6,
        offV: 0,
        onV: 12.5,
        lampV: 12.3,
        accessoryV: 0,
        crankingV: 10,
        batteryCrankingV: 10.3,
      }),
      madeReading('wiring.ground-drop', { which: 'unit', state: 'loads-on', dropV: 0.05 }),
      madeReading('wiring.ground-drop', { which: 'engine', state: 'cranking', dropV: 0.2 }),
    ])
    expect(['connectors', 'keyed-supply'].map((id) => met(done['key-on'], id))).toEqual([true, true])
    expect(met(done.crank, 'grounds')).toBe(true)
    const ran = gates([
      madeReading('start.ran', { secondsToFire: 1, idleRpm: 700, coolantC: 80, tuneId: '6d0f4a52-0c1e-4f7a-9d3b-1f62a0c80009' }),
    ])
    expect(ran.crank.find((g) => g.id === 'grounds')).toMatchObject({ met: true, why: 'not recorded, but it has run' })
    // it ran, and then a ground was measured weak, or the harness opened: that is known against it
    const run = madeReading('start.ran', { secondsToFire: 1, idleRpm: 700, coolantC: 80, tuneId: '6d0f4a52-0c1e-4f7a-9d3b-1f62a0c80009' })
    const weak = gates([run, madeReading('wiring.ground-drop', { which: 'unit', state: 'loads-on', dropV: 0.4 })])
    expect(met(weak.crank, 'grounds')).toBe(false)
    const seated = madeReading('wiring.connector', { place: 'unit', seated: true, latched: true, tugged: true })
    expect(met(gates([run, seated])['key-on'], 'connectors')).toBe(true)
    expect(met(gates([run, seated, madeReading('wiring.opened', { what: 'unit plug' })])['key-on'], 'connectors')).toBe(false)
  })
})
