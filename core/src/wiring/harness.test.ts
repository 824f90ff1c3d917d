import fc from 'fast-check'
import { describe, expect, it } from 'vitest'
import { hazardsOf, placesOf, wayGraph, type Place } from './car-plan.ts'
import { circuitsOf } from './circuits.ts'
import { harnessOf } from './harness.ts'
import { cutLengthM, planKey, runOf } from './route.ts'
import { sizeWire } from './size.ts'
import { solveState } from './supply.ts'
import { found, wired, wireOf } from '../judge/wired.fixture.ts'

const ids = (c: ReturnType<typeof wired>) => circuitsOf(c).circuits.map((x) => x.id)

describe('the list of circuits comes from the plan', () => {
  it('grows with what the car has: fan, coils, injectors, pedal, gearbox', () => {
    const plain = ids(wired({}, { facts: { electrics: { fan: 'belt' } } }))
    expect(plain).not.toContain('fan')
    expect(ids(wired({}, { facts: { electrics: { fan: 'electric' } } }))).toEqual(
      expect.arrayContaining(['fan', 'fan-ground', 'fan-relay']),
    )
    expect(ids(wired({}, { choices: { plan: { injectors: 6 } } })).filter((id) => /^injector-\d/.test(id))).toHaveLength(6)
    expect(ids(wired({}, { choices: { plan: { electronicThrottle: true } } }))).toEqual(
      expect.arrayContaining(['pedal-one', 'pedal-two', 'plate-one', 'plate-two']),
    )
    expect(ids(wired({}, { facts: { gearing: { kickDown: 'electric' } } }))).toContain('gearbox')
    expect(ids(wired({ bus: {} }))).toEqual(expect.arrayContaining(['bus-high', 'bus-low', 'display-feed']))
  })
  it('merges: an edit stays on its circuit while the rest follows the plan, and one that lost its circuit is kept and named', () => {
    const edits = { circuits: { fan: { continuousA: 18, note: 'twin fan' }, pump: { colour: 'green' } } }
    const withFan = wired(edits, { facts: { electrics: { fan: 'electric' } } })
    expect(wireOf(withFan, 'fan').circuit).toMatchObject({ continuousA: 18, edit: { note: 'twin fan' } })
    // its start surge goes with it: four times
    expect(wireOf(withFan, 'fan').circuit.surgeA).toBeCloseTo(72, 6)
    expect(wireOf(withFan, 'pump').colour).toBe('green')
    expect(found('lost-edits', edits, { facts: { electrics: { fan: 'belt' } } })?.because).toContain('fan')
    expect(found('lost-edits', edits, { facts: { electrics: { fan: 'electric' } } })).toBeUndefined()
  })
  it('a circuit of one’s own is fused and sized like any; one left out is kept with its reason', () => {
    const own = { horn: { name: 'Horn', from: 'fuses', to: 'fan', continuousA: 8, feed: 'battery', why: 'the old wire is gone' } } as const
    const c = wired({ own, circuits: { 'lambda-heater': { leftOut: 'fed by its own controller' } } })
    expect(wireOf(c, 'own-horn')).toMatchObject({ size: { fuseA: 10 }, circuit: { origin: 'own' } })
    expect(harnessOf(c).leftOut.map((x) => x.edit.leftOut)).toEqual(['fed by its own controller'])
  })
  it('currents that meet in a wire are summed: the main feed carries what hangs on it', () => {
    const c = wired({}, { facts: { electrics: { fan: 'belt' } } })
    const behind = harnessOf(c).wires.filter((w) => w.circuit.from === 'fuses' && w.circuit.feed === 'battery')
    expect(wireOf(c, 'main-feed').circuit.continuousA).toBeCloseTo(
      behind.reduce((sum, w) => sum + w.circuit.continuousA, 0),
      9,
    )
  })
  it('what an output cannot switch by itself gets a relay, at the bound of its own sheet', () => {
    const own = { blower: { name: 'Blower', from: 'unit', to: 'fan', continuousA: 2.1, feed: 'unit', why: 'asked for' } } as const
    expect(wireOf(wired({ own }), 'own-blower').circuit).toMatchObject({ relay: true, relayWhy: 'over the 2 A of an output' })
    expect(wireOf(wired({ own: { blower: { ...own.blower, continuousA: 2 } } }), 'own-blower').circuit.relay).toBe(false)
    expect(wireOf(wired({ own, outputA: 3 }), 'own-blower').circuit.relay).toBe(false)
  })
})

describe('a harness is laid once from what it is laid from', () => {
  it('the same again for an edit that no wire depends on; anew for each that one does', () => {
    const was = harnessOf(wired())
    expect(harnessOf(wired({}, { facts: { engine: { boreMm: 71.2 } } }))).toBe(was)
    const others = [
      wired({ wheelbaseMm: 2413 }),
      wired({ bayC: 95 }),
      wired({ exhaustSide: 'left' }),
      wired({ places: { pump: { xMm: 900, yMm: 10 } } }),
      wired({ circuits: { pump: { measuredM: 7.5 } } }),
      wired({}, { facts: { electrics: { batteryPlace: 'boot' } } }),
      wired({}, { choices: { plan: { injectors: 6 } } }),
    ]
    expect(new Set([was, ...others.map((c) => harnessOf(c))]).size).toBe(1 + others.length)
  })
  it('one harness stands for batteries of 12.4 and 12.8 V at rest, and each is solved for itself', () => {
    const volt = (restV: number): number => solveState(wired({}, { facts: { electrics: { restV } } }), 'accessory').nodes.plus
    expect(volt(12.8) - volt(12.4)).toBeCloseTo(0.4, 6)
  })
})

describe('a wire is sized', () => {
  const pump = { continuousA: 6, surgeA: 30, lengthM: 4, ambientC: 80, loadedWires: 1, dropLimitV: 0.5, jointsOhm: 0.013, fused: true }
  // 1 mm2: bears 13.945 A, copper at 80 + 25 (6/13.945)^2 = 84.6 degC, 0.0865 ohm: 0.519 + 0.078 V, too much
  // 1.5 mm2: bears 17.748 A, 82.9 degC, 0.05733 ohm: 0.344 + 0.078 = 0.422 V
  it('by the voltage it loses, warm, with its joints: a pump of 6 A over 4 m', () => {
    const size = sizeWire(pump)!
    expect(size).toMatchObject({ areaMm2: 1.5, fuseA: 10, by: 'drop' })
    expect(size.dropV).toBeCloseTo(0.422, 3)
    expect(size.copperC).toBeCloseTo(82.86, 1)
    expect(sizeWire(pump, { areaMm2: 1 })!.dropV).toBeCloseTo(0.597, 3)
  })
  it('by its current among others: 12 A in a full bundle', () => {
    // 13.945 x 0.55 = 7.7 A for 1 mm2, 17.748 x 0.55 = 9.8 for 1.5, 21.13 x 0.55 = 11.6 for 2, 24.51 x 0.55 = 13.5 for 2.5
    expect(sizeWire({ ...pump, continuousA: 12, surgeA: 0, lengthM: 0.3, loadedWires: 20 })).toMatchObject({ areaMm2: 2.5, by: 'current' })
  })
  it('by its fuse: a start surge that asks for more fuse than a thin wire bears', () => {
    // 2 A steady, 60 A at its start: a fuse of 20 A (60 / 3.5 = 17.1); 1.5 mm2 bears 17.7 A alone, 2 mm2 21.1 A
    expect(sizeWire({ ...pump, continuousA: 2, surgeA: 60, lengthM: 0.5 })).toMatchObject({ areaMm2: 2, fuseA: 20, by: 'fuse' })
  })
  it('no thinner than what holds when it is pulled, and none where shops have none', () => {
    expect(sizeWire({ ...pump, continuousA: 0.02, surgeA: 0 })).toMatchObject({ areaMm2: 0.5, by: 'strength' })
    expect(sizeWire({ ...pump, continuousA: 150, surgeA: 0, lengthM: 10 })).toBeNull()
    expect(sizeWire({ ...pump, continuousA: 170, surgeA: 0 })).toBeNull()
  })
  it('thicker, longer and hotter go the way they must', () => {
    fc.assert(
      fc.property(
        fc.double({ min: 0.1, max: 20, noNaN: true }),
        fc.double({ min: 0.2, max: 6, noNaN: true }),
        fc.integer({ min: 1, max: 20 }),
        (amps, m, loaded) => {
          const ask = { ...pump, continuousA: amps, surgeA: amps, lengthM: m, loadedWires: loaded }
          const size = sizeWire(ask)
          if (!size) return true
          const longer = sizeWire({ ...ask, lengthM: m * 1.5 })
          return (
            size.bearsA >= amps &&
            size.dropV <= 0.5 &&
            (size.fuseA ?? 0) <= size.aloneA &&
            (longer === null || longer.areaMm2 >= size.areaMm2)
          )
        },
      ),
    )
  })
})

describe('a run over the plan', () => {
  const c = wired({ wheelbaseMm: 2550 })
  const places = placesOf(c)
  const plan = (ctx = c) => {
    const hazards = hazardsOf(ctx, placesOf(ctx), true)
    return { graph: wayGraph(ctx), hazards, key: planKey(ctx, hazards) }
  }
  const run = (from: string, to: string, via?: string[]) => runOf(plan(), places.get(from)!, places.get(to)!, via)

  // battery at (459, -561), fuses at (587, -510): 137.8 mm; 1.25 x 137.8 + 300 = 472, up to 500
  it('is cut to the plan’s scale, with loops at both ends, up to 50 mm', () => {
    expect(run('battery', 'fuses').planMm).toBeCloseTo(137.8, 1)
    expect(cutLengthM(137.8)).toBe(0.5)
    // 240 x 1.25 + 300 = 600 exactly; a tenth of a millimetre more is a step more
    expect([cutLengthM(240), cutLengthM(240.1)]).toEqual([0.6, 0.65])
  })
  it('goes through a panel between bay and cabin, and grows with the wheelbase', () => {
    expect(run('fuses', 'unit').panels).toHaveLength(1)
    const long = wired({ wheelbaseMm: 3060 })
    const longer = runOf(plan(long), placesOf(long).get('fuses')!, placesOf(long).get('pump')!)
    expect(longer.planMm / run('fuses', 'pump').planMm).toBeCloseTo(1.2, 2)
  })
  it('proposed, it keeps away from leads, exhaust and fan wherever a way does', () => {
    for (const wire of harnessOf(c).wires)
      expect(
        wire.run.near.map((n) => n.hazard.label),
        wire.circuit.id,
      ).toEqual([])
  })
  it('drawn along the plug leads it is told by how far; square across them it is not', () => {
    const at = (xMm: number, yMm: number): Place => ({ id: 'x', label: 'x', zone: 'bay', usual: false, xMm, yMm })
    // the leads lie at 77 mm right of the middle, from 51 to 459 mm
    const along = (yMm: number) => runOf(plan(), at(100, yMm), at(430, yMm), []).near.filter((n) => n.hazard.label === 'plug leads')
    // ends inside the distance are where something plugs in: so the middle piece is drawn over way points
    expect(along(77 + 80)).toEqual([])
    const across = runOf(plan(), at(250, -100), at(250, 250), [])
    expect(across.near.filter((n) => n.hazard.label === 'plug leads')).toEqual([])
    const slanted = runOf(plan(), at(60, -100), at(450, 250), [])
    expect(slanted.near.map((n) => n.hazard.label)).toContain('plug leads')
  })
  it('a hole that is not on the plan is left out, the rest of the way stands', () =>
    expect(run('fuses', 'unit', ['hole-left', 'nowhere', 'dash-left']).through).toEqual(['fuses', 'hole-left', 'dash-left', 'unit']))
})

describe('the harness as a whole', () => {
  const c = wired({}, { facts: { electrics: { fan: 'electric' } } })
  const h = harnessOf(c)
  it('every wire has a size, and no fuse stands over what its wire bears', () => {
    for (const w of h.wires) {
      expect(w.size, w.circuit.id).not.toBeNull()
      if (w.size!.fuseA !== null) expect(w.size!.fuseA).toBeLessThanOrEqual(w.size!.aloneA)
      expect(w.size!.dropV).toBeLessThanOrEqual(w.circuit.dropLimitV + 1e-9)
    }
  })
  it('no two wires in one connector are alike, and told colours are kept', () => {
    const seen = new Set<string>()
    for (const w of h.wires)
      for (const place of [w.circuit.from, w.circuit.to]) {
        expect(seen.has(`${place} ${w.colour}`), `${place} ${w.colour}`).toBe(false)
        seen.add(`${place} ${w.colour}`)
      }
    const alike = { circuits: { 'coolant-sensor': { colour: 'pink' }, 'air-sensor': { colour: 'pink' } } }
    expect(found('colours-alike', alike)?.because).toContain('both pink at unit')
  })
  it('bundles hold each wire once on each piece of its way', () => {
    for (const w of h.wires) {
      const on = h.bundles.filter((b) => b.circuits.includes(w.circuit.id))
      expect(on).toHaveLength(w.run.through.length - 1)
      expect(on.reduce((sum, b) => sum + b.lengthMm, 0)).toBeCloseTo(w.run.planMm, 6)
    }
  })
  it('a circuit whose both ends are one place is not laid, and told', () => {
    const edit = { circuits: { fan: { to: 'fuses' } } }
    const car = { facts: { electrics: { fan: 'electric' } } }
    expect(harnessOf(wired(edit, car)).wires.some((w) => w.circuit.id === 'fan')).toBe(false)
    expect(found('endless', edit, car)?.message).toBe('Fan leads nowhere')
    expect(found('endless', {}, car)).toBeUndefined()
  })
})
