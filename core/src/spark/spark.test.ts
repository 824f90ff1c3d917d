import fc from 'fast-check'
import { describe, expect, it } from 'vitest'
import { frictionFactor } from '../fuel/line-drop.ts'
import { fitTiming } from './fit-timing.ts'
import { alignAfterCapTurn, coilMap, firingAngles, rotorAngleDeg, towers } from './geometry.ts'
import { rotorPhase } from './rotor-phase.ts'
import { judgeTiming } from './timing-fixes.ts'

const order = [1, 5, 3, 6, 2, 4]
const permutation = fc.integer({ min: 2, max: 12 }).chain((n) =>
  fc.shuffledSubarray(
    Array.from({ length: n }, (_, i) => i + 1),
    { minLength: n, maxLength: n },
  ),
)
const see = (commandedDeg: number, refErr: number, delayErr: number, rpm: number) => commandedDeg + refErr - 6e-6 * rpm * delayErr

describe('the timing fit', () => {
  it('a pulse 3° early with 100 µs too little compensation, read at 1,000 and 3,000 rpm by hand: 3 - 0.6 and 3 - 1.8', () => {
    const fit = fitTiming.run({
      commandedDeg: 15,
      readings: [
        { rpm: 1000, observedDeg: 17.4 },
        { rpm: 3000, observedDeg: 16.2 },
      ],
    })
    expect(fit.referenceErrorDeg).toBeCloseTo(3, 9)
    expect(fit.delayErrorUs).toBeCloseTo(100, 6)
  })

  it('set as suggested and read again, nothing is left', () => {
    fc.assert(
      fc.property(fc.double({ min: -6, max: 6, noNaN: true }), fc.double({ min: -150, max: 300, noNaN: true }), (refErr, delayErr) => {
        const speeds = [850, 2000, 3200]
        const verdict = judgeTiming({
          commandedDeg: 0,
          readings: speeds.map((rpm) => ({ rpm, observedDeg: see(0, refErr, delayErr, rpm) })),
          referenceDeg: 55,
          delayUs: 200,
          rotation: 'clockwise',
          hasDistributor: true,
          maxRpm: 4000,
        })
        const left = fitTiming.run({
          commandedDeg: 0,
          readings: speeds.map((rpm) => ({
            rpm,
            observedDeg: see(0, refErr - (verdict.newReferenceDeg! - 55), delayErr - (verdict.newDelayUs! - 200), rpm),
          })),
        })
        return Math.abs(left.referenceErrorDeg) < 1e-6 && Math.abs(left.delayErrorUs!) < 1e-3
      }),
    )
  })

  it('one bad reading among five does not pull it', () => {
    const readings = [850, 1500, 2200, 2900, 3600].map((rpm) => ({ rpm, observedDeg: see(10, 2, 80, rpm) }))
    readings[2].observedDeg += 9
    const fit = fitTiming.run({ commandedDeg: 10, readings })
    expect(Math.abs(fit.referenceErrorDeg - 2)).toBeLessThan(1)
  })

  it('one speed tells the reference error and leaves the delay unknown', () => {
    expect(fitTiming.run({ commandedDeg: 10, readings: [{ rpm: 800, observedDeg: 12 }] })).toMatchObject({
      referenceErrorDeg: 2,
      delayErrorUs: null,
    })
  })

  it.each([
    ['clockwise', 4, 'with', 'clockwise'],
    ['clockwise', -4, 'against', 'anticlockwise'],
    ['anticlockwise', 4, 'with', 'anticlockwise'],
  ] as const)('rotor %s, error %d°: turn %s the rotor, %s, by half', (rotation, refErr, way, turn) => {
    const { fixes } = judgeTiming({
      commandedDeg: 0,
      readings: [{ rpm: 900, observedDeg: refErr }],
      referenceDeg: 50,
      delayUs: 0,
      rotation,
      hasDistributor: true,
      maxRpm: 4000,
    })
    const fix = fixes.find((f) => f.id === 'turn-distributor')!
    expect(fix.title).toContain(`2.0° ${way} the rotor (${turn})`)
    expect(fix.movesAlignDeg).toBe(-refErr)
    expect(fixes.find((f) => f.id === 'change-reference')!.movesAlignDeg).toBe(0)
  })

  it('readings that scatter at one speed are a reading problem and nothing is to be adjusted', () => {
    const verdict = judgeTiming({
      commandedDeg: 0,
      readings: [
        { rpm: 900, observedDeg: 1 },
        { rpm: 905, observedDeg: 4 },
        { rpm: 3000, observedDeg: 2 },
      ],
      referenceDeg: 50,
      delayUs: 0,
      rotation: 'clockwise',
      hasDistributor: true,
      maxRpm: 4000,
    })
    expect(verdict.mistake?.kind).toBe('scatter')
    expect(verdict.fixes).toEqual([])
    expect(verdict.newReferenceDeg).toBeNull()
  })

  it('timing that rises and then flattens is weights still moving, never a delay', () => {
    const verdict = judgeTiming({
      commandedDeg: 0,
      readings: [
        { rpm: 800, observedDeg: 0 },
        { rpm: 1500, observedDeg: 6 },
        { rpm: 2200, observedDeg: 12 },
        { rpm: 3000, observedDeg: 12 },
        { rpm: 3800, observedDeg: 12 },
      ],
      referenceDeg: 50,
      delayUs: 0,
      rotation: 'clockwise',
      hasDistributor: true,
      maxRpm: 4000,
    })
    expect(verdict.mistake?.kind).toBe('advance-moves')
  })

  it('asks for more readings until the answer is good enough, at the speed that helps most', () => {
    const two = judgeTiming({
      commandedDeg: 0,
      readings: [
        { rpm: 850, observedDeg: 0 },
        { rpm: 1100, observedDeg: 0 },
      ],
      referenceDeg: 50,
      delayUs: 0,
      rotation: 'clockwise',
      hasDistributor: true,
      maxRpm: 4000,
    })
    expect(two.enough).toBe(false)
    expect(two.nextRpm).toBeGreaterThan(2500)
  })
})

describe('geometry', () => {
  it('coil map and towers are a permutation of the cylinders for any order, both ways of numbering', () => {
    fc.assert(
      fc.property(
        permutation,
        fc.constantFrom('by-cylinder' as const, 'by-firing-order' as const),
        fc.constantFrom('clockwise' as const, 'anticlockwise' as const),
        (firing, by, rotation) => {
          const sorted = [...firing].sort((a, b) => a - b).join()
          const channels = coilMap(firing, by)
          const partners = channels.map((c) => c.partner)
          const mutual =
            firing.length % 2 === 1
              ? partners.every((p) => p === null)
              : channels.every((c) => channels.find((d) => d.cylinder === c.partner)!.partner === c.cylinder)
          return (
            channels
              .map((c) => c.cylinder)
              .sort((a, b) => a - b)
              .join() === sorted &&
            towers(firing, rotation)
              .map((t) => t.cylinder)
              .sort((a, b) => a - b)
              .join() === sorted &&
            mutual
          )
        },
      ),
    )
  })

  it('the paired partner of 1 in 1-5-3-6-2-4 is 6, three places on', () =>
    expect(coilMap(order, 'by-cylinder')[0]).toEqual({ channel: 1, cylinder: 1, partner: 6 }))

  it('fires evenly over 720 degrees', () => expect(firingAngles(order).map((a) => a.deg)).toEqual([0, 120, 240, 360, 480, 600]))

  it('the rotor is under tower one at its alignment angle, and half as many degrees before it as the crank is early', () => {
    expect(rotorAngleDeg(24, 24, 'clockwise', 330)).toBe(330)
    expect(rotorAngleDeg(40, 24, 'clockwise', 330)).toBe(322)
    expect(rotorAngleDeg(40, 24, 'anticlockwise', 330)).toBe(338)
  })

  it('turning the cap moves the alignment by twice as many crank degrees, later when turned with the rotor', () => {
    expect(alignAfterCapTurn(20, 5, 'clockwise')).toBe(10)
    expect(alignAfterCapTurn(20, 5, 'anticlockwise')).toBe(30)
    // the rotor stands still while the cap turns: tower one moved 5 degrees, so must the difference between both
    expect(rotorAngleDeg(20, alignAfterCapTurn(20, 5, 'clockwise'), 'clockwise', 5)).toBe(rotorAngleDeg(20, 20, 'clockwise', 0))
  })

  it('offsets at both ends are equal and opposite at the best alignment', () => {
    fc.assert(
      fc.property(
        fc.integer({ min: 0, max: 15 }),
        fc.integer({ min: 25, max: 50 }),
        fc.constantFrom(4, 6, 8),
        (minAdvanceDeg, maxAdvanceDeg, cylinders) => {
          const base = { minAdvanceDeg, maxAdvanceDeg, cylinders, rotorRadiusMm: 25, tipWidthMm: 6, terminalWidthMm: 5 }
          const best = rotorPhase.run({ ...base, alignDegBtdc: 0 }).bestAlignDegBtdc
          const at = rotorPhase.run({ ...base, alignDegBtdc: best })
          return (
            Math.abs(at.offsetAtMinDistDeg + at.offsetAtMaxDistDeg) < 1e-9 &&
            [best - 3, best + 3].every((a) => rotorPhase.run({ ...base, alignDegBtdc: a }).overlapDistDeg < at.overlapDistDeg)
          )
        },
      ),
    )
  })
})

describe('fuel line friction', () => {
  it('is 64/Re when laminar and falls with Reynolds number when turbulent', () => {
    expect(frictionFactor(1000, 0.001)).toBeCloseTo(0.064, 9)
    expect(frictionFactor(1e4, 0.0001)).toBeGreaterThan(frictionFactor(1e5, 0.0001))
  })
})
