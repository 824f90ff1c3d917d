import { describe, expect, it } from 'vitest'
import { evaluate } from '../judge/judgement.ts'
import { severityOf, soundBuild } from '../judge/made-up.fixture.ts'
import { camClassFromIdleMap, camClassFromOverlap } from './cam.ts'

/** Both sides of each limit; the numbers are those of handbook 01 and of workshop practice, written by hand. */
describe('limits of Survey', () => {
  it.each([
    ['compression 15 % apart', { health: { compressionKpa: [1000, 1000, 1000, 1000, 1000, 851] } }, null],
    ['compression over 15 % apart', { health: { compressionKpa: [1000, 1000, 1000, 1000, 1000, 849] } }, 'warn'],
    ['leak-down 20 %', { health: { leakDownPct: [8, 8, 20, 8, 8, 8] } }, null],
    ['leak-down 20.1 %', { health: { leakDownPct: [8, 8, 20.1, 8, 8, 8] } }, 'warn'],
    ['shaft play 0.1 mm', { health: { shaftPlayMm: 0.1 } }, null],
    ['shaft play 0.11 mm', { health: { shaftPlayMm: 0.11 } }, 'warn'],
  ])('%s', (_what, facts, severity) => expect(severityOf('survey.health', { facts })).toBe(severity))
  // 86 x 91 mm x 6: pi/4 x 86^2 x 91 x 6 = 3171.6 cc
  it.each([
    [3203, null],
    [3204, 'warn'],
    [3140, null],
    [3139, 'warn'],
  ])('%d cc against 3171.6 cc of bore and stroke', (displacementCc, severity) =>
    expect(severityOf('survey.displacement', { facts: { engine: { boreMm: 86, strokeMm: 91, displacementCc } } })).toBe(severity),
  )
  it.each([
    [{ crankingV: 9.4 }, 'warn'],
    [{ crankingV: 9.5 }, null],
    [{ restV: 12.1 }, 'warn'],
    [{ restV: 12.2 }, null],
  ])('battery %o', (electrics, severity) => expect(severityOf('survey.battery', { facts: { electrics } })).toBe(severity))
  // 205/70R15: (381 + 287) mm x 3.05 = 2.0374 m
  it.each([
    [2.118, null],
    [2.12, 'warn'],
    [1.957, null],
    [1.955, 'warn'],
  ])('circumference %d m against 2.037 m of the size', (tyreCircumferenceM, severity) =>
    expect(severityOf('survey.tyre', { facts: { gearing: { tyreSize: '205/70R15', tyreCircumferenceM } } })).toBe(severity),
  )
  it.each([
    [39.9, 'stock'],
    [40, 'mild'],
    [50, 'mild'],
    [50.1, 'hot'],
    [62, 'hot'],
    [62.1, 'wild'],
  ])('an idle at %d kPa is of a %s cam', (mapKpa, cam) => expect(camClassFromIdleMap(mapKpa)).toBe(cam))
  it.each([
    [-10.1, 'stock'],
    [-10, 'mild'],
    [4.9, 'mild'],
    [5, 'hot'],
    [24.9, 'hot'],
    [25, 'wild'],
  ])('%d degrees of overlap is a %s cam', (overlap, cam) => expect(camClassFromOverlap(overlap)).toBe(cam))

  const severity = (id: string) => (facts: object) => severityOf(id, { facts })
  it.each([
    [{ restV: 6.3, crankingV: 5.1 }, 'stop', null],
    [{ restV: 7.9 }, 'stop', null],
    [{ restV: 8.1 }, null, 'warn'],
    [{ crankingV: 5.9 }, 'stop', null],
    [{ crankingV: 6.1 }, null, 'warn'],
    [{ restV: 12.6, crankingV: 5.5 }, null, null],
  ])('%o: a 6 V system %s, a battery to charge %s', (electrics, six, charge) => {
    expect(severity('survey.six-volt')({ electrics })).toBe(six)
    if (six) expect(severity('survey.battery')({ electrics })).toBe(charge)
  })
  it.each([
    [[0, 0, 0, 0, 0, 0], 'warn'],
    [[400, 400, 400, 400, 400, 400], 'warn'],
    [[599, 580, 590, 599, 585, 590], 'warn'],
    [[601, 580, 590, 599, 585, 590], null],
  ])('compression %o', (compressionKpa, severe) => expect(severity('survey.no-compression')({ health: { compressionKpa } })).toBe(severe))
  // standard air at 2,500 m is 74.7 kPa, at 0 m 101.3
  it.each([
    [2500, 101.3, 'warn'],
    [2500, 79.6, null],
    [2500, 79.8, 'warn'],
    [0, 96.4, null],
    [0, 96.2, 'warn'],
  ])('%d m and %d kPa', (altitudeM, barometerKpa, severe) =>
    expect(severity('survey.barometer')({ place: { altitudeM, barometerKpa } })).toBe(severe),
  )
  const engine = (displacementCc: number, more: object) => ({ engine: { displacementCc, boreMm: null, strokeMm: null, ...more } })
  it.each([
    [5000, 9, 0, 'warn'],
    [5000, 41, 0, null],
    [1300, 500, 0, 'warn'],
    [1000, 119, 0, null],
    [1000, 121, 0, 'warn'],
    [1000, 200, 100, null],
  ])('%d cc, %d kW, %d kPa of boost', (displacementCc, powerKw, boostKpa, severe) =>
    expect(
      severity('survey.power-size')({
        ...engine(displacementCc, { powerKw }),
        induction: { kind: boostKpa ? 'blow-through' : 'natural', boostKpa },
      }),
    ).toBe(severe),
  )
  it.each([
    [1200, 12, 'warn'],
    [1464, 12, null],
    [1416, 12, 'warn'],
    [4560, 4, null],
    [4640, 4, 'warn'],
  ])('%d cc in %d cylinders', (displacementCc, cylinders, severe) =>
    expect(severity('survey.cylinder-size')(engine(displacementCc, { cylinders }))).toBe(severe),
  )
  // 84 + 4.7 (r - 7): 91.1 RON at 8.5, 98.1 at 10, 126.3 at 16
  it.each([
    [16, 80, 'warn'],
    [10, 91, null],
    [10, 90, 'warn'],
    [8.5, 84, null],
    [8.5, 83, 'warn'],
  ])('%d to 1 on %d RON', (compressionRatio, octaneRon, severe) =>
    expect(severity('survey.octane')({ engine: { compressionRatio }, fuel: { octaneRon } })).toBe(severe),
  )
  it.each([
    [101, 'warn'],
    [88.5, 'warn'],
    [87.5, null],
  ])('%d kPa of vacuum under 100 kPa of air', (idleVacuumKpa, severe) =>
    expect(severity('survey.vacuum')({ cam: { idleVacuumKpa }, place: { barometerKpa: 100 } })).toBe(severe),
  )
  // 8 kW a litre of 3.18 L is 25.4 kW, 120 is 381.6
  it.each([
    [25, 'warn'],
    [26, null],
    [381, null],
    [382, 'warn'],
  ])('%d kW from 3.18 litres', (powerKw, severity) =>
    expect(severityOf('survey.power-size', { facts: { engine: { powerKw } } })).toBe(severity),
  )
  it.each([
    [1000, null],
    [1010, 'note'],
  ])('a merge %d mm from the head', (mergeMm, severity) =>
    expect(severityOf('survey.merge', { facts: { exhaust: { mergeMm } } })).toBe(severity),
  )
  it('the gas of an idle runs 15 m/s: 1.5 m take 0.1 s', () => {
    const found = evaluate(soundBuild({ facts: { exhaust: { mergeMm: 1500 } } })).stations[0].findings.find((f) => f.id === 'survey.merge')!
    expect(found.because).toContain('about 0.1 s')
  })
})
