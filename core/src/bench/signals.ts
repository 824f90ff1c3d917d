import { CoreError, Random } from '../kernel/index.ts'
import {
  coilsOf,
  CRANKING_RPM,
  dwellOf,
  firingIntervalDeg,
  hasCamSignal,
  hasDistributor,
  lobeWave,
  peakAtV,
  sensorDegToCrank,
  sensorOf,
  type Trace,
  USUAL_LOBE_DEG,
  USUAL_TARGET_DEG,
} from '../spark/index.ts'
import { tachPulsesDegOf } from '../tach/index.ts'
import { type BenchIgnition, camLampDeg, outputAtTarget, polarityRight, pulseAtDeg, sparkAtDeg } from './ignition.ts'
import { lightCommandDeg } from './instruments.ts'

export interface ScopeSetting {
  rpm: number
  /** length of the record, s */
  seconds: number
  samples: number
}
/** Bounds of what the bench's scope records. */
export const scopeBounds = { rpm: [60, 9000], seconds: [0.005, 5], samples: [200, 200_000] } as const

/** What is wrong with one field of a scope's setting, in words with its bounds; null when it can be taken. */
export function checkScope(field: keyof typeof scopeBounds, value: number | undefined): string | null {
  const [low, high] = scopeBounds[field]
  return value === undefined || (value >= low && value <= high) ? null : `must be ${low} to ${high} ${scopeUnits[field]}`
}
const scopeUnits = { rpm: 'rpm', seconds: 's', samples: 'samples' } as const

const SUPPLY_V = 5
const SAGGING_V = 0.2
const LOBES_REACH = 6
const NOISE_RMS_SHARE = 0.3

const EXTRA_EVERY = 13

/** Angles after the record's start, crank degrees rising, at which targets pass their sensor. */
function pulseAngles(g: BenchIgnition, endDeg: number, random: Random, rpm: number): number[] {
  const { wheel, trigger } = g.context.spark
  const onWheel = trigger === 'toothed-wheel' && wheel?.teeth
  const pitch = onWheel ? 360 / wheel.teeth! : firingIntervalDeg(g.cylinders)
  const targets = Math.round((hasDistributor(g.context) ? 720 : 360) / pitch)
  // number one's top centre lies at 360 after the start
  const first = 360 - (pulseAtDeg(g, rpm) ?? 10)
  const angles: number[] = []
  const from = Math.ceil((-2 * pitch - first) / pitch)
  for (let k = from; first + k * pitch < endDeg + 2 * pitch; k++) {
    const place = onWheel ? ((k % wheel.teeth!) + wheel.teeth!) % wheel.teeth! : 0
    if (onWheel && place >= wheel.teeth! - (wheel.missing ?? 0)) continue
    if (g.fault('pulse-missing') !== null && ((k % targets) + targets) % targets === Math.min(3, targets - 1)) continue
    const angle = first + k * pitch + g.jitterDeg * random.normal()
    angles.push(angle)
    if (g.fault('pulse-extra') !== null && ((k % EXTRA_EVERY) + EXTRA_EVERY) % EXTRA_EVERY === 4) angles.push(angle + 0.42 * pitch)
  }
  return angles
}

/**
 * What the bench's scope sees at one steady speed: the crank signal, cam signal where there is one, coil command, coil current and tachometer
 * signal, of the ignition as it really is. Speed is steady within the record; noise is white with spikes at each spark.
 * @throws CoreError OUT_OF_RANGE for a speed, length or number of samples the scope does not take
 */
export function scopeTraces(g: BenchIgnition, { rpm, seconds, samples }: ScopeSetting): Trace[] {
  for (const [field, value] of Object.entries({ rpm, seconds, samples })) {
    const refused = checkScope(field as keyof typeof scopeBounds, value)
    if (refused) throw new CoreError('OUT_OF_RANGE', field, refused)
  }
  const random = new Random(g.seed ^ Math.round(rpm * 7 + samples))
  const stepS = seconds / (samples - 1)
  const degPerS = 6 * rpm
  const endDeg = seconds * degPerS
  const timeS = (deg: number) => deg / degPerS
  const make = (id: string, unit: 'V' | 'A', fill: (out: Float32Array) => void): Trace => {
    const out = new Float32Array(samples)
    fill(out)
    return { id, unit, startS: 0, stepS, samples: out }
  }
  const sparks = sparkAngles(g, rpm, endDeg)
  const noisy = (out: Float32Array) => {
    const rms = NOISE_RMS_SHARE * Math.min(g.noiseV, 0.1)
    for (let i = 0; i < out.length; i++) out[i] += rms * random.normal()
    // spikes of ignition noise ring for some ten microseconds
    for (const deg of sparks)
      for (let k = 0, i = Math.round(timeS(deg) / stepS); k < Math.max(2, 4e-5 / stepS); k++, i++)
        if (i >= 0 && i < out.length) out[i] += g.noiseV * Math.exp(-k / 2) * (k % 2 ? -1 : 1)
  }
  const traces = [
    make('crank', 'V', (out) => {
      const angles = pulseAngles(g, endDeg, random, rpm)
      if (sensorOf(g.context) === 'magnetic') addLobes(out, angles, g, rpm, stepS, degPerS)
      else
        addSquare(
          out,
          angles,
          (g.context.spark.targetWidthDeg ?? USUAL_TARGET_DEG) * sensorDegToCrank(g.context),
          outputAtTarget(g),
          stepS,
          degPerS,
          SUPPLY_V,
        )
      noisy(out)
    }),
  ]
  const lamp = camLampDeg(g)
  if (hasCamSignal(g.context))
    traces.push(
      make('cam', 'V', (out) => {
        const at: number[] = []
        for (let deg = 360 - (lamp ?? g.context.spark.referenceDeg ?? 60) - 1440; deg < endDeg + 720; deg += 720)
          at.push(deg + g.jitterDeg * random.normal())
        addSquare(out, at, 30, 'high', stepS, degPerS, SUPPLY_V)
        noisy(out)
      }),
    )
  traces.push(...coilTraces(g, make, sparks, stepS, degPerS))
  const tach = tachPulsesDegOf(g.context)
  if (tach !== null)
    traces.push(
      make('tach', 'V', (out) => {
        const at: number[] = []
        for (let deg = (sparks[0] ?? 0) - 4 * tach; deg < endDeg + tach; deg += tach) at.push(deg)
        addSquare(out, at, tach / 2, 'high', stepS, degPerS, 12)
      }),
    )
  return traces
}

/** Angles of the sparks of every cylinder. */
function sparkAngles(g: BenchIgnition, rpm: number, endDeg: number): number[] {
  const interval = firingIntervalDeg(g.cylinders)
  const first = 360 - sparkAtDeg(g, rpm, g.context.resolved.barometerKpa, lightCommandDeg(g.context))
  const angles: number[] = []
  for (let deg = first - Math.ceil((first + interval) / interval) * interval; deg < endDeg + interval; deg += interval) angles.push(deg)
  return angles
}

function addLobes(out: Float32Array, angles: readonly number[], g: BenchIgnition, rpm: number, stepS: number, degPerS: number): void {
  const third = ((g.context.spark.lobeDeg ?? USUAL_LOBE_DEG) * sensorDegToCrank(g.context)) / 3
  const peak = peakAtV(g.crankingV, CRANKING_RPM, rpm) * (polarityRight(g) ? 1 : -1)
  for (const deg of angles) {
    const from = Math.max(0, Math.ceil((deg - LOBES_REACH * third) / degPerS / stepS))
    const to = Math.min(out.length - 1, Math.floor((deg + LOBES_REACH * third) / degPerS / stepS))
    for (let i = from; i <= to; i++) out[i] += peak * lobeWave((i * stepS * degPerS - deg) / third)
  }
}

function addSquare(
  out: Float32Array,
  angles: readonly number[],
  widthDeg: number,
  atTarget: 'low' | 'high',
  stepS: number,
  degPerS: number,
  highV: number,
): void {
  const [rest, on] = atTarget === 'low' ? [highV, SAGGING_V] : [SAGGING_V, highV]
  out.fill(rest)
  for (const deg of angles) {
    const from = Math.max(0, Math.ceil(deg / degPerS / stepS))
    const to = Math.min(out.length, Math.ceil((deg + widthDeg) / degPerS / stepS))
    if (to > from) out.fill(on, from, to)
  }
}

/** Command and current of number one's coil: the current rises towards V/R while it is commanded and falls at the spark. */
function coilTraces(
  g: BenchIgnition,
  make: (id: string, unit: 'V' | 'A', fill: (out: Float32Array) => void) => Trace,
  sparks: readonly number[],
  stepS: number,
  degPerS: number,
): Trace[] {
  const d = dwellOf(g.context)
  if (!d) return []
  const every = { single: 1, paired: g.cylinders / 2, 'per-cylinder': g.cylinders }[coilsOf(g.context)]
  const own = sparks.filter((_, i) => i % every === 0)
  const betweenS = (every * firingIntervalDeg(g.cylinders)) / degPerS
  const dwellS = Math.min((d.output.dwellMs ?? Infinity) / 1000, betweenS - d.input.burnMs / 1000)
  const ohm = d.input.resistanceOhm + (g.fault('ballast') ?? 0)
  const spans = dwellS > 0 ? own.map((deg) => ({ from: deg / degPerS - dwellS, to: deg / degPerS })) : []
  const over = (out: Float32Array, at: (sinceS: number) => number) => {
    for (const { from, to } of spans)
      for (let i = Math.max(0, Math.ceil(from / stepS)); i < Math.min(out.length, to / stepS); i++) out[i] = at(i * stepS - from)
  }
  return [
    make('coil command', 'V', (out) => over(out, () => SUPPLY_V)),
    make('coil current', 'A', (out) =>
      over(out, (t) => (d.input.batteryV / ohm) * (1 - Math.exp((-t * 1000 * ohm) / d.input.inductanceMh))),
    ),
  ]
}
