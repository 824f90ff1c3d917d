/**
 * Slope of a trace by least squares over a centred window, per second; NaN where fewer than three readings are in it.
 * A log's noise would swamp a plain difference of neighbours.
 */
export function windowSlope(timeS: Float64Array, values: Float32Array, windowS: number): Float32Array {
  const n = timeS.length
  const slope = new Float32Array(n)
  const half = windowS / 2
  let from = 0
  let to = 0
  for (let i = 0; i < n; i++) {
    const t = timeS[i]
    while (timeS[from] < t - half) from++
    while (to < n && timeS[to] <= t + half) to++
    let lo = from
    let hi = to
    // a slow log still needs a neighbour on each side
    if (hi - lo < 3) {
      lo = Math.max(0, i - 1)
      hi = Math.min(n, i + 2)
    }
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
  }
  return slope
}

/** Mean over a centred window; NaN cells are left out. */
export function windowMean(timeS: Float64Array, values: Float32Array, windowS: number): Float32Array {
  const n = timeS.length
  const mean = new Float32Array(n)
  const half = windowS / 2
  let from = 0
  let to = 0
  for (let i = 0; i < n; i++) {
    const t = timeS[i]
    while (timeS[from] < t - half) from++
    while (to < n && timeS[to] <= t + half) to++
    let s = 0
    let c = 0
    for (let k = from; k < to; k++) {
      const v = values[k]
      if (v === v) {
        s += v
        c++
      }
    }
    mean[i] = c === 0 ? NaN : s / c
  }
  return mean
}

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
