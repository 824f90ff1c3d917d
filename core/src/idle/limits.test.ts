import { describe, expect, it } from 'vitest'
import { judgeIdle } from './verdict.ts'

/** A calm idle of a number of seconds at 20 readings a second. */
function calm(seconds: number, more: { rpm?: number; throttlePct?: number; coolantC?: number; swingRpm?: number; stepS?: number } = {}) {
  const { rpm = 800, throttlePct = 0, coolantC = 86, swingRpm = 0, stepS = 0.05 } = more
  const n = Math.round(seconds / stepS)
  const timeS = Float64Array.from({ length: n }, (_, i) => i * stepS)
  const fill = (value: number) => new Float32Array(n).fill(value)
  const speed = Float32Array.from(timeS, (t) => rpm + swingRpm * Math.sin((2 * Math.PI * t) / 2.5) + Math.sin(t * 7.3) * 2)
  return judgeIdle(
    {
      timeS,
      channels: {
        rpm: speed,
        throttlePct: fill(throttlePct),
        coolantC: fill(coolantC),
        idleValvePct: fill(20),
        lambda: fill(0.98),
        lambdaTarget: fill(0.98),
        correctionPct: fill(0),
        mapKpa: fill(45),
      },
    },
    {},
  )
}
/** Both sides of each limit of handbook 06. */
describe('limits of Idle', () => {
  it.each([
    ['29.8 s after three to settle', calm(32.8), false],
    ['30.2 s after three to settle', calm(33.2), true],
    ['a throttle at 2.5 %', calm(60, { throttlePct: 2.4 }), true],
    ['a throttle at 2.6 %', calm(60, { throttlePct: 2.6 }), false],
    ['coolant at 70 C', calm(60, { coolantC: 70 }), true],
    ['coolant at 69 C', calm(60, { coolantC: 69 }), false],
    ['1490 rpm', calm(60, { rpm: 1490 }), true],
    ['1510 rpm', calm(60, { rpm: 1510 }), false],
    ['rows 0.49 s apart', calm(60, { stepS: 0.49 }), true],
    ['rows 0.51 s apart', calm(60, { stepS: 0.51 }), false],
    ['310 rpm', calm(60, { rpm: 310 }), true],
    ['290 rpm', calm(60, { rpm: 290 }), false],
  ])('%s', (_what, verdict, judged) => expect(verdict.verdict !== 'not-enough-data').toBe(judged))
  it('a swing of 25 rpm hunts, a smaller one does not', () => {
    expect(calm(60, { swingRpm: 23 }).verdict).not.toMatch(/^hunting/)
    expect(calm(60, { swingRpm: 28 }).verdict).toMatch(/^hunting/)
  })
  it('a bit of idle counts from ten seconds on', () => {
    /** Two bits of idle with the throttle opened between them; three seconds of each are left to settle. */
    const bits = (secondS: number) => {
      const n = Math.round((26 + 2 + secondS) * 20)
      const timeS = Float64Array.from({ length: n }, (_, i) => i * 0.05)
      const fill = (f: (t: number) => number) => Float32Array.from(timeS, f)
      return judgeIdle(
        {
          timeS,
          channels: {
            rpm: fill((t) => 800 + 2 * Math.sin(t * 7.3)),
            throttlePct: fill((t) => (t > 26 && t < 28 ? 20 : 0)),
            coolantC: fill(() => 86),
          },
        },
        {},
      ).verdict
    }
    // 23 s and 9.8 s: the second does not count; 23 s and 10.4 s: 33 s of idle
    expect(bits(12.8)).toBe('not-enough-data')
    expect(bits(13.4)).not.toBe('not-enough-data')
  })
  it('speed that is 260 rpm off the usual is coasting', () => {
    const coast = (rpm: number) => {
      const n = 60 * 20
      const timeS = Float64Array.from({ length: n }, (_, i) => i * 0.05)
      const fill = (f: (t: number) => number) => Float32Array.from(timeS, f)
      return judgeIdle(
        { timeS, channels: { rpm: fill((t) => (t < 35 ? 800 : rpm)), throttlePct: fill(() => 0), coolantC: fill(() => 86) } },
        {},
      ).seconds
    }
    expect(coast(1055)).toBeGreaterThan(50)
    expect(coast(1065)).toBeLessThan(40)
  })
})
