import type { LogData } from '../logfile/index.ts'
import type { GridSamples } from './grid-fit.ts'
import { wantedOfBase } from './answer-mend.ts'
import {
  AT_LIMIT_SHARE,
  COMES_AND_GOES_PCT,
  CONSTANT_PCT,
  CONSTANT_SIGMAS,
  LEARNED_STEP_PCT,
  LOW_FLOW_LEAN_PCT,
  LOW_FLOW_SIGMAS,
  NEAR_LIMIT_PCT,
  PROVEN_SECONDS,
  SETTLED_FROM_S,
  SETTLED_MOVED_PCT,
  SETTLED_TO_PCT,
  SHUT_THROTTLE_PCT,
  UNCORRECTED_TIME_SHARE,
} from './limits.ts'
import { needShape, type NeedShape } from './need-shape.ts'
import type { LearnCell, LearnOptions, LearnResult } from './result.ts'
import { secondsToSettle } from './settle-time.ts'
import type { Samples } from '../samples/index.ts'

interface Verdict {
  code: string
  message: string
}
export interface PatternSeen {
  log: Pick<LogData, 'timeS' | 'channels'>
  samples: Samples
  result: LearnResult
  grid: GridSamples
  /** whole need over the base at each sample of the grid, % */
  needPct: Float64Array
  options: LearnOptions
  /** first row of the newest drive */
  now: number
}

/**
 * Patterns that are no property of the engine: while one stands, what was learned is not to be believed, however near lambda is to its target
 * (handbook 10). Lean at low flow is not among them: a base table may be off so, and the exhaust and the sensor are looked at beside the log.
 */
export const unsoundCodes: readonly string[] = [
  'drift',
  'poisoned-cell',
  'learned-at-limit',
  'comes-and-goes',
  'throttle-zero',
  'correction-saturated',
  'one-bank',
]

/** Whether what a unit has learned is believable, and whether the log can tell at all. */
export function judgePattern(seen: PatternSeen): Verdict[] {
  const { samples, options, log } = seen
  const learned = samples.learnedPct
  if (options.learns !== 'itself') {
    const holds = learned && log.channels.learnedPct!.some((v) => Math.abs(v) > 0.5)
    return holds && options.learns === undefined
      ? [
          {
            code: 'learned-not-told',
            message:
              'The log has learned values, and who learns was not said: they are counted as what the table is off by. Say at the unit whether it learns by itself.',
          },
        ]
      : []
  }
  if (!learned)
    return [
      {
        code: 'missing-learned',
        message:
          'The unit learns by itself and this log does not tell what it has learned: only what is left can be judged, not whether what was learned is believable. Log the learned value too, or bring its learned table.',
      },
    ]
  const own = seen.options.ownBase ? null : constant(seen)
  return [own, lowFlow(seen), poisoned(seen), atLimit(seen), comesAndGoes(seen), throttleZero(seen), uncorrected(seen)].filter(
    (v): v is Verdict => v !== null,
  )
}

/** Cells that were driven long enough to carry a pattern. */
const solid = (result: LearnResult): LearnCell[] => result.cells.filter((c) => c.seconds >= PROVEN_SECONDS && c.neededBasePct != null)
/** What the need is made of over the cells that were driven long enough. @returns null when they are too few or too much alike */
export const needShapeDriven = (result: LearnResult): NeedShape | null => needShape(solid(result))
const signed = (v: number): string => `${v > 0 ? '+' : ''}${v.toFixed(1)}`

/** Lean rising as flow falls: air that comes in before the sensor, or a sensor that only hot gas keeps warm. */
function lowFlow({ result }: PatternSeen): Verdict | null {
  const shape = needShapeDriven(result)
  return shape && shape.lowFlowPct > LOW_FLOW_LEAN_PCT && shape.lowFlowPct > LOW_FLOW_SIGMAS * shape.lowFlowSePct
    ? {
        code: 'lean-at-low-flow',
        message: `What it wants rises by ${shape.lowFlowPct.toFixed(0)} ± ${shape.lowFlowSePct.toFixed(0)} % as the flow falls. That is outside air before the sensor, a sensor that is not hot, or idle air the unit does not know of: smoke the exhaust joints, look at the heater and smell the tail pipe before it learns any further. Go back to what was saved before.`,
      }
    : null
}

/** The same per cent everywhere: a constant that was answered wrongly, which is better mended than learned. */
function constant({ result }: PatternSeen): Verdict | null {
  const shape = needShapeDriven(result)
  return shape && Math.abs(shape.constantPct) > CONSTANT_PCT && Math.abs(shape.constantPct) > CONSTANT_SIGMAS * shape.constantSePct
    ? {
        code: 'constant-to-mend',
        message: `It holds about ${signed(shape.constantPct)} ± ${shape.constantSePct.toFixed(0)} % everywhere: that is injector flow, fuel pressure, displacement or fuel, not the engine. Read the pressure at idle, then mend the answer and scale what was learned, so that the fuel stays the same.`,
      }
    : null
}

/** One learned value that stands off from its neighbours, while what the engine needs does not. */
function poisoned({ result }: PatternSeen): Verdict | null {
  const nr = result.rpm.length
  const { cells } = result
  for (const c of solid(result)) {
    // on its way it may stand off; what stands still and is wrong does not learn
    if (c.movedPct == null || Math.abs(c.movedPct) >= SETTLED_MOVED_PCT) continue
    const k = c.j * nr + c.i
    const near = [c.i > 0 ? k - 1 : -1, c.i < nr - 1 ? k + 1 : -1, k - nr, k + nr]
      .filter((n) => n >= 0 && n < cells.length)
      .map((n) => cells[n])
      .filter((n) => n.seconds >= PROVEN_SECONDS && n.learnedPct != null)
    if (near.length < 2) continue
    const mean = (of: (n: LearnCell) => number) => near.reduce((sum, n) => sum + of(n), 0) / near.length
    const step = c.learnedPct! - mean((n) => n.learnedPct!)
    // where it was hardly driven it has had no time to learn what its neighbours know
    const onTheWay = c.learnedPct! * (c.neededBasePct! - c.learnedPct!) >= 0
    if (onTheWay && c.seconds < secondsToSettle(step)) continue
    const needStep = c.neededBasePct! - mean((n) => n.neededBasePct!)
    // the one that is off is itself not what is needed; else its neighbours are on their way to it
    const off = c.learnedPct! - c.neededBasePct!
    if (Math.abs(step) > LEARNED_STEP_PCT && Math.abs(needStep) < Math.abs(step) / 2 && off / step > 1 / 2)
      return {
        code: 'poisoned-cell',
        message: `At ${c.rpm} rpm, ${c.mapKpa} kPa it has learned ${signed(c.learnedPct!)} %, its neighbours ${signed(mean((n) => n.learnedPct!))} %, and the engine needs no such step. Clear that cell, or go back to what was saved before.`,
      }
  }
  return null
}

/** Learned as far as it may: it would go on if it could, or has just reached what is wanted. */
function atLimit({ samples, grid, needPct, options, now }: PatternSeen): Verdict | null {
  const limit = options.learnLimitPct
  if (!limit || grid.n === 0) return null
  let [atIt, wantsMore, used] = [0, 0, 0]
  for (let k = 0; k < grid.n; k++) {
    if (grid.row[k] < now) continue
    const s = grid.stepS[k]
    used += s
    const held = samples.learnedPct![grid.row[k]]
    if (Math.abs(held) <= limit - NEAR_LIMIT_PCT) continue
    atIt += s
    const leftPct = 100 * ((1 + needPct[k] / 100) / (1 + held / 100) - 1)
    if (Math.sign(held) * leftPct > SETTLED_TO_PCT) wantsMore += s
  }
  if (atIt <= AT_LIMIT_SHARE * used) return null
  const stands = `It stands at the limit of its learning (${limit} %) for ${((100 * atIt) / used).toFixed(0)} % of the time`
  return wantsMore > AT_LIMIT_SHARE * used
    ? {
        code: 'learned-at-limit',
        message: `${stands} and would go on if it could: that is no learning at all. Find what it has to make up for: flow, pressure, a cylinder that does not work, a leak.`,
      }
    : {
        code: 'learned-limit-reached',
        message: `${stands}. What is wanted is just reached and nothing is left in hand: find what it has to make up for, or mend the base, before a colder day wants more.`,
      }
}

/** Where it never learns, what is left stays however long it is driven: told where it is a good part of the driving, or lean under load. */
function uncorrected({ result }: PatternSeen): Verdict | null {
  const there = result.cells.filter((c) => c.uncorrected)
  const seconds = (cells: readonly LearnCell[]) => cells.reduce((sum, c) => sum + c.seconds, 0)
  const worthIt = seconds(there) >= UNCORRECTED_TIME_SHARE * seconds(result.cells) || there.some((c) => c.state === 'unsafe')
  if (there.length === 0 || !worthIt) return null
  const most = there.reduce((a, b) => (b.seconds > a.seconds ? b : a))
  return {
    code: 'not-learned-here',
    message: `It does not learn in ${there.length} ${there.length === 1 ? 'cell' : 'cells'} (most driven: ${most.rpm} rpm, ${most.mapKpa} kPa${most.leftPct === undefined ? '' : `, ${signed(most.leftPct)} % left`}): lambda stays off its target there, so no trim works, and driving on changes nothing. That belongs in the base.`,
  }
}

const REACHED = ['learned-at-limit', 'correction-saturated']
/**
 * A base that the unit made itself from answers is off as a whole: an answer moves it, where no table can be given. Not over poison; but a loop or
 * what it learned at its limit is none here, since such a base may be further off than both reach.
 */
export function answerToMend({ cells, verdicts, sound, totals }: LearnResult, { ownBase, learnLimitPct }: LearnOptions): Verdict[] {
  const poison = verdicts.some((v) => unsoundCodes.includes(v.code) && !REACHED.includes(v.code))
  if (!ownBase || !learnLimitPct || !sound || poison || totals.usedSeconds < SETTLED_FROM_S) return []
  const wanted = wantedOfBase(cells, learnLimitPct, ownBase.mended)
  return wanted === null
    ? []
    : [
        {
          code: 'answer-to-mend',
          message: `The base that the unit made of its answers is to deliver ${signed(wanted)} %. Read the fuel pressure at idle first; if that is right, mend the answer: driving on learns what a better base has already.`,
        },
      ]
}

const BLOCK_S = 4
/** The same place wants another mixture at another time: vapour that comes and goes, pressure, a wandering sensor. */
function comesAndGoes({ grid, needPct, result }: PatternSeen): Verdict | null {
  const nr = result.rpm.length
  const need = result.cells.map((c) => c.neededBasePct ?? 0)
  // means of a few seconds of what is wanted beyond the cell's own need
  const blocks: { over: number; s: number }[] = []
  for (let k = 0; k < grid.n;) {
    let sum = 0
    let seconds = 0
    const from = k
    for (; k < grid.n && seconds < BLOCK_S && (k === from || grid.row[k] === grid.row[k - 1] + 1); k++) {
      const a = grid.at[k]
      const low = need[a] + (need[a + 1] - need[a]) * grid.u[k]
      const high = need[a + nr] + (need[a + nr + 1] - need[a + nr]) * grid.u[k]
      sum += grid.stepS[k] * (needPct[k] - low - (high - low) * grid.v[k])
      seconds += grid.stepS[k]
    }
    if (seconds >= BLOCK_S / 2) blocks.push({ over: sum / seconds, s: seconds })
  }
  if (blocks.length < 12) return null
  const time = blocks.reduce((sum, b) => sum + b.s, 0)
  const rms = Math.sqrt(blocks.reduce((sum, b) => sum + b.s * b.over * b.over, 0) / time)
  return rms > COMES_AND_GOES_PCT
    ? {
        code: 'comes-and-goes',
        message: `The same places wanted more fuel at one time than at another, by ${rms.toFixed(1)} % rms. Something comes and goes: vapour from the canister or the crankcase, fuel pressure, a sensor that wanders. Shut the purge line off and watch the fuel pressure on the next drive; hold learning until then.`,
      }
    : null
}

/** Speeds at which an engine idles and hardly pulls, and for so long at least: then the foot was off, s. */
const IDLING_RPM = [400, 1100]
const IDLING_S = 20
/** A throttle that never reads shut: the unit does not know that the foot is off, so it neither holds the idle nor cuts fuel. */
function throttleZero({ log }: PatternSeen): Verdict | null {
  const { throttlePct, rpm } = log.channels
  if (!throttlePct) return null
  const values: number[] = []
  let seconds = 0
  for (let i = 1; i < throttlePct.length; i++) {
    if (!(rpm![i] > IDLING_RPM[0] && rpm![i] < IDLING_RPM[1]) || !Number.isFinite(throttlePct[i])) continue
    values.push(throttlePct[i])
    seconds += Math.min(1, log.timeS[i] - log.timeS[i - 1])
  }
  if (seconds < IDLING_S) return null
  values.sort((a, b) => a - b)
  const least = values[Math.floor(values.length / 5)]
  return least > SHUT_THROTTLE_PCT
    ? {
        code: 'throttle-zero',
        message: `The throttle never reads under ${least.toFixed(1)} %, though it idled with the foot off: its zero is not learned, so idle and overrun are learned as driving. Learn the zero with the key on, and go back to what was saved before.`,
      }
    : null
}
