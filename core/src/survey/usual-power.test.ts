import { describe, expect, it } from 'vitest'
import { severityOf } from '../judge/made-up.fixture.ts'
import { wordsOf } from '../kernel/index.ts'
import { resolveFacts } from './resolve.ts'

const of = (engine: object, more: object = {}) => resolveFacts({ facts: { engine, ...more } as never })

describe('power that nobody knows', () => {
  // 41 kW x litres^0.57 from a litre up, 41 kW a litre below it; by hand
  it.each([
    [14.1, 'stock', 0.6], // 41 x 0.0141 = 0.58: never zero, for nothing can be sized by it
    [250, 'mild', 12], // 41 x 0.25 x 1.2 = 12.3
    [999, 'stock', 41], // 40.96
    [1275, 'stock', 47], // 41 x 1.1485
    [3180, 'stock', 79], // 41 x 1.9337 = 79.3
    [3180, 'wild', 143], // x 1.8 = 142.7
    [5000, 'stock', 103], // 41 x 2.5026 = 102.6
  ] as const)('%d cc with a %s cam is taken as %d kW', (displacementCc, camClass, kw) =>
    expect(of({ cylinders: 4, displacementCc }, { cam: { class: camClass } }).powerKw).toBe(kw),
  )
  it('compression and a second carburettor raise it', () => {
    // (1 - 10^-0.3) / (1 - 8.5^-0.3) = 0.4988 / 0.4738 = 1.053: 79.3 x 1.053 = 83.5
    expect(of({ cylinders: 6, displacementCc: 3180, compressionRatio: 10 }).powerKw).toBe(83)
    // 79.3 x 1.1 = 87.2
    expect(of({ cylinders: 6, displacementCc: 3180 }, { fuel: { carburettors: 2 } }).powerKw).toBe(87)
    expect(of({ cylinders: 6, displacementCc: 3180 }, { fuel: { carburettors: 1 } }).powerKw).toBe(79)
  })
  // 100 kPa over 100 kPa: 298.15 K x (2^0.2857 - 1) / 0.65 = 100.4 K warmer, 2 x 298.15 / 398.6 = 1.496; cooled to 40 % of that: 1.763
  it.each([
    [{ boostKpa: 100 }, 119], // 79.3 x 1.496 = 118.6
    [{ boostKpa: 100, kind: 'draw-through' }, 119],
    [{ boostKpa: 100, kind: 'natural' }, 119],
    [{ boostKpa: 100, intercooler: true }, 140], // 79.3 x 1.763 = 139.8
    // the belt takes 0.00115 kg/s x 1.005 kJ/kgK x 100.4 K = 11.6 % of it
    [{ boostKpa: 100, drive: 'belt' }, 105],
    [{ boostKpa: 0 }, 79],
  ])('boost multiplies it: %j makes %d kW', (induction, kw) =>
    expect(of({ cylinders: 6, displacementCc: 3180 }, { induction, place: { barometerKpa: 100 } }).powerKw).toBe(kw),
  )
  it('pump and injectors are sized for what nine in ten stay under; a told power has no spread', () => {
    const usual = of({ cylinders: 6, displacementCc: 3180 })
    expect(usual.powerSpread).toBe(0.17)
    // 79 kW x (1 + 1.2816 x 0.17) = 96.2
    expect(usual.sizing).toEqual({ pumpKw: expect.closeTo(96.2, 1), injectorKw: expect.closeTo(96.2, 1) })
    const told = of({ cylinders: 6, displacementCc: 3180, powerKw: 96 })
    expect([told.powerSpread, told.sizing]).toEqual([0, { pumpKw: 96, injectorKw: 96 }])
    // a changed cam and a blower each widen it: sqrt(0.17^2 + 0.14^2) and sqrt(0.17^2 + 2 x 0.14^2)
    expect(of({ displacementCc: 3180 }, { cam: { class: 'hot' } }).powerSpread).toBeCloseTo(0.2202, 4)
    expect(of({ displacementCc: 3180 }, { cam: { class: 'hot' }, induction: { boostKpa: 40 } }).powerSpread).toBeCloseTo(0.261, 4)
  })
  it('a power that somebody estimated has a spread of a tenth; one of dyno or papers has none', () => {
    const of96 = (powerSource: string) => of({ displacementCc: 3180, powerKw: 96, powerSource })
    // 96 x (1 + 1.2816 x 0.1) = 108.3
    expect([of96('estimate').powerSpread, of96('estimate').sizing!.pumpKw]).toEqual([0.1, expect.closeTo(108.3, 1)])
    expect([of96('dyno').powerSpread, of96('maker').powerSpread]).toEqual([0, 0])
  })
  it('the spread stands beside the value', () => {
    const a = of({ cylinders: 6, displacementCc: 3180 }).assumptions.find((x) => x.path === 'engine.powerKw')!
    expect(wordsOf(a.value)).toBe('79 kW')
    expect(a.reason).toContain('give or take 17 %; pump and injectors are sized for 22 % more')
  })
  it('nitrous draws on the pump, and on the injectors unless it has nozzles of its own', () => {
    const shot = (more: object) =>
      of({ displacementCc: 3180, powerKw: 96 }, { induction: { nitrous: true, nitrousKw: 50, ...more } }).sizing
    expect(shot({})).toEqual({ pumpKw: 146, injectorKw: 146 })
    expect(shot({ nitrousFuel: 'nozzles' })).toEqual({ pumpKw: 146, injectorKw: 96 })
    expect(shot({ nitrous: false })).toEqual({ pumpKw: 96, injectorKw: 96 })
  })
})

describe('boost and nitrous that contradict or are half told', () => {
  it.each([
    ['survey.boost-place', { kind: 'natural', boostKpa: 40 }, 'warn'],
    ['survey.boost-place', { kind: 'natural', boostKpa: 0 }, null],
    ['survey.boost-place', { kind: 'draw-through', boostKpa: 40 }, null],
    ['survey.nitrous', { nitrous: true }, 'warn'],
    ['survey.nitrous', { nitrous: true, nitrousKw: 40 }, null],
  ])('%s with %j', (id, induction, severity) => expect(severityOf(id, { facts: { induction } })).toBe(severity))
  it('boost alone asks for the place of the blower', () =>
    expect(severityOf('survey.boost-place', { facts: { induction: { kind: null, boostKpa: 40 } } })).toBe('warn'))
})
