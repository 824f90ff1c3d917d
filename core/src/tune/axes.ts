import { z } from 'zod'
import { CoreError } from '../kernel/index.ts'

/** Index of the breakpoint nearest to a value. */
export const nearestIndex = (axis: readonly number[], value: number): number =>
  axis.reduce((best, v, i) => (Math.abs(v - value) < Math.abs(axis[best] - value) ? i : best), 0)

/** Axes of a table over engine speed and manifold pressure, both strictly rising. Cells are stored row by row, MAP the slow index. */
export const Axes = z.object({
  rpm: z.array(z.number().min(0).max(15000)).min(2).max(40),
  mapKpa: z.array(z.number().min(5).max(450)).min(2).max(40),
})
export type Axes = z.infer<typeof Axes>

/** @throws CoreError AXIS_INVALID naming the axis that does not rise strictly */
export function checkAxis(name: string, axis: readonly number[]): void {
  if (axis.length < 2) throw new CoreError('AXIS_INVALID', name, `it has ${axis.length} breakpoints, at least 2 are needed`)
  for (let i = 1; i < axis.length; i++)
    if (!(axis[i] > axis[i - 1]))
      throw new CoreError('AXIS_INVALID', name, `breakpoint ${i + 1} (${axis[i]}) is not above the one before it (${axis[i - 1]})`)
}

/** Largest index i with axis[i] <= value, kept within the last interval. */
export function lowerIndex(axis: readonly number[], value: number): number {
  let low = 0
  let high = axis.length - 2
  while (low < high) {
    const middle = (low + high + 1) >> 1
    if (axis[middle] <= value) low = middle
    else high = middle - 1
  }
  return low
}

/** Place of a value on an axis: lower index and fraction towards the next breakpoint, clamped at the ends as control units do. */
export function place(axis: readonly number[], value: number): { index: number; fraction: number } {
  const index = lowerIndex(axis, value)
  const fraction = (value - axis[index]) / (axis[index + 1] - axis[index])
  return { index, fraction: Math.min(1, Math.max(0, fraction)) }
}

/** Value of a table at an operating point by bilinear interpolation, clamped at the edges. `cells` row by row, MAP the slow index. */
export function bilinear(axes: Axes, cells: readonly number[], rpm: number, mapKpa: number): number {
  // written out, without the objects of `place`: the bench reads tables some thousand times a second
  const { rpm: xs, mapKpa: ys } = axes
  const i = lowerIndex(xs, rpm)
  const j = lowerIndex(ys, mapKpa)
  const u = Math.min(1, Math.max(0, (rpm - xs[i]) / (xs[i + 1] - xs[i])))
  const v = Math.min(1, Math.max(0, (mapKpa - ys[j]) / (ys[j + 1] - ys[j])))
  const n = xs.length
  const at = j * n + i
  const low = cells[at] + (cells[at + 1] - cells[at]) * u
  const high = cells[at + n] + (cells[at + n + 1] - cells[at + n]) * u
  return low + (high - low) * v
}

/** How far a value stands off the straight line between its neighbours, twice, so that even steps give the second difference. */
export function kinkPct(axis: readonly number[], i: number, before: number, value: number, after: number): number {
  const share = (axis[i] - axis[i - 1]) / (axis[i + 1] - axis[i - 1])
  return 2 * Math.abs(value - before - (after - before) * share)
}
