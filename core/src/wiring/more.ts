import type { Gauge, OutputChannel, OutputCondition, Sender } from './choices.ts'

/** Steinhart and Hart's law of a thermistor: 1/T = a + b ln R + c (ln R)^3, T in kelvin. */
export interface SenderCurve {
  kind: 'thermistor' | 'line'
  /** value for a signal */
  at: (signal: number) => number
  /** at each calibration point, what the curve says less what was told */
  misses: number[]
  /** largest miss over the range of the values */
  worstShare: number
}
const KELVIN = 273.15

/** Straight pieces between the points, the end ones carried on. */
function pieces(points: readonly { signal: number; value: number }[]): (signal: number) => number {
  const sorted = [...points].sort((a, b) => a.signal - b.signal)
  return (signal) => {
    let k = sorted.findIndex((p) => p.signal >= signal)
    k = k < 0 ? sorted.length - 1 : Math.max(1, k)
    const [a, b] = [sorted[k - 1], sorted[k]]
    return a.value + ((b.value - a.value) * (signal - a.signal)) / (b.signal - a.signal)
  }
}
/** Solves three equations in three unknowns. */
function solve3(rows: readonly (readonly [number, number, number, number])[]): [number, number, number] {
  const m = rows.map((r) => [...r])
  for (let i = 0; i < 3; i++) {
    const p = m.slice(i).reduce((best, row, k) => (Math.abs(row[i]) > Math.abs(m[best][i]) ? k + i : best), i)
    ;[m[i], m[p]] = [m[p], m[i]]
    for (let k = 0; k < 3; k++) if (k !== i) m[k] = m[k].map((v, j) => v - (m[k][i] / m[i][i]) * m[i][j])
  }
  return [m[0][3] / m[0][0], m[1][3] / m[1][1], m[2][3] / m[2][2]]
}
function thermistor(points: readonly { signal: number; value: number }[]): (signal: number) => number {
  const basis = (ohm: number) => [1, Math.log(ohm), Math.log(ohm) ** 3]
  const normal = [0, 1, 2].map(() => [0, 0, 0, 0] as [number, number, number, number])
  for (const { signal, value } of points) {
    const b = basis(signal)
    for (let i = 0; i < 3; i++) {
      for (let k = 0; k < 3; k++) normal[i][k] += b[i] * b[k]
      normal[i][3] += b[i] / (value + KELVIN)
    }
  }
  const [a, b, c] = solve3(normal)
  return (ohm) => 1 / (a + b * Math.log(ohm) + c * Math.log(ohm) ** 3) - KELVIN
}

/**
 * The curve of a sender through its calibration points. Resistances that fall with warmth follow the thermistor's law; anything else goes by
 * straight pieces, each of which is tried against the point that is left out.
 * @source J. S. Steinhart and S. R. Hart, Calibration curves for thermistors, Deep-Sea Research 15 (1968)
 */
export function senderCurve({ signal, unit, points }: Pick<Sender, 'signal' | 'unit' | 'points'>): SenderCurve {
  const warm = signal === 'ohm' && /^°?C$/.test(unit) && points.length >= 4 && points.every((p) => p.signal > 0)
  const falls = warm && isFalling(points)
  const at = falls ? thermistor(points) : pieces(points)
  const range = Math.max(...points.map((p) => p.value)) - Math.min(...points.map((p) => p.value))
  const misses = falls ? points.map((p) => at(p.signal) - p.value) : leftOut(points)
  return { kind: falls ? 'thermistor' : 'line', at, misses, worstShare: range > 0 ? Math.max(0, ...misses.map(Math.abs)) / range : 1 }
}
const isFalling = (points: readonly { signal: number; value: number }[]): boolean => {
  const sorted = [...points].sort((a, b) => a.signal - b.signal)
  return sorted.every((p, i) => i === 0 || p.value < sorted[i - 1].value)
}
/**
 * How far the curve bends between two points: a quarter of what each inner point misses the straight line of its neighbours by, for the error of a
 * straight piece goes with the square of its length.
 */
function leftOut(points: readonly { signal: number; value: number }[]): number[] {
  const sorted = [...points].sort((a, b) => a.signal - b.signal)
  return sorted.map((p, i) => (i === 0 || i === sorted.length - 1 ? 0 : (pieces(sorted.filter((q) => q !== p))(p.signal) - p.value) / 4))
}
/** Why points make no curve; null when they do. */
export function senderProblem({ points }: Pick<Sender, 'points'>): string | null {
  const signals = points.map((p) => p.signal)
  const twice = signals.find((s, i) => signals.indexOf(s) !== i)
  if (twice !== undefined) return `two points at a signal of ${twice}: one of them is wrong`
  const sorted = [...points].sort((a, b) => a.signal - b.signal)
  const rises = sorted.every((p, i) => i === 0 || p.value > sorted[i - 1].value)
  const falls = sorted.every((p, i) => i === 0 || p.value < sorted[i - 1].value)
  return rises || falls ? null : 'the values neither rise nor fall all along: one signal would mean two things'
}

/** One resistance or voltage put on a gauge's lead, and where its needle must then stand. */
export interface GaugeMark {
  signal: number
  value: number
  /** of the scale, 0 at its low end */
  share: number
}
/** Where a gauge must stand for signals of its sender: three to try it with, spread over its scale. */
export function gaugeMarks(gauge: Gauge, sender: Sender): GaugeMark[] {
  const { at } = senderCurve(sender)
  const sorted = sender.points.map((p) => p.signal).sort((a, b) => a - b)
  const [first, last] = [sorted[0], sorted[sorted.length - 1]]
  return [0, 0.5, 1].map((t) => {
    const signal = sender.signal === 'ohm' && first > 0 ? first * (last / first) ** t : first + (last - first) * t
    const value = at(signal)
    return { signal, value, share: (value - gauge.low) / (gauge.high - gauge.low) }
  })
}
/** Why a gauge does not fit its sender; null when it does. */
export function gaugeProblem(gauge: Gauge, sender: Sender | undefined): string | null {
  if (!sender) return `its sender “${gauge.sender}” is not in the list`
  if (gauge.low === gauge.high) return 'its scale has no length'
  const values = sender.points.map((p) => p.value)
  const [low, high] = [Math.min(gauge.low, gauge.high), Math.max(gauge.low, gauge.high)]
  const past = values.find((v) => v < low || v > high)
  return past === undefined ? null : `its sender goes to ${past} ${sender.unit}, its scale from ${low} to ${high}`
}

export const outputChannels: Record<OutputChannel, { words: string; unit: string }> = {
  rpm: { words: 'speed', unit: 'rpm' },
  mapKpa: { words: 'manifold pressure', unit: 'kPa' },
  throttlePct: { words: 'throttle', unit: '%' },
  coolantC: { words: 'coolant', unit: '°C' },
  intakeAirC: { words: 'intake air', unit: '°C' },
  batteryV: { words: 'battery', unit: 'V' },
  fuelKpa: { words: 'fuel pressure', unit: 'kPa' },
  oilKpa: { words: 'oil pressure', unit: 'kPa' },
  speedKmh: { words: 'road speed', unit: 'km/h' },
}
/** A virtual output's condition as a sentence. */
export function outputSentence(w: OutputCondition): string {
  const { words, unit } = outputChannels[w.channel]
  const rising = w.on >= w.off
  const held = w.delayS ? ` for ${w.delayS} s` : ''
  const and = w.andRpmOver ? `, while speed is over ${w.andRpmOver} rpm` : ''
  return `On when ${words} is ${rising ? 'over' : 'under'} ${w.on} ${unit}${held}${and}; off when it is ${rising ? 'under' : 'over'} ${w.off} ${unit}.`
}
/** Why a condition cannot work; null when it can. */
export function outputProblem(w: OutputCondition): string | null {
  if (w.on === w.off) return 'on and off at the same value: it would chatter'
  return null
}
/**
 * What the output does over a record: on or off at each row.
 * @param rows in time order; the channels that the condition names
 */
export function outputOver(w: OutputCondition, rows: readonly { timeS: number; value: number; rpm: number }[]): boolean[] {
  const rising = w.on >= w.off
  let on = false
  let since: number | null = null
  return rows.map(({ timeS, value, rpm }) => {
    const allowed = w.andRpmOver === undefined || rpm > w.andRpmOver
    const wants = (rising ? value > w.on : value < w.on) && allowed
    if (on) {
      if (!allowed || (rising ? value < w.off : value > w.off)) on = false
      since = null
    } else if (wants) {
      since ??= timeS
      if (timeS - since >= (w.delayS ?? 0)) on = true
    } else since = null
    return on
  })
}
const SWEEP_S = 60
const SWEEP_RPM = 1500
/** The output tried on a channel that is led past both its values and back within a minute, at 1,500 rpm. */
export function outputSweep(w: OutputCondition): { timeS: number; value: number; on: boolean }[] {
  const past = Math.max(Math.abs(w.on - w.off), 1)
  const [from, to] = w.on >= w.off ? [w.off - past, w.on + past] : [w.off + past, w.on - past]
  const rows = Array.from({ length: 2 * SWEEP_S + 1 }, (_, i) => {
    const share = 1 - Math.abs(i / SWEEP_S - 1)
    return { timeS: i / 2, value: from + (to - from) * share, rpm: Math.max(SWEEP_RPM, (w.andRpmOver ?? 0) + 1) }
  })
  const on = outputOver(w, rows)
  return rows.map(({ timeS, value }, i) => ({ timeS, value, on: on[i] }))
}
/** Versions by their numbers: under zero when a is older than b. */
export function compareVersions(a: string, b: string): number {
  const [x, y] = [a, b].map((v) => v.split('.').map(Number))
  for (let i = 0; i < Math.max(x.length, y.length); i++) if ((x[i] ?? 0) !== (y[i] ?? 0)) return (x[i] ?? 0) - (y[i] ?? 0)
  return 0
}
