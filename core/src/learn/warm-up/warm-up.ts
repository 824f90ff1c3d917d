import { alongCurve, solveSpd } from '../../kernel/index.ts'
import type { LogData } from '../../logfile/index.ts'
import { defaultLimits, judgeSamples, type Samples } from '../../samples/index.ts'
import { type Axes, place, type TuneDocument } from '../../tune/index.ts'
import { type LearnSetup, lambdaTargetOf } from '../setup.ts'
import {
  AIM_RICHER_PCT,
  BAND_C,
  BAND_LEAST_S,
  BLOCK_S,
  KNOWN_TO_PCT,
  LEAN_PCT,
  MAP_LEAST_S,
  PASS_PCT,
  RICH_PCT,
  WARM_UP_MOST_PCT,
} from './limits.ts'

type Log = Pick<LogData, 'timeS' | 'channels'>
type Curve = [number, number][]

/** What the fuel for a cold engine did over one band of coolant. */
interface WarmUpBand {
  fromC: number
  toC: number
  seconds: number
  /** fuel missing beyond what the map lacks there when warm, %; less than none: richer than the target */
  missingPct: number
  /** one standard error, % */
  errorPct: number
  /** what the tune gives there, and what would put the mixture on its target, % more */
  givenPct: number
  wantedPct: number
  says: 'unsure' | 'lean' | 'rich' | 'right'
}
export interface WarmUpJudged {
  bands: WarmUpBand[]
  /** cold rows at places of the map that nothing told of when warm, s */
  mapUnknownS: number
  says: 'no-cold' | 'map-first' | 'unsure' | 'right' | 'off'
  /** the curve with what the bands want, where any is off; null: nothing to change */
  next: Curve | null
}

/** Colder than any engine. */
const ANY_C = -60

/** What the warm engine lacked near each corner of the map, as a mean over what was driven there. */
class WarmMap {
  private readonly weightS: Float64Array
  private readonly sum: Float64Array
  constructor(private readonly axes: Axes) {
    this.weightS = new Float64Array(axes.rpm.length * axes.mapKpa.length)
    this.sum = new Float64Array(this.weightS.length)
  }
  private corners(rpm: number, mapKpa: number): [at: number, share: number][] {
    const n = this.axes.rpm.length
    const { index: i, fraction: u } = place(this.axes.rpm, rpm)
    const { index: j, fraction: v } = place(this.axes.mapKpa, mapKpa)
    const at = j * n + i
    return [
      [at, (1 - u) * (1 - v)],
      [at + 1, u * (1 - v)],
      [at + n, (1 - u) * v],
      [at + n + 1, u * v],
    ]
  }
  add(rpm: number, mapKpa: number, error: number, seconds: number): void {
    for (const [at, share] of this.corners(rpm, mapKpa)) {
      this.weightS[at] += share * seconds
      this.sum[at] += share * seconds * error
    }
  }
  /** @returns as a fraction; null where too little was driven */
  at(rpm: number, mapKpa: number): number | null {
    let [known, lacks, seconds] = [0, 0, 0]
    for (const [at, share] of this.corners(rpm, mapKpa)) {
      if (this.weightS[at] === 0 || share === 0) continue
      known += share
      lacks += (share * this.sum[at]) / this.weightS[at]
      seconds += this.weightS[at]
    }
    return seconds >= MAP_LEAST_S ? lacks / known : null
  }
}

/** A short while of the cold engine, as one reading. */
interface Block {
  coolantC: number
  missing: number
  seconds: number
}
/** Rows of the cold engine against the warm one at the same places, in blocks that are independent of each other. */
function coldBlocks(log: Log, samples: Samples, axes: Axes, warmFromC: number): { blocks: Block[]; coldS: number; mapUnknownS: number } {
  const coolantC = log.channels.coolantC!
  const { fate, causeRpm, causeMapKpa, error, stepS } = samples
  const warm = new WarmMap(axes)
  for (let i = 0; i < fate.length; i++)
    if (fate[i] === 0 && coolantC[i] >= warmFromC) warm.add(causeRpm[i], causeMapKpa[i], error[i], stepS[i])
  const blocks: Block[] = []
  let [coldS, mapUnknownS] = [0, 0]
  let open: (Block & { endsS: number }) | null = null
  for (let i = 0; i < fate.length; i++) {
    if (fate[i] !== 0 || !(coolantC[i] < warmFromC)) continue
    coldS += stepS[i]
    const lacks = warm.at(causeRpm[i], causeMapKpa[i])
    if (lacks === null) {
      mapUnknownS += stepS[i]
      continue
    }
    if (!open || log.timeS[i] >= open.endsS) {
      open = { coolantC: 0, missing: 0, seconds: 0, endsS: log.timeS[i] + BLOCK_S }
      blocks.push(open)
    }
    open.coolantC += stepS[i] * coolantC[i]
    open.missing += stepS[i] * ((1 + error[i]) / (1 + lacks) - 1)
    open.seconds += stepS[i]
  }
  return {
    blocks: blocks.map(({ coolantC: sumC, missing, seconds }) => ({ coolantC: sumC / seconds, missing: missing / seconds, seconds })),
    coldS,
    mapUnknownS,
  }
}

function bandOf(fromC: number, blocks: readonly Block[], curve: Curve): WarmUpBand {
  const seconds = blocks.reduce((sum, b) => sum + b.seconds, 0)
  const missing = blocks.reduce((sum, b) => sum + b.seconds * b.missing, 0) / seconds
  const variance = blocks.reduce((sum, b) => sum + b.seconds * (b.missing - missing) ** 2, 0) / seconds
  const errorPct = blocks.length > 1 ? 100 * Math.sqrt(variance / (blocks.length - 1)) : Infinity
  const missingPct = 100 * missing
  const givenPct = blocks.reduce((sum, b) => sum + b.seconds * alongCurve(curve, b.coolantC), 0) / seconds
  const wantedPct = (100 + givenPct) * (1 + missing) - 100
  return { fromC, toC: fromC + BAND_C, seconds, missingPct, errorPct, givenPct, wantedPct, says: saidOf(seconds, missingPct, errorPct) }
}
function saidOf(seconds: number, missingPct: number, errorPct: number): WarmUpBand['says'] {
  if (seconds < BAND_LEAST_S) return 'unsure'
  const over = Math.max(missingPct - LEAN_PCT, -missingPct - RICH_PCT)
  // known well, it is what it reads; else only what stands clear of its error is said
  if (errorPct > KNOWN_TO_PCT && Math.abs(over) < 2 * errorPct) return 'unsure'
  return over <= 0 ? 'right' : missingPct > 0 ? 'lean' : 'rich'
}

/**
 * A curve of the tune laid through what blocks want of it, by least squares over its own points; a point that no block is near stays, and so does the
 * one where the engine is warm. No point moves by more than one pass may, and a colder engine is never given less than a warmer.
 */
function bentCurve(curve: Curve, blocks: readonly Block[], wantedPct: (b: Block) => number): Curve {
  const n = curve.length
  const xs = curve.map(([c]) => c)
  const normal = new Float64Array(n * n)
  const right = new Float64Array(n)
  for (const b of blocks) {
    const { index, fraction } = place(xs, b.coolantC)
    const shares = [
      [index, 1 - fraction],
      [index + 1, fraction],
    ] as const
    const moves = wantedPct(b) - alongCurve(curve, b.coolantC)
    for (const [i, u] of shares) {
      right[i] += b.seconds * u * moves
      for (const [k, v] of shares) normal[i * n + k] += b.seconds * u * v
    }
  }
  // one block's worth of belief in what stands, and all of it where the fuel of a warm engine begins
  for (let i = 0; i < n; i++) normal[i * n + i] += curve[i][1] === 0 ? 1e9 : BLOCK_S
  const { x } = solveSpd(normal, right, false)
  const next = curve.map(([c, pct], i): [number, number] => {
    const [least, most] = [(100 + pct) / (1 + PASS_PCT / 100) - 100, (100 + pct) * (1 + PASS_PCT / 100) - 100]
    return [c, Math.round(10 * Math.min(WARM_UP_MOST_PCT, Math.max(0, least, Math.min(most, pct + x[i])))) / 10]
  })
  for (let i = n - 2; i >= 0; i--) next[i][1] = Math.max(next[i][1], next[i + 1][1])
  return next
}

/**
 * What the fuel for a cold engine does (handbook 07): where the cold engine was, the same places driven warm tell what the map itself lacks, and what is
 * missing beyond that belongs to the warm-up. A cold engine may read a little richer than its target, never leaner.
 *
 *     missing = (1 + error cold) / (1 + error warm at the same place) - 1,   wanted = (1 + given) (1 + missing) - 1
 *
 * with the error of `judgeSamples`, over what was given. Seconds after a start are left out: after-start fuel is another curve.
 * @param setup axes, and the coolant from which the engine is warm
 */
export function judgeWarmUp(
  log: Log,
  setup: Pick<LearnSetup, 'axes' | 'coolantMinC' | 'target'>,
  { parameters }: Pick<TuneDocument, 'parameters'>,
): WarmUpJudged {
  const nothing = { bands: [], mapUnknownS: 0, next: null }
  if (!log.channels.coolantC) return { ...nothing, says: 'no-cold' }
  // over what was given, not over the map
  const { enrichmentPct: _given, ...channels } = log.channels
  const limits = { ...defaultLimits, coolantMinC: ANY_C, afterStartS: Math.max(defaultLimits.afterStartS, parameters.afterStartS) }
  const samples = judgeSamples({ timeS: log.timeS, channels }, limits, lambdaTargetOf(setup))
  const { blocks, coldS, mapUnknownS } = coldBlocks(log, samples, setup.axes, setup.coolantMinC)
  if (coldS < BAND_LEAST_S) return { ...nothing, says: 'no-cold' }
  const curve = parameters.warmupPct as Curve
  const bandFrom = (b: Block): number => BAND_C * Math.floor(b.coolantC / BAND_C)
  const bands = [...new Set(blocks.map(bandFrom))]
    .sort((a, b) => a - b)
    .map((fromC) =>
      bandOf(
        fromC,
        blocks.filter((b) => bandFrom(b) === fromC),
        curve,
      ),
    )
  const told = bands.filter((b) => b.says !== 'unsure')
  if (told.length === 0) return { bands, mapUnknownS, next: null, says: mapUnknownS > coldS / 2 ? 'map-first' : 'unsure' }
  const off = (b: Block): boolean => ['lean', 'rich'].includes(bands.find((x) => x.fromC === bandFrom(b))!.says)
  if (!told.some((b) => b.says !== 'right')) return { bands, mapUnknownS, next: null, says: 'right' }
  const next = bentCurve(curve, blocks, (b) => {
    const given = alongCurve(curve, b.coolantC)
    return off(b) ? (100 + given) * (1 + b.missing + AIM_RICHER_PCT / 100) - 100 : given
  })
  return { bands, mapUnknownS, says: 'off', next: next.some(([, pct], i) => pct !== curve[i][1]) ? next : null }
}

/** A tune with another curve of warm-up fuel. */
export function applyWarmUp(tune: TuneDocument, next: Curve, provenance: string): TuneDocument {
  return {
    ...tune,
    parameters: { ...tune.parameters, warmupPct: next },
    provenance: { ...tune.provenance, warmupPct: provenance },
  }
}
