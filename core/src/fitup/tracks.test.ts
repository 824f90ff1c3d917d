import { describe, expect, it } from 'vitest'
import { Random } from '../kernel/random.ts'
import { judgeTracks, pedalMap, softStart, sweepFromCsv, tracksEntry, tracksSay } from './tracks.ts'
import { FitupChoices } from './choices.ts'

const HZ = 100
/** A sweep from end to end and back in ten seconds, held a second at each end. */
function sweep(
  two: (share: number, i: number) => number = (s) => 0.4 + 1.6 * s,
  noiseV = 0,
  one: (share: number, i: number) => number = (s) => 0.8 + 3.2 * s,
) {
  const random = new Random(5)
  const shares = Array.from({ length: 10 * HZ }, (_, i) => {
    const t = i / HZ
    return Math.min(1, Math.max(0, t < 5 ? (t - 1) / 3.5 : (9.5 - t) / 3.5))
  })
  return {
    timeS: shares.map((_, i) => i / HZ),
    oneV: shares.map((s, i) => one(s, i) + noiseV * random.normal()),
    twoV: shares.map((s, i) => two(s, i) + (noiseV / 2) * random.normal()),
  }
}

describe('two tracks', () => {
  it('sound: nothing wrong, each over its own ends', () => {
    const v = judgeTracks(sweep())
    expect(v.wrong).toEqual([])
    expect(v.apartPct).toBeLessThan(0.5)
    expect(v.ends).toEqual({ oneV: [0.8, 4], twoV: [0.4, 2] })
  })
  it('a track that falls while the other rises is turned over', () => expect(judgeTracks(sweep((s) => 4 - 3.2 * s)).wrong).toEqual([]))
  // a bow of the second track that is 4 x s (1 - s) of b at the middle
  it.each([
    [4.5, 0],
    [5.5, 1],
  ])('bowed by %d %%: %d things', (bow, things) => {
    const v = judgeTracks(sweep((s) => 0.4 + 1.6 * (s + (4 * bow * s * (1 - s)) / 100)))
    expect(v.apartPct).toBeCloseTo(bow, 0)
    expect(v.wrong).toHaveLength(things)
  })
  // span 3.2 V: 0.4 % is 12.8 mV, 0.65 % is 20.8 mV; the running median takes a ninth of it away
  it.each([
    [0.4, 0],
    [0.65, 1],
  ])('noise of %d %%', (pct, things) => {
    const v = judgeTracks(sweep(undefined, (3.2 * pct) / 100))
    expect(v.noisePct).toBeCloseTo(pct, 0)
    expect(v.wrong).toHaveLength(things)
  })
  it('noisy in motion and clean at rest is linkage, spring or mount', () => {
    const random = new Random(9)
    const one = (s: number) => 0.8 + 3.2 * s + (s > 0 && s < 1 ? 0.04 * random.normal() : 0)
    expect(judgeTracks(sweep(undefined, 0, one)).wrong[0]).toContain('linkage, spring or mount')
  })
  it('spikes: one in ten seconds may be chance, three are a worn spot', () => {
    const spiky = (at: number[]) => judgeTracks(sweep(undefined, 0, (s, i) => 0.8 + 3.2 * s + (at.includes(i) ? 0.2 : 0)))
    expect(spiky([300]).wrong).toEqual([])
    expect(spiky([250, 300, 350]).wrong[0]).toContain('worn spot')
    expect(spiky([250, 300, 350]).spikesPerMin).toBeCloseTo(18, 0)
  })
  // span 3.2 V, of which the running mean of nine takes a ninth away: 2 % is 72 mV
  it.each([
    [0.07, 0],
    [0.075, 1],
  ])('three of %d V: a spike from 2 % of the way on', (spikeV, things) => {
    const at = [250, 300, 350]
    expect(judgeTracks(sweep(undefined, 0, (s, i) => 0.8 + 3.2 * s + (at.includes(i) ? spikeV : 0))).wrong).toHaveLength(things)
  })
  it('a lost supply and a stuck plate are named', () => {
    expect(judgeTracks(sweep(() => 0.01)).wrong[0]).toContain('track two falls to nothing')
    expect(judgeTracks(sweep(() => 1)).wrong[0]).toContain('track two does not move')
    expect(
      judgeTracks(
        sweep(
          () => 1,
          0,
          () => 2,
        ),
      ).wrong[0],
    ).toContain('neither track moves')
  })
  it('sampled so slowly that a turning point looks like a spike it is refused; at the same sweep fast enough it is sound', () => {
    const at = (hz: number) => {
      const share = (t: number) => (t < 2.5 ? t / 2.5 : (5 - t) / 2.5)
      const timeS = Array.from({ length: 5 * hz }, (_, i) => i / hz)
      return judgeTracks({ timeS, oneV: timeS.map((t) => 0.8 + 3.2 * share(t)), twoV: timeS.map((t) => 0.4 + 1.6 * share(t)) })
    }
    // 40 % a second: 2 % a sample at 20 Hz, 1 at 40
    expect(() => at(20)).toThrow(/1.5 % from one sample to the next is the most/)
    expect(at(40).wrong).toEqual([])
  })
  it('too short a sweep is refused by its bound', () =>
    expect(() => judgeTracks({ timeS: [0, 1, 2], oneV: [1, 2, 3], twoV: [1, 2, 3] })).toThrow(/3 s or longer with 30 samples/))
})

describe('what is kept and said of a sweep', () => {
  it('noise is no dead track; a lost supply is one', () => {
    const noisy = judgeTracks(sweep(undefined, 0.05))
    expect(noisy.wrong.length).toBeGreaterThan(0)
    expect(tracksEntry('pedal', noisy)).toMatchObject({ which: 'pedal', sound: true, noisePct: expect.closeTo(1.5, 0) })
    expect(tracksEntry('plate', judgeTracks(sweep(() => 0.01)))).toMatchObject({ which: 'plate', sound: false })
  })
  it('in words with the limits of handbook 04; what was not seen at rest is said', () => {
    expect(tracksSay(judgeTracks(sweep()))).toMatch(/\(5 is the most\).*\(0.5 is the most\), 0.0 spikes a minute \(1\)/)
    const timeS = Array.from({ length: 400 }, (_, i) => i / 100)
    const share = timeS.map((t) => (t < 2 ? t / 2 : (4 - t) / 2))
    const moving = judgeTracks({ timeS, oneV: share.map((s) => 0.8 + 3.2 * s), twoV: share.map((s) => 0.4 + 1.6 * s) })
    expect(moving.restNoisePct).toBeNull()
    expect(tracksSay(moving)).toContain('not seen at rest')
  })
})

describe('a recording', () => {
  it('is read with or without a head, with commas of either kind', () => {
    const read = { timeS: [0, 0.1], oneV: [0.8, 0.9], twoV: [0.4, 0.45] }
    expect(sweepFromCsv('time,one,two\n0,0.8,0.4\n0.1,0.9,0.45\n')).toEqual(read)
    expect(sweepFromCsv('0;0,8;0,4\n0,1;0,9;0,45')).toEqual(read)
  })
  it.each([
    ['nothing of use', /three columns of numbers/],
    ['0,1,1\n1,1,x', /line 2: three numbers/],
    ['0,1,1\n0,1,1', /line 2: time must run forward/],
    ['head,a,b\n0,1,1\n1,1,16.5', /line 3: a track must be -1 to 16 V/],
  ])('%s', (text, message) => expect(() => sweepFromCsv(text)).toThrow(message))
})

describe('pedal to plate by a curve', () => {
  it('straight without one; through its points with one; never back', () => {
    expect(pedalMap()(37)).toBe(37)
    const curve = [
      { pedalPct: 0, platePct: 0 },
      { pedalPct: 50, platePct: 20 },
      { pedalPct: 100, platePct: 100 },
    ]
    const map = pedalMap({ curve })
    expect([map(0), map(50), map(100)]).toEqual([0, 20, 100])
    for (let p = 1; p <= 100; p++) expect(map(p)).toBeGreaterThanOrEqual(map(p - 1))
  })
  it('a softer start: half soft at 10 %: 0.5 x 10 + 0.5 x 1 = 5.5 %', () => {
    expect(softStart(0.5)[1]).toEqual({ pedalPct: 10, platePct: 5.5 })
    expect(softStart(0)[3]).toEqual({ pedalPct: 50, platePct: 50 })
  })
  it.each([
    [[0, 30, 20, 100], /never closes while the pedal goes down/],
    [[5, 30, 60], /begin at 0 %/],
  ] as const)('%o is refused', (plates, message) => {
    const curve = plates.map((platePct, i) => ({
      pedalPct: (message.source.includes('begin') ? 5 : 0) + (95 * i) / (plates.length - 1),
      platePct,
    }))
    const parsed = FitupChoices.safeParse({ pedal: { curve } })
    expect(parsed.error?.issues.map((i) => i.message).join()).toMatch(message)
  })
})
