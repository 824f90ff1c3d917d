import { z } from 'zod'
import { type LogData, topOf } from '../logfile/index.ts'
import type { Samples } from '../samples/index.ts'
import { type Block, blocksOf } from './blocks.ts'
import { type Cause, Cause as CauseId, causes } from './causes.ts'
import { directSigns, noTrim, type Sign } from './direct.ts'
import { type Field, fieldOf, fitShape, fittedField, type Shape } from './field.ts'
import { LEAST_BLOCKS, LEAST_CONSTANT_PCT, MENDED_LEAVES, MENDED_LOG_BAYES, UNSOUND_LIKELIHOOD, UNSOUND_LOG_BAYES } from './limits.ts'
import {
  allowedSize,
  type Moment,
  mendableShapes,
  onBlocks,
  type ShapeOfCause,
  stepAt,
  trendShapes,
  unsoundShapes,
  vapourShare,
} from './shapes.ts'
import { tuneSigns } from './tune-signs.ts'
import type { DiagnosedCar } from './car.ts'

export const Suspect = z.object({
  cause: CauseId,
  group: z.array(CauseId).max(4).optional().describe('causes that this log cannot part; the test parts them'),
  likelihood: z.number().min(0).max(1),
  evidence: z.string(),
  test: z.string().describe('what settles it'),
})
export type Suspect = z.infer<typeof Suspect>

export interface Diagnosis {
  /** what the log says of the table may be believed, with constants and curves taken out where they were found */
  sound: boolean
  /** most likely first */
  suspects: Suspect[]
  /** constants and curves that were taken out, the largest first */
  correctedFor: Cause[]
  /** what they add up to at a moment, % */
  takenOutPct: (m: Moment) => number
  /** each of them with its size, in its own unit: %, ms of opening, share of the way from air to coolant */
  mends: { cause: Cause; size: number }[]
}

const signed = (v: number, se: number): string => {
  const decimals = Math.abs(v) < 0.3 ? 3 : Math.abs(v) < 3 ? 2 : 1
  return `${v > 0 ? '+' : '-'}${Math.abs(v).toFixed(decimals)} ± ${se.toFixed(decimals)}`
}
/** A cause with all that speaks for it. */
interface Candidate extends Sign {
  /** the same with every constant and curve allowed to be off as well: what an unsound log must still show then */
  beside: number
}

interface Fits {
  all: Candidate[]
  taken: { shape: ShapeOfCause; size: number }[]
}
/** Marks of every cause on the blocks, each alone, and each beside all that a first drive may be off by. */
function shapeFits(blocks: readonly Block[], barometerKpa: number): Fits {
  const wide = fittedField(blocks, [...trendShapes(blocks), ...mendableShapes(blocks).map((m) => onBlocks(blocks, m))])
  // a table that was corrected before is off by less on the whole as well
  const trends = trendShapes(blocks, wide.tablePct)
  const beside = mendableShapes(blocks, wide.tablePct)
  // what a constant may be is not what it may have been: each is looked for at its full size
  const mends = mendableShapes(blocks)
  const others = (left: number | null) => beside.filter((_, k) => k !== left).map((m) => onBlocks(blocks, m))
  const full = fieldOf(blocks, wide, [...trends, ...others(null)])
  const bare = fieldOf(blocks, full, trends)
  const candidate = (shape: ShapeOfCause, besideIt: Field, worth = 0, counts = true): Candidate => {
    const allowed = allowedSize(blocks, shape)
    const alone = fitShape(bare, onBlocks(blocks, shape), shape.sign, allowed)
    return {
      cause: shape.cause,
      ...(shape.group ? { group: shape.group } : {}),
      // a constant that leaves most of what was wrong is the table's
      logBayes: counts ? alone.logBayes - worth : Math.min(-1, alone.logBayes),
      beside: fitShape(besideIt, onBlocks(blocks, shape), shape.sign, allowed).logBayes - worth,
      evidence: `${signed(alone.size, alone.se)} ${shape.unit}`,
    }
  }
  const steps = stepsIn(blocks)
  return {
    all: [
      ...mends.map((m, k) => candidate(m, fieldOf(blocks, full, [...trends, ...others(k)]), 0, halves(blocks, m, bare))),
      ...unsoundShapes(blocks, barometerKpa).map((s) => candidate(s, full)),
      ...steps.map((s) => candidate(s, full, Math.log(steps.length))),
      bursts(blocks, bare, trends, full, [...trends, ...others(null)]),
    ],
    taken: mended(blocks, bare, trends, mends),
  }
}

/** Whether a log without a correction was driven with the loop at work: then what is left says nothing of the table, and the column is wanted. */
export function loopUnlogged(log: Pick<LogData, 'timeS' | 'channels'>, samples: Samples): boolean {
  return noTrim({ log, samples, blocks: blocksOf(log, samples), barometerKpa: 0 }, false).some((s) => s.logBayes > UNSOUND_LOG_BAYES)
}

/** The constants and curves that are worth taking out, the largest first, each with those before it gone. */
function mended(blocks: readonly Block[], bare: Field, trends: readonly Shape[], mends: readonly ShapeOfCause[]): Fits['taken'] {
  const found: Fits['taken'] = []
  let left = [...mends]
  let now = blocks
  while (left.length && found.length < MOST_MENDED) {
    const field = fieldOf(now, bare, trends)
    const tried = left
      .map((shape) => ({ shape, fit: fitShape(field, onBlocks(blocks, shape), shape.sign, allowedSize(blocks, shape)) }))
      .sort((a, b) => b.fit.logBayes + causes[b.shape.cause].prior - a.fit.logBayes - causes[a.shape.cause].prior)
    const [{ shape, fit }] = tried
    const most = Math.max(...blocks.map((b) => Math.abs(fit.size * shape.at(b))))
    const without = now.map((b) => ({ ...b, needPct: b.needPct - fit.size * shape.at(b) }))
    if (fit.logBayes < MENDED_LOG_BAYES || most < LEAST_CONSTANT_PCT || rmsOf(without) > MENDED_LEAVES * rmsOf(now)) break
    found.push({ shape, size: fit.size })
    now = without
    left = left.filter((s) => s !== shape)
  }
  return found
}
/** Whether taking it out at least halves what the log is wrong by. */
function halves(blocks: readonly Block[], shape: ShapeOfCause, field: Field): boolean {
  const { size } = fitShape(field, onBlocks(blocks, shape), shape.sign)
  return rmsOf(blocks.map((b) => ({ ...b, needPct: b.needPct - size * shape.at(b) }))) <= MENDED_LEAVES * rmsOf(blocks)
}
const MOST_MENDED = 3
const rmsOf = (blocks: readonly Block[]): number => Math.sqrt(blocks.reduce((sum, b) => sum + b.needPct ** 2, 0) / blocks.length)

/** Bursts that come and go, where little else flows. */
const BURST = { pct: [4, 9], lastS: 25, noisePct: [0.15, 0.4, 0.9], wanderPct: 0.1, worth: 3 }
function bursts(blocks: readonly Block[], bare: Field, trends: readonly Shape[], full: Field, beside: readonly Shape[]): Candidate {
  const share = blocks.map(vapourShare)
  // what comes and goes is no noise: it is held against the field with what noise there is besides
  const gain = (field: Field, nuisance: readonly Shape[], pct: number) => {
    const extra = (i: number, j: number) =>
      pct * pct * share[i] * share[j] * Math.exp(-Math.abs(blocks[i].timeS - blocks[j].timeS) / BURST.lastS)
    return Math.max(
      ...BURST.noisePct.map(
        (noisePct) => fieldOf(blocks, { ...field, noisePct, wanderPct: BURST.wanderPct }, nuisance, extra).logEvidence - field.logEvidence,
      ),
    )
  }
  const tried = BURST.pct.map((pct) => ({ pct, beside: gain(full, beside, pct) }))
  const best = tried.reduce((a, b) => (b.beside > a.beside ? b : a))
  return {
    cause: 'purge',
    logBayes: gain(bare, trends, best.pct) - BURST.worth,
    beside: best.beside - BURST.worth,
    evidence: `the same places differ by about ${best.pct} % at little flow from one half minute to another`,
  }
}
/** Steps in time: after a rest of the engine, or anywhere. */
function stepsIn(blocks: readonly Block[]): ShapeOfCause[] {
  const [first, last] = [blocks[0].timeS, blocks.at(-1)!.timeS]
  if (last - first < LEAST_SPAN_S) return []
  const rests = blocks.slice(1).flatMap((b, k) => (b.timeS - blocks[k].timeS > REST_S ? [(b.timeS + blocks[k].timeS) / 2] : []))
  return [...rests, ...Array.from({ length: 9 }, (_, k) => first + ((k + 1) / 10) * (last - first))].map((atS) => stepAt(blocks, atS))
}
const LEAST_SPAN_S = 240
const REST_S = 60

/** Causes that make every other mark meaningless: what is not measured cannot be compared. */
const blinding: readonly Cause[] = [
  'sensor-stuck',
  'no-trim-column',
  'learned-apart',
  'other-tune',
  'other-car',
  'misfire',
  'coolant-temperature',
  'map-hose',
]
/** From this on a trace's own sign stands alone. */
const DECISIVE = 10

/** Everything that speaks for each cause: its best shape, and what the traces themselves say. */
function gathered(shapes: readonly Candidate[], direct: readonly Sign[]): Candidate[] {
  const blind = direct.some((d) => blinding.includes(d.cause) && d.logBayes + causes[d.cause].prior >= DECISIVE)
  const byCause = new Map<Cause, Candidate>()
  if (!blind)
    for (const c of shapes) {
      const known = byCause.get(c.cause)
      if (!known || c.logBayes > known.logBayes) byCause.set(c.cause, c)
    }
  // a pinched hose delays what the sensor sees too
  const late = Math.max(0, ...direct.filter((d) => d.cause === 'map-hose').map((d) => d.logBayes))
  for (const sign of direct) {
    const logBayes = sign.cause === 'sensor-slow' ? sign.logBayes - late : sign.logBayes
    const known = byCause.get(sign.cause)
    if (!known) byCause.set(sign.cause, { ...sign, logBayes, beside: logBayes })
    else {
      const add = (v: number) => Math.max(0, v) + logBayes
      byCause.set(sign.cause, {
        ...(logBayes > known.logBayes ? { ...known, ...sign } : known),
        logBayes: add(known.logBayes),
        beside: add(known.beside),
      })
    }
  }
  // coolant that is told wrongly errs as a charge model does
  const [coolant, charge] = [byCause.get('coolant-temperature'), byCause.get('charge-model')]
  if (coolant && charge && coolant.logBayes > 3) {
    coolant.logBayes += Math.max(0, charge.logBayes)
    coolant.beside += Math.max(0, charge.beside)
  }
  // an air sensor that warms up where it stands errs as a wrong curve does
  const [soak, air] = [byCause.get('heat-soak'), byCause.get('air-temperature')]
  if (soak && air && soak.logBayes > 3 && !direct.some((d) => d.cause === 'air-temperature' && d.logBayes > 0)) {
    soak.logBayes += Math.max(0, air.logBayes, charge?.logBayes ?? 0)
    soak.beside += Math.max(0, air.beside, charge?.beside ?? 0)
  }
  return alike([...byCause.values()].filter((c) => c.logBayes > 0 || c.beside > 0))
}

/** Causes whose marks are alike, told as one group within so much likelihood, as a natural log: a test at the car parts them. */
const twins: readonly (readonly [Cause, Cause, number])[] = [
  ['exhaust-leak', 'false-air', 10],
  ['sensor-slow', 'map-hose', 3],
  ['heat-soak', 'air-temperature', 3],
]
function alike(list: readonly Candidate[]): Candidate[] {
  let left = [...list]
  for (const [a, b, within] of twins) {
    const pair = left.filter((c) => (c.cause === a || c.cause === b) && !c.group)
    if (pair.length < 2 || Math.abs(pair[0].beside - pair[1].beside) > within) continue
    const [better, other] = pair[0].beside >= pair[1].beside ? pair : [pair[1], pair[0]]
    left = [...left.filter((c) => c !== other && c !== better), { ...better, group: [better.cause, other.cause] }]
  }
  return left
}

/**
 * Finds out what a log is wrong by before anything is learned from it. Each cause has its mark: a shape over flow, pressure, time or temperature, or
 * what a trace itself shows. Each is held against a table that is merely off, smoothly, with this log's own noise, by how well it explains the log.
 * @param log time and channels; @param samples the rows of it that tell of the table
 * @returns likelihoods of all causes with what speaks for them and what would settle them
 * @source comparison of models by their evidence: MacKay, Information Theory, Inference, and Learning Algorithms, chapter 28
 */
export function diagnose(log: Pick<LogData, 'timeS' | 'channels'>, samples: Samples, car: DiagnosedCar): Diagnosis {
  const blocks = blocksOf(log, samples)
  const direct: Sign[] = [
    ...directSigns({ log, samples, blocks, barometerKpa: car.barometerKpa }, car.loopOpen === true),
    ...tuneSigns(blocks, log.channels, car),
    ...doubts(log, car),
  ]
  const fits: Fits = blocks.length >= LEAST_BLOCKS ? shapeFits(blocks, car.barometerKpa) : { all: [], taken: [] }
  const list = withoutRuledOut(gathered(fits.all, direct), car.ruledOut ?? [])
  const faults = list.filter((c) => !causes[c.cause].mends || direct.some((d) => d.cause === c.cause && d.logBayes > UNSOUND_LOG_BAYES))
  const mends = list.filter((c) => !faults.includes(c))
  // a loop that stands at its limit for the sake of something that is known is no cause of its own
  const pegged = faults.find((c) => c.cause === 'trim-pegged')
  if (pegged && (fits.taken.length || faults.some((c) => c !== pegged && c.beside > UNSOUND_LOG_BAYES)))
    pegged.beside = Math.min(pegged.beside, CONSEQUENCE)
  const fault = Math.log(faults.reduce((sum, c) => sum + Math.exp(c.beside + causes[c.cause].prior), 0))
  const sound = fault - SOUND_BEFOREHAND < Math.log(UNSOUND_LIKELIHOOD / (1 - UNSOUND_LIKELIHOOD))
  const out = car.ruledOut ?? []
  // a constant of which every cause was tested and ruled out is the table's
  const standing = fits.taken.filter((t) => !(t.shape.group ?? [t.shape.cause]).every((cause) => out.includes(cause)))
  const taken = sound ? standing : []
  return {
    sound,
    suspects: ranked(
      faults,
      mends,
      standing.map((t) => t.shape.cause),
      sound,
    ),
    correctedFor: taken.map((t) => t.shape.cause),
    takenOutPct: (m) => 100 * (taken.reduce((f, t) => f * (1 + (t.size * t.shape.at(m)) / 100), 1) - 1),
    mends: taken.map((t) => ({ cause: t.shape.cause, size: t.size })),
  }
}

/** What was tested and found not to be it goes; a group of causes goes by its others. */
function withoutRuledOut(list: readonly Candidate[], out: readonly Cause[]): Candidate[] {
  return list.flatMap((c) => {
    const group = c.group?.filter((cause) => !out.includes(cause))
    if (!out.includes(c.cause)) return [group ? { ...c, group } : c]
    return group?.length ? [{ ...c, cause: group[0], group }] : []
  })
}

const MOST_SUSPECTS = 6
const CONSEQUENCE = 3
/** most logs are sound: so much, as a natural log, speaks for that beforehand */
const SOUND_BEFOREHAND = 2.5
/**
 * Everything that may be the matter, likeliest first. A fault stands beside whatever constants and curves are off; where there is none, these share
 * among them what is left of the likelihood, those that were taken out of a sound log first.
 */
function ranked(faults: readonly Candidate[], mends: readonly Candidate[], taken: readonly Cause[], sound: boolean): Suspect[] {
  const table: Candidate = {
    cause: 'sound',
    logBayes: 0,
    beside: 0,
    evidence: 'a table that is off smoothly explains it, within its noise',
  }
  const shares = (list: readonly { c: Candidate; score: number }[], mass: number): { c: Candidate; likelihood: number }[] => {
    const top = Math.max(...list.map((l) => l.score))
    const sum = list.reduce((v, l) => v + Math.exp(l.score - top), 0)
    return list.map(({ c, score }) => ({ c, likelihood: (mass * Math.exp(score - top)) / sum }))
  }
  const first = shares([...faults.map((c) => ({ c, score: c.beside + causes[c.cause].prior })), { c: table, score: SOUND_BEFOREHAND }], 1)
  const left = first.at(-1)!.likelihood
  const rest = shares([...mends.map((c) => ({ c, score: c.logBayes + causes[c.cause].prior })), { c: table, score: 0 }], left)
  const place = (cause: Cause): number => (sound && taken.includes(cause) ? taken.indexOf(cause) - taken.length : 0)
  return [...first.slice(0, -1), ...rest]
    .map(({ c: { cause, group, evidence }, likelihood }): Suspect => ({
      cause,
      ...(group ? { group: [...group] } : {}),
      likelihood,
      evidence,
      test: causes[cause].test,
    }))
    .sort((x, y) => place(x.cause) - place(y.cause) || y.likelihood - x.likelihood)
    .slice(0, MOST_SUSPECTS)
}

/** What this car cannot do. */
function doubts({ channels }: Pick<LogData, 'channels'>, car: DiagnosedCar): Sign[] {
  if (car.saidMine) return []
  const [rpm, kpa] = [topOf(channels.rpm), topOf(channels.mapKpa)]
  return [
    ...(car.mostRpm && rpm && rpm > car.mostRpm
      ? [
          {
            cause: 'other-car' as const,
            logBayes: 14,
            evidence: `it reaches ${rpm.toFixed(0)} rpm; this engine cannot pass ${car.mostRpm.toFixed(0)}`,
          },
        ]
      : []),
    ...(car.mostKpa && kpa && kpa > car.mostKpa
      ? [
          {
            cause: 'other-car' as const,
            logBayes: 14,
            evidence: `its manifold pressure reaches ${kpa.toFixed(0)} kPa; this engine cannot pass ${car.mostKpa.toFixed(0)}`,
          },
        ]
      : []),
  ]
}
