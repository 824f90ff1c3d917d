/**
 * Mean of a trace over a centred window, and its slope by least squares, per second; NaN where no reading is in it, and for the slope where fewer than
 * three are. A log's noise would swamp a plain difference of neighbours.
 */
export function windowTrend(timeS: Float64Array, values: Float32Array, windowS: number): { mean: Float32Array; slope: Float32Array } {
  const n = timeS.length
  const mean = new Float32Array(n)
  const slope = new Float32Array(n)
  const half = windowS / 2
  let from = 0
  let to = 0
  for (let i = 0; i < n; i++) {
    const t = timeS[i]
    while (timeS[from] < t - half) from++
    while (to < n && timeS[to] <= t + half) to++
    // a slow log still needs a neighbour on each side for its slope
    const narrow = to - from < 3
    const lo = narrow ? Math.max(0, i - 1) : from
    const hi = narrow ? Math.min(n, i + 2) : to
    let s = 0,
      st = 0,
      sv = 0,
      stt = 0,
      stv = 0
    for (let k = lo; k < hi; k++) {
      const v = values[k]
      if (v !== v) continue
      const d = timeS[k] - t
      s++
      st += d
      sv += v
      stt += d * d
      stv += d * v
    }
    const det = s * stt - st * st
    slope[i] = s < 3 || det <= 0 ? NaN : (s * stv - st * sv) / det
    mean[i] = narrow ? meanOf(values, from, to) : sv / s
  }
  return { mean, slope }
}
/** Mean of some rows, cells without a reading left out; NaN without any. */
export function meanOf(values: Float32Array, from: number, to: number): number {
  let sum = 0
  let readings = 0
  for (let k = from; k < to; k++) {
    const v = values[k]
    if (v !== v) continue
    sum += v
    readings++
  }
  return sum / readings
}
export const windowSlope = (timeS: Float64Array, values: Float32Array, windowS: number): Float32Array =>
  windowTrend(timeS, values, windowS).slope

/** For each row, the time of the last row at or before it where `flag` was set; -Infinity before the first. */
export function lastTrueS(timeS: Float64Array, flag: Uint8Array): Float64Array {
  const last = new Float64Array(timeS.length)
  let seen = -Infinity
  for (let i = 0; i < timeS.length; i++) {
    if (flag[i]) seen = timeS[i]
    last[i] = seen
  }
  return last
}
