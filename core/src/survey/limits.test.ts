import { describe, expect, it } from 'vitest'
import { severityOf } from '../judge/made-up.fixture.ts'
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
})
