import { diagnose, type Diagnosis, loopUnlogged } from '../diagnose/index.ts'
import { CoreError } from '../kernel/index.ts'
import { type LogData, rowFrom } from '../logfile/index.ts'
import { type Axes, checkAxis, lowerIndex, runnerShare } from '../tune/index.ts'
import { cellState } from './cell-state.ts'
import { type Fit, fitCells, judgeCells, missingSeconds, passedThrough, secondsPerCell } from './fit-cells.ts'
import { type GridSamples, meansAround, placeOnGrid, type Placing } from './grid-fit.ts'
import { type LearnedLayer, learnedLayer } from './learned-layer.ts'
import { PROVEN_SECONDS, SETTLED_MOVED_PCT, UNSAFE_BAROMETER_SHARE, UNSAFE_OVER_LAMBDA, UNSAFE_RUN_S } from './limits.ts'
import { deliveredPct, type LearnCell, type LearnOptions, type LearnResult, type RunnerCell } from './result.ts'
import { defaultLimits, excludedReasons, judgeSamples, type SampleLimits, type Samples } from '../samples/index.ts'
import { lambdaTargetOf, type LearnSetup } from './setup.ts'
import { answerToMend, judgePattern } from './pattern.ts'
import { baseWanted, markUncorrected, offTarget } from './uncorrected.ts'
import { settledNow } from './settled.ts'
import { judgeWhole } from './verdicts.ts'

/** Solves with the setup of a build, see `learnSetup`. */
export function solveWithSetup(
  log: Pick<LogData, 'timeS' | 'channels'> & { newestFromS?: number },
  setup: LearnSetup,
  onProgress?: (share: number) => void,
): LearnResult {
  return solveLearn(log, setup.axes, {
    barometerKpa: setup.barometerKpa,
    limits: { coolantMinC: setup.coolantMinC },
    learns: setup.learns,
    ownBase: setup.ownBase,
    before: setup.before,
    newestFromS: log.newestFromS,
    learnedAxes: setup.learnedAxes,
    learnLimitPct: setup.learnLimitPct,
    car: setup.car,
    runner: setup.runner,
    targetLambdaAt: lambdaTargetOf(setup),
    onProgress,
  })
}

/** Whether a log without a correction was driven with the loop at work, so that its column is wanted. */
export function unloggedLoop(log: Pick<LogData, 'timeS' | 'channels'>): boolean {
  const { rpm, mapKpa, lambda, lambdaTarget, correctionPct } = log.channels
  if (!rpm || !mapKpa || !lambda || correctionPct) return false
  return loopUnlogged(log, judgeSamples(log, defaultLimits, lambdaTarget ? undefined : () => 1))
}

/** a lean run belongs to the table that most of its fuel comes from */
const MOSTLY = 0.5

/** Seconds, per cell, in unbroken runs of half a second or more with lambda over target + 0.05 above 0.85 barometer. @param from first row that counts */
function unsafeSeconds(
  samples: Samples,
  timeS: Float64Array,
  axes: Axes,
  barometerKpa: number,
  limits: SampleLimits,
  { load, share }: Placing = { load: samples.causeMapKpa, share: () => 1 },
  from = 0,
): Float64Array {
  const nr = axes.rpm.length
  const seconds = new Float64Array(nr * axes.mapKpa.length)
  const blind = new Set(
    (['unreadable', 'cranking', 'fuel-cut', 'after-fuel-cut', 'gap'] as const).map((r) => 1 + excludedReasons.indexOf(r)),
  )
  const lean = (i: number) =>
    !blind.has(samples.fate[i]) &&
    samples.causeMapKpa[i] > UNSAFE_BAROMETER_SHARE * barometerKpa &&
    samples.overTarget[i] > UNSAFE_OVER_LAMBDA &&
    samples.overTarget[i] < limits.lambdaMax
  for (let i = from; i < samples.fate.length;) {
    if (!lean(i)) {
      i++
      continue
    }
    let end = i
    while (end + 1 < samples.fate.length && lean(end + 1)) end++
    if (timeS[end] - timeS[i] >= UNSAFE_RUN_S)
      for (let k = i; k <= end; k++) {
        const x = lowerIndex(axes.rpm, samples.causeRpm[k])
        if (share(k) < MOSTLY) continue
        const y = lowerIndex(axes.mapKpa, load[k])
        const nearX = samples.causeRpm[k] - axes.rpm[x] > axes.rpm[x + 1] - samples.causeRpm[k] ? x + 1 : x
        const nearY = load[k] - axes.mapKpa[y] > axes.mapKpa[y + 1] - load[k] ? y + 1 : y
        seconds[nearY * nr + nearX] += samples.stepS[k]
      }
    i = end + 1
  }
  return seconds
}

/** What a unit that learns by itself holds, and what is left beyond it; null: it does not, or the log does not tell. */
const layerOf = (
  samples: Samples,
  grid: GridSamples,
  axes: Axes,
  log: Pick<LogData, 'timeS' | 'channels'>,
  { learns, learnedAxes }: LearnOptions,
): LearnedLayer | null =>
  learns === 'itself' && samples.learnedPct
    ? learnedLayer(
        samples,
        grid,
        axes,
        Float64Array.from({ length: grid.n }, (_, k) => samples.learnedPct![grid.row[k]]),
        log,
        learnedAxes,
      )
    : null
/** Puts what is held now beside what is left, and says which cells have settled. */
function putLayers(
  cells: LearnCell[],
  layer: LearnedLayer,
  delivered: ReturnType<typeof meansAround>,
  newestSeconds: Float64Array,
  before?: readonly (number | null)[],
): void {
  cells.forEach((cell, c) => {
    const touched = cell.correctionPct !== null
    cell.newestSeconds = newestSeconds[c]
    cell.learnedPct = touched ? layer.nowPct[c] : null
    cell.neededBasePct = touched ? 100 * ((1 + layer.nowPct[c] / 100) * (1 + cell.correctionPct! / 100) - 1) : null
    const then = before?.length === cells.length ? before[c] : null
    cell.movedPct = Number.isFinite(layer.movedPct[c]) ? layer.movedPct[c] : then != null && touched ? layer.nowPct[c] - then : null
    const [leftPct, leftErrorPct] = [delivered.mean[c], delivered.errorPct[c]]
    if (touched) Object.assign(cell, { leftPct, leftErrorPct })
    // it is judged by what it delivers where it was driven: its corner may lie where nobody drives
    if (touched && cell.state !== 'unsafe') {
      const seen = { seconds: cell.seconds, standardErrorPct: leftErrorPct, correctionPct: leftPct }
      cell.state = cellState({ ...seen, unsafeSeconds: 0, loadShare: 0, passed: false })
      cell.missingSeconds = cell.state === 'thin' ? missingSeconds(cell.seconds, leftErrorPct) : 0
    }
    cell.settled = cell.state === 'proven' && cell.movedPct !== null && Math.abs(cell.movedPct) < SETTLED_MOVED_PCT
  })
}
/** Share of the time in settled cells, and the rms over the cells of what they deliver off and of how far they moved, by used time. */
function settledTotals(cells: readonly LearnCell[], delivered: Float64Array) {
  const seconds = cells.reduce((sum, c) => sum + c.seconds, 0)
  const rms = (of: (c: LearnCell, at: number) => number | null | undefined): number | null => {
    let [squares, time] = [0, 0]
    cells.forEach((c, at) => {
      const value = of(c, at)
      if (value == null || !(c.seconds > 0)) return
      squares += c.seconds * value ** 2
      time += c.seconds
    })
    return time > 0 ? Math.sqrt(squares / time) : null
  }
  return {
    settledTimePct: seconds > 0 ? (100 * cells.reduce((sum, c) => sum + (c.settled ? c.seconds : 0), 0)) / seconds : null,
    remainderRmsPct: rms((c, at) => (c.seconds >= PROVEN_SECONDS ? delivered[at] : null)),
    movedRmsPct: rms((c) => c.movedPct),
  }
}

function totalsOf(samples: Samples, grids: readonly GridSamples[], fit: Fit, cells: readonly LearnCell[]): LearnResult['totals'] {
  const excluded: Record<string, number> = {}
  for (const fate of samples.fate) if (fate !== 0) excluded[excludedReasons[fate - 1]] = (excluded[excludedReasons[fate - 1]] ?? 0) + 1
  const usedSeconds = grids.reduce((sum, g) => sum + g.stepS.subarray(0, g.n).reduce((a, b, k) => a + b * g.share[k], 0), 0)
  const used = samples.used
  let provenSeconds = 0
  let [squares, delivered] = [0, 0]
  for (const cell of cells) {
    if (cell.state === 'proven') provenSeconds += cell.seconds
    squares += cell.seconds * (cell.correctionPct ?? 0) ** 2
    delivered += cell.seconds * deliveredPct(cell) ** 2
  }
  return {
    samples: samples.fate.length,
    used,
    usedSeconds,
    excluded,
    provenTimePct: usedSeconds > 0 ? (100 * provenSeconds) / usedSeconds : null,
    errorRmsPct: usedSeconds > 0 ? Math.sqrt(squares / usedSeconds) : null,
    ...(usedSeconds > 0 && cells.some((c) => c.mendPct !== undefined) ? { deliveredRmsPct: Math.sqrt(delivered / usedSeconds) } : {}),
    noisePct: used > 0 ? fit.sigma : null,
    autocorrelationFactor: used > 0 ? fit.factor : null,
  }
}

/**
 * Solves for the correction a VE table still needs, cell by cell, from a log of ordinary driving (handbook 07, steps 1-6).
 *
 * The unit interpolates between four cells, so each sample constrains four: weighted least squares on bilinear weights, Huber loss,
 * second-difference smoothing weak enough to keep a step. Standard error per cell is sqrt(s2 x factor x diag((WtW + smoothing)^-1)), where
 * the factor counts how many successive samples carry the news of one.
 * @param axes rpm and MAP breakpoints, strictly rising
 * @returns cells row by row, MAP the slow index
 * @throws CoreError AXIS_INVALID, COLUMN_MISSING
 * @source Bjorck, Numerical Methods for Least Squares Problems (bilinear design, regularisation); Huber, Robust Statistics
 */
export function solveLearn(log: Pick<LogData, 'timeS' | 'channels'>, axes: Axes, options: LearnOptions = {}): LearnResult {
  checkAxis('rpm', axes.rpm)
  checkAxis('mapKpa', axes.mapKpa)
  if (log.timeS.length < 2) throw new CoreError('LOG_TOO_SHORT', 'log', 'at least 2 rows are needed')
  const progress = options.onProgress ?? (() => {})
  const limits = { ...defaultLimits, ...options.limits }
  const barometerKpa = options.barometerKpa ?? 101.325
  progress(0)
  const samples = judgeSamples(log, limits, options.targetLambdaAt)
  progress(0.3)
  const seen = options.car ? diagnose(log, samples, options.car) : null
  progress(0.4)
  // its own cells stand on speed and pressure, whichever table gives the base
  const itself = options.learns === 'itself' && samples.learnedPct !== undefined
  const byThrottle = itself ? undefined : throttlePlacing(samples, options.runner)
  const grid = placeOnGrid(samples, axes, byThrottle && { load: samples.causeMapKpa, share: (i) => 1 - byThrottle.share(i) })
  const needPct = grid.y
  const layer = layerOf(samples, grid, axes, log, options)
  // with the unit's own axes known the smooth need of the engine is fitted; else what is left, whose bends inside a cell are not known
  if (layer && !layer.exact) grid.y = layer.remainderPct
  // a unit that learns by itself has taken its constants up already: they are mended there
  const asDriven = grid.y
  if (seen?.mends.length && !layer) grid.y = withoutMends(log, samples, grid, seen)
  const fit = fitCells(grid, axes, (share) => progress(0.4 + 0.55 * share))
  // what a unit that learns by itself delivered drives ago it does not deliver now
  const now = layer && options.newestFromS !== undefined ? rowFrom(log.timeS, options.newestFromS) : 0
  const leanSeconds = (on: Axes, placing?: Placing) => unsafeSeconds(samples, log.timeS, on, barometerKpa, limits, placing, now)
  const unsafe = leanSeconds(axes, byThrottle && { load: samples.causeMapKpa, share: (i) => 1 - byThrottle.share(i) })
  const cells = judgeCells(
    grid,
    fit,
    axes,
    (j) => axes.mapKpa[j] / barometerKpa,
    passedThrough(samples, axes),
    unsafe,
    layer?.exact ? layer.nowPct : null,
  )
  putMends(cells, grid, asDriven, fit, axes)
  const runner = byThrottle && options.runner ? solveRunner(log, samples, axes, options, byThrottle, seen, barometerKpa, limits) : null
  const delivered = layer && meansAround(grid, layer.remainderPct, fit, axes.rpm.length, cells.length)
  if (layer && delivered) {
    const n = cells.length
    markUncorrected(cells, delivered.mean, offTarget(samples, grid, fit, axes.rpm.length, n))
    putLayers(cells, layer, delivered, secondsPerCell(grid, axes.rpm.length, cells.length, now), options.before)
  }
  const { lagS, cycles, pipe, events, fitted } = samples.delay
  const result: LearnResult = {
    rpm: [...axes.rpm],
    mapKpa: [...axes.mapKpa],
    cells,
    totals: {
      ...totalsOf(samples, [grid, ...(runner ? [runner.grid] : [])], fit, [...cells, ...(runner?.cells ?? [])]),
      ...(delivered ? settledTotals(cells, delivered.mean) : {}),
    },
    delay: { lagS, cycles, pipe, events, fitted },
    verdicts: [],
    ...(runner ? { runner: { throttlePct: [...options.runner!.throttlePct], cells: runner.cells.map(byThrottleCell) } } : {}),
    ...diagnosisOf(seen, layer !== null),
    ...(layer && cells.some((c) => c.uncorrected)
      ? { uncorrected: baseWanted(samples, grid, axes, cells, layer.remainderPct, leanSeconds, { barometerKpa, runner: options.runner }) }
      : {}),
  }
  result.verdicts = judgeWhole(log, samples, result, now)
  result.verdicts.push(...judgePattern({ log, samples, result, grid, needPct, options, now }))
  if (!settledNow(result).settled) result.verdicts.push(...answerToMend(result, options))
  if (!result.sound) believeNothing(result)
  progress(1)
  return result
}

/** What the diagnosis says; a unit that learns by itself has taken its constants up already. */
function diagnosisOf(
  seen: Diagnosis | null,
  learns: boolean,
): Pick<LearnResult, 'sound' | 'diagnosis' | 'correctedFor' | 'mends' | 'traces'> {
  if (!seen) return { sound: true, diagnosis: [] }
  const { sound, suspects, correctedFor, mends, traces } = seen
  return {
    sound,
    diagnosis: suspects,
    ...(mends.length && !learns ? { correctedFor, mends } : {}),
    ...(sound ? { traces } : {}),
  }
}

/** Where a table by throttle gives the fuel, and how much of it; undefined where none does, or the log has no throttle. */
function throttlePlacing(samples: Samples, runner: LearnOptions['runner']): Placing | undefined {
  const load = samples.causeThrottlePct
  return runner && load ? { load, share: (i) => (load[i] === load[i] ? runnerShare(runner, load[i]) : 0) } : undefined
}
/** The table by throttle, from the rows whose fuel comes from it; its cells stand on the throttle where others stand on pressure. */
function solveRunner(
  log: Pick<LogData, 'timeS' | 'channels'>,
  samples: Samples,
  { rpm }: Axes,
  { runner }: LearnOptions,
  placing: Placing,
  seen: Diagnosis | null,
  barometerKpa: number,
  limits: SampleLimits,
): { grid: GridSamples; cells: LearnCell[] } {
  const axes: Axes = { rpm: [...rpm], mapKpa: [...runner!.throttlePct] }
  const grid = placeOnGrid(samples, axes, placing)
  const asDriven = grid.y
  if (seen?.mends.length) grid.y = withoutMends(log, samples, grid, seen)
  const fit = fitCells(grid, axes, () => {})
  const unsafe = unsafeSeconds(samples, log.timeS, axes, barometerKpa, limits, placing)
  // a lean run was counted by the pressure it was seen at
  const cells = judgeCells(grid, fit, axes, () => 1, passedThrough(samples, axes, placing.load), unsafe, null)
  putMends(cells, grid, asDriven, fit, axes)
  return { grid, cells }
}
const byThrottleCell = ({ mapKpa, ...cell }: LearnCell): RunnerCell => ({ ...cell, throttlePct: mapKpa })

/** What each sample wants beyond the constants and curves that were found, %. */
function withoutMends(log: Pick<LogData, 'channels'>, samples: Samples, grid: GridSamples, seen: Diagnosis): Float64Array {
  const { pulseMs, intakeAirC, coolantC, batteryV } = log.channels
  return grid.y.map((need, k) => {
    if (k >= grid.n) return need
    const i = grid.row[k]
    const taken = seen.takenOutPct({
      rpm: samples.causeRpm[i],
      mapKpa: samples.causeMapKpa[i],
      target: 1,
      tipCold: 0,
      timeS: 0,
      pulseMs: pulseMs?.[i] ?? NaN,
      intakeAirC: intakeAirC?.[i] ?? NaN,
      coolantC: coolantC?.[i] ?? NaN,
      batteryV: batteryV?.[i] ?? NaN,
      needPct: need,
    })
    return Number.isFinite(taken) ? 100 * ((1 + need / 100) / (1 + taken / 100) - 1) : need
  })
}
/** What was taken out of the readings around each cell. */
function putMends(cells: LearnCell[], grid: GridSamples, asDriven: Float64Array, fit: Fit, { rpm }: Axes): void {
  if (grid.y === asDriven) return
  const taken = asDriven.map((need, k) => 100 * ((1 + need / 100) / (1 + grid.y[k] / 100) - 1))
  const { mean } = meansAround(grid, taken, fit, rpm.length, cells.length)
  cells.forEach((cell, c) => {
    if (cell.correctionPct !== null && Number.isFinite(mean[c])) cell.mendPct = mean[c]
  })
}
/** Of a log that is not sound no cell is proven, and none is corrected; what is unsafe stays so. */
function believeNothing(result: LearnResult): void {
  for (const cell of [...result.cells, ...(result.runner?.cells ?? [])]) {
    if (cell.state === 'proven' || cell.state === 'needs-correction') cell.state = 'thin'
    if (cell.settled) cell.settled = false
  }
  result.totals.provenTimePct = result.totals.provenTimePct === null ? null : 0
  if (result.totals.settledTimePct != null) result.totals.settledTimePct = 0
}
