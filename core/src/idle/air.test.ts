import { describe, expect, it } from 'vitest'
import { demoBuild } from '../bench/demo-build.fixture.ts'
import { computeBaseTune, type TuneDocument } from '../tune/index.ts'
import { airBalance, airGps, holeMm2, type IdlePoint } from './air.ts'
import { screwByPlate, screwByValve } from './screw.ts'

/** A tune whose VE is 50 % everywhere, 2 litres, so that sums can be done by hand. */
function flat(): TuneDocument {
  const b = demoBuild('1-lowland.json')
  const tune = computeBaseTune(b.facts, b.choices)
  return {
    ...tune,
    tables: { ...tune.tables, ve: tune.tables.ve.map(() => 50) },
    parameters: { ...tune.parameters, displacementCc: 2000, cylinders: 4, barometerKpa: 101.3, chargeHeatShare: 0 },
  }
}
const look = (more: Partial<IdlePoint>): IdlePoint => ({
  rpm: 800,
  mapKpa: 40,
  valvePct: 20,
  blocked: false,
  turns: 0,
  screwShut: false,
  airC: 20,
  coolantC: 85,
  ...more,
})

describe('air of an idle', () => {
  it('is speed density', () => {
    // 2 l/1000 x 0.5 x 40000 / (287.05 x 293.15) = 0.0004753 kg in two turns; x 800/120 = 3.169 g/s
    expect(airGps(flat(), look({}))).toBeCloseTo(3.169, 2)
  })
  it('as one sharp hole: choked at 40 kPa', () => {
    // 101300 / sqrt(287.05 x 293.15) x 0.6847 = 239.1 kg/s m2; 3.169 g/s: 13.25 mm2
    expect(holeMm2(3.169, 40, 101.3, 20)).toBeCloseTo(13.25, 1)
    // under the critical ratio the pressure behind does not matter
    expect(holeMm2(3.169, 30, 101.3, 20)).toBeCloseTo(13.25, 1)
  })
})

/** Looks of a car made by hand: 2 mm2 leak, plate 6 mm2 and 4 a turn, valve 0.25 a percent; speed follows the hole at 40 kPa. */
function made(looks: Partial<IdlePoint>[]): IdlePoint[] {
  const per800 = holeMm2(airGps(flat(), look({})), 40, 101.3, 20)
  return looks.map((more) => {
    const p = look(more)
    const mm2 = 2 + (p.screwShut ? 0 : 6 + 4 * p.turns) + (p.blocked ? 0 : 0.25 * p.valvePct)
    return { ...p, rpm: (800 * mm2) / per800 }
  })
}
describe('where the air comes from', () => {
  const tune = flat()
  it('is not parted by one look', () => {
    const a = airBalance(tune, made([{}]), 800, 40)
    expect(a.totalMm2).toBeCloseTo(13, 1)
    expect(a).toMatchObject({ valveMm2: null, plateMm2: null, leakMm2: null })
    expect(a.wants).toMatch(/blocked/)
  })
  it('a look with the port blocked parts the valve from the rest', () => {
    const a = airBalance(tune, made([{ blocked: true }, {}]), 800, 40)
    expect(a.valveMm2).toBeCloseTo(5, 1)
    expect(a.plateMm2).toBeCloseTo(8, 1)
    expect(a.wants).toMatch(/screw all the way shut/)
  })
  it('screw out and port blocked leaves the leak', () => {
    const a = airBalance(tune, made([{ blocked: true }, { blocked: true, screwShut: true }, {}]), 800, 40)
    expect(a.leakMm2).toBeCloseTo(2, 1)
    expect(a.valveMm2).toBeCloseTo(5, 1)
    expect(a.plateMm2).toBeCloseTo(6, 1)
    expect(a.wants).toBeNull()
  })
  it('turns and valve together give what each passes', () => {
    const a = airBalance(tune, made([{}, { turns: 0.5, valvePct: 12 }, { turns: 1, valvePct: 2 }, { turns: 0.5, valvePct: 30 }]), 800, 40)
    expect(a.screwMm2PerTurn).toBeCloseTo(4, 1)
    expect(a.valveMm2PerPct).toBeCloseTo(0.25, 2)
    expect(a.scatterMm2!).toBeLessThan(0.05)
  })
  it('looks at one held speed are one hole, and part nothing', () => {
    // half a turn for eight percent of valve: the same 13 mm2
    const held = made([{}, { turns: 0.5, valvePct: 12 }])
    expect(airBalance(tune, held, 800, 40)).toMatchObject({ valveMm2PerPct: null, screwMm2PerTurn: null, valveMm2: null })
    expect(airBalance(tune, [...held, ...made([{ turns: 0.5, valvePct: 12, blocked: true }])], 800, 40).valveMm2PerPct).toBeCloseTo(0.25, 2)
  })
  it('what it wants is read where it idles at its target, else from the tune', () => {
    expect(airBalance(tune, [look({ rpm: 810 })], 800, 45).neededMm2).toBeCloseTo(13.4, 1)
    // 1200 rpm is no look at 800: by the tune at 45 kPa, 45/40 of 13.25
    expect(airBalance(tune, [look({ rpm: 1200 })], 800, 45).neededMm2).toBeCloseTo(14.9, 1)
  })
  it('wants a look at all', () => expect(() => airBalance(tune, [], 800, 40)).toThrow(/speed, valve and pressure/))
})

describe('procedure B: turns by the valve', () => {
  it('one look tells the direction, a quarter turn', () => {
    expect(screwByValve([look({ valvePct: 40 })], 800)).toMatchObject({ turns: 0.25, sigmaTurns: null })
    expect(screwByValve([look({ valvePct: 1 })], 800)).toMatchObject({ turns: -0.25 })
    // too fast: whatever the valve shows, air is taken away
    expect(screwByValve([look({ valvePct: 40, rpm: 1200 })], 800)).toMatchObject({ turns: -0.25 })
  })
  it('two looks tell how far: 40 % at none, 30 % at a quarter turn, 6.5 % wanted', () => {
    const advice = screwByValve([look({ valvePct: 40 }), look({ valvePct: 30, turns: 0.25 })], 800)!
    // 40 % a turn: (30 - 6.5) / 40 = 0.59 turns more
    expect(advice.valvePctPerTurn).toBeCloseTo(-40, 5)
    expect(advice.turns).toBeCloseTo(0.6, 5)
    expect(advice.sigmaTurns!).toBeGreaterThan(0.03)
    expect(advice.sigmaTurns!).toBeLessThan(0.25)
  })
  it('a look with the fan on is one at its own target', () => {
    const looks = [look({ valvePct: 40, rpm: 855 }), look({ valvePct: 30, turns: 0.25 })]
    expect(screwByValve(looks, 800)!.valvePctPerTurn).toBeNull()
    expect(screwByValve(looks, 800, [3, 10], [50])!.valvePctPerTurn).toBeCloseTo(-40, 5)
  })
  it('in the band there is nothing to turn, and just outside there is', () => {
    expect(screwByValve([look({ valvePct: 3 })], 800)!.turns).toBe(0)
    expect(screwByValve([look({ valvePct: 10 })], 800)!.turns).toBe(0)
    expect(screwByValve([look({ valvePct: 10.1 })], 800)!.turns).toBe(0.25)
    expect(screwByValve([look({ valvePct: 2.9 })], 800)!.turns).toBe(-0.25)
  })
  it('a valve that opens with the screw is refused, not believed', () => {
    const advice = screwByValve([look({ valvePct: 20 }), look({ valvePct: 30, turns: 0.25 })], 800)!
    expect(advice.turns).toBe(0)
    expect(advice.refused).toMatch(/wrong way/)
  })
  it('turns no further than one and a half at once', () => {
    const advice = screwByValve([look({ valvePct: 90 }), look({ valvePct: 88, turns: 0.25 })], 800)!
    expect(advice.turns).toBe(1.5)
  })
})

describe('procedure A: the plate alone', () => {
  it.each([
    // 85 % of 800 is 680, within 25
    [680, null],
    [704, null],
    [706, 'shut'],
    [654, 'open'],
  ])('%d rpm', (rpm, turn) => expect(screwByPlate(rpm, 800)).toMatchObject({ turn, wantedRpm: 680 }))
})
