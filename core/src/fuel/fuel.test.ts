import fc from 'fast-check'
import { describe, expect, it } from 'vitest'
import { bleedDown } from './bleed-down.ts'
import { boreTable, type FuelElement, type FuelLayout, hasSump, type SectionId, sectionsOf, startingCircuit } from './circuit.ts'
import { lostToPumpV, withBore } from './design.ts'
import { fluidAt, vapourPressureKpa } from './fluid.ts'
import { smoothFriction } from './friction.ts'
import { jointsOf } from './joints.ts'
import { frictionFactor, laminarFriction, turbulentFriction } from './line-drop.ts'
import { genericPumps, pumpOf, PumpSpec, withUsualCurrent } from './pump.ts'
import {
  type CircuitSolution,
  elementFlow,
  type FuelState,
  fuelStates,
  returnFloorKpa,
  riseNeededKpa,
  type SolvableCircuit,
  solveCircuit,
} from './solve.ts'

const G = 9.80665
const cool = fluidAt('petrol', 25, 90)
const lifter: PumpSpec & { kind: 'mechanical' } = {
  kind: 'mechanical',
  curves: [
    {
      voltageV: 12,
      points: [
        { pressureKpa: 0, flowLph: 80 },
        { pressureKpa: 20, flowLph: 50 },
        { pressureKpa: 35, flowLph: 0 },
      ],
    },
  ],
}
const circuitOf = (layout: FuelLayout, more: Partial<SolvableCircuit> = {}): SolvableCircuit => {
  const start = startingCircuit(layout)
  return {
    layout,
    sections: Object.fromEntries(sectionsOf(layout).map(({ id }) => [id, start[id] ?? []])),
    pump: genericPumps[1].spec,
    liftPump: hasSump(layout) ? lifter : null,
    regulator: { setKpa: 300, reference: 'open', openDropKpa: 40, openAtLph: 200, minReturnLph: 8 },
    heights: { fuelM: 0.45, pumpM: 0.35, sumpM: 0.7, railM: 0.85 },
    tankGaugeKpa: 0,
    barometerKpa: 101,
    wireOhm: 0.03,
    clogged: 1,
    tankFuelL: 12,
    ...more,
  }
}
const state = (more: Partial<FuelState> = {}): FuelState => ({
  id: 'cruise',
  supplyV: 14,
  useLph: 14,
  referenceKpa: 0,
  outletKpa: 0,
  fluid: cool,
  ...more,
})

describe('fuel as a fluid', () => {
  // handbook 02 gives both to the nearest kPa
  it.each([
    [90, 25, 65],
    [60, 45, 79],
  ])('a Reid vapour pressure of %d kPa at %d degC is about %d kPa true', (rvp, t, kpa) =>
    expect(vapourPressureKpa(rvp, t)).toBeCloseTo(kpa, -0.3),
  )
  it('gets lighter, thinner and nearer to boiling as it warms', () => {
    const hot = fluidAt('petrol', 45, 90)
    expect(hot.densityKgM3).toBeLessThan(cool.densityKgM3)
    expect(hot.viscosityMm2S).toBeLessThan(cool.viscosityMm2S)
    expect(hot.vapourKpa).toBeGreaterThan(cool.vapourKpa)
  })
  it('has the handbook’s viscosity at 20 degC', () => expect(fluidAt('petrol', 20, 90).viscosityMm2S).toBeCloseTo(0.55, 6))
})

describe('friction', () => {
  it('is laminar below 2300 and Haaland above 4000', () => {
    expect(smoothFriction(1500, 0.001)).toBe(laminarFriction(1500))
    expect(smoothFriction(9000, 0.001)).toBe(turbulentFriction(9000, 0.001))
  })
  it('has no jump where the catalogue’s formula has one, and the pressure rises with the flow throughout', () => {
    expect(frictionFactor(2300.01, 0.001) / frictionFactor(2299.99, 0.001)).toBeGreaterThan(1.5)
    let before = 0
    for (let re = 2000; re < 4500; re += 5) {
      const dp = smoothFriction(re, 0.001) * re * re
      expect(dp).toBeGreaterThan(before)
      expect(dp / (before || dp)).toBeLessThan(1.05)
      before = dp
    }
  })
})

describe('pump', () => {
  const sheet: PumpSpec = {
    curves: [
      {
        voltageV: 12,
        points: [
          { pressureKpa: 0, flowLph: 160, currentA: 4 },
          { pressureKpa: 300, flowLph: 120, currentA: 8 },
          { pressureKpa: 500, flowLph: 0, currentA: 11 },
        ],
      },
    ],
  }
  it('goes through the points of its sheet', () => {
    const pump = pumpOf(sheet)
    expect([0, 300, 500].map((p) => pump.flowLph(p, 12))).toEqual([160, 120, 0])
    expect(pump.currentA(300)).toBe(8)
  })
  it('with one curve gives flow with V - 4 V: 13.5 V is 9.5/8 of 12 V', () =>
    expect(pumpOf(sheet).flowLph(300, 13.5)).toBeCloseTo((120 * 9.5) / 8, 9))
  it('with two curves draws a straight line over voltage', () => {
    const two: PumpSpec = {
      curves: [
        sheet.curves[0],
        {
          voltageV: 14,
          points: [
            { pressureKpa: 0, flowLph: 200 },
            { pressureKpa: 500, flowLph: 0 },
          ],
        },
      ],
    }
    const at = (v: number) => pumpOf(two).flowLph(200, v)
    expect(at(13)).toBeCloseTo((at(12) + at(14)) / 2, 9)
  })
  it('a sheet without current is taken to draw what is usual for its flow, or what a clamp showed', () => {
    const points = sheet.curves[0].points.map(({ pressureKpa, flowLph }) => ({ pressureKpa, flowLph }))
    const bare: PumpSpec = { curves: [{ voltageV: 12, points }] }
    // 160 L/h x (0.285 + 2.7 x 300 / 3600) W / 12 V = 6.8 A
    expect(pumpOf(withUsualCurrent(bare)).currentA(300)).toBeCloseTo(6.8, 6)
    expect(pumpOf(withUsualCurrent(bare, { currentA: 8.5, pressureKpa: 300 })).currentA(300)).toBeCloseTo(8.5, 6)
    expect(withUsualCurrent(sheet)).toBe(sheet)
    // the stand-in classes state their own; the usual comes within a tenth of each
    for (const { spec } of genericPumps) {
      const [curve] = spec.curves
      const stated = curve.points.find((p) => p.pressureKpa === 300)!.currentA!
      const usual = pumpOf(
        withUsualCurrent({ curves: [{ ...curve, points: curve.points.map((p) => ({ ...p, currentA: undefined })) }] }),
      ).currentA(300)!
      expect(Math.abs(usual / stated - 1)).toBeLessThan(0.1)
    }
  })
  it('two curves at one voltage are refused by name, and where stored before they count as one', () => {
    const twice = { curves: [sheet.curves[0], { ...sheet.curves[0], voltageV: 12.4 }] }
    const refused = PumpSpec.safeParse(twice)
    expect(refused.error!.issues[0]).toMatchObject({ path: ['curves', 1, 'voltageV'], message: expect.stringContaining('12 V by 0.5 V') })
    expect(pumpOf({ curves: [sheet.curves[0], sheet.curves[0]] }).flowLph(300, 13.5)).toBeCloseTo((120 * 9.5) / 8, 9)
    expect(PumpSpec.safeParse({ curves: [sheet.curves[0], { ...sheet.curves[0], voltageV: 12.5 }] }).success).toBe(true)
  })
  it('gives nothing past the stall pressure, and has no current that its sheet does not state', () => {
    const { curves } = sheet
    const bare = pumpOf({
      curves: [{ ...curves[0], points: curves[0].points.map(({ pressureKpa, flowLph }) => ({ pressureKpa, flowLph })) }],
    })
    expect(bare.flowLph(501, 15)).toBe(0)
    expect(bare.currentA(300)).toBeNull()
  })
  it('ends soon after a last point that still has flow: nothing is known there', () => {
    const pump = pumpOf({
      curves: [
        {
          voltageV: 12,
          points: [
            { pressureKpa: 0, flowLph: 160 },
            { pressureKpa: 300, flowLph: 120 },
          ],
        },
      ],
    })
    expect(pump.flowLph(320, 12)).toBe(0)
    expect(pump.flowLph(301, 12)).toBeGreaterThan(0)
  })
  it('never gives more at more pressure or at less voltage (any curve)', () => {
    fc.assert(
      fc.property(
        fc.array(fc.tuple(fc.double({ min: 1, max: 80, noNaN: true }), fc.double({ min: 0, max: 60, noNaN: true })), {
          minLength: 1,
          maxLength: 8,
        }),
        fc.double({ min: 6, max: 15, noNaN: true }),
        (steps, volts) => {
          let p = 0
          let q = 300
          const points = [
            { pressureKpa: p, flowLph: q },
            ...steps.map(([dp, dq]) => ({ pressureKpa: (p += dp), flowLph: (q = Math.max(0, q - dq)) })),
          ]
          const pump = pumpOf({ curves: [{ voltageV: 12, points }] })
          for (let x = 0; x < p * 1.1; x += p / 40)
            if (
              pump.flowLph(x + p / 40, volts) > pump.flowLph(x, volts) + 1e-9 ||
              pump.flowLph(x, volts) > pump.flowLph(x, volts + 0.5) + 1e-9
            )
              return false
          return true
        },
      ),
    )
  })
})

describe('an element', () => {
  // by hand: 160 L/h in 8.7 mm is 0.7476 m/s; 4 elbows of K 0.9 at 745 kg/m3: 4 x 0.9 x 745 x 0.7476^2 / 2 = 749.5 Pa
  it('elbows take their coefficient times the dynamic pressure', () => {
    const elbows: FuelElement = { id: 'e', kind: 'fitting', fitting: 'elbow', boreMm: 8.7, count: 4, place: 'under' }
    expect(elementFlow(elbows, 160, { ...cool, densityKgM3: 745 }).dropKpa).toBeCloseTo(0.7495, 3)
  })
  it('a filter goes through its sheet’s point by the square of the flow, and by how clogged it is', () => {
    const filter: FuelElement = { id: 'f', kind: 'filter', micron: 10, dropKpa: 8, atLph: 200, body: 'metal', place: 'under' }
    expect(elementFlow(filter, 100, cool).dropKpa).toBeCloseTo(2, 9)
    expect(elementFlow(filter, 100, cool, 3).dropKpa).toBeCloseTo(6, 9)
  })
  it('takes nothing at rest', () => {
    for (const e of startingCircuit('return').feed!) expect(elementFlow(e, 0, cool).dropKpa).toBe(0)
  })
})

/** Volume at every node and pressure round every loop, recomputed from the answer alone. Returns the worst relative error. */
function worstImbalance(c: SolvableCircuit, s: FuelState, r: CircuitSolution): number {
  const kpaPerM = (s.fluid.densityKgM3 * G) / 1000
  const node = (id: string) => r.nodes.find((n) => n.id === id)!.gaugeKpa
  const drop = (section: SectionId) => r.branches.filter((b) => b.section === section).reduce((all, b) => all + b.dropKpa, 0)
  const returnless = c.layout === 'returnless'
  const source = hasSump(c.layout) ? 'sump' : 'tank'
  const sourceM = hasSump(c.layout) ? c.heights.sumpM : c.heights.fuelM
  const regulatorM = returnless ? c.heights.pumpM : c.heights.railM
  const scale = Math.max(100, Math.abs(r.railKpa))
  const errors = [
    (r.pumpFlowLph - r.useLph - r.returnLph) / Math.max(1, r.pumpFlowLph),
    (node(source) + kpaPerM * (sourceM - c.heights.pumpM) - drop('suction') - node('inlet')) / scale,
    (node('inlet') + r.pumpRiseKpa - node('outlet')) / scale,
    (node('outlet') - drop(returnless ? 'delivery' : 'feed') + kpaPerM * (c.heights.pumpM - regulatorM) - node('regulator')) / scale,
    returnless
      ? (node('regulator') - drop('feed') + kpaPerM * (regulatorM - c.heights.railM) - node('rail')) / scale
      : (node('regulator') - node('rail')) / scale,
    (node('regulator') - r.regulatorDropKpa - drop('return') + kpaPerM * (regulatorM - sourceM) - node(source)) / scale,
    (pumpOf(c.pump).flowLph(r.pumpRiseKpa, r.pumpV) - r.pumpFlowLph) / Math.max(1, r.pumpFlowLph),
  ]
  if (r.lift) {
    errors.push((r.lift.flowLph - r.lift.overflowLph - Math.min(r.lift.flowLph, s.useLph)) / Math.max(1, r.lift.flowLph))
    errors.push((c.tankGaugeKpa + kpaPerM * (c.heights.fuelM - c.heights.sumpM) + r.lift.riseKpa - drop('lift') - node('sump')) / scale)
  }
  for (const b of r.branches) {
    const element = c.sections[b.section]!.find((e) => e.id === b.elementId)!
    errors.push((elementFlow(element, b.flowLph, s.fluid, c.clogged).dropKpa - b.dropKpa) / scale)
  }
  return Math.max(...errors.map(Math.abs))
}

describe('circuit solver', () => {
  const num = (min: number, max: number) => fc.double({ min, max, noNaN: true })
  const anyCircuit = fc.record({
    layout: fc.constantFrom<FuelLayout>('return', 'returnless', 'lift-sump', 'surge-tank'),
    pump: fc.constantFrom(...genericPumps.map((p) => p.spec)),
    feedBore: num(4, 15),
    returnBore: num(3, 15),
    setKpa: num(50, 500),
    openDropKpa: num(1, 120),
    minReturnLph: num(5, 80),
    use: num(0, 260),
    volts: num(8, 15),
    reference: num(-70, 100),
    clogged: num(1, 8),
    fuelC: num(-10, 60),
    heights: fc.record({ fuelM: num(0, 1), pumpM: num(0, 1), sumpM: num(0, 1.2), railM: num(0, 1.5) }),
    tankGaugeKpa: num(-5, 10),
    lengthM: num(0.1, 12),
  })
  it('conserves volume and pressure to 1e-6 in any circuit and state', () => {
    const seen = new Set<string>()
    fc.assert(
      fc.property(anyCircuit, (a) => {
        const c = circuitOf(a.layout, { pump: a.pump, heights: a.heights, tankGaugeKpa: a.tankGaugeKpa, clogged: a.clogged })
        c.regulator = { ...c.regulator, setKpa: a.setKpa, openDropKpa: a.openDropKpa, minReturnLph: a.minReturnLph }
        c.sections.feed = withBore(c.sections.feed!, a.feedBore).map((e) => (e.kind === 'line' ? { ...e, lengthM: a.lengthM } : e))
        c.sections.return = withBore(c.sections.return!, a.returnBore)
        const s = state({ useLph: a.use, supplyV: a.volts, referenceKpa: a.reference, fluid: fluidAt('petrol', a.fuelC, 75) })
        const r = solveCircuit(c, s)
        seen.add(r.regulator)
        expect(worstImbalance(c, s, r)).toBeLessThan(1e-6)
        expect(r.returnLph).toBeGreaterThanOrEqual(-1e-9)
        // what each status says is so
        if (r.regulator === 'holding') expect(r.nodes.find((n) => n.id === 'regulator')!.gaugeKpa).toBeCloseTo(r.targetKpa, 4)
        if (r.regulator === 'closed') expect(r.returnLph).toBeCloseTo(0, 9)
        if (r.regulator === 'wide-open')
          expect(r.regulatorDropKpa).toBeCloseTo(a.openDropKpa * (r.returnLph / c.regulator.openAtLph) ** 2, 3)
        if (r.regulator === 'starved') expect(r.useLph).toBeLessThanOrEqual(r.wantedLph)
        expect(JSON.stringify(r)).not.toMatch(/NaN|null,"railKpa/)
      }),
      { numRuns: 600, seed: 4 },
    )
    expect([...seen].sort()).toEqual(['below-minimum', 'closed', 'holding', 'starved', 'wide-open'])
  })
  it('a regulator that holds keeps the injectors at its set pressure, less vacuum when it is referenced', () => {
    expect(solveCircuit(circuitOf('return'), state()).railKpa).toBeCloseTo(300, 6)
    const referenced = solveCircuit(circuitOf('return'), state({ referenceKpa: -60, outletKpa: -60 }))
    expect(referenced.railKpa).toBeCloseTo(240, 6)
    expect(referenced.injectorDropKpa).toBeCloseTo(300, 6)
  })
  it('returnless loses the feed’s drop at full use and none at prime', () => {
    const c = circuitOf('returnless', { heights: { fuelM: 0.5, pumpM: 0.5, sumpM: 0.5, railM: 0.5 } })
    expect(solveCircuit(c, state({ useLph: 0 })).railKpa).toBeCloseTo(300, 6)
    expect(solveCircuit(c, state({ useLph: 60 })).railKpa).toBeLessThan(300)
  })
  it('a thin return raises the floor, and each size up the table lowers it', () => {
    const floor = (boreMm: number) => {
      const c = circuitOf('return', { pump: genericPumps[2].spec })
      return returnFloorKpa(
        { ...c, sections: { ...c.sections, return: withBore(c.sections.return!, boreMm) } },
        state({ useLph: 2, supplyV: 14.5 }),
      ).floorKpa
    }
    expect(floor(3)).toBeGreaterThan(300)
    const floors = boreTable.map((b) => floor(b.boreMm))
    expect([...floors].sort((a, b) => b - a)).toEqual(floors)
  })
  it('a higher place has less air over the pump inlet, by just the difference of the barometers', () => {
    const low = solveCircuit(circuitOf('return'), state())
    const high = solveCircuit(circuitOf('return', { barometerKpa: 81 }), state())
    expect(low.inletMarginKpa - high.inletMarginKpa).toBeCloseTo(20, 6)
  })
  it('wiring takes volts by the current of the sheet, and flow with them', () => {
    const thick = solveCircuit(circuitOf('return', { wireOhm: 0 }), state())
    const thin = solveCircuit(circuitOf('return', { wireOhm: 0.2 }), state())
    expect(thin.pumpV).toBeCloseTo(14 - 0.2 * thin.pumpA!, 9)
    expect(thin.marginPct!).toBeLessThan(thick.marginPct!)
  })
  it('a pump that falls short: injectors pass by the square root of what is left, and pump and injectors agree', () => {
    // a straight pump 200 - 0.5 p, no losses: 200 - 0.5 p = 150 sqrt(p / 300) is 0.5 u^2 + 8.66 u - 200 = 0 with u = sqrt(p): u = 13.134, p = 172.5 kPa, 113.7 of 150 L/h
    const bare = circuitOf('return', {
      sections: { suction: [], feed: [], return: [] },
      pump: {
        curves: [
          {
            voltageV: 14,
            points: [
              { pressureKpa: 0, flowLph: 200 },
              { pressureKpa: 400, flowLph: 0 },
            ],
          },
        ],
      },
      heights: { fuelM: 0.5, pumpM: 0.5, sumpM: 0.5, railM: 0.5 },
      wireOhm: 0,
    })
    const r = solveCircuit(bare, state({ useLph: 150 }))
    expect(r.regulator).toBe('closed')
    expect(r.railKpa).toBeCloseTo(172.5, 1)
    expect(r.useLph).toBeCloseTo(150 * Math.sqrt(r.railKpa / 300), 6)
    expect(r.useLph).toBeCloseTo(200 - 0.5 * r.railKpa, 6)
    // spraying into 60 kPa of vacuum they pass more at the same rail
    const vacuum = solveCircuit(bare, state({ useLph: 150, outletKpa: -60 }))
    expect(vacuum.useLph).toBeCloseTo(150 * Math.sqrt((vacuum.railKpa + 60) / 360), 6)
  })
  it('a mechanical lift pump gives nothing while the engine stands, and by its strokes below its speed', () => {
    const at = (more: Partial<FuelState>) => solveCircuit(circuitOf('lift-sump'), state({ useLph: 0, ...more })).lift!
    expect(at({ id: 'prime' }).flowLph).toBe(0)
    expect(at({ liftShare: 0.25 }).flowLph).toBeLessThan(0.26 * 80)
    expect(at({}).flowLph).toBeGreaterThan(50)
  })
  it('what the lift does not bring comes out of the sump, and is counted', () => {
    const { lift, useLph } = solveCircuit(circuitOf('lift-sump'), state({ useLph: 120 }))
    expect(lift!.deficitLph).toBeCloseTo(120 - lift!.flowLph, 9)
    expect(lift!.flowLph + lift!.deficitLph).toBeCloseTo(useLph, 6)
    expect(solveCircuit(circuitOf('lift-sump'), state({ useLph: 20 })).lift!.deficitLph).toBe(0)
  })
  it('a sump is fed by the lift pump and gives back what is not drawn', () => {
    const r = solveCircuit(circuitOf('lift-sump'), state({ useLph: 20 }))
    expect(r.lift!.flowLph).toBeGreaterThan(20)
    expect(r.lift!.overflowLph).toBeCloseTo(r.lift!.flowLph - 20, 9)
    const thirsty = solveCircuit(circuitOf('lift-sump'), state({ useLph: 120 }))
    expect(thirsty.lift!.overflowLph).toBe(0)
    expect(thirsty.lift!.sumpKpa).toBe(0)
  })
  it('puts the pump’s watts into the tank by the share that returns', () => {
    const r = solveCircuit(circuitOf('return'), state({ useLph: 0 }))
    expect(r.heatW).toBeCloseTo(r.pumpA! * r.pumpV, 6)
    // 12 L at 742 kg/m3 and 2200 J/(kg K)
    expect(r.tankRiseKPerH).toBeCloseTo((r.heatW * 3600) / (12 * (cool.densityKgM3 / 1000) * 2200), 9)
  })
  it('labels each element with the pressure behind it: the last of the feed stands at the injectors', () => {
    const r = solveCircuit(circuitOf('return'), state({ useLph: 30 }))
    const feed = r.branches.filter((b) => b.section === 'feed')
    expect(feed.at(-1)!.afterKpa).toBeCloseTo(r.railKpa, 6)
    expect(r.branches.filter((b) => b.section === 'return').at(-1)!.afterKpa).toBeCloseTo(0, 6)
    expect(r.branches.filter((b) => b.section === 'suction').at(-1)!.afterKpa).toBeCloseTo(
      r.nodes.find((n) => n.id === 'inlet')!.gaugeKpa,
      0,
    )
  })
  it('the demand line passes through the working point while the regulator holds', () => {
    const c = circuitOf('return')
    const r = solveCircuit(c, state({ useLph: 30 }))
    expect(r.regulator).toBe('holding')
    expect(riseNeededKpa(c, state({ useLph: 30 }), r.pumpFlowLph)).toBeCloseTo(r.pumpRiseKpa, 6)
  })
  it('knows five states', () => expect(fuelStates.map((s) => s.id)).toEqual(['prime', 'idle', 'cruise', 'full', 'full-hot']))
})

describe('joints', () => {
  it('stand between every two things of the circuit, and name ends that do not match', () => {
    const fuel = startingCircuit('return')
    const joints = jointsOf(fuel)
    expect(joints).toHaveLength(fuel.suction!.length + fuel.feed!.length + fuel.return!.length + 3)
    expect(new Set(joints.map((j) => j.id)).size).toBe(joints.length)
    expect(joints[0].label).toBe('tank to strainer')
    const wrong = {
      ...fuel,
      feed: [
        { ...fuel.feed![2], ends: 'flare' as const },
        { ...fuel.feed![4], ends: 'push-on' as const },
      ],
    }
    expect(jointsOf(wrong).some((j) => j.mismatch?.join() === 'flare,push-on')).toBe(true)
  })
})

describe('bleed-down', () => {
  const reading = { at0Kpa: 300, at1Kpa: 240, at5Kpa: 150, at10Kpa: 90, pinch: 'not-tried' as const }
  it('reads a returnless system by its own hoses', () => {
    const falls = { ...reading, at10Kpa: 30 }
    expect(bleedDown({ ...falls, pinch: 'feed-holds' }, 'returnless')).toMatchObject({ cause: 'regulator' })
    expect(bleedDown({ ...falls, pinch: 'feed-holds' }, 'return')).toMatchObject({ cause: 'check-valve' })
    expect(bleedDown({ ...falls, pinch: 'not-tried' }, 'returnless').remedy).not.toContain('return hose')
  })
  it('holds when most of the pressure stands', () => expect(bleedDown({ ...reading, at10Kpa: 250 }).cause).toBe('holds'))
  it.each([
    ['feed-holds', 'check-valve'],
    ['return-holds', 'regulator'],
    ['neither-holds', 'injector'],
    ['not-tried', 'unknown'],
  ] as const)('with pinch test %s it points to the %s', (pinch, cause) => expect(bleedDown({ ...reading, pinch }).cause).toBe(cause))
})

it('volts lost on the way to the pump: 13.6 V at the battery, 12.9 V at the pump', () =>
  expect(lostToPumpV({ supplyV: 13.6, atPumpV: 12.9 })).toBeCloseTo(0.7, 9))
