/** Welch spectrum of an evenly sampled trace: straight line taken off each segment, Hann window, half overlap. Source: P. D. Welch, IEEE Trans. AU-15 (1967). */
export interface Spectrum {
  frequencyHz: number[]
  power: number[]
  /** cross spectrum with the second trace, when given */
  crossRe?: number[]
  crossIm?: number[]
  otherPower?: number[]
  /** sum of the window's weights: scales power to amplitude */
  windowSum?: number
}

function prepare(values: Float64Array): Float64Array {
  const n = values.length
  let sx = 0,
    sy = 0,
    sxx = 0,
    sxy = 0
  for (let i = 0; i < n; i++) {
    sx += i
    sy += values[i]
    sxx += i * i
    sxy += i * values[i]
  }
  const slope = (n * sxy - sx * sy) / (n * sxx - sx * sx)
  const mean = (sy - slope * sx) / n
  return values.map((v, i) => (v - mean - slope * i) * (0.5 - 0.5 * Math.cos((2 * Math.PI * i) / (n - 1))))
}

/** One bin of the discrete Fourier transform (Goertzel would do; the bins are few). */
function bin(values: Float64Array, cyclesPerSample: number): [number, number] {
  let re = 0
  let im = 0
  for (let i = 0; i < values.length; i++) {
    const angle = 2 * Math.PI * cyclesPerSample * i
    re += values[i] * Math.cos(angle)
    im -= values[i] * Math.sin(angle)
  }
  return [re, im]
}

/**
 * @param runs unbroken pieces of the trace (and of a second one, same lengths), each at least one segment long
 * @param stepS time between samples, s
 */
export function welch(runs: Float64Array[], stepS: number, segmentS: number, maxHz: number, others?: Float64Array[]): Spectrum {
  const length = Math.round(segmentS / stepS)
  // a straight line and a window leave nothing of a shorter one
  if (length < 4) return { frequencyHz: [], power: [] }
  const bins: number[] = []
  for (let k = 1; k / (length * stepS) <= maxHz; k++) bins.push(k)
  const power = bins.map(() => 0)
  const crossRe = bins.map(() => 0)
  const crossIm = bins.map(() => 0)
  const otherPower = bins.map(() => 0)
  let count = 0
  runs.forEach((run, r) => {
    for (let at = 0; at + length <= run.length; at += length >> 1) {
      const segment = prepare(run.slice(at, at + length))
      const other = others ? prepare(others[r].slice(at, at + length)) : null
      count++
      bins.forEach((k, b) => {
        const [re, im] = bin(segment, k / length)
        power[b] += re * re + im * im
        if (other) {
          const [ore, oim] = bin(other, k / length)
          otherPower[b] += ore * ore + oim * oim
          crossRe[b] += re * ore + im * oim
          crossIm[b] += im * ore - re * oim
        }
      })
    }
  })
  const scale = count || 1
  return {
    frequencyHz: bins.map((k) => k / (length * stepS)),
    power: power.map((v) => v / scale),
    // a Hann window's mean is a half
    windowSum: length / 2,
    ...(others
      ? { crossRe: crossRe.map((v) => v / scale), crossIm: crossIm.map((v) => v / scale), otherPower: otherPower.map((v) => v / scale) }
      : {}),
  }
}

/** An engine's swing is no clean line: what lies within this share of its frequency belongs to it. */
const BAND = 0.2
/** Power of a line with what belongs to it. */
function bandPower(power: readonly number[], index: number): number {
  const reach = Math.max(1, Math.round(BAND * (index + 1)))
  let sum = 0
  for (let i = Math.max(0, index - reach); i <= Math.min(power.length - 1, index + reach); i++) sum += power[i]
  return sum
}

/** Strongest line: its frequency by a parabola through the peak, and the share of all power that belongs to it. */
export function peak(s: Spectrum): { frequencyHz: number; share: number; index: number } | null {
  if (s.power.length < 3) return null
  let k = 0
  for (let i = 1; i < s.power.length; i++) if (s.power[i] > s.power[k]) k = i
  const total = s.power.reduce((a, b) => a + b, 0)
  if (!(total > 0)) return null
  const step = s.frequencyHz[1] - s.frequencyHz[0]
  let shift = 0
  if (k > 0 && k < s.power.length - 1) {
    const [a, b, c] = [s.power[k - 1], s.power[k], s.power[k + 1]].map((v) => Math.log(v + 1e-300))
    const bend = a - 2 * b + c
    if (bend < 0) shift = Math.max(-0.5, Math.min(0.5, (0.5 * (a - c)) / bend))
  }
  return { frequencyHz: s.frequencyHz[k] + shift * step, share: bandPower(s.power, k) / total, index: k }
}

/**
 * Half of peak to peak of the swing at a line: the power of its band. A sine of amplitude A leaves (A/2 times the window's sum) squared at
 * its own bin and 1.5 times as much over three bins of a Hann window. Source: Harris, Proc. IEEE 66 (1978), noise bandwidth 1.5 of the Hann window.
 */
export function lineAmplitude(power: readonly number[], index: number, windowSum: number): number {
  return (2 * Math.sqrt(bandPower(power, index) / 1.5)) / windowSum
}
