import { bilinear, place } from '../tune/index.ts'

const RPM_CELLS = 9
const MAP_KPA = [20, 30, 40, 50, 60, 72, 85, 100]
/** time in one cell in which a steady correction is mostly learned, s */
const SETTLE_S = 15
/** a trim within this of nothing is left to the trim: the unit does not chase its own noise, % */
const DEAD_BAND_PCT = 1.5

/** How a unit learns by itself: where, how fast, how far, and from when. */
export interface Learning {
  /** null: as far as its tune lets it */
  mostPct: number | null
  settleS: number
  fromCoolantC: number
  fromRpm: number
  toMapKpa: number
}
export const usualLearning: Learning = { mostPct: null, settleS: SETTLE_S, fromCoolantC: -40, fromRpm: 0, toMapKpa: Infinity }

/**
 * What the unit learns by itself: its own cells of fuel correction, %, read and written between cells by the same weights, so that two neighbours
 * share what is found between them. It stays with the key off.
 */
export class UnitMemory {
  readonly axes: { rpm: number[]; mapKpa: number[] }
  private cells: number[]
  /** what saving has put into the base already, %: no longer told as learned */
  private folded: number[] | null = null
  /** a cell that keeps what it once learned wrongly; null: none */
  private stuck: { cell: number; pct: number } | null = null

  constructor(topRpm: number, axes?: { rpm?: readonly number[]; mapKpa?: readonly number[] }) {
    const step = (topRpm - 500) / (RPM_CELLS - 1)
    this.axes = {
      rpm: [...(axes?.rpm ?? Array.from({ length: RPM_CELLS }, (_, i) => 500 + i * step))],
      mapKpa: [...(axes?.mapKpa ?? MAP_KPA)],
    }
    this.cells = new Array<number>(this.axes.rpm.length * this.axes.mapKpa.length).fill(0)
  }
  /** What it holds, cells row by row, MAP the slow index, %. */
  get learnedPct(): readonly number[] {
    return this.cells
  }
  /** Takes what another of the same axes held, as after a key-off. */
  recall(pct: readonly number[]): void {
    if (pct.length === this.cells.length) this.cells = [...pct]
    this.hold()
  }
  forget(): void {
    this.cells.fill(0)
    this.hold()
  }
  /** A cell that goes on holding a wrong value, where the car cruises; null lets it go. */
  poison(pct: number | null): void {
    const { rpm, mapKpa } = this.axes
    const cell = Math.floor(mapKpa.length / 2 - 1) * rpm.length + Math.floor(rpm.length / 3)
    if (pct === (this.stuck?.pct ?? null)) return
    this.stuck = pct === null ? null : { cell, pct }
    this.hold()
  }
  private hold(): void {
    if (this.stuck) this.cells[this.stuck.cell] = this.stuck.pct
  }
  at(rpm: number, mapKpa: number): number {
    return bilinear(this.axes, this.cells, rpm, mapKpa)
  }
  /** Saving puts what was learned into the base: the fuel stays, and nothing is learned any more. */
  fold(): void {
    const before = this.folded
    this.folded = this.cells.map((pct, c) => 100 * ((1 + (before?.[c] ?? 0) / 100) * (1 + pct / 100) - 1))
    this.cells.fill(0)
    this.hold()
  }
  /** What the base has got from saving, %. */
  foldedAt(rpm: number, mapKpa: number): number {
    return this.folded ? bilinear(this.axes, this.folded, rpm, mapKpa) : 0
  }
  /** Takes a share of what the closed loop still has to correct into the cells around the operating point. */
  learn(rpm: number, mapKpa: number, loopPct: number, { mostPct, settleS }: { mostPct: number; settleS: number }, dt: number): void {
    const { axes, cells } = this
    const { index: i, fraction: u } = place(axes.rpm, rpm)
    const { index: j, fraction: v } = place(axes.mapKpa, mapKpa)
    const n = axes.rpm.length
    const beyond = Math.sign(loopPct) * Math.max(0, Math.abs(loopPct) - DEAD_BAND_PCT)
    if (beyond === 0) return
    const move = (beyond * dt) / settleS
    const add = (cell: number, weight: number) => (cells[cell] = Math.min(mostPct, Math.max(-mostPct, cells[cell] + move * weight)))
    add(j * n + i, (1 - u) * (1 - v))
    add(j * n + i + 1, u * (1 - v))
    add((j + 1) * n + i, (1 - u) * v)
    add((j + 1) * n + i + 1, u * v)
    this.hold()
  }
}
