import { describe, expect, it } from 'vitest'
import { soundBuild } from '../../judge/made-up.fixture.ts'
import { computeBaseTune, TuneParameters } from '../../tune/index.ts'
import { applyLength } from './apply.ts'
import { judgeLength, lengthSays, type StepLength } from './length.ts'
import { type Made, made } from './steps.fixture.ts'
import { judgeSteps } from './steps.ts'

interface Film {
  /** % at the foot and how it decays, s: what is given, and what is wanted at each step */
  givenPct?: number
  givenS: number
  wantedPct: number
  wantedS: number | ((step: number) => number)
}
/** A cold engine whose walls want fuel that decays by itself, seen a tenth of a second late by a sensor that mixes over another. */
const film = ({ givenPct = 30, givenS, wantedPct, wantedS }: Film, more: Made = {}) => {
  // the row after the foot moved
  const kicks = 0.0499
  const late = 0.1
  const mixes = 0.1
  // a falling exponential behind a lag of the first order
  const seen = (pct: number, lastsS: number, s: number) =>
    s < late ? 0 : ((pct * lastsS) / (lastsS - mixes)) * (Math.exp(-(s - late) / lastsS) - Math.exp(-(s - late) / mixes))
  const lasts = (step: number) => (typeof wantedS === 'number' ? wantedS : wantedS(step))
  return made({
    coolantC: 30,
    given: (s) => (s < kicks ? 0 : givenPct * Math.exp(-(s - kicks) / givenS)),
    missing: (s, step) => seen(wantedPct, lasts(step), s - kicks) - seen(givenPct, givenS, s - kicks),
    ...more,
  })
}
const judged = (f: Film, more?: Made) => judgeLength(film(f, more), f.givenS)!

describe('how long the fuel for a step should last', () => {
  it('0.4 s are wanted where 0.15 s are given: too short, and a pass goes to twice as long', () => {
    const l = judged({ givenS: 0.15, wantedPct: 30, wantedS: 0.4 })
    expect(l).toMatchObject({ steps: 6, says: 'too-short', standsS: 0.15, coolantC: 30 })
    expect(l.fitsS).toBeGreaterThan(0.32)
    expect(l.fitsS).toBeLessThan(0.48)
    expect(l.fromS).toBeGreaterThan(0.15)
    // the area of an exponential is its height times its time: half as high for twice as long; then 30 x 0.4 of wanted over 30 x 0.15 of given
    expect(l.next!.lengthS).toBe(0.3)
    expect(l.next!.warmTimes).toBeCloseTo(0.5, 1)
    expect(l.next!.coldTimes).toBe(2)
  })
  it('0.4 s are wanted where 1 s is given: too long, and a pass goes to half', () => {
    const l = judged({ givenS: 1, wantedPct: 30, wantedS: 0.4 })
    expect(l).toMatchObject({ says: 'too-long', next: { lengthS: 0.5 } })
    expect(l.fitsS).toBeGreaterThan(0.32)
    expect(l.fitsS).toBeLessThan(0.48)
  })
  it('what lies within one pass is taken as it fits, and the amount of a cold step with it', () => {
    const l = judged({ givenS: 0.3, wantedPct: 45, wantedS: 0.48 })
    expect(l.says).toBe('too-short')
    // a third of an octave at a time: 0.3 x 2^(2/3) = 0.476
    expect(l.next!.lengthS).toBe(0.48)
    // 45 x 0.48 of 30 x 0.3
    expect(l.next!.coldTimes).toBe(2)
    expect(judged({ givenS: 0.3, wantedPct: 24, wantedS: 0.48 }).next!.coldTimes).toBeCloseTo((24 * 0.48) / (30 * 0.3), 1)
  })
  it('twice as much for just as long is a matter of the amount alone', () => {
    const l = judged({ givenS: 0.4, wantedPct: 60, wantedS: 0.4 })
    expect(l).toMatchObject({ says: 'right', next: null })
    expect(l.misplacedPctS).toBeLessThan(0.5)
  })
  it.each([
    // a share of it all comes at the wrong moment: 2 %·s are felt
    [8.8, 'too-short'],
    [7.2, 'right'],
  ])('%d %% at the wrong moment: %s', (pct, says) => {
    const l = judged({ givenPct: pct, givenS: 0.15, wantedPct: pct, wantedS: 0.4 })
    expect(l.says).toBe(says)
    expect(l.misplacedPctS > 2).toBe(says === 'too-short')
  })
  it('steps that want a short one and a long one by turns do not agree', () => {
    const l = judged({ givenS: 0.3, wantedPct: 30, wantedS: (step) => [0.05, 0.12, 0.5, 0.07, 0.6, 0.05][step] })
    expect(l).toMatchObject({ says: 'unsure', next: null })
    expect(l.toS / l.fromS).toBeGreaterThan(4)
  })
  it.each([
    [{ steps: 5 }, 'too-short'],
    [{ steps: 4 }, 'too-few'],
    [{ coolantC: 69.5 }, 'too-short'],
    [{ coolantC: 70.5 }, 'too-few'],
  ] as [Made, StepLength['says']][])('%j: %s', (more, says) =>
    expect(judged({ givenS: 0.15, wantedPct: 30, wantedS: 0.4 }, more).says).toBe(says),
  )
  it.each([
    // stands, from, to, %·s at the wrong moment
    [0.3, 0.15, 0.59, 1.9, 'right'],
    [0.3, 0.15, 0.61, 1.9, 'unsure'],
    [0.3, 0.15, 0.59, 2.1, 'unsure'],
    [0.14, 0.15, 0.59, 1.9, 'right'],
    [0.14, 0.15, 0.59, 2.1, 'too-short'],
    [0.6, 0.15, 0.59, 2.1, 'too-long'],
    [0.14, 0.15, 0.9, 2.1, 'too-short'],
  ] as [number, number, number, number, StepLength['says']][])(
    '%d s where %d to %d fit, %d %%·s at the wrong moment: %s',
    (standsS, fromS, toS, misplacedPctS, says) => expect(lengthSays({ standsS, fitsS: 0.3, fromS, toS, misplacedPctS })).toBe(says),
  )
  it('openings over which the map goes from one error to another by more than 4 % are left out', () => {
    const f: Film = { givenS: 0.15, wantedPct: 30, wantedS: 0.4 }
    const lacks = (apartPct: number) => {
      const log = film(f)
      log.channels.lambda = log.channels.lambda.map((lambda, i) => {
        const s = log.timeS[i] < 3 ? -1 : (log.timeS[i] - 3) % 6
        return s >= 0.3 && s < 4 ? 1 / (1 / lambda - apartPct / 100) : lambda
      })
      return judgeLength(log, f.givenS)!.steps
    }
    // 0.6 % of the film's own are still missing from 1.6 s on
    expect(lacks(3)).toBe(6)
    expect(lacks(3.9)).toBe(0)
  })
  it('is not told without what was given, or without a tune that says how it decays', () => {
    const f: Film = { givenS: 0.15, wantedPct: 30, wantedS: 0.4 }
    expect(judgeLength(film(f, { given: null }), 0.15)).toBeNull()
    expect(judgeSteps(film(f), null).length).toBeNull()
    expect(judgeSteps(film(f), 0.15).length).toEqual(judged(f))
  })
})

describe('a version in which it lasts as long as it is wanted', () => {
  const tune = computeBaseTune(soundBuild().facts, soundBuild().choices)
  const length = (next: StepLength['next'], coolantC = 30): StepLength => ({
    ...{ steps: 8, coolantC, standsS: 0.3, fitsS: 0.6, fromS: 0.5, toS: 0.8, misplacedPctS: 4, says: 'too-short' },
    next,
  })
  it('0.6 s for 0.3: half of it warm, and for a cold engine so many times as it wants, with where it comes from', () => {
    const { accelPctPer100, accelMapPctPer100, accelColdFactor } = tune.parameters
    const next = applyLength(tune, length({ lengthS: 0.6, warmTimes: 0.5, coldTimes: 1.5 }), 'from cold steps')!
    expect(next.parameters.accelDecayS).toBe(0.6)
    expect(next.parameters.accelPctPer100).toBeCloseTo(accelPctPer100 / 2, 6)
    expect(next.parameters.accelMapPctPer100).toBeCloseTo(accelMapPctPer100 / 2, 6)
    // 0.6 of the way from 75 to 0 degC: 1.6 were given, 2.4 are wanted, 1 + 1.4 / 0.6 to a twentieth
    expect(accelColdFactor).toBe(2)
    expect(next.parameters.accelColdFactor).toBe(3.35)
    for (const key of ['accelDecayS', 'accelPctPer100', 'accelColdFactor']) expect(next.provenance[key]).toBe('from cold steps')
  })
  it('none where nothing is proposed or the same stands', () => {
    expect(applyLength(tune, length(null), '')).toBeNull()
    expect(applyLength(tune, length({ lengthS: 0.3, warmTimes: 1, coldTimes: 1 }), '')).toBeNull()
  })
  it('is never shorter than a tune holds, nor longer than the film of a port takes to dry', () => {
    const holds = (s: number) => TuneParameters.shape.accelDecayS.safeParse(s).success
    expect([holds(0.05), holds(0.049)]).toEqual([true, false])
    // half of 0.088 is less: a third of an octave more is 0.055
    const shorter = judged({ givenPct: 300, givenS: 0.088, wantedPct: 900, wantedS: 0.03 }, { hz: 100 })
    expect(shorter).toMatchObject({ says: 'too-long', next: { lengthS: 0.06 } })
    // twice 0.65 is more than 1.2: a third of an octave less is 1.03
    const longer = judged({ givenS: 0.65, wantedPct: 15, wantedS: 1.35 })
    expect(longer).toMatchObject({ says: 'too-short', next: { lengthS: 1.03 } })
  })
})
