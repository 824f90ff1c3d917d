import { bilinear, place } from '../tune/index.ts'

/** time in which a steady correction is mostly learned, s */
const LEARN_S = 12
const RPM_CELLS = 9
const MAP_KPA = [20, 30, 40, 50, 60, 72, 85, 100]

/**
 * What the unit learns by itself: its own cells of fuel correction, %, read and written between cells by the same weights, so that two neighbours
 * share what is found between them. It stays with the key off.
 */
export class UnitMemory {
  private readonly axes: { rpm: number[]; mapKpa: number[] }
  private cells: number[]

  constructor(topRpm: number) {
    const step = (topRpm - 500) / (RPM_CELLS - 1)
    this.axes = { rpm: Array.from({ length: RPM_CELLS }, (_, i) => 500 + i * step), mapKpa: MAP_KPA }
    this.cells = new Array<number>(RPM_CELLS * MAP_KPA.length).fill(0)
  }
  forget(): void {
    this.cells.fill(0)
  }
  at(rpm: number, mapKpa: number): number {
    return bilinear(this.axes, this.cells, rpm, mapKpa)
  }
  /** Takes a share of what the closed loop still has to correct into the cells around the operating point. */
  learn(rpm: number, mapKpa: number, loopPct: number, mostPct: number, dt: number): void {
    const { axes, cells } = this
    const { index: i, fraction: u } = place(axes.rpm, rpm)
    const { index: j, fraction: v } = place(axes.mapKpa, mapKpa)
    const n = axes.rpm.length
    const move = (loopPct * dt) / LEARN_S
    const add = (cell: number, weight: number) => (cells[cell] = Math.min(mostPct, Math.max(-mostPct, cells[cell] + move * weight)))
    add(j * n + i, (1 - u) * (1 - v))
    add(j * n + i + 1, u * (1 - v))
    add((j + 1) * n + i, (1 - u) * v)
    add((j + 1) * n + i + 1, u * v)
  }
}
