import type { TuneDocument } from '../tune/index.ts'
import { roundToStep } from '../unit/index.ts'
import {
  AGAIN_WORTH_PCT2,
  ANSWER_WORTH_PCT2,
  LEAN_WEIGHT,
  LEARNED_EASILY_SHARE,
  LEARNED_WEIGHT,
  NEAR_LIMIT_PCT,
  PROVEN_ERROR_PCT,
  PROVEN_SECONDS,
  UNCORRECTED_S,
} from './limits.ts'
import { secondsToSettle } from './settle-time.ts'
import type { LearnCell, LearnResult } from './result.ts'

const TOLD_STEP_PCT = 0.1
/** a cell that holds so much of what it needs learns */
const ON_THE_WAY_SHARE = 0.25
/** what is tried, % */
const [LEAST_PCT, MOST_PCT, MORE_STEP_PCT] = [-40, 100, 0.1]

/** What one cell is left with once the answer is mended and what was learned is cleared. */
interface AnsweredCell {
  rpm: number
  mapKpa: number
  seconds: number
  /** what it wants over the base as it is now, and over the base that the mended answer makes, % */
  neededPct: number
  thenPct: number
  /** its loop is open there: the unit never learns it */
  open: boolean
  unsafe: boolean
}
export interface AnswerMend {
  toldFlowPct: number
  fromCcMin: number
  toCcMin: number
  /** by how much more every pulse delivers, % */
  morePct: number
  cells: AnsweredCell[]
  /** what it then has to learn by itself, least and most over cells, %; null: it learns nowhere that was driven */
  toLearnPct: [number, number] | null
  /** cells that it cannot bring right then: further off than it learns, or off where it never learns */
  beyond: AnsweredCell[]
}

interface Telling {
  cell: LearnCell
  neededPct: number
  unsafe: boolean
  /** its loop is open there: what it is given is what it gets */
  open: boolean
}
/** Cells that were driven long enough to tell of the base. */
const telling = (cells: readonly LearnCell[]): Telling[] =>
  cells.flatMap((cell) => {
    const unsafe = cell.state === 'unsafe'
    // a few seconds tell little of one cell; lean under load is not waited for
    if (cell.neededBasePct == null || cell.seconds < (unsafe ? PROVEN_SECONDS : UNCORRECTED_S)) return []
    // after a start its loop is shut for a while: what it holds is on the way, and had no time yet
    const left = cell.leftPct ?? 0
    const held = cell.learnedPct ?? 0
    const onTheWay = held / cell.neededBasePct >= ON_THE_WAY_SHARE && cell.seconds < secondsToSettle(left)
    return [{ cell, neededPct: cell.neededBasePct, unsafe, open: unsafe || (cell.uncorrected === true && !onTheWay) }]
  })
const leftOver = (neededPct: number, morePct: number): number => 100 * ((1 + neededPct / 100) / (1 + morePct / 100) - 1)

/** What it costs when the base delivers so much more, %^2: mean over the driving. */
function costOf(driven: readonly Telling[], limitPct: number, morePct: number): number {
  let [cost, seconds] = [0, 0]
  for (const { cell, neededPct, unsafe, open } of driven) {
    const left = leftOver(neededPct, morePct)
    const each = open
      ? left ** 2 * (unsafe && left > 0 ? LEAN_WEIGHT : 1)
      : Math.max(0, Math.abs(left) - limitPct * LEARNED_EASILY_SHARE) ** 2 + LEARNED_WEIGHT * left ** 2
    cost += cell.seconds * each
    seconds += cell.seconds
  }
  return seconds ? cost / seconds : 0
}

/**
 * By how much all of a base is to deliver more, %, where only all of it can be moved: so that cells in which the loop is open come out right, those
 * lean under load first; the others learn, and are kept within half of what the unit may learn.
 * @param again it was moved before: what was learned since is cleared once more only for a good deal
 * @returns null where little is gained by it, or nothing was driven long enough
 */
export function wantedOfBase(cells: readonly LearnCell[], limitPct: number, again: boolean): number | null {
  const driven = telling(cells)
  let best = { morePct: 0, cost: costOf(driven, limitPct, 0) }
  const now = best.cost
  for (let morePct = LEAST_PCT; morePct <= MOST_PCT; morePct += MORE_STEP_PCT) {
    const cost = costOf(driven, limitPct, morePct)
    if (cost < best.cost) best = { morePct, cost }
  }
  return now - best.cost > (again ? AGAIN_WORTH_PCT2 : ANSWER_WORTH_PCT2) ? best.morePct : null
}

/**
 * A unit that is set by questions makes its base itself, and only its answers move that base. The flow of the injectors moves all of it alike (pulse =
 * fuel wanted / flow): told low by what is wanted of the base, every pulse is as much longer.
 * @param limitPct how far the unit learns, %
 * @returns null where nothing is gained by it
 */
export function answerMend(
  { parameters }: Pick<TuneDocument, 'parameters'>,
  { cells }: Pick<LearnResult, 'cells'>,
  limitPct: number,
): AnswerMend | null {
  const wantedPct = wantedOfBase(cells, limitPct, parameters.toldFlowPct !== 100)
  if (wantedPct === null) return null
  const before = parameters.toldFlowPct
  // down: a flow told low is the rich side
  const toldFlowPct = roundToStep(before / (1 + wantedPct / 100), TOLD_STEP_PCT, 'down')
  const factor = before / toldFlowPct
  const then = telling(cells).map(({ cell: { rpm, mapKpa, seconds }, neededPct, unsafe, open }): AnsweredCell => {
    const thenPct = leftOver(neededPct, 100 * (factor - 1))
    return { rpm, mapKpa, seconds, neededPct, thenPct, open, unsafe }
  })
  const learnable = then.filter((c) => !c.open).map((c) => c.thenPct)
  const cc = (pct: number) => Math.floor((parameters.injectorCcMin * pct) / 100)
  return {
    toldFlowPct,
    fromCcMin: cc(before),
    toCcMin: cc(toldFlowPct),
    morePct: 100 * (factor - 1),
    cells: then,
    toLearnPct: learnable.length ? [Math.min(...learnable), Math.max(...learnable)] : null,
    beyond: then.filter((c) => Math.abs(c.thenPct) > (c.open ? PROVEN_ERROR_PCT : limitPct - NEAR_LIMIT_PCT)),
  }
}

/** The version whose answers say so; tables and the injectors’ own flow stay as they are. */
export function withMendedAnswer(tune: TuneDocument, { toldFlowPct, morePct }: AnswerMend, provenance: string): TuneDocument {
  const words = `${provenance}: the unit's own base is to deliver ${morePct > 0 ? '+' : ''}${morePct.toFixed(0)} %`
  return {
    ...tune,
    parameters: { ...tune.parameters, toldFlowPct },
    provenance: { ...tune.provenance, toldFlowPct: words },
  }
}
