import { describe, expect, it } from 'vitest'
import { lightCases, scoreLight } from '../../score/light.ts'
import { contextOf, evaluate } from '../judge/judgement.ts'
import { madeReading, soundBuild } from '../judge/made-up.fixture.ts'
import { fitTiming } from './fit-timing.ts'
import { currentTiming } from './timing.ts'
import { judgeTiming, wrongWayChance } from './timing-fixes.ts'

describe('how sure a fit of the light is', () => {
  // 200 trials of each way; 92 to 98 % wanted, less what 200 trials scatter by (2 x sqrt(0.05 x 0.95 / 200) = 3 %)
  it.each(lightCases.map((c) => [c.name, c] as const))('%s: the truth lies inside two sigma', (_name, c) => {
    const s = scoreLight(c, 200, 1)
    for (const part of [s.reference, s.delay]) {
      expect(part.insidePct).toBeGreaterThanOrEqual(89)
      expect(part.ratio).toBeGreaterThan(0.8)
      expect(part.ratio).toBeLessThan(1.25)
    }
    expect(s.wrongLeftOutPct).toBeLessThan(2)
  })
  it('zero mark and latency are added as they stand: no reading makes them smaller', () => {
    const readings = Array.from({ length: 40 }, (_, i) => ({ rpm: i % 2 ? 1000 : 3500, observedDeg: 15 + (i % 4 ? 0.1 : -0.1) }))
    const bare = fitTiming.run({ commandedDeg: 15, readings })
    const known = fitTiming.run({ commandedDeg: 15, readings, zeroSigmaDeg: 1, latencySigmaUs: 60 })
    expect(known.referenceErrorSeDeg).toBeCloseTo(Math.hypot(1, bare.referenceErrorSeDeg), 9)
    expect(known.delayErrorSeUs!).toBeCloseTo(Math.hypot(60, bare.delayErrorSeUs!), 9)
  })
})

describe('readings that are no readings', () => {
  const ask = { commandedDeg: 15, referenceDeg: 54, delayUs: 0, rotation: 'clockwise' as const, hasDistributor: true, maxRpm: 4000 }
  const twenty = Array.from({ length: 20 }, (_, i) => ({ rpm: 900 + 130 * i, observedDeg: 17 + 0.3 * Math.sin(5 * i) }))
  it('a typo among twenty is named and left out; the rest is fitted', () => {
    const readings = twenty.map((r, i) => (i === 7 ? { ...r, observedDeg: 71 } : r))
    const v = judgeTiming({ ...ask, readings })
    expect(v.mistake).toBeNull()
    expect(v.leftOut).toMatchObject([{ place: 7, observedDeg: 71 }])
    expect(v.leftOut[0].missDeg).toBeCloseTo(54, 0)
    expect(v.referenceErrorDeg).toBeCloseTo(judgeTiming({ ...ask, readings: twenty }).referenceErrorDeg, 0)
    expect(judgeTiming({ ...ask, readings: twenty }).leftOut).toEqual([])
  })
  it('four of ten are no slip: then nothing is left out, and the readings contradict each other', () => {
    const readings = twenty.slice(0, 10).map((r, i) => (i % 3 === 0 ? { ...r, observedDeg: r.observedDeg + 12 } : r))
    const v = judgeTiming({ ...ask, readings })
    expect(v.leftOut).toEqual([])
    expect(v.mistake).not.toBeNull()
  })
  it('a light that doubles is told by two commanded values, whatever the error of the pick-up', () => {
    const at = (times: number, error: number) =>
      [10, 10, 20, 20].map((commandedDeg, i) => ({ rpm: i % 2 ? 2000 : 1000, commandedDeg, observedDeg: times * commandedDeg + error }))
    expect(judgeTiming({ ...ask, readings: at(2, -14) }).mistake?.kind).toBe('doubled')
    expect(judgeTiming({ ...ask, readings: at(2, 3) }).mistake?.message).toContain('2.0 degrees for each degree commanded')
    expect(judgeTiming({ ...ask, readings: at(1, -4) }).mistake).toBeNull()
  })
  it('a light on another cylinder’s lead can be kept, and is named', () => {
    // eight cylinders, 90 degrees between firings: 15 commanded, seen at -73 and -74
    const readings = [900, 900, 3000, 3000].map((rpm, i) => ({ rpm, observedDeg: -73 - (i > 1 ? 1 : 0) }))
    expect(judgeTiming({ ...ask, cylinders: 8, readings }).mistake).toMatchObject({ kind: 'wrong-lead' })
    const kept = madeReading('spark.timing-light', { rpm: 900, observedDeg: -158.1, commandedDeg: 15, referenceDeg: 54, delayUs: 0 })
    expect(evaluate(soundBuild({}, [kept])).stations.length).toBeGreaterThan(5)
  })
  it('what is left out stands in the finding', () => {
    const light = twenty.map((r, i) =>
      madeReading('spark.timing-light', {
        rpm: r.rpm,
        observedDeg: i === 3 ? 40 : r.observedDeg,
        commandedDeg: 15,
        referenceDeg: 54,
        delayUs: 0,
      }),
    )
    const found = evaluate(soundBuild({}, light))
      .stations.flatMap((s) => s.findings)
      .find((f) => f.id === 'spark.timing-error')!
    expect(found.because).toMatch(/Left out: 40\.0° at 1290 rpm, 2\d\.\d° over all others/)
  })
  // the same light: the middle of a piston watched is known to 0.7 degrees, of a stop to 0.35, and no reading is surer than its mark
  it('a piston watched proves the mark less well than a stop', () => {
    const se = (method: 'piston-stop' | 'piston-watched') => {
      const readings = [
        madeReading('spark.zero-mark', { method, beforeDeg: 24, afterDeg: 24 }),
        ...[900, 900, 1800, 1800, 3000, 3000].map((rpm) =>
          madeReading('spark.timing-light', { rpm, observedDeg: 15, commandedDeg: 15, referenceDeg: 54, delayUs: 0 }),
        ),
      ]
      return currentTiming(contextOf(soundBuild({ choices: { spark: { referenceDeg: 54, delayUs: 0 } } }, readings)))!.referenceErrorSeDeg
    }
    expect(se('piston-watched') ** 2 - se('piston-stop') ** 2).toBeCloseTo(0.7 ** 2 - 0.35 ** 2, 2)
  })
  it('a light known to flash late has that added again', () => {
    const light = [900, 900, 2000, 3500, 3500].map((rpm) =>
      // 6e-6 x rpm x 100 us late
      madeReading('spark.timing-light', { rpm, observedDeg: 15 - 6e-4 * rpm, commandedDeg: 15, referenceDeg: 54, delayUs: 0 }),
    )
    const error = (spark: object) =>
      evaluate(soundBuild({ choices: { spark } }, light))
        .stations.flatMap((s) => s.findings)
        .find((f) => f.id === 'spark.timing-error')
    expect(error({ lightLatencyUs: 100 })).toBeUndefined()
    expect(error({})?.because).toMatch(/delay error (99|100|101)/)
  })
})

describe('edge or hand', () => {
  // bells of 3 degrees: 0.13298 in the middle, 4.461e-5 at 12 degrees. At -12 degrees with a lobe of 12:
  // 0.1 x 0.13298 / (0.1 x 0.13298 + 0.9 (0.9 x 4.461e-5 + 0.1/120)) = 0.0133 / 0.01408 = 0.944; looked at: 0.00133 / 0.00220 = 0.606
  it.each([
    [-12, false, 0.944],
    [-12, true, 0.606],
    [0, false, 0.00004],
  ])('an error of %d degrees where a lobe is 12, looked at: %s', (errorDeg, looked, chance) =>
    expect(wrongWayChance(errorDeg, [-12], looked)).toBeCloseTo(chance, 2),
  )
  it('a lobe no wider than the hand is off cannot be told from it', () => {
    for (let errorDeg = -3; errorDeg <= 3; errorDeg += 0.5) expect(wrongWayChance(errorDeg, [-3], false)).toBeLessThan(0.5)
  })
  it('either side of an edge is as likely', () =>
    expect(wrongWayChance(20, [20, -20], false)).toBeCloseTo(wrongWayChance(-20, [20, -20], false), 12))
})
