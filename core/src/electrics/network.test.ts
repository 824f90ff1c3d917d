import fc from 'fast-check'
import { describe, expect, it } from 'vitest'
import { wiringNetwork } from './network.ts'

const solve = (elements: object[], groundNode = 'gnd') => wiringNetwork.run(wiringNetwork.input.parse({ groundNode, elements }))
const refused = (elements: object[]) => wiringNetwork.input.safeParse({ groundNode: 'gnd', elements }).error!.issues[0].message

describe('a network of wires, sources and loads', () => {
  // 12 V behind 0.1 ohm into 1.9 ohm: 6 A, 11.4 V
  it('a battery and a lamp', () => {
    const r = solve([
      { id: 'battery', from: 'gnd', to: 'post', volt: 12, ohm: 0.1 },
      { id: 'lamp', from: 'post', to: 'gnd', ohm: 1.9 },
    ])
    expect(r.nodes.post).toBeCloseTo(11.4, 9)
    expect([r.elements.battery, r.elements.lamp]).toEqual([expect.closeTo(6, 9), expect.closeTo(6, 9)])
  })
  // 12 V over 2 and 4 ohm in row: 2 A, 4 V and 8 V; two of 4 ohm side by side are 2
  it('a divider, and two side by side', () => {
    const r = solve([
      { id: 'b', from: 'gnd', to: 'a', volt: 12, ohm: 1e-6 },
      { id: 'r1', from: 'a', to: 'm', ohm: 2 },
      { id: 'r2', from: 'm', to: 'gnd', ohm: 8 },
      { id: 'r3', from: 'm', to: 'gnd', ohm: 8 },
    ])
    expect(r.nodes.m).toBeCloseTo(8, 4)
    expect(r.elements.r2).toBeCloseTo(1, 4)
  })
  // balanced bridge: 10 and 20 ohm over 5 and 10: no current across
  it('a balanced bridge has nothing across it', () => {
    const r = solve([
      { id: 'b', from: 'gnd', to: 'a', volt: 12, ohm: 0.01 },
      { id: 'p', from: 'a', to: 'l', ohm: 10 },
      { id: 'q', from: 'l', to: 'gnd', ohm: 20 },
      { id: 'r', from: 'a', to: 'm', ohm: 5 },
      { id: 's', from: 'm', to: 'gnd', ohm: 10 },
      { id: 'x', from: 'l', to: 'm', ohm: 3 },
    ])
    expect(r.elements.x).toBeCloseTo(0, 9)
  })
  // battery 12.6 V behind 10 mohm, alternator 14.2 V behind 40 mohm, 20 A of loads at their post: (1260 + 355 - 20) / 125 = 12.76 V
  it('battery and alternator share a load of constant current', () => {
    const r = solve([
      { id: 'battery', from: 'gnd', to: 'post', volt: 12.6, ohm: 0.01 },
      { id: 'alternator', from: 'gnd', to: 'post', volt: 14.2, ohm: 0.04 },
      { id: 'loads', from: 'post', to: 'gnd', amp: 20 },
    ])
    expect(r.nodes.post).toBeCloseTo(12.76, 9)
    // the battery is charged: (12.6 - 12.76) / 0.01 = -16 A; the alternator gives 36
    expect(r.elements.battery).toBeCloseTo(-16, 6)
    expect(r.elements.alternator).toBeCloseTo(36, 6)
  })
  // a shared ground of 50 mohm carries 10 A of pump: the sensor’s ground is lifted by 0.5 V
  it('a shared ground lifts who shares it', () => {
    const r = solve([
      { id: 'battery', from: 'gnd', to: 'post', volt: 13, ohm: 0.01 },
      { id: 'strap', from: 'body', to: 'gnd', ohm: 0.05 },
      { id: 'pump', from: 'post', to: 'body', amp: 10 },
      { id: 'sensor', from: 'post', to: 'body', ohm: 1e6 },
    ])
    expect(r.nodes.body).toBeCloseTo(0.5, 4)
  })
  // 12.6 V behind 0.02 ohm, a feed of 0.03 to two loads of 8 and 4 A: 12.6 - 12 x 0.05 = 12.0 V
  it('two loads share a feed and its drop', () => {
    const r = solve([
      { id: 'battery', from: 'gnd', to: 'post', volt: 12.6, ohm: 0.02 },
      { id: 'feed', from: 'post', to: 'box', ohm: 0.03 },
      { id: 'pump', from: 'box', to: 'gnd', amp: 8 },
      { id: 'coils', from: 'box', to: 'gnd', amp: 4 },
    ])
    expect(r.nodes.box).toBeCloseTo(12, 9)
    expect(r.elements.feed).toBeCloseTo(12, 9)
  })
  // 12.6 V behind 10 mohm, helped by 12.8 V behind 30 and a lead of 20, into a starter of 50: (1260 + 256) / (100 + 20 + 20) = 10.829 V
  it('a second battery over a lead helps a starter', () => {
    const r = solve([
      { id: 'own', from: 'gnd', to: 'post', volt: 12.6, ohm: 0.01 },
      { id: 'other', from: 'gnd', to: 'there', volt: 12.8, ohm: 0.03 },
      { id: 'lead', from: 'there', to: 'post', ohm: 0.02 },
      { id: 'starter', from: 'post', to: 'gnd', ohm: 0.05 },
    ])
    expect(r.nodes.post).toBeCloseTo(1516 / 140, 9)
    expect(r.elements.lead).toBeCloseTo((12.8 - 1516 / 140) / 0.05, 6)
  })
  // 2 over 4 ohm beside 4 over 2, joined by 3: left is x, right 12 - x; (12 - x)/2 = x/4 + (2x - 12)/3, so x = 10 / (17/12)
  it('a bridge out of balance', () => {
    const r = solve([
      { id: 'b', from: 'gnd', to: 'a', volt: 12, ohm: 1e-6 },
      { id: 'p', from: 'a', to: 'l', ohm: 2 },
      { id: 'q', from: 'l', to: 'gnd', ohm: 4 },
      { id: 'r', from: 'a', to: 'r', ohm: 4 },
      { id: 's', from: 'r', to: 'gnd', ohm: 2 },
      { id: 'x', from: 'l', to: 'r', ohm: 3 },
    ])
    expect(r.nodes.l).toBeCloseTo(120 / 17, 4)
  })
  // 10 A of pump into a strap of 20 mohm, a sensor ground of 100 from body to the unit, whose own ground is 10: body 10/59.09 V, unit 1/11 of it
  it('a sensor ground tied to the body carries some of the pump into the unit', () => {
    const r = solve([
      { id: 'battery', from: 'gnd', to: 'post', volt: 13, ohm: 0.01 },
      { id: 'pump', from: 'post', to: 'body', amp: 10 },
      { id: 'strap', from: 'body', to: 'gnd', ohm: 0.02 },
      { id: 'sensor', from: 'body', to: 'unit', ohm: 0.1 },
      { id: 'own', from: 'unit', to: 'gnd', ohm: 0.01 },
    ])
    expect(r.nodes.body).toBeCloseTo(10 / (50 + 100 / 11), 9)
    expect(r.nodes.unit).toBeCloseTo(r.nodes.body / 11, 9)
    expect(r.elements.strap + r.elements.own).toBeCloseTo(10, 9)
  })
  // a lamp of 12.8^2 / 21 = 7.80 ohm behind 1.5 ohm of ballast on 12.6 V: 10.57 V at the wire; without load 12.6
  it('a resistor in a feed shows only under load', () => {
    const wire = (lamp: number) =>
      solve([
        { id: 'battery', from: 'gnd', to: 'post', volt: 12.6, ohm: 0.001 },
        { id: 'ballast', from: 'post', to: 'wire', ohm: 1.5 },
        { id: 'lamp', from: 'wire', to: 'gnd', ohm: lamp },
      ]).nodes.wire
    expect(wire(12.8 ** 2 / 21)).toBeCloseTo(10.57, 2)
    expect(wire(1e7)).toBeCloseTo(12.6, 4)
  })
  it('currents close at every node, whatever hangs on it', () => {
    const node = (i: number) => (i === 0 ? 'gnd' : `n${i}`)
    fc.assert(
      fc.property(
        fc.array(fc.tuple(fc.nat(11), fc.double({ min: -3, max: 1, noNaN: true }), fc.integer({ min: -20, max: 20 })), {
          minLength: 12,
          maxLength: 12,
        }),
        fc.array(fc.tuple(fc.nat(12), fc.nat(12), fc.double({ min: -5, max: 5, noNaN: true })), { maxLength: 12 }),
        (tree, extra) => {
          const elements: object[] = tree.map(([before, decade, volt], i) => ({
            id: `r${i}`,
            from: node(i + 1),
            to: node(before % (i + 1)),
            ohm: 10 ** decade,
            ...(volt > 10 ? { volt } : {}),
          }))
          extra.forEach(([from, to, amp], i) => from !== to && elements.push({ id: `i${i}`, from: node(from), to: node(to), amp }))
          const r = solve(elements)
          const sums: Record<string, number> = {}
          const sizes: Record<string, number> = {}
          for (const e of elements as { id: string; from: string; to: string }[])
            for (const [end, sign] of [
              [e.from, -1],
              [e.to, 1],
            ] as const) {
              sums[end] = (sums[end] ?? 0) + sign * r.elements[e.id]
              sizes[end] = (sizes[end] ?? 1) + Math.abs(r.elements[e.id])
            }
          return Object.entries(sums).every(([n, sum]) => n === 'gnd' || Math.abs(sum) < 1e-9 * sizes[n])
        },
      ),
      { numRuns: 200 },
    )
  })
  it('refuses by name what has no answer', () => {
    const battery = { id: 'b', from: 'gnd', to: 'a', volt: 12, ohm: 0.01 }
    expect(refused([battery, { id: 'b', from: 'a', to: 'gnd', ohm: 1 }])).toBe('"b" stands twice')
    expect(refused([battery, { id: 'l', from: 'a', to: 'a', ohm: 1 }])).toContain('must lead to another node than "a"')
    expect(refused([battery, { id: 'l', from: 'x', to: 'y', ohm: 1 }])).toContain('node "x" floats')
    expect(refused([battery, { id: 'l', from: 'a', to: 'z', amp: 1 }])).toContain('node "z" floats')
    expect(refused([{ id: 's', from: 'gnd', to: 'a', volt: 12 }])).toContain('either ohm or amp')
    expect(refused([{ id: 's', from: 'gnd', to: 'a', ohm: 0 }])).toContain('over 0 ohm')
    expect(refused([{ id: 's', from: 'gnd', to: 'a', ohm: 1, amp: 1 }])).toContain('either ohm or amp')
  })
})
