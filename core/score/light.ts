import { fitTiming } from '../src/spark/fit-timing.ts'
import { Random } from '../src/kernel/random.ts'
import { wilson } from './interval.ts'

/** A way in which light readings are taken, with what is unknown about mark, light and eye: all drawn anew in each trial. */
interface LightCase {
  name: string
  rpm: (rng: Random) => number[]
  scatterDeg: number
  zeroSigmaDeg?: number
  latencySigmaUs?: number
  resolutionDeg?: number
  typo?: boolean
}
const between = (rng: Random, low: number, high: number): number => low + (high - low) * rng.next()
const repeated = (speeds: readonly number[], times: number) => () => speeds.flatMap((rpm) => Array.from({ length: times }, () => rpm))
export const lightCases: LightCase[] = [
  { name: 'two each at 900, 2000, 3500 rpm', rpm: repeated([900, 2000, 3500], 2), scatterDeg: 0.5 },
  { name: 'one each at three speeds', rpm: repeated([900, 2000, 3500], 1), scatterDeg: 0.5 },
  { name: 'twenty over the range, a steady hand', rpm: (g) => Array.from({ length: 20 }, () => between(g, 800, 4000)), scatterDeg: 0.3 },
  { name: 'twelve in one cluster of speeds', rpm: (g) => Array.from({ length: 12 }, () => between(g, 880, 1050)), scatterDeg: 0.5 },
  { name: 'a zero mark known to a degree', rpm: repeated([900, 1800, 2700, 3600], 2), scatterDeg: 0.5, zeroSigmaDeg: 1 },
  { name: 'a light with a latency of its own', rpm: repeated([900, 1800, 2700, 3600], 2), scatterDeg: 0.5, latencySigmaUs: 60 },
  { name: 'read to two degrees', rpm: repeated([900, 1800, 2700, 3600], 3), scatterDeg: 0.3, resolutionDeg: 2 },
  { name: 'a worn drive, a degree of scatter', rpm: (g) => Array.from({ length: 16 }, () => between(g, 800, 3800)), scatterDeg: 1 },
  { name: 'a typo among twenty', rpm: (g) => Array.from({ length: 20 }, () => between(g, 800, 3800)), scatterDeg: 0.5, typo: true },
  {
    name: 'all of it together',
    rpm: repeated([900, 1500, 2100, 2800, 3500], 2),
    scatterDeg: 0.5,
    zeroSigmaDeg: 0.7,
    latencySigmaUs: 40,
    resolutionDeg: 1,
  },
]

export interface LightScore {
  name: string
  reference: { insidePct: number; interval: [number, number]; ratio: number }
  delay: { insidePct: number; interval: [number, number]; ratio: number }
  /** trials in which a sound reading was left out, or a typo was not, % */
  wrongLeftOutPct: number
}
/** One way of reading, tried many times: how often the truth lies within two stated sigma, and stated sigma over true rms error. */
export function scoreLight(c: LightCase, trials: number, firstSeed: number): LightScore {
  const off = { a: [] as number[], b: [] as number[] }
  const stated = { a: [] as number[], b: [] as number[] }
  let wrong = 0
  for (let seed = firstSeed; seed < firstSeed + trials; seed++) {
    const rng = new Random(seed)
    const truth = { a: rng.normal() * 4, b: between(rng, -50, 200) }
    const zero = rng.normal() * (c.zeroSigmaDeg ?? 0)
    const latencyUs = rng.normal() * (c.latencySigmaUs ?? 0)
    const step = c.resolutionDeg ?? 0
    const readings = c.rpm(rng).map((rpm) => {
      const seen = 15 + truth.a + zero - 6e-6 * rpm * (truth.b + latencyUs) + rng.normal() * c.scatterDeg
      return { rpm, observedDeg: step ? Math.round(seen / step) * step : seen }
    })
    const typo = c.typo ? Math.floor(between(rng, 0, readings.length)) : -1
    if (typo >= 0) readings[typo].observedDeg += between(rng, 0, 1) < 0.5 ? 10 : -10
    const { zeroSigmaDeg, latencySigmaUs, resolutionDeg } = c
    const fit = fitTiming.run({ commandedDeg: 15, readings, zeroSigmaDeg, latencySigmaUs, resolutionDeg })
    off.a.push(fit.referenceErrorDeg - truth.a)
    off.b.push(fit.delayErrorUs! - truth.b)
    stated.a.push(fit.referenceErrorSeDeg)
    stated.b.push(fit.delayErrorSeUs!)
    if (JSON.stringify(fit.leftOut) !== JSON.stringify(typo >= 0 ? [typo] : [])) wrong++
  }
  const judge = (errors: number[], sigmas: number[]) => {
    const inside = errors.filter((e, i) => Math.abs(e) <= 2 * sigmas[i]).length
    const rms = Math.sqrt(errors.reduce((s, e) => s + e * e, 0) / trials)
    return { insidePct: (100 * inside) / trials, interval: wilson(inside, trials), ratio: sigmas.reduce((s, v) => s + v, 0) / trials / rms }
  }
  return { name: c.name, reference: judge(off.a, stated.a), delay: judge(off.b, stated.b), wrongLeftOutPct: (100 * wrong) / trials }
}

/** The table of docs/spark.md. */
export function lightTable(trials: number, firstSeed: number): string {
  const row = (s: LightScore): string => {
    const one = (j: LightScore['reference']) =>
      `${j.insidePct.toFixed(1)} (${j.interval.map((v) => (100 * v).toFixed(0)).join('-')}) | ${j.ratio.toFixed(2)}`
    return `| ${s.name} | ${one(s.reference)} | ${one(s.delay)} | ${s.wrongLeftOutPct.toFixed(1)} |`
  }
  return [
    '### Timing by the light',
    '',
    `${trials} trials each, seeds from ${firstSeed}; zero mark, latency, rounding and scatter drawn anew in each. Inside two stated sigma, % (95 % interval), and mean stated sigma over true rms error; wanted 92 to 98 and 0.8 to 1.25.`,
    '',
    '| readings | reference, inside | sigma | delay, inside | sigma | wrongly left out or kept, % |',
    '| --- | --- | --- | --- | --- | --- |',
    ...lightCases.map((c) => row(scoreLight(c, trials, firstSeed))),
  ].join('\n')
}
