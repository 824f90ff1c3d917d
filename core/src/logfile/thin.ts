/** So many rows, or blocks of the level below, make a block. */
const FAN = 16
/** Rows further apart than this have a hole between them, over which no line is drawn, s. */
const HOLE_S = 2

/** A channel with the lowest and highest of its blocks, and of blocks of blocks: any window of it is thinned without reading every row. */
export interface Blocks {
  values: Float32Array
  levels: { low: Float32Array; high: Float32Array }[]
  low: number
  high: number
}

/** @param values one channel, row by row; NaN where nothing was read */
export function blocksOf(values: Float32Array): Blocks {
  const levels: Blocks['levels'] = []
  let [lows, highs] = [values, values]
  while (lows.length > FAN) {
    const n = Math.ceil(lows.length / FAN)
    const level = { low: new Float32Array(n).fill(Infinity), high: new Float32Array(n).fill(-Infinity) }
    for (let i = 0; i < lows.length; i++) {
      const b = (i / FAN) | 0
      // a comparison with NaN is false: a row that was not read counts for nothing
      if (lows[i] < level.low[b]) level.low[b] = lows[i]
      if (highs[i] > level.high[b]) level.high[b] = highs[i]
    }
    levels.push(level)
    ;[lows, highs] = [level.low, level.high]
  }
  const blocks = { values, levels, low: Infinity, high: -Infinity }
  ;[blocks.low, blocks.high] = lowHigh(blocks, 0, values.length)
  return blocks
}

/** Lowest and highest of rows `from` up to, not with, `to`; Infinity and -Infinity where none was read. */
function lowHigh({ values, levels }: Pick<Blocks, 'values' | 'levels'>, from: number, to: number): [number, number] {
  let [low, high] = [Infinity, -Infinity]
  let [lows, highs] = [values, values]
  const take = (i: number): void => {
    if (lows[i] < low) low = lows[i]
    if (highs[i] > high) high = highs[i]
  }
  for (let k = 0; from < to; k++) {
    const above = to - from > 2 * FAN ? levels[k] : undefined
    if (!above) {
      while (from < to) take(from++)
      break
    }
    while (from % FAN) take(from++)
    while (to % FAN) take(--to)
    ;[lows, highs] = [above.low, above.high]
    from /= FAN
    to /= FAN
  }
  return [low, high]
}

/** First row at or after a time: rows by time, found by halving. */
export function rowFrom(timeS: Float64Array, atS: number): number {
  let [low, high] = [0, timeS.length]
  while (low < high) {
    const mid = (low + high) >> 1
    if (timeS[mid] < atS) low = mid + 1
    else high = mid
  }
  return low
}

/**
 * Lowest and highest in each of `columns` even slices of a window of time: what a drawing of that many columns can show. Where rows are further apart
 * than columns, the line between two of them; nothing over a hole in the log.
 * @returns two values for each column, low then high; NaN where there is nothing
 */
export function thinned(timeS: Float64Array, blocks: Blocks, fromS: number, toS: number, columns: number): Float32Array {
  const out = new Float32Array(2 * columns).fill(NaN)
  const perColumn = (toS - fromS) / columns
  const { values } = blocks
  let from = rowFrom(timeS, fromS)
  for (let column = 0; column < columns; column++) {
    // the window's own end belongs to its last column
    const to = column === columns - 1 ? rowFrom(timeS, toS + perColumn * 1e-6) : rowFrom(timeS, fromS + (column + 1) * perColumn)
    const [low, high] = lowHigh(blocks, from, to)
    if (high >= low) {
      out[2 * column] = low
      out[2 * column + 1] = high
    } else if (from === to && from > 0 && from < timeS.length && timeS[from] - timeS[from - 1] <= HOLE_S) {
      const atS = fromS + (column + 0.5) * perColumn
      const share = (atS - timeS[from - 1]) / (timeS[from] - timeS[from - 1])
      out[2 * column] = out[2 * column + 1] = values[from - 1] + (values[from] - values[from - 1]) * share
    }
    from = to
  }
  return out
}
