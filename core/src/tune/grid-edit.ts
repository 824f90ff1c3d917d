import type { Axes } from './axes.ts'

/** A block of cells, corners inclusive; i counts engine speed, j manifold pressure. */
export interface Block {
  i0: number
  j0: number
  i1: number
  j1: number
}

const inBlock = (axes: Axes, b: Block): number[] => {
  const cells: number[] = []
  for (let j = Math.min(b.j0, b.j1); j <= Math.max(b.j0, b.j1); j++)
    for (let i = Math.min(b.i0, b.i1); i <= Math.max(b.i0, b.i1); i++) cells.push(j * axes.rpm.length + i)
  return cells
}

const change = (cells: readonly number[], at: readonly number[], value: (old: number, cell: number) => number): number[] => {
  const next = [...cells]
  for (const cell of at) next[cell] = value(cells[cell], cell)
  return next
}

export const setBlock = (axes: Axes, cells: readonly number[], b: Block, value: number): number[] =>
  change(cells, inBlock(axes, b), () => value)
export const addBlock = (axes: Axes, cells: readonly number[], b: Block, amount: number): number[] =>
  change(cells, inBlock(axes, b), (old) => old + amount)
export const scaleBlock = (axes: Axes, cells: readonly number[], b: Block, pct: number): number[] =>
  change(cells, inBlock(axes, b), (old) => old * (1 + pct / 100))

/** Fills a block from its four corners, straight in rpm and MAP (bilinear over the real spacing of the axes). */
export function interpolateBlock(axes: Axes, cells: readonly number[], b: Block): number[] {
  const nr = axes.rpm.length
  const [i0, i1] = [Math.min(b.i0, b.i1), Math.max(b.i0, b.i1)]
  const [j0, j1] = [Math.min(b.j0, b.j1), Math.max(b.j0, b.j1)]
  const share = (axis: readonly number[], k: number, k0: number, k1: number) =>
    k1 === k0 ? 0 : (axis[k] - axis[k0]) / (axis[k1] - axis[k0])
  return change(cells, inBlock(axes, b), (_, cell) => {
    const i = cell % nr
    const j = (cell - i) / nr
    const u = share(axes.rpm, i, i0, i1)
    const v = share(axes.mapKpa, j, j0, j1)
    return (
      (cells[j0 * nr + i0] * (1 - u) + cells[j0 * nr + i1] * u) * (1 - v) + (cells[j1 * nr + i0] * (1 - u) + cells[j1 * nr + i1] * u) * v
    )
  })
}

/**
 * One pass of smoothing: each cell moves half-way to the mean of its neighbours in the table; the four corners of the table, from which it was built,
 * stay.
 * @param ceiling most a cell may be raised to, such as the detonation guard; a cell that stands over it already is not raised further
 */
export function smoothBlock(axes: Axes, cells: readonly number[], b: Block, ceiling: (cell: number) => number = () => Infinity): number[] {
  const nr = axes.rpm.length
  const corners = new Set([0, nr - 1, cells.length - nr, cells.length - 1])
  return change(cells, inBlock(axes, b), (old, cell) => {
    if (corners.has(cell)) return old
    const i = cell % nr
    const near = [i > 0 ? cell - 1 : -1, i < nr - 1 ? cell + 1 : -1, cell - nr, cell + nr].filter((k) => k >= 0 && k < cells.length)
    const smoothed = (old + near.reduce((sum, k) => sum + cells[k], 0) / near.length) / 2
    return Math.min(smoothed, Math.max(old, ceiling(cell)))
  })
}

/** The largest step between two neighbours of a table, and the cell it leads to. */
export function largestStep(axes: Axes, cells: readonly number[]): { step: number; i: number; j: number } {
  const nr = axes.rpm.length
  let most = { step: 0, i: 0, j: 0 }
  cells.forEach((value, cell) => {
    const i = cell % nr
    const j = (cell - i) / nr
    for (const before of [i > 0 ? cell - 1 : -1, cell - nr])
      if (before >= 0 && Math.abs(value - cells[before]) > most.step) most = { step: Math.abs(value - cells[before]), i, j }
  })
  return most
}

/** Cells within a table's bounds and at its resolution. */
export const settle = (cells: readonly number[], spec: { min: number; max: number; decimals: number }): number[] =>
  cells.map((value) => Math.min(spec.max, Math.max(spec.min, Math.round(value * 10 ** spec.decimals) / 10 ** spec.decimals)))
