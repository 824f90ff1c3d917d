import { describe, expect, it } from 'vitest'
import type { LogData } from '../logfile/read.ts'
import type { IdleOptions } from './answer.ts'
import { judgeIdle } from './verdict.ts'

interface Calm {
  rpm?: number | ((t: number) => number)
  throttlePct?: number | ((t: number) => number)
  coolantC?: number
  swingRpm?: number
  /** from reading to reading, plus and minus */
  roughRpm?: number
  flicker?: number
  stepS?: number
  valvePct?: number | ((t: number) => number)
  lambda?: number | ((t: number) => number)
  correctionPct?: number | ((t: number) => number)
  options?: IdleOptions
}
/** A calm idle of a number of seconds at 20 readings a second. */
function calm(seconds: number, more: Calm = {}) {
  const {
    rpm = 800,
    throttlePct = 0,
    coolantC = 86,
    swingRpm = 0,
    stepS = 0.05,
    roughRpm = 0,
    flicker = 0,
    valvePct = 20,
    lambda = 0.98,
  } = more
  const { correctionPct = 0, options = {} } = more
  const n = Math.round(seconds / stepS)
  const timeS = Float64Array.from({ length: n }, (_, i) => i * stepS)
  const of = (value: number | ((t: number) => number)) => Float32Array.from(timeS, (t) => (typeof value === 'number' ? value : value(t)))
  // + - - + has a second difference of two each time: its roughness is two over root six of its size
  const rough = (size: number, i: number) => size * [1, -1, -1, 1][i % 4] * (Math.sqrt(6) / 2)
  const base = of(rpm)
  const channels: LogData['channels'] = {
    rpm: base.map((v, i) => v + swingRpm * Math.sin((2 * Math.PI * timeS[i]) / 2.5) + Math.sin(timeS[i] * 7.3) * 2 + rough(roughRpm, i)),
    throttlePct: of(throttlePct),
    coolantC: of(coolantC),
    idleValvePct: of(valvePct),
    lambda: of(lambda).map((v, i) => v + rough(flicker, i)),
    lambdaTarget: of(0.98),
    correctionPct: of(correctionPct),
    mapKpa: of(45),
  }
  return judgeIdle({ timeS, channels }, options)
}
const at800 = { targetRpm: 800 }

/** Both sides of each limit of handbook 06. */
describe('limits of Idle', () => {
  it.each([
    ['29.8 s after three to settle', calm(32.8), false],
    ['30.2 s after three to settle', calm(33.2), true],
    ['coolant at 70 C', calm(60, { coolantC: 70 }), true],
    ['coolant at 69 C', calm(60, { coolantC: 69 }), false],
    ['1990 rpm', calm(60, { rpm: 1990 }), true],
    ['2010 rpm', calm(60, { rpm: 2010 }), false],
    ['2090 rpm of 800 wanted', calm(60, { rpm: 2090, options: at800 }), true],
    ['2110 rpm of 800 wanted', calm(60, { rpm: 2110, options: at800 }), false],
    ['rows 0.49 s apart', calm(60, { stepS: 0.49 }), true],
    ['rows 0.51 s apart', calm(60, { stepS: 0.51 }), false],
    ['310 rpm', calm(60, { rpm: 310 }), true],
    ['290 rpm', calm(60, { rpm: 290 }), false],
    ['a throttle held at 7.9 %', calm(60, { throttlePct: 7.9 }), true],
    ['a throttle held at 8.1 %', calm(60, { throttlePct: 8.1 }), false],
    ['a throttle that moves by 1.5 %', calm(60, { throttlePct: (t) => 0.75 * Math.sin(3 * t) }), true],
    ['a throttle that moves by 1.7 %', calm(60, { throttlePct: (t) => 0.85 * Math.sin(3 * t) }), false],
  ])('%s', (_what, verdict, judged) => expect(verdict.verdict !== 'not-enough-data').toBe(judged))

  it.each<[string, Calm, string, string]>([
    ['a throttle that rests at 2.5 %, and at 2.6 %', { throttlePct: 2.5 }, 'good', 'throttle-sticks'],
    ['50 rpm over, and 54', { rpm: 849, options: at800 }, 'good', 'off-target-high'],
    ['49 rpm under, and 54', { rpm: 751, options: at800 }, 'good', 'off-target-low'],
    ['a valve at 2.6 %, and at 2.5 %', { valvePct: 2.6, options: at800 }, 'good', 'high-valve-shut'],
    ['a valve at 49 %, and at 50 %', { valvePct: 49, options: at800 }, 'good', 'low-valve-wide'],
    ['a swing of 24 rpm, and of 27', { swingRpm: 24, options: at800 }, 'good', 'hunting-valve'],
    ['rough by 7.8 rpm, and by 8.3, where the mixture flickers', { roughRpm: 7.8, flicker: 0.05, options: at800 }, 'good', 'misfire'],
    [
      'rough by 12 rpm with a mixture that flickers by 0.029, and by 0.031',
      { roughRpm: 12, flicker: 0.029, options: at800 },
      'good',
      'misfire',
    ],
    ['rough by 24 rpm with a still mixture, and by 26', { roughRpm: 24, options: at800 }, 'good', 'misfire'],
    ['lean by 0.049, and by 0.052', { lambda: 1.029, options: at800 }, 'good', 'lean'],
    ['rich by 0.049, and by 0.052', { lambda: 0.931, options: at800 }, 'good', 'rich'],
    ['a correction of 14.8 %, and of 15.2', { correctionPct: 14.8, options: { ...at800, authorityPct: 25 } }, 'good', 'lean'],
    ['a correction of -14.8 %, and of -15.2', { correctionPct: -14.8, options: at800 }, 'good', 'rich'],
    [
      'a valve moved 9.1 % of 10 allowed, and 9.3',
      { valvePct: 27.1, options: { ...at800, reach: { startPct: 18, mostPct: 10 } } },
      'good',
      'adaptation-at-limit',
    ],
  ])('%s', (what, more, below, beyond) => {
    const over: Record<string, Calm> = {
      throttle: { throttlePct: 2.6 },
      '50 rpm': { rpm: 854 },
      '49 rpm': { rpm: 746 },
      'a valve at 2.6': { valvePct: 2.5 },
      'a valve at 49': { valvePct: 50 },
      'a swing': { swingRpm: 27 },
      'rough by 7.8': { roughRpm: 8.3 },
      'rough by 12': { flicker: 0.031 },
      'rough by 24': { roughRpm: 26 },
      'lean by': { lambda: 1.032 },
      'rich by': { lambda: 0.928 },
      'correction of 14.8': { correctionPct: 15.2 },
      'correction of -14.8': { correctionPct: -15.2 },
      moved: { valvePct: 27.3 },
    }
    const [, past] = Object.entries(over).find(([key]) => what.includes(key))!
    expect(calm(60, more).verdict).toBe(below)
    expect(calm(60, { ...more, ...past }).verdict).toBe(beyond)
  })

  it('the larger of two swings drives it: 0.03 of lambda weighs like 3 % of valve', () => {
    const together = (valvePct: number) => {
      const wave = (size: number, mean: number) => (t: number) => mean + size * Math.sin((2 * Math.PI * t) / 2.5 + 1)
      return calm(60, { swingRpm: 60, lambda: wave(0.06, 0.98), valvePct: wave(valvePct, 20), correctionPct: wave(4, 0), options: at800 })
        .verdict
    }
    expect(together(5.6)).toBe('hunting-mixture')
    expect(together(6.4)).toBe('hunting-valve')
  })
  it('far over its target nothing else is looked at: 150 rpm', () => {
    const rough = { roughRpm: 30, options: at800 }
    expect(calm(60, { ...rough, rpm: 945 }).verdict).toBe('misfire')
    expect(calm(60, { ...rough, rpm: 955 }).verdict).toBe('off-target-high')
  })
  it('what the loop holds is said from 6 % on, and a loop at its limit is not good', () => {
    expect(calm(60, { correctionPct: 5.9, options: { ...at800, authorityPct: 25 } }).notes).toEqual([])
    expect(calm(60, { correctionPct: 6.1, options: { ...at800, authorityPct: 25 } }).notes[0]).toMatch(/adds 6 %/)
    expect(calm(60, { correctionPct: 11.4, options: { ...at800, authorityPct: 12 } }).verdict).toBe('good')
    expect(calm(60, { correctionPct: 11.6, options: { ...at800, authorityPct: 12 } }).verdict).toBe('lean')
  })
  it('a throttle left 1.5 % above where it rested sticks', () => {
    const left = (pct: number) => calm(90, { throttlePct: (t) => (t < 40 ? 0 : t < 42 ? 15 : pct), options: at800 }).verdict
    expect(left(1.4)).toBe('good')
    expect(left(1.6)).toBe('throttle-sticks')
  })
  it('a throttle that comes back was held by a foot; one that stays up for 20 s sticks', () => {
    const up = (seconds: number, after: number) =>
      calm(60 + seconds + after, { throttlePct: (t) => (t < 50 ? 0 : t < 51 ? 15 : t < 51 + seconds ? 5 : 0), options: at800 }).verdict
    expect(up(30, 10)).toBe('good')
    // three seconds of each idle are left for coming down
    expect(up(13.5, -9)).toBe('good')
    expect(up(24.5, -9)).toBe('throttle-sticks')
  })
  it('a loop that adds 15 % more at idle than with the throttle open is fooled', () => {
    const with15 = (idlePct: number) =>
      calm(90, {
        rpm: (t) => (t < 20 ? 2500 : 800),
        throttlePct: (t) => (t < 20 ? 15 : 0),
        correctionPct: (t) => (t < 20 ? 3 : idlePct),
        options: at800,
      }).verdict
    expect(with15(17.8)).toBe('lean')
    expect(with15(18.2)).toBe('loop-fooled')
  })
  /** Every twenty seconds it leaves its rest by so much in one reading of 0.05 s, and goes on from there by so much each. */
  const opens = (jumpPct: number, thenPct: number, times = 6) =>
    calm(20 * times, {
      throttlePct: (t) => {
        const row = Math.ceil(((t + 0.01) % 20) / 0.05 - 360)
        return (t + 0.01) % 20 < 18 || row < 1 ? 0 : Math.min(20, jumpPct + thenPct * (row - 1))
      },
    }).notes
  it.each([
    ['3.1 % in one reading', 3.1, 0.2, true],
    ['2.9 %', 2.9, 0.2, false],
    ['7.9 %', 7.9, 0.2, true],
    ['8.1 %: kicked open', 8.1, 0.2, false],
    ['5 %, and on by 1.6 % each: under a third, a foot would go on', 5, 1.6, true],
    ['5 %, and on by 1.75 % each: a foot', 5, 1.75, false],
    ['5 %, and on by 0.026 % each: half a per cent within a second', 5, 0.026, true],
    ['5 %, and it hardly goes on: a foot that was put there', 5, 0.024, false],
  ])('a throttle that leaves its rest by %s', (_, jump, then, caught) => {
    const notes = opens(jump, then)
    expect(notes.length).toBe(caught ? 1 : 0)
    if (caught) expect(notes[0]).toContain(`6 of 6 times the throttle left its rest in a jump, by ${jump.toFixed(1)} % on the mean`)
  })
  it('four openings tell, three do not', () => {
    expect(opens(5, 0.2, 4)).toHaveLength(1)
    expect(opens(5, 0.2, 3)).toEqual([])
  })
  it('a bit of idle counts from ten seconds on', () => {
    /** Two bits of idle with the throttle opened between them; three seconds of each are left to settle. */
    const bits = (secondS: number) => calm(28 + secondS, { throttlePct: (t) => (t > 26 && t < 28 ? 20 : 0) }).verdict
    // 23 s and 9.8 s: the second does not count; 23 s and 10.4 s: 33 s of idle
    expect(bits(12.8)).toBe('not-enough-data')
    expect(bits(13.4)).not.toBe('not-enough-data')
  })
  it('speed that is 260 rpm off the usual is coasting', () => {
    const coast = (rpm: number) => calm(60, { rpm: (t) => (t < 35 ? 800 : rpm) }).seconds
    expect(coast(1055)).toBeGreaterThan(50)
    expect(coast(1065)).toBeLessThan(40)
  })
})
