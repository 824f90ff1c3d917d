import fc from 'fast-check'
import { describe, expect, it } from 'vitest'
import { Random } from '../../kernel/random.ts'
import { contextOf } from '../../judge/judgement.ts'
import { soundBuild } from '../../judge/made-up.fixture.ts'
import { lobeWave } from '../sensor-edge.ts'
import { readScopeCsv } from './csv.ts'
import { judgeTrain } from './judge.ts'
import { patternOf, polarityOf } from './pattern.ts'
import { minMaxPerColumn, type PulsePattern, type Trace } from './trace.ts'

const STEP_S = 2e-5
interface Made {
  rpm?: number
  /** crank degrees between places */
  pitch?: number
  count?: number
  drop?: number[]
  add?: number[]
  jitterDeg?: number
  sign?: 1 | -1
  noiseV?: number
}
const times = ({ rpm = 1000, pitch = 120, count = 20, drop = [], add = [], jitterDeg = 0 }: Made): number[] => {
  const random = new Random(7)
  const at = (place: number) => (place * pitch + jitterDeg * random.normal() + 30) / (6 * rpm)
  return [...Array.from({ length: count }, (_, k) => k).filter((k) => !drop.includes(k)), ...add].map(at).sort((a, b) => a - b)
}
const span = (m: Made) => (((m.count ?? 20) - 1) * (m.pitch ?? 120) + 60) / (6 * (m.rpm ?? 1000))
/** Bell-shaped pulses, a third of a lobe one degree of crank. */
function magnetic(m: Made): Trace {
  const random = new Random(3)
  const samples = new Float32Array(Math.round(span(m) / STEP_S))
  const degPerS = 6 * (m.rpm ?? 1000)
  for (const t of times(m))
    for (let i = Math.max(0, Math.round((t - 6 / degPerS) / STEP_S)); i < Math.min(samples.length, (t + 6 / degPerS) / STEP_S); i++)
      samples[i] += (m.sign ?? 1) * 3 * lobeWave((i * STEP_S - t) * degPerS)
  for (let i = 0; i < samples.length; i++) samples[i] += (m.noiseV ?? 0) * (2 * random.next() - 1)
  return { id: 'crank', unit: 'V', startS: 0, stepS: STEP_S, samples }
}
/** A level of 0.2 V for ten degrees from each moment, 5 V elsewhere; `high` turns it round. */
function square(m: Made, high = false): Trace {
  const samples = new Float32Array(Math.round(span(m) / STEP_S)).fill(high ? 0.2 : 5)
  for (const t of times(m))
    samples.fill(high ? 5 : 0.2, Math.max(0, Math.round(t / STEP_S)), Math.round((t + 10 / (6 * (m.rpm ?? 1000))) / STEP_S))
  return { id: 'crank', unit: 'V', startS: 0, stepS: STEP_S, samples }
}
const six: PulsePattern = { places: 6, missing: 0, crankTurns: 2 }

describe('judging a train of pulses', () => {
  it.each([200, 900, 5200])('speed by the pulses at %d rpm: 120° each, so 3 pulses a turn', (rpm) => {
    for (const trace of [magnetic({ rpm }), square({ rpm })]) expect(judgeTrain(trace, six).rpm! / rpm).toBeCloseTo(1, 3)
  })
  it('finds what is missing where it is missing: places 6 and 12 of 20', () => {
    const v = judgeTrain(magnetic({ drop: [6, 12] }), six)
    // (6 x 120 + 30) / 6000 s and (12 x 120 + 30) / 6000 s
    expect(v.missing.map((t) => Math.round(t * 1e3))).toEqual([125, 245])
    expect([v.pulses.length, v.extra.length]).toEqual([18, 0])
  })
  it('finds what is too many: a pulse at 0.4 of the way from place 5 to 6', () => {
    // a square train is timed by the edge at which its target of ten degrees leaves
    for (const [trace, widthDeg] of [
      [magnetic({ add: [5.4] }), 0],
      [square({ add: [5.4] }), 10],
    ] as const) {
      const v = judgeTrain(trace, six)
      expect(v.missing).toEqual([])
      expect(v.extra).toHaveLength(1)
      expect(v.extra[0]).toBeCloseTo((5.4 * 120 + 30 + widthDeg) / 6000, 4)
    }
  })
  it('any one missing and any one extra, apart from each other, are told from each other', () => {
    fc.assert(
      fc.property(
        fc.integer({ min: 3, max: 8 }),
        fc.integer({ min: 11, max: 16 }),
        fc.double({ min: 0.35, max: 0.65, noNaN: true }),
        (gone, after, share) => {
          const v = judgeTrain(magnetic({ drop: [gone], add: [after + share] }), six)
          expect([v.missing.length, v.extra.length]).toEqual([1, 1])
        },
      ),
      { numRuns: 25 },
    )
  })
  it.each([0.3, 1, 2])('scatter of %d° put into the pulses comes back from them', (jitterDeg) => {
    const v = judgeTrain(magnetic({ jitterDeg, count: 200 }), six)
    // 200 pulses tell a scatter to about 7 %
    expect(v.jitterDeg! / jitterDeg).toBeGreaterThan(0.8)
    expect(v.jitterDeg! / jitterDeg).toBeLessThan(1.2)
  })
  it('a steady change of speed is no jitter', () => {
    const trace = square({})
    // the record played with a clock that gains 20 % from end to end
    const stretched = {
      ...trace,
      samples: trace.samples.map((_, i, all) => all[Math.min(all.length - 1, Math.round(i * (1 - (0.2 * i) / all.length)))]),
    }
    const v = judgeTrain(stretched as Trace, six)
    expect([v.missing.length, v.extra.length]).toEqual([0, 0])
    expect(v.jitterDeg!).toBeLessThan(0.2)
  })
  it('a wheel of 36 less 1 has its gap and nothing missing; a tooth broken off besides is found', () => {
    const wheel: PulsePattern = { places: 36, missing: 1, crankTurns: 1 }
    const gaps = [35, 71, 107]
    const whole = { pitch: 10, count: 110, rpm: 400, drop: gaps }
    expect(judgeTrain(square({ ...whole, pitch: 10 }), { ...wheel }).missing).toHaveLength(0)
    expect(judgeTrain(magnetic({ ...whole, pitch: 30 }), { ...wheel, crankTurns: 3 }).missing).toHaveLength(0)
    expect(judgeTrain(magnetic({ ...whole, pitch: 30, drop: [...gaps, 50, 86] }), { ...wheel, crankTurns: 3 }).missing).toHaveLength(2)
  })
  it('wires changed over: the steep crossing rises instead of falling', () => {
    expect(judgeTrain(magnetic({}), six).slope).toBe('falling')
    expect(judgeTrain(magnetic({ sign: -1 }), six).slope).toBe('rising')
  })
  it('noise is the highest excursion between pulses, and does not become pulses', () => {
    const v = judgeTrain(magnetic({ noiseV: 0.4 }), six)
    expect(v.pulses).toHaveLength(20)
    expect(v.noiseV).toBeGreaterThan(0.35)
    expect(v.noiseV).toBeLessThanOrEqual(0.41)
    expect(v.peakV / v.noiseV).toBeGreaterThan(5)
  })
  it('refuses a record with fewer than four pulses, saying what to do', () =>
    expect(() => judgeTrain(magnetic({ count: 3 }), six)).toThrow(/only 3 pulses.*longer stretch or a higher speed/))
})

describe('what the chosen way should give', () => {
  const c = (spark: object, more: object = {}) => contextOf(soundBuild({ choices: { spark }, ...more }))
  it.each([
    [{ trigger: 'hall' }, { places: 6, missing: 0, crankTurns: 2 }],
    [{ trigger: 'crank-cam' }, { places: 3, missing: 0, crankTurns: 1 }],
    [
      { trigger: 'toothed-wheel', wheel: { teeth: 60, missing: 2 } },
      { places: 60, missing: 2, crankTurns: 1 },
    ],
    [{ trigger: 'toothed-wheel' }, null],
  ])('%j', (spark, pattern) => expect(patternOf(c(spark))).toEqual(pattern))
  it('a low output falls as the target arrives; the other way round is reversed; without being told nothing is said', () => {
    const low = c({ trigger: 'hall', output: 'low' })
    expect(polarityOf(low, judgeTrain(square({}), six))).toBe('right')
    expect(polarityOf(low, judgeTrain(square({}, true), six))).toBe('reversed')
    expect(polarityOf(c({ trigger: 'hall' }), judgeTrain(square({}), six))).toBe('unknown')
    expect(polarityOf(c({ trigger: 'locked-magnetic' }), judgeTrain(square({}), six))).toBe('unknown')
  })
})

describe('thinning for the screen', () => {
  it.each([
    [55, 3],
    [56, 40],
    [58, 7],
  ])('keeps a peak in the very last of %i samples on %i columns', (n, columns) => {
    const samples = new Float32Array(n)
    samples[n - 1] = -1
    expect(Math.min(...minMaxPerColumn({ startS: 0, stepS: 0.001, samples }, 0, 0.001 * (n - 1), columns))).toBe(-1)
  })
  it('loses no peak: the least and the most over all columns are those of the samples', () => {
    fc.assert(
      fc.property(
        fc.array(fc.float({ min: -50, max: 50, noNaN: true }), { minLength: 50, maxLength: 400 }),
        fc.integer({ min: 3, max: 40 }),
        (values, columns) => {
          const samples = Float32Array.from(values)
          const seen = minMaxPerColumn({ startS: 0, stepS: 0.001, samples }, 0, 0.001 * (samples.length - 1), columns)
          const low = seen.filter((_, i) => i % 2 === 0)
          const high = seen.filter((_, i) => i % 2 === 1)
          expect(Math.min(...low)).toBeCloseTo(Math.min(...samples), 9)
          expect(Math.max(...high)).toBeCloseTo(Math.max(...samples), 9)
          low.forEach((v, i) => expect(v).toBeLessThanOrEqual(high[i]))
        },
      ),
    )
  })
  it('finer than the samples it draws the line between them, and outside them nothing', () => {
    const trace = { startS: 0, stepS: 1, samples: Float32Array.from([0, 10]) }
    // columns of a tenth of a second: their middles lie at 0.05, 0.15 ...
    const seen = minMaxPerColumn(trace, 0, 1, 10)
    expect(seen[2]).toBeCloseTo(1.5, 5)
    expect(minMaxPerColumn(trace, 5, 6, 4).every(Number.isNaN)).toBe(true)
  })
})

describe('a file from a real scope', () => {
  const rows = (line: (i: number) => string, n = 40) => Array.from({ length: n }, (_, i) => line(i)).join('\n')
  it.each([
    ['comma, headings with units', `Time (ms),CH1 (V)\n${rows((i) => `${i * 0.5},${i % 7}`)}`, 5e-4, 'CH1'],
    [
      'semicolon and decimal comma',
      `t [s];Pick-up [mV]\n${rows((i) => `${(i * 0.001).toFixed(3).replace('.', ',')};${i % 7}`)}`,
      1e-3,
      'Pick-up',
    ],
    ['tab, units in a line of their own', `Time\tA\n(us)\t(V)\n${rows((i) => `${i * 20}\t${i % 7}`)}`, 2e-5, 'A'],
    ['no headings: seconds', rows((i) => `${i * 0.01},${i % 7}`), 1e-2, 'channel 1'],
    ['lines of the maker before it', `Model,x\nSaved,today\n\nSecond,Volt\n${rows((i) => `${i * 0.01},${i % 7}`)}`, 1e-2, 'Second'],
  ])('%s', (_, text, stepS, id) => {
    const [trace] = readScopeCsv(text)
    expect(trace.stepS).toBeCloseTo(stepS, 12)
    expect(trace.samples).toHaveLength(40)
    expect(trace.samples[3]).toBeCloseTo(text.includes('mV') ? 0.003 : 3, 6)
    if (id !== 'Second') expect(trace.id).toBe(id)
  })
  it('uneven times are brought to an even step by straight lines', () => {
    // a ramp of 2 V a second sampled unevenly stays a ramp
    const [trace] = readScopeCsv(rows((i) => `${i + 0.3 * (i % 2)},${2 * (i + 0.3 * (i % 2))}`))
    trace.samples.forEach((v, i) => expect(v).toBeCloseTo(2 * i * trace.stepS, 3))
  })
  it.each([
    ['no numbers', 'this,is\nno,scope\n', /no two columns of numbers/],
    ['one column', rows((i) => `${i}`), /no two columns of numbers/],
    ['too short', rows((i) => `${i},1`, 9), /9 rows; 20 or more/],
    ['time standing still', rows((i) => `${Math.floor(i / 2)},1`), /time does not rise/],
  ])('refuses %s', (_, text, words) => expect(() => readScopeCsv(text)).toThrow(words))
})
