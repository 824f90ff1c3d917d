import { describe, expect, it } from 'vitest'
import { partsList } from '../plan/parts.ts'
import { found, wired, wireOf } from '../judge/wired.fixture.ts'
import { relayRing, WiringChoices } from './choices.ts'
import { harnessOf } from './harness.ts'
import { gaugeMarks, gaugeProblem } from './more.ts'
import { billOf, drawingScale, fuseCard } from './out.ts'

describe('relays fed from relays', () => {
  const looped = { pump: { coilFrom: 'fan' }, fan: { coilFrom: 'injector-feed' }, 'injector-feed': { coilFrom: 'pump' } }
  it('a loop is refused and told in its order', () => {
    expect(relayRing(looped)).toEqual(['pump', 'fan', 'injector-feed', 'pump'])
    const parsed = WiringChoices.safeParse({ circuits: looped })
    expect(parsed.error!.issues[0].path).toEqual(['circuits', 'pump', 'coilFrom'])
    expect(parsed.error!.issues[0].message).toContain('a loop of relays: pump ← fan ← injector-feed ← pump')
    expect(WiringChoices.safeParse({ circuits: { pump: { coilFrom: 'pump' } } }).success).toBe(false)
  })
  it('a chain is none, also where it hangs on a loop’s outside or on nothing', () => {
    expect(relayRing({ pump: { coilFrom: 'fan' }, fan: { coilFrom: 'keyed' } })).toBeNull()
    expect(relayRing({ pump: { coilFrom: 'gone' } })).toBeNull()
    expect(relayRing({ a: { coilFrom: 'pump' }, ...looped })).toEqual(['pump', 'fan', 'injector-feed', 'pump'])
  })
  it('behind a wire that is dead while cranking it does not pull in; behind the keyed one it does', () => {
    // the heater of the exhaust sensor is on from idle, not while cranking
    expect(found('relay-coil', { circuits: { pump: { coilFrom: 'lambda-heater' } } })?.because).toContain('dead while cranking')
    expect(found('relay-coil', { circuits: { pump: { coilFrom: 'keyed' } } })).toBeUndefined()
    expect(found('relay-coil', { circuits: { pump: { coilFrom: 'nowhere' } } })?.because).toContain('no such circuit')
    // through another relay it hangs on the same dead wire
    const chain = { pump: { coilFrom: 'injector-feed' }, 'injector-feed': { coilFrom: 'lambda-heater' } }
    expect(found('relay-coil', { circuits: chain })?.because).toContain('So it is with 1 more')
  })
  it('the coil’s 0.15 A flows in the wire that feeds it', () => {
    const amps = (circuits: WiringChoices['circuits']) => wireOf(wired({ circuits }), 'keyed').circuit.continuousA
    expect(amps({})).toBeCloseTo(0.3, 9)
    expect(amps({ pump: { coilFrom: 'keyed' }, 'injector-feed': { coilFrom: 'keyed' } })).toBeCloseTo(0.6, 9)
  })
})

describe('a power box instead of fuses and relays', () => {
  const own = { lamps: { name: 'Driving lamps', from: 'fuses', to: 'fan', continuousA: 18, feed: 'battery', why: 'asked for' } } as const
  it.each([
    [{ channelA: 18 }, undefined],
    [{ channelA: 17.9 }, 'Driving lamps is more than a channel carries'],
  ])('a channel: %o', (powerBox, message) => expect(found('power-box', { powerBox, own })?.message).toBe(message))
  it('all channels together, and how many there are', () => {
    const onBox = harnessOf(wired({ powerBox: {}, own })).wires.filter((w) => w.circuit.from === 'fuses' && w.circuit.kind === 'feed')
    const sumA = onBox.reduce((sum, w) => sum + w.circuit.continuousA, 0)
    expect(onBox.length).toBeGreaterThan(4)
    expect(found('power-box', { powerBox: { totalA: sumA + 0.1 }, own })).toBeUndefined()
    expect(found('power-box', { powerBox: { totalA: sumA - 0.1 }, own })?.message).toBe('The power box carries too much')
    expect(found('power-box', { powerBox: { channels: onBox.length }, own })).toBeUndefined()
    expect(found('power-box', { powerBox: { channels: onBox.length - 1 }, own })?.severity).toBe('warn')
  })
  it('its channels are neither fuses nor relays to buy, and the card says so', () => {
    const h = harnessOf(wired({ powerBox: {} }))
    expect(billOf(h).relays).toBe(0)
    expect(fuseCard(h).find((f) => f.circuit === 'pump')).toMatchObject({ channel: true, relay: false })
    // what hangs on the battery itself or on the switch keeps its fuse
    expect(billOf(h).fuses.reduce((n, f) => n + f.count, 0)).toBe(fuseCard(h).filter((f) => !f.channel).length)
    expect(fuseCard(harnessOf(wired())).some((f) => f.channel)).toBe(false)
  })
})

describe('strain', () => {
  // switch at 0.38, -0.12 and unit at 0.33, 0.20 of 2,500 mm: 125 and 800 mm, 809.7 straight, 40 more for the rocking
  const base = { wheelbaseMm: 2500 }
  it.each([
    [0.855, undefined],
    [0.845, 'warn'],
  ])('%d m between them', (measuredM, severity) =>
    expect(found('strain', { ...base, circuits: { keyed: { measuredM } } })?.severity).toBe(severity),
  )
  it('a plug that nothing holds', () => {
    expect(found('strain', { circuits: { pump: { tied: false } } })?.because).toContain('Not held near its plugs')
    expect(found('strain', { circuits: { pump: { tied: true } } })).toBeUndefined()
  })
})

describe('gauges', () => {
  const sender = {
    name: 'Oil',
    unit: 'kPa',
    signal: 'ohm' as const,
    points: [240, 103, 33].map((signal, i) => ({ signal, value: 350 * i })),
  }
  const gauge = { name: 'Oil gauge', sender: 'oil', low: 0, high: 800 }
  it('says where it stands with a resistance on its lead: the ends and the geometric middle', () => {
    const [low, middle, high] = gaugeMarks(gauge, sender)
    expect([low.value, high.value]).toEqual([700, 0])
    expect(high.signal).toBeCloseTo(240, 9)
    // sqrt(240 x 33) = 89.0 ohm, between 103 and 33: 350 + 350 x 14.0 / 70 = 420 kPa, 0.525 of the scale
    expect(middle.signal).toBeCloseTo(88.99, 2)
    expect(middle.value).toBeCloseTo(420.0, 0)
    expect(middle.share).toBeCloseTo(0.525, 3)
  })
  it('one that does not reach what its sender gives, or hangs on none, is told', () => {
    expect(gaugeProblem(gauge, sender)).toBeNull()
    expect(gaugeProblem({ ...gauge, high: 699 }, sender)).toBe('its sender goes to 700 kPa, its scale from 0 to 699')
    expect(gaugeProblem(gauge, undefined)).toContain('is not in the list')
    expect(found('gauge', { gauges: { oil: gauge } })?.severity).toBe('warn')
    expect(found('gauge', { gauges: { oil: gauge }, senders: { oil: sender } })).toBeUndefined()
  })
  it('its wire and the keyed feed of all gauges stand in the list', () => {
    const c = wired({ gauges: { oil: gauge, fuel: { ...gauge, name: 'Fuel gauge' } }, senders: { oil: sender } })
    expect(wireOf(c, 'gauge-oil').circuit.name).toBe('Oil gauge, sender')
    expect(wireOf(c, 'gauges-feed').circuit).toMatchObject({ feed: 'keyed', continuousA: 0.2 })
  })
})

describe('what goes on paper and into the parts', () => {
  it('the drawing takes the largest scale that goes on an upright sheet of 180 mm', () => {
    expect([1800, 1801, 3600, 3601, 4500, 4501, 99_000].map(drawingScale)).toEqual([10, 20, 20, 25, 25, 50, 50])
  })
  it('terminals, eyelets and fuses are parts of the plan', () => {
    const c = wired({ laid: true })
    const bill = billOf(harnessOf(c))
    const parts = Object.fromEntries(partsList(c).map((p) => [p.id, p.quantity]))
    expect([parts.terminals, parts.eyelets]).toEqual([bill.terminals, bill.eyelets])
    expect(parts.fuses).toBe(bill.fuses.reduce((n, f) => n + f.count, 0))
  })
})
