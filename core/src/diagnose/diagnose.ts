import { z } from 'zod'
import { type LogData, topOf } from '../logfile/index.ts'
import type { Samples } from '../samples/index.ts'
import { blocksOf } from './blocks.ts'
import type { DiagnosedCar } from './car.ts'
import { type Cause, Cause as CauseId, causes, constantGroup } from './causes.ts'
import { directSigns, noTrim, type Sign } from './direct.ts'
import { logSum } from './field.ts'
import { DECISIVE, LEAST_BLOCKS, UNSOUND_LIKELIHOOD, UNSOUND_LOG_BAYES } from './limits.ts'
import type { Moment } from './shapes.ts'
import { type Traces, tracesOf } from './traces.ts'
import { tuneSigns } from './tune-signs.ts'
import { type Candidate, type Fits, weighCauses } from './weigh.ts'

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
  /** what the traces show besides the table, for the log after this one to be held against */
  traces: Traces
}

/** Whether a log without a correction was driven with the loop at work: then what is left says nothing of the table, and the column is wanted. */
export function loopUnlogged(log: Pick<LogData, 'timeS' | 'channels'>, samples: Samples): boolean {
  return noTrim({ log, samples, blocks: blocksOf(log, samples), barometerKpa: 0 }, false).some((s) => s.logBayes > UNSOUND_LOG_BAYES)
}

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
      // a trace may show what leaves no mark on the need; one that does not says nothing for it
      const add = (v: number) => (logBayes > 0 ? Math.max(0, v) : v) + logBayes
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
  return alike([...byCause.values()])
}

/** Causes whose marks are alike, told as one group within so much likelihood, as a natural log: a test at the car parts them. */
const twins: readonly (readonly [Cause, Cause, number])[] = [
  ['exhaust-leak', 'false-air', 40],
  ['sensor-slow', 'map-hose', 3],
  ['heat-soak', 'air-temperature', 3],
]
function alike(list: readonly Candidate[]): Candidate[] {
  let left = [...list]
  for (const [a, b, within] of twins) {
    const pair = left.filter((c) => (c.cause === a || c.cause === b) && !c.group && (c.logBayes > 0 || c.beside > 0))
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
  const { barometerKpa } = car
  const traces = tracesOf(log, samples, barometerKpa)
  const seen = { log, samples, blocks, barometerKpa, firstDrive: car.known === undefined, before: car.traces }
  const direct: Sign[] = [...directSigns(seen, traces, car.loopOpen === true), ...tuneSigns(blocks, log.channels, car), ...doubts(log, car)]
  const fits: Fits = blocks.length >= LEAST_BLOCKS ? weighCauses(blocks, car) : { all: [], taken: [], changed: false }
  const list = withoutRuledOut(gathered(fits.all, direct), car.ruledOut ?? [])
  // where something is new, a sensor that a trace itself speaks against is no constant to be mended
  const enough = fits.changed ? 1 : UNSOUND_LOG_BAYES
  const faults = list.filter((c) => !causes[c.cause].mends || direct.some((d) => d.cause === c.cause && d.logBayes > enough))
  const mends = list.filter((c) => !faults.includes(c))
  // a loop that stands at its limit for the sake of something that is known is no cause of its own
  const pegged = faults.find((c) => c.cause === 'trim-pegged')
  if (pegged && (fits.taken.length || faults.some((c) => c !== pegged && c.beside > UNSOUND_LOG_BAYES)))
    pegged.beside = Math.min(pegged.beside, CONSEQUENCE)
  // what is new in the need speaks for what leaves a mark there, not for what a trace alone may show
  const marked = new Set(fits.all.map((c) => c.cause))
  const worth = (c: Candidate) =>
    c.beside + causes[c.cause].prior - (fits.changed && !marked.has(c.cause) ? SOUND_BEFOREHAND - CHANGED_BEFOREHAND : 0)
  const fault = logSum([-Infinity, ...faults.map(worth)])
  // a table that was right once and is not now: a constant is no likelier than a fault
  const beforehand = fits.changed ? CHANGED_BEFOREHAND : SOUND_BEFOREHAND
  const sound = fault - beforehand < Math.log(UNSOUND_LIKELIHOOD / (1 - UNSOUND_LIKELIHOOD))
  const out = car.ruledOut ?? []
  // a constant of which every cause was tested and ruled out is the table's
  const standing = fits.taken.filter((t) => !(t.shape.group ?? [t.shape.cause]).every((cause) => out.includes(cause)))
  const taken = sound ? standing : []
  return {
    sound,
    suspects: ranked(
      faults.map((c) => ({ c, score: worth(c) })),
      mends,
      standing.map((t) => t.shape.cause),
      sound,
      beforehand,
    ),
    correctedFor: taken.map((t) => t.shape.cause),
    takenOutPct: (m) => 100 * (taken.reduce((f, t) => f * (1 + (t.size * t.shape.at(m)) / 100), 1) - 1),
    mends: taken.map((t) => ({ cause: t.shape.cause, size: t.size })),
    traces,
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
const CONSEQUENCE = -3
/** most logs are sound: so much, as a natural log, speaks for that beforehand */
const SOUND_BEFOREHAND = 2.5
const CHANGED_BEFOREHAND = -1
/**
 * Everything that may be the matter, likeliest first. A fault stands beside whatever constants and curves are off; where there is none, these share
 * among them what is left of the likelihood, those that were taken out of a sound log first.
 */
function ranked(
  faults: readonly { c: Candidate; score: number }[],
  mends: readonly Candidate[],
  taken: readonly Cause[],
  sound: boolean,
  beforehand: number,
): Suspect[] {
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
  const first = shares([...faults, { c: table, score: beforehand }], 1)
  const left = first.at(-1)!.likelihood
  const rest = shares([...mends.map((c) => ({ c, score: c.logBayes + causes[c.cause].prior })), { c: table, score: 0 }], left)
  const place = ({ cause, group }: Pick<Suspect, 'cause' | 'group'>): number => {
    const at = sound
      ? taken.findIndex(
          (t) => t === cause || group?.includes(t) || (t === 'injector-flow' && group?.every((g) => constantGroup.includes(g))),
        )
      : -1
    return at < 0 ? 0 : at - taken.length
  }
  return [...first.slice(0, -1), ...rest]
    .map(({ c: { cause, group, evidence }, likelihood }): Suspect => ({
      cause,
      ...(group ? { group: [...group] } : {}),
      likelihood,
      evidence,
      test: causes[cause].test,
    }))
    .sort((x, y) => place(x) - place(y) || y.likelihood - x.likelihood)
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
