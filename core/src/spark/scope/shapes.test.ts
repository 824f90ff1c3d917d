import { describe, expect, it } from 'vitest'
import { contextOf } from '../../judge/judgement.ts'
import { soundBuild } from '../../judge/made-up.fixture.ts'
import { readScopeCsv } from './csv.ts'
import { judgeTrain } from './judge.ts'
import { polarityOf } from './pattern.ts'
import { type DrawnTrain, drawTrain } from './signals.fixture.ts'
import type { PulsePattern } from './trace.ts'
import { scopeVerdict } from './verdict.ts'

/** A wheel whose teeth are as wide as its gaps gives a wave, not pulses. */
const wheel = (places: number, missing: number, more: Partial<DrawnTrain> = {}): DrawnTrain => ({
  places,
  missing,
  crankTurns: 1,
  sensor: 'magnetic',
  width: 0.22,
  rpmAt: () => 600,
  seconds: 0.5,
  samples: 50_000,
  noiseShare: 0.01,
  ...more,
})
const pattern = (places: number, missing: number, crankTurns = 1): PulsePattern => ({ places, missing, crankTurns })
const judged = (d: DrawnTrain, p: PulsePattern) => judgeTrain(drawTrain(d).trace, p)

describe('signals of real shapes', () => {
  it.each([
    [36, 1],
    [60, 2],
    [24, 1],
    [12, 1],
  ])('wheel of %d less %d as a wave: nothing missing, nothing too many, polarity by the gap, either way round', (places, missing) => {
    for (const reversed of [false, true]) {
      const v = judged(wheel(places, missing, { reversed }), pattern(places, missing))
      expect([v.missing.length, v.extra.length, v.slope, v.unsure]).toEqual([0, 0, reversed ? 'rising' : 'falling', null])
      expect(v.rpm! / 600).toBeCloseTo(1, 2)
      expect(v.counted).toEqual({ places, missing })
    }
  })
  it('its pulses are timed under the middle of the tooth, to a tenth of a degree of 360', () => {
    const { trace, middlesS } = drawTrain(wheel(36, 1, { noiseShare: 0 }))
    const v = judgeTrain(trace, pattern(36, 1))
    // 600 rpm: 0.1 degree lasts 28 us
    for (const p of v.pulses.slice(3, -3)) expect(Math.min(...middlesS.map((t) => Math.abs(t - p.timeS)))).toBeLessThan(28e-6 * 6)
  })
  it('one tooth broken off a wave is one missing, wherever it is', () => {
    for (const gone of [10, 50, 120]) expect(judged(wheel(36, 1, { gone: [gone] }), pattern(36, 1)).missing).toHaveLength(1)
  })
  it.each([
    [36, 1, 24, 1],
    [60, 2, 36, 2],
    [36, 1, 36, 2],
  ])('a wheel of %d less %d told as %d less %d is counted between its gaps', (places, missing, told, toldMissing) =>
    expect(judged(wheel(places, missing), pattern(told, toldMissing)).counted).toEqual({ places, missing }),
  )
  // a turn of 60 with a gap of 2 told: two pulses of each turn stand where none should; five turns at 600 rpm are 0.5 s
  it.each([
    ['60 whole, told 60 less 2', wheel(60, 0), pattern(60, 2), 2],
    ['36 whole, told 36 less 1', wheel(36, 0), pattern(36, 1), 1],
    ['36 whole, told 36 less 4', wheel(36, 0), pattern(36, 4), 4],
  ])('a wheel without the gap it is told to have has pulses too many, never a clean record: %s', (_, drawn, told, perTurn) => {
    const v = judged(drawn, told)
    expect(v.extra.length).toBeGreaterThanOrEqual(4 * perTurn)
    expect(v.extra.length).toBeLessThanOrEqual(6 * perTurn)
    expect(v.rpm! / 600).toBeCloseTo(1, 1)
  })
  it('one gap filled by a welded tooth is one too many', () => {
    const v = judged(wheel(36, 1, { more: [71], width: 0.1 }), pattern(36, 1))
    expect([v.missing.length, v.extra.length]).toEqual([0, 1])
  })
  it('with one gap in the record nothing is counted: two are wanted', () =>
    // 600 rpm: 0.1 s is one turn
    expect(judged(wheel(36, 1, { seconds: 0.12, startPlace: 6.4 }), pattern(36, 1)).counted).toBeNull())
  it('a wave without a gap looks the same with its wires changed over: said so, never right and never reversed', () => {
    const c = contextOf(soundBuild({ choices: { spark: { trigger: 'locked-magnetic' } } }))
    for (const reversed of [false, true]) {
      const v = judged(wheel(6, 0, { crankTurns: 2, width: 0.25, seconds: 1, reversed }), pattern(6, 0, 2))
      expect(v.unsure).toMatch(/wave.*wires changed over/)
      expect(polarityOf(c, v)).toBe('unknown')
    }
  })
  it('a wave of a wheel without its gap in the record wants a longer one', () =>
    expect(judged(wheel(60, 2, { seconds: 0.04, startPlace: 5.3, samples: 8000 }), pattern(60, 2)).unsure).toMatch(/longer/))
  it('sharp lobes tell their polarity without a gap', () => {
    for (const reversed of [false, true]) {
      const v = judged(wheel(6, 0, { crankTurns: 2, width: 0.03, seconds: 1, reversed }), pattern(6, 0, 2))
      expect([v.slope, v.unsure]).toEqual([reversed ? 'rising' : 'falling', null])
    }
  })

  describe('vanes', () => {
    const vanes = (share: number, more: Partial<DrawnTrain> = {}) =>
      wheel(8, 0, { crankTurns: 2, sensor: 'square', width: share, seconds: 1, noiseShare: 0, ...more })
    // 24 degrees of 45: the vane is wider than its window
    it('a known width tells the edges apart though the vane is wider than the window', () => {
      for (const reversed of [false, true]) {
        const v = judged(vanes(24 / 45 + 0.08, { reversed }), { ...pattern(8, 0, 2), widthShare: 24 / 45 + 0.08 })
        expect([v.slope, v.unsure]).toEqual([reversed ? 'falling' : 'rising', null])
      }
    })
    it('without the width such vanes are not told apart, and that is said', () =>
      expect(judged(vanes(24 / 45), pattern(8, 0, 2)).unsure).toMatch(/width of the target/))
    it('vanes exactly half of the way cannot be told even when their width is known', () =>
      expect(judged(vanes(0.5), { ...pattern(8, 0, 2), widthShare: 0.5 }).unsure).toMatch(/cannot be told apart/))
    it('the width of the choice goes into the pattern: 24° of 45° of a distributor of eight', () => {
      const c = contextOf(
        soundBuild({
          facts: { engine: { cylinders: 8, layout: 'v' } },
          choices: { spark: { trigger: 'hall', output: 'low', targetWidthDeg: 24 } },
        } as never),
      )
      // low at the target, which leaves by a rising edge: right as drawn
      expect(scopeVerdict(c, drawTrain(vanes(28 / 45)).trace).polarity).not.toBe('reversed')
    })
  })

  describe('speed that changes', () => {
    it('a start that flares from 200 to 1100 rpm in half a second loses and gains nothing', () => {
      const flare = (t: number) => (t < 0.5 ? 200 : Math.min(1100, 200 + 1800 * (t - 0.5)))
      for (const [places, missing, crankTurns, width] of [
        [36, 1, 1, 0.22],
        [6, 0, 2, 0.03],
      ]) {
        const v = judged(
          wheel(places, missing, { crankTurns, width, rpmAt: flare, seconds: 1.2, samples: 120_000, noiseShare: 0.002 }),
          pattern(places, missing, crankTurns),
        )
        expect([v.missing.length, v.extra.length]).toEqual([0, 0])
      }
    })
    it('compressions of a cranking engine, 15 % either way three times a turn, are neither missing nor extra', () => {
      const cranking = (t: number) => 200 * (1 + 0.15 * Math.sin(2 * Math.PI * 3 * (200 / 60) * t))
      for (const reversed of [false, true]) {
        const v = judged(wheel(36, 1, { rpmAt: cranking, seconds: 1.5, samples: 80_000, reversed }), pattern(36, 1))
        expect([v.missing.length, v.extra.length, v.slope]).toEqual([0, 0, reversed ? 'rising' : 'falling'])
      }
    })
  })

  it('noise on a wave is the noise, not the wave: 1 % rms of it reads about 3 %', () => {
    const v = judged(wheel(36, 1, { noiseShare: 0.01 }), pattern(36, 1))
    expect(v.noiseV / v.peakV).toBeGreaterThan(0.02)
    expect(v.noiseV / v.peakV).toBeLessThan(0.045)
  })
  it('and so it is of a start that flares, whose first waves are a sixth of the last', () => {
    const flare = (t: number) => 180 + 900 * Math.min(1, Math.max(0, (t - 1) / 0.4))
    const v = judged(wheel(36, 1, { noiseShare: 0.01, rpmAt: flare, seconds: 1.8, samples: 180_000 }), pattern(36, 1))
    expect(v.noiseV / v.peakV).toBeGreaterThan(0.02)
    expect(v.noiseV / v.peakV).toBeLessThan(0.05)
  })

  it.each(['Time ms', 'time_ms', 'Time (ms)', 'Time/ms'])('the heading "%s" is milliseconds', (heading) => {
    const rows = Array.from({ length: 30 }, (_, i) => `${i * 0.5},${i % 5}`)
    expect(readScopeCsv([`${heading},CH1 V`, ...rows].join('\n'))[0].stepS).toBeCloseTo(5e-4, 12)
  })
  it('a heading that only ends in such letters names no unit', () => {
    const rows = Array.from({ length: 30 }, (_, i) => `${i * 0.5},${i % 5}`)
    expect(readScopeCsv(['Times,CH1', ...rows].join('\n'))[0].stepS).toBeCloseTo(0.5, 12)
  })
})
