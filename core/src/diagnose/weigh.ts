import { knownAt } from '../tune/index.ts'
import type { Block } from './blocks.ts'
import type { DiagnosedCar } from './car.ts'
import type { Sign } from './direct.ts'
import { Field, logHalf, logSum, type Model, type Shape, type Weighed } from './field.ts'
import { LEAST_CONSTANT_PCT, LEAST_FAULT_PCT, MENDED_LEAVES, MENDED_LOG_BAYES } from './limits.ts'
import { allowedSize, mendableShapes, onBlocks, type ShapeOfCause, soundShapes, stepAt, unsoundShapes, vapourShare } from './shapes.ts'

/** A cause with all that speaks for it. */
export interface Candidate extends Sign {
  /** for a fault: over the best that constants and curves can do without it */
  beside: number
}
/** What the blocks of a log say of every cause. */
export interface Fits {
  all: Candidate[]
  /** constants and curves worth taking out, the largest first */
  taken: { shape: ShapeOfCause; size: number }[]
  /** the table was known, and something is off now */
  changed: boolean
}

/** How likely each constant or curve is beforehand, as a natural log, beside none; of a table that was right once, seldom more than one thing is wrong. */
const MEND_PRIOR = -1.5
const ONE_MORE_PRIOR = -8
/** sound tables lean by as much as one that is off by this, while noise is looked for, % */
const WIDE_PCT = 4
/** a place known to no better than this was hardly driven before, % */
const SEEN_PCT = 4
const SMALL_FAULT = 2
/** beside all else, a table nobody has driven may still show such a share of what sound cars do */
const FIRST_MAY = 0.8
/** and more at deep vacuum, where a first table is guessed */
const FIRST_MAY_LOW = 2
/** a fault whose mark is so many times what is left of it beside its constants is made up of them */
const CANCELS = 2
/** a constant that adds less than such a share of what is worth mending is the table's */
const LEAST_LEAD = 0.7
/** where the table was known it is not, from here on, % */
const KNOWN_LEAD_PCT = 1
/** the likeliest so many are looked at once more, loosely; sets of constants within so much of the best */
const MOST_LOOSE = 8
const REACH = 30
/** over one drive these are a constant too, by so much less likely */
const CONSTANT_TOO = [
  ['air-temperature', 1],
  ['charge-model', 1.5],
] as const
/** Bursts that come and go, where little else flows: what comes and goes is no noise, so they are held against what noise there is besides. */
const BURST = { pct: [4, 9], tables: [2, 7], lastS: 25, noisePct: [0.15, 0.4, 0.9], wanderPct: 0.1, worth: 3 }
const LEAST_SPAN_S = 240
const REST_S = 60

const signed = (v: number, se: number): string => {
  const decimals = Math.abs(v) < 0.3 ? 3 : Math.abs(v) < 3 ? 2 : 1
  return `${v > 0 ? '+' : '-'}${Math.abs(v).toFixed(decimals)} ± ${se.toFixed(decimals)}`
}
const rmsOf = (values: readonly number[]): number => Math.sqrt(values.reduce((sum, v) => sum + v * v, 0) / values.length)
const best = <T>(list: readonly T[], of: (item: T) => number): T => list.reduce((a, b) => (of(b) > of(a) ? b : a))
/** every choice of a few things, by their places */
const subsets = (n: number): number[][] =>
  Array.from({ length: 1 << n }, (_, bits) => Array.from({ length: n }, (__, k) => k).filter((k) => (bits >> k) & 1))

/** A model with what the blocks say of it. */
interface Tried extends Model {
  fit: Weighed
}
interface Look {
  blocks: readonly Block[]
  field: Field
  mends: readonly ShapeOfCause[]
  faults: readonly ShapeOfCause[]
  /** mends, then faults */
  shapes: readonly ShapeOfCause[]
  marks: readonly Shape[]
  noisePct: number
  wanderPct: number
  leans: (tablePct: number) => readonly Shape[]
  weigh: (model: Model) => Weighed
}

function lookAt(seen: readonly Block[], car: DiagnosedCar): Look {
  const blocks = beyondKnown(seen, car.known)
  const mends = mendableShapes(blocks, car)
  const faults = [...unsoundShapes(blocks, car), ...stepsIn(blocks)]
  const shapes = [...mends, ...faults]
  const marks = shapes.map((m) => onBlocks(blocks, m))
  const field = new Field(blocks, car.known)
  const sound = new Map<number, Shape[]>()
  const leans = (tablePct: number): Shape[] => {
    if (!sound.has(tablePct)) sound.set(tablePct, soundShapes(blocks, field.tableAt(tablePct), tablePct, shapes, field.known))
    return sound.get(tablePct)!
  }
  const { noisePct, wanderPct } = field.fitted([...leans(WIDE_PCT), ...marks.slice(0, mends.length)])
  const weigh = field.weighing(marks, { noisePct, wanderPct }, leans)
  return { blocks, field, mends, faults, shapes, marks, noisePct, wanderPct, leans, weigh }
}

/** What is left of each block when that which was known of the table is taken off. */
function beyondKnown(blocks: readonly Block[], known: DiagnosedCar['known']): readonly Block[] {
  if (!known) return blocks
  const seen = blocks.filter((b) => knownAt(known, b).standardErrorPct < SEEN_PCT)
  // a place that was hardly driven before says little; when that is most of them, it is all there is
  return (seen.length >= blocks.length / 2 ? seen : blocks).map((b) => {
    const { leftPct } = knownAt(known, b)
    return { ...b, needPct: 100 * ((1 + b.needPct / 100) / (1 + leftPct / 100) - 1) }
  })
}
/** Steps in time: after a rest of the engine, or anywhere. */
function stepsIn(blocks: readonly Block[]): ShapeOfCause[] {
  const [first, last] = [blocks[0].timeS, blocks.at(-1)!.timeS]
  if (last - first < LEAST_SPAN_S) return []
  const rests = blocks.slice(1).flatMap((b, k) => (b.timeS - blocks[k].timeS > REST_S ? [(b.timeS + blocks[k].timeS) / 2] : []))
  return [...rests, ...Array.from({ length: 9 }, (_, k) => first + ((k + 1) / 10) * (last - first))].map((atS) => stepAt(blocks, atS))
}

const priorOf = ({ field }: Look, things: number): number => (field.known ? ONE_MORE_PRIOR * Math.max(0, things - 1) : MEND_PRIOR * things)
/** Nothing in it is larger than any car is off by. */
const possible =
  ({ shapes }: Look) =>
  ({ marks, fit }: Tried): boolean =>
    marks.every((k, i) => Math.abs(fit.marks[i].size) < (shapes[k].most ?? Infinity))
/** Its marks exact or only nearly so, the one as likely as the other. */
const loosely = ({ field, marks, leans }: Look, { marks: set, fit, logPrior }: Tried): Weighed => {
  const loose = field.loosely(
    set.map((k) => marks[k]),
    leans,
    fit,
    logPrior,
  )
  const better = loose.logEvidence > fit.logEvidence ? loose : fit
  return { ...better, logEvidence: logSum([loose.logEvidence, fit.logEvidence]) - Math.LN2 }
}
/** What knowing the sign of a model's last mark adds. */
const signLog = ({ shapes }: Look, { marks, fit }: Tried): number => {
  const { sign } = shapes[marks.at(-1)!]
  const { size, se } = fit.marks.at(-1)!
  return sign === 0 ? 0 : logHalf((sign * size) / se)
}

/** Constants and curves by themselves: every few of them that are within reach of the best, and none. */
function constantsAlone(look: Look): Tried[] {
  const all = subsets(look.mends.length)
    .map((set): Tried => {
      const model = { marks: set, logPrior: priorOf(look, set.length) }
      return { ...model, fit: look.weigh(model) }
    })
    .filter(possible(look))
  const top = Math.max(...all.map((t) => t.fit.logEvidence))
  return all
    .filter((t) => !t.marks.length || t.fit.logEvidence > top - REACH)
    .map((t) => (t.marks.length ? { ...t, fit: loosely(look, t) } : t))
}

/** Each fault beside every few of the constants and curves, over the best that these do alone. */
function faultFits(look: Look, without: number): Candidate[] {
  const { blocks, faults, mends, shapes, field, weigh } = look
  const sets = subsets(mends.length)
  const first = faults.map((shape, k) => {
    const alike = Math.log(faults.filter((f) => f.cause === shape.cause).length)
    const tried = sets.map((set): Tried => {
      const model = { marks: [...set, mends.length + k], logPrior: priorOf(look, set.length + (field.known ? 1 : 0)) - alike }
      return { ...model, fit: weigh(model) }
    })
    const fits = tried.filter(possible(look))
    return { shape, tried: best(fits.length ? fits : tried, (t) => t.fit.logEvidence + signLog(look, t)) }
  })
  // on a first drive every constant and curve may be off at once: a fault must show beside all of them
  const every = mends.map((_, k) => k)
  const allLog = field.known ? 0 : weigh({ marks: every, logPrior: 0 }).logEvidence
  const besideAll = (shape: ShapeOfCause): number => {
    const model = { marks: [...every, shapes.indexOf(shape)], logPrior: 0 }
    const fit = weigh(model)
    const { size, se } = fit.marks.at(-1)!
    // and by more than a table nobody has driven may be off by in the same way
    const beyond = Math.max(0, Math.abs(size) - (shape.cause === 'false-air' ? FIRST_MAY_LOW : FIRST_MAY) * allowedSize(blocks, shape)) / se
    return Math.min(fit.logEvidence + signLog(look, { ...model, fit }) - allLog, beyond ** 2 / 2 - 1)
  }
  const logs = first.map((f) => f.tried.fit.logEvidence + signLog(look, f.tried))
  const worth = [...logs].sort((a, b) => b - a)[Math.min(logs.length, MOST_LOOSE) - 1]
  return first.map(({ shape, tried }, k) => {
    const fit = logs[k] >= worth ? loosely(look, tried) : { ...tried.fit, logEvidence: tried.fit.logEvidence - Math.LN2 }
    const { size, se } = fit.marks.at(-1)!
    const over = fit.logEvidence + signLog(look, { ...tried, fit }) - without
    const gain = field.known ? over : Math.min(over, besideAll(shape))
    // what changes next to nothing, by itself or with what it goes with, is no fault yet
    const whole = blocks.map((b) => tried.marks.reduce((sum, m, i) => sum + fit.marks[i].size * shapes[m].at(b), 0))
    const [wholePct, ownPct] = [rmsOf(whole), rmsOf(blocks.map((b) => size * shape.at(b)))]
    const small = Math.min(wholePct, ownPct) < LEAST_FAULT_PCT || (field.known && ownPct > CANCELS * wholePct)
    const logBayes = small ? Math.min(gain, SMALL_FAULT) : gain
    return { cause: shape.cause, logBayes, beside: logBayes, evidence: `${signed(size, se)} ${shape.unit}` }
  })
}

/** How much each mark of a set adds to the blocks, rms %. */
const rmsAdded = ({ blocks, shapes }: Look, { marks, fit }: Tried): number[] =>
  marks.map((k, i) => rmsOf(blocks.map((b) => fit.marks[i].size * shapes[k].at(b))))

/** Each constant or curve by the sets in which it is the largest, against those in which none is large. */
function leading(look: Look, alone: readonly Tried[]): Candidate[] {
  const { blocks, mends, field } = look
  const led = alone.map((tried) => {
    const added = rmsAdded(look, tried)
    const lead = added.indexOf(Math.max(...added))
    return { tried, lead: lead >= 0 && added[lead] >= (field.known ? KNOWN_LEAD_PCT : LEAST_LEAD * LEAST_CONSTANT_PCT) ? lead : -1 }
  })
  const logOf = (list: typeof led) => logSum(list.map((l) => l.tried.fit.logEvidence))
  const table = logOf(led.filter((l) => l.lead < 0))
  const list = mends.flatMap((shape, k): Candidate[] => {
    const own = led.filter((l) => l.lead >= 0 && l.tried.marks[l.lead] === k)
    if (!own.length) return []
    const { tried, lead } = best(own, (l) => l.tried.fit.logEvidence)
    const { size, se } = tried.fit.marks[lead]
    const logBayes = logOf(own) - table
    return [
      {
        cause: shape.cause,
        ...(shape.group ? { group: shape.group } : {}),
        logBayes,
        beside: logBayes,
        evidence: `${signed(size, se)} ${shape.unit}`,
      },
    ]
  })
  const constant = field.known ? list.find((c) => c.cause === 'injector-flow') : undefined
  for (const [cause, less] of constant ? CONSTANT_TOO : []) {
    const own = list.find((c) => c.cause === cause)
    const logBayes = Math.max(own?.logBayes ?? -Infinity, constant!.logBayes - less)
    if (own) own.logBayes = logBayes
    else if (blocks.every((b) => Number.isFinite(b.intakeAirC)))
      list.push({ cause, logBayes, beside: logBayes, evidence: `it may stand behind ${constant!.evidence}` })
  }
  // what a trace's own sign is added to: how it stands among the others of its kind
  const top = logSum(list.map((c) => c.logBayes))
  for (const c of list) c.beside = c.logBayes - top
  return list
}

/** The constants and curves that are worth taking out, the largest first: the likeliest set, when that at least halves what the log is wrong by. */
function mended(look: Look, alone: readonly Tried[]): Fits['taken'] {
  const { blocks, mends } = look
  const likeliest = best(alone, (t) => t.fit.logEvidence)
  const bare = alone.find((t) => !t.marks.length)!
  if (likeliest.fit.logEvidence - bare.fit.logEvidence < MENDED_LOG_BAYES) return []
  const added = rmsAdded(look, likeliest)
  const taken = likeliest.marks
    .map((k, i) => ({ shape: mends[k], size: likeliest.fit.marks[i].size, rms: added[i] }))
    .filter((t) => t.rms >= LEAST_LEAD * LEAST_CONSTANT_PCT)
    .sort((a, b) => b.rms - a.rms)
  const out = blocks.map((b) => taken.reduce((sum, t) => sum + t.size * t.shape.at(b), 0))
  const left = rmsOf(blocks.map((b, i) => b.needPct - out[i]))
  const most = Math.max(...out.map(Math.abs))
  return most >= LEAST_CONSTANT_PCT && left <= MENDED_LEAVES * rmsOf(blocks.map((b) => b.needPct)) ? taken : []
}

/** Vapour that comes and goes. */
function bursts({ blocks, field, mends, marks, leans }: Look, without: number, models: readonly Model[]): Candidate {
  const share = blocks.map(vapourShare)
  const { lastS, wanderPct } = BURST
  const evidence = (pct: number, noisePct: number): number => {
    const extra = (i: number, j: number) => pct * pct * share[i] * share[j] * Math.exp(-Math.abs(blocks[i].timeS - blocks[j].timeS) / lastS)
    const weigh = field.weighing(marks.slice(0, mends.length), { noisePct, wanderPct }, leans, extra, BURST.tables)
    return logSum(models.map((model) => weigh(model).logEvidence))
  }
  const tried = BURST.pct.map((pct) => ({ pct, log: Math.max(...BURST.noisePct.map((noisePct) => evidence(pct, noisePct))) }))
  const { pct, log } = best(tried, (t) => t.log)
  const logBayes = log - without - BURST.worth
  return {
    cause: 'purge',
    logBayes,
    beside: logBayes,
    evidence: `the same places differ by about ${pct} % at little flow from one half minute to another`,
  }
}

/** Holds the mark of every cause against the blocks: constants and curves by themselves, and each fault beside every few of them. */
export function weighCauses(seen: readonly Block[], car: DiagnosedCar): Fits {
  const look = lookAt(seen, car)
  const alone = constantsAlone(look)
  const without = logSum(alone.map((t) => t.fit.logEvidence))
  const all = [...leading(look, alone), ...faultFits(look, without), bursts(look, without, alone)]
  const changed = look.field.known && best(alone, (t) => t.fit.logEvidence).marks.length > 0
  return { all, taken: mended(look, alone), changed }
}
