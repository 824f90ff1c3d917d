/** One channel of a scope: samples at even times. */
export interface Trace {
  id: string
  unit: 'V' | 'A'
  /** time of the first sample and step between samples, s */
  startS: number
  stepS: number
  samples: Float32Array
}

/** What a train of pulses should look like: places in one turn of its shaft, and how many of them are left out in a row. */
export interface PulsePattern {
  places: number
  missing: number
  /** crank turns in one turn of the shaft that carries the targets */
  crankTurns: number
  /** width of a target over the distance between two, where it is known */
  widthShare?: number
}

/** a sample on the edge of a column must not fall out of both by the last bit of a product */
const ROUNDING = 1e-6

/**
 * Lowest and highest sample in each of `columns` even slices of a window of time: what a drawing of that many columns can show.
 * @returns two values for each column, low then high; NaN where a slice holds no sample
 */
export function minMaxPerColumn(
  trace: Pick<Trace, 'startS' | 'stepS' | 'samples'>,
  fromS: number,
  toS: number,
  columns: number,
): Float32Array {
  const { startS, stepS, samples } = trace
  const out = new Float32Array(2 * columns).fill(NaN)
  const perColumn = (toS - fromS) / columns
  for (let column = 0; column < columns; column++) {
    const first = Math.max(0, Math.ceil((fromS + column * perColumn - startS) / stepS - ROUNDING))
    const last = Math.min(samples.length - 1, Math.floor((fromS + (column + 1) * perColumn - startS) / stepS + ROUNDING))
    let low = Infinity
    let high = -Infinity
    for (let i = first; i <= last; i++) {
      const v = samples[i]
      if (v < low) low = v
      if (v > high) high = v
    }
    if (high >= low) {
      out[2 * column] = low
      out[2 * column + 1] = high
    } else {
      // finer than the samples: the line between the two neighbours
      const x = (fromS + (column + 0.5) * perColumn - startS) / stepS
      const i = Math.floor(x)
      if (i >= 0 && i < samples.length - 1) out[2 * column] = out[2 * column + 1] = samples[i] + (samples[i + 1] - samples[i]) * (x - i)
    }
  }
  return out
}
