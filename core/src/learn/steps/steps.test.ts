import { describe, expect, it } from 'vitest'
import { computeBaseTune, TuneParameters } from '../../tune/index.ts'
import { soundBuild } from '../../judge/made-up.fixture.ts'
import { applyColdSteps, applySteps } from './apply.ts'
import { type Made, made } from './steps.fixture.ts'
import { judgeSteps, stepsIn } from './steps.ts'

const judge = (log: Parameters<typeof judgeSteps>[0], causeMapKpa?: Float32Array) => judgeSteps(log, null, causeMapKpa)
/** so much missing from 0.3 to 0.8 s: half a second */
const lean = (pct: number) => (s: number) => (s >= 0.3 && s < 0.8 ? pct : 0)

describe('what is a step', () => {
  it.each([
    ['six of them', {}, 6],
    ['opened by 8 %', { opensPct: 8.1 }, 6],
    ['opened by less', { opensPct: 7.9 }, 0],
    ['opened within half a second', { withinS: 0.5 }, 6],
    ['opened slowly: 5 % in half a second', { withinS: 2 }, 0],
    ['20 % over 1.2 s: 8.3 in half a second', { withinS: 1.2 }, 6],
    ['20 % over 1.3 s: 7.7', { withinS: 1.3 }, 0],
    ['a foot that moved 0.95 s before', { throttle: (_: number, s: number) => (s > 5.02 && s < 5.08 ? 1.6 : 0) }, 1],
    ['a foot that moved 1.1 s before', { throttle: (_: number, s: number) => (s > 4.87 && s < 4.93 ? 1.6 : 0) }, 6],
    ['let go after 1.85 s', { heldS: 1.85 }, 0],
    ['let go to 62 % of what it opened', { throttle: (_: number, s: number) => (s > 0.6 && s < 2.4 ? -7.6 : 0) }, 6],
    ['let go to 58 %', { throttle: (_: number, s: number) => (s > 0.6 && s < 2.4 ? -8.4 : 0) }, 0],
    ['held for two seconds', { heldS: 2.05 }, 6],
    ['let go after one and a half', { heldS: 1.5 }, 0],
    ['a foot that moved by 1.4 % before', { throttle: (_: number, s: number) => (s > 5.3 && s < 5.7 ? 1.4 : 0) }, 6],
    ['a foot that moved by 1.6 % before', { throttle: (_: number, s: number) => (s > 5.3 && s < 5.7 ? 1.6 : 0) }, 1],
    ['fuel was cut before', { fuelCut: (s: number) => (s > 5.2 ? 1 : 0) }, 1],
    ['fuel was cut in it', { fuelCut: (s: number) => (s > 0.8 && s < 1 ? 1 : 0) }, 0],
  ] as [string, Made, number][])('%s', (_, log, steps) => expect(stepsIn(made(log))).toHaveLength(steps))
  it.each([
    ['3.3 rows a second: four in the second before', 0.3, 1],
    ['2.5 rows a second: three', 0.4, 0],
  ])('%s', (_, stepS, steps) => expect(stepsIn(made({ steps: 1, hz: 1 / stepS }))).toHaveLength(steps))
  it.each([
    [0.45, 3],
    [0.55, 2.9],
  ])('a foot that opened by %d %% a row earlier: it began at %d s', (byPct, atS) =>
    expect(stepsIn(made({ throttle: (t) => (t > 2.93 && t < 2.97 ? byPct : 0) }))[0].atS).toBeCloseTo(atS, 6),
  )
  it('of a log without throttle or lambda there is none', () => {
    const { timeS, channels } = made()
    expect(stepsIn({ timeS, channels: { lambda: channels.lambda } })).toEqual([])
    expect(stepsIn({ timeS, channels: { throttlePct: channels.throttlePct } })).toEqual([])
  })
  it('each with its moment, its size and what was given: 20 % over half a second are 10 %·s', () => {
    const [first, second] = stepsIn(made({ given: 20 }))
    expect(first).toMatchObject({ atS: expect.closeTo(3, 1), opensPct: expect.closeTo(20, 4), coolantC: 85 })
    expect(second.atS - first.atS).toBeCloseTo(6, 6)
    expect(first.givenPctS).toBeGreaterThan(9)
    expect(first.givenPctS).toBeLessThan(11)
  })
})

describe('a plate that catches', () => {
  /** Six lean steps, and after them a slow foot each six seconds, from shut: by so much in the first reading, then by 0.2 % each. */
  const judged = (jumpPct: number) => {
    const { timeS, channels } = made({ missing: lean(8), given: 20 })
    const rows = 5 * 6 * 20
    const more = (values: Float32Array | undefined, of: (k: number) => number) =>
      Float32Array.from([...values!, ...Array.from({ length: rows }, (_, k) => of(k))])
    const crept = (k: number) => (k % 120 < 80 || k % 120 > 110 ? 0 : jumpPct + 0.2 * ((k % 120) - 80))
    return judge({
      timeS: Float64Array.from([...timeS, ...Array.from({ length: rows }, (_, k) => timeS.at(-1)! + (k + 1) / 20)]),
      channels: {
        throttlePct: more(channels.throttlePct, crept),
        lambda: more(channels.lambda, () => 1),
        lambdaTarget: more(channels.lambdaTarget, () => 1),
        coolantC: more(channels.coolantC, () => 85),
        enrichmentPct: more(channels.enrichmentPct, () => 0),
      },
    })
  }
  it('comes before the fuel of its steps: nothing is asked for', () => {
    expect(judged(4)).toMatchObject({ says: 'linkage-first', times: null, cold: { says: 'linkage-first', times: null } })
    expect(judged(4).catches).toMatchObject({ jumped: 5, jumpPct: expect.closeTo(4, 0) })
  })
  it('a foot that leaves its rest smoothly is none', () => expect(judged(1).catches).toBeNull())
})

describe('what was missing', () => {
  it('8 % for half a second are 4 %·s, first and rest apart at 0.6 s', () => {
    const [step] = stepsIn(made({ missing: lean(8) }))
    expect(step.missingPctS).toBeCloseTo(4, 0)
    expect(step.firstPctS).toBeGreaterThan(2)
    expect(step.restPctS).toBeGreaterThan(1)
    expect(step).toMatchObject({ peakPct: expect.closeTo(8, 3), peakAtS: expect.closeTo(0.35, 1) })
  })
  // rows from 1.6 to 2 s are nine: of four of them 8 % are 3.56 %
  it.each([
    [1.37, 1.58, 0],
    [1.62, 1.82, 3.556],
  ])('8 %% missing from %d to %d s: the map lacks %d %% more at the new place, read from 1.6 s on', (fromS, toS, apartPct) => {
    const [step] = stepsIn(made({ missing: (s) => (s > fromS && s < toS ? 8 : 0) }))
    expect(step.mapApartPct).toBeCloseTo(apartPct, 2)
  })
  it('an error of the map before or after is none of the step', () => {
    const map = (s: number) => (s < 0.25 || s >= 3 ? 3 : -0.5)
    expect(Math.abs(judge(made({ missing: map })).missingPctS)).toBeLessThan(0.4)
  })
  // the map lacks 4 % less at 80 kPa than at 40: while the pressure rises, over a second, it goes from the one to the other
  const risen = (to: number, hz = 20) => {
    const log = made({ hz, missing: (s) => (s < 0 || s > 2.5 ? 3 : 3 - 3.9 * Math.min(1, s)) })
    const since = (t: number) => (t < 3 ? t - 3 : (t - 3) % 6)
    const share = (s: number) => (s < 0 || s > 2.5 ? 0 : Math.min(1, s))
    return judge(
      log,
      Float32Array.from(log.timeS, (t) => 40 + (to - 40) * share(since(t))),
    )
  }
  it('between the two places it follows the pressure that the gas was burnt at', () => expect(risen(80).missingPctS).toBeCloseTo(0, 1))
  it('a pressure that rises by 3.2 kPa tells the way, by 2.8 not: then the new place counts from 0.25 s on, and some of the way is taken for the step', () => {
    expect(risen(43.2).missingPctS).toBeCloseTo(0, 1)
    // on the way 3.9 x (1 - t): 3.9 x 0.75^2 / 2 - 3.9 x 0.25^2 / 2, and half a row's jump of 3.9 between 0.2 and 0.25 s
    expect(risen(42.8).missingPctS).toBeCloseTo(1.097 - 0.122 + (0.05 * 3.9) / 2, 2)
    expect(risen(42.8, 80).missingPctS).toBeCloseTo(1.097 - 0.122 + (0.0125 * 3.9) / 2, 2)
  })
  it('what the loop adds counts as missing', () => expect(judge(made({ correctionPct: lean(8) })).missingPctS).toBeCloseTo(4, 0))
})

describe('what is said', () => {
  const said = (log: Made) => judge(made(log))
  // 2 %·s is felt: 4.3 % for half a second is over it, 3.7 % under
  it.each([
    [{ missing: lean(3.6) }, 'right'],
    [{ missing: lean(4.6) }, 'lean'],
    [{ missing: lean(-3.6) }, 'right'],
    [{ missing: lean(-4.6) }, 'rich'],
    [{ missing: lean(8), steps: 4 }, 'too-few'],
    [{ missing: lean(8), steps: 5 }, 'lean'],
    [{ missing: lean(8), coolantC: 69 }, 'too-few'],
    [{ missing: lean(8), coolantC: 70 }, 'lean'],
  ] as [Made, string][])('%j: %s', (log, says) => expect(said(log).says).toBe(says))
  // before and after alike within 4 %, or the map is what a step shows
  it.each([
    [3.9, 'right', 0],
    [4.1, 'map-first', 6],
    [-3.9, 'right', 0],
    [-4.1, 'map-first', 6],
  ])('the map lacks %f %% more after the step than before: %s', (apart, says, offMapSteps) =>
    expect(said({ missing: (s) => (s >= 0.25 && s < 3 ? apart : 0) })).toMatchObject({ says, offMapSteps }),
  )
  it('steps that scatter by 5 %·s are not known to 1.5: unsure, unless it stands out; cold ones are counted apart', () => {
    // +1 more and 1 less than the mean, by turns: 10 % over half a second is 5 %·s, over the root of five 2.4
    const scatter = (about: number) => (s: number, k: number) => lean(about + (k % 2 ? 10 : -10))(s)
    const judged = said({ missing: scatter(4), steps: 6 })
    expect(judged).toMatchObject({ says: 'unsure', times: null })
    expect(judged.errorPctS).toBeGreaterThan(1.5)
    expect(said({ missing: scatter(24), steps: 6 }).says).toBe('lean')
    expect(said({ coolantC: 40 })).toMatchObject({ cold: { steps: 6, coolantC: 40, says: 'right' }, steps: [], curve: [] })
  })
  // by turns so much more and less: over six steps a standard error of 0.447 of it
  it.each([
    [6.2, 'right'],
    [7.2, 'unsure'],
  ])('by turns %f %% over half a second, a standard error of 1.4 or 1.6 %%·s: %s', (pct, says) =>
    expect(said({ missing: (s, k) => lean(k % 2 ? pct : -pct)(s) }).says).toBe(says),
  )
  it('fuel that is wanted is what was given and what is missing: 10 and 4 %·s are 1.4 times', () =>
    expect(said({ missing: lean(8), given: 20 }).times).toBeCloseTo(1.4, 1))
  it('no more than twice or half in one pass; nothing where it is right, or where nobody tells what was given', () => {
    expect(said({ missing: lean(40), given: 20 }).times).toBe(2)
    expect(said({ missing: lean(-30), given: 20 }).times).toBe(0.5)
    expect(said({ given: 20 }).times).toBeNull()
    expect(said({ missing: lean(8) })).toMatchObject({ says: 'lean', times: null })
  })
  it('lean first and rich then is fuel that lasts too long; the other way round it is too short', () => {
    const two = (first: number, then: number) => (s: number) => (s >= 0.1 && s < 0.6 ? first : s >= 0.6 && s < 1.1 ? then : 0)
    expect(said({ missing: two(8, -6) }).shape).toBe('lean-then-rich')
    expect(said({ missing: two(-8, 6) }).shape).toBe('rich-then-lean')
    expect(said({ missing: two(8, 6) }).shape).toBe('even')
    expect(said({ missing: two(8, -3) }).shape).toBe('even')
  })
  it('the mean of the steps can be drawn: nothing before the foot, 8 % after it', () => {
    const { curve } = said({ missing: lean(8), given: 20 })
    const at = (s: number) => curve.reduce((a, p) => (Math.abs(p.atS - s) < Math.abs(a.atS - s) ? p : a))
    expect(at(-0.25).missingPct).toBeCloseTo(0, 6)
    expect(at(0.55)).toMatchObject({ missingPct: expect.closeTo(8, 3) })
    expect(at(0.25).givenPct).toBeCloseTo(20, 3)
    expect(curve[0].atS).toBeCloseTo(-0.45, 6)
  })
})

describe('steps of a cold engine', () => {
  const tune = computeBaseTune(soundBuild().facts, soundBuild().choices)
  const cold = (log: Made) => judge(made({ given: 20, coolantC: 30, ...log })).cold
  it.each([
    [{ missing: lean(4.6) }, 'lean'],
    [{ missing: lean(3.6) }, 'right'],
    [{ missing: lean(-4.6) }, 'rich'],
    [{ missing: lean(8), steps: 4 }, 'too-few'],
    [{ missing: lean(8), coolantC: 70 }, 'too-few'],
    [{ missing: lean(8), coolantC: 69 }, 'lean'],
  ] as [Made, string][])('%j: %s', (log, says) => expect(cold(log).says).toBe(says))
  it('are not told where the map itself changes: it comes first', () => {
    const apart = (pct: number) => cold({ missing: (s) => (s >= 0.25 && s < 3 ? pct : 0) })
    expect(apart(3.9)).toMatchObject({ says: 'right', steps: 6 })
    expect(apart(4.1)).toMatchObject({ says: 'map-first', steps: 0, times: null })
  })
  it('are told apart from the warm ones', () =>
    expect(judge(made({ given: 20, coolantC: 30, missing: lean(8) }))).toMatchObject({ says: 'too-few', steps: [], times: null }))
  const next = (log: Made) => applyColdSteps(tune, cold(log), 'from cold steps')
  it('raise the factor by what they want at their coolant', () => {
    // at 30 degC 0.6 of the factor counts: 1 + 1 x 0.6 = 1.6 were given, 1.4 times that are wanted, 2.24: 1 + 1.24 / 0.6 = 3.07
    expect(Math.abs(next({ missing: lean(8) })!.parameters.accelColdFactor - 3.07)).toBeLessThan(0.13)
    expect(next({ missing: lean(8) })!.provenance.accelColdFactor).toBe('from cold steps')
    // 0.6 of 1.6 is less than a warm engine gets: once, not less
    expect(next({ missing: lean(-8) })!.parameters.accelColdFactor).toBe(1)
    expect(next({ missing: lean(3) })).toBeNull()
  })
  it('tell nothing of it nearly warm, and never ask for more than six', () => {
    // 75 x (1 - 0.25) = 56.25 degC
    expect(next({ missing: lean(8), coolantC: 57 })).toBeNull()
    expect(next({ missing: lean(8), coolantC: 55 })).not.toBeNull()
    const holds = (factor: number) => TuneParameters.shape.accelColdFactor.safeParse(factor).success
    expect([holds(6), holds(6.05)]).toEqual([true, false])
    const high = { ...tune, parameters: { ...tune.parameters, accelColdFactor: 4 } }
    expect(applyColdSteps(high, { times: 2, coolantC: 0 }, '')!.parameters.accelColdFactor).toBe(6)
    expect(applyColdSteps(tune, { times: null, coolantC: 20 }, '')).toBeNull()
  })
})

describe('a version with what is wanted', () => {
  const tune = computeBaseTune(soundBuild().facts, soundBuild().choices)
  it('throttle and pressure alike, the rest as it is, with where it comes from', () => {
    const next = applySteps(tune, 1.4, 'learned from 8 throttle steps')!
    expect(next.parameters.accelPctPer100).toBeCloseTo(1.4 * tune.parameters.accelPctPer100, 6)
    expect(next.parameters.accelMapPctPer100).toBeCloseTo(1.4 * tune.parameters.accelMapPctPer100, 6)
    expect(next.provenance.accelPctPer100).toBe('learned from 8 throttle steps')
    expect({ ...next.parameters, accelPctPer100: 0, accelMapPctPer100: 0 }).toEqual({
      ...tune.parameters,
      accelPctPer100: 0,
      accelMapPctPer100: 0,
    })
  })
  it('no more than a tune holds, and no version that changes nothing', () => {
    const most = { ...tune, parameters: { ...tune.parameters, accelPctPer100: 300 } }
    expect(applySteps(most, 2, '')!.parameters.accelPctPer100).toBe(400)
    expect(applySteps(tune, 1.0001, '')).toBeNull()
  })
})
