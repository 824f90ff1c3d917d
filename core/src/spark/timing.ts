import {
  at,
  type Context,
  CoreError,
  type EntryTable,
  finding,
  latest,
  readingsOf,
  type Rule,
  sinceLast,
  type StoredReading,
  type Where,
} from '../kernel/index.ts'
import { idleTargetRpm } from '../survey/index.ts'
import { delayDeg } from './delay-retard.ts'
import { TIMING_PROVED_DEG } from './limits.ts'
import { unproved, zeroMark } from './proofs.ts'
import { reversedAtSpeeds, USUAL_TARGET_DEG, wrongEdgeShiftDeg } from './sensor-edge.ts'
import { judgeTiming, type LightReading, type TimingVerdict } from './timing-fixes.ts'
import { coilsOf, hasDistributor, sensorOf } from './ways.ts'

/** Setting or moving the pick-up by hand: light readings before it belong to the past. */
const movesPickUp = (r: StoredReading): boolean => r.kind === 'spark.fitted' || (r.kind === 'spark.moved' && r.value.what !== 'cap')

/** Light readings taken with the settings now in the unit and the pick-up where it stands now. */
export function currentLight(c: Context): StoredReading<'spark.timing-light'>[] {
  const { referenceDeg, delayUs = 0 } = c.spark
  if (referenceDeg === undefined) return []
  return readingsOf(sinceLast(c.readings, movesPickUp), 'spark.timing-light').filter(
    (r) => Math.abs(r.value.referenceDeg - referenceDeg) < 0.05 && Math.abs(r.value.delayUs - delayUs) < 0.5,
  )
}

/** The current light readings, seen and corrected by the proven zero mark. */
const corrected = (c: Context, light = currentLight(c)): (LightReading & { commandedDeg: number })[] => {
  const offset = zeroMark(c)?.correctionDeg ?? 0
  // a light that flashes late shows the mark late: what it is known to take is added again
  const latencyUs = c.spark.lightLatencyUs ?? 0
  return light.map(({ value: { rpm, observedDeg, commandedDeg } }) => ({
    rpm,
    observedDeg: observedDeg + offset + delayDeg(rpm, latencyUs),
    commandedDeg,
  }))
}
/** The same as speed and error: less what was commanded. */
export const currentLightReadings = (c: Context): { rpm: number; observedDeg: number }[] =>
  corrected(c).map(({ rpm, observedDeg, commandedDeg }) => ({ rpm, observedDeg: observedDeg - commandedDeg }))

/** Verdict on the current light readings; null without any. */
export function currentTiming(c: Context): TimingVerdict | null {
  if (!timings.has(c)) timings.set(c, judgeLight(c, corrected(c)))
  return timings.get(c)!
}
const timings = new WeakMap<Context, TimingVerdict | null>()

/** How well a light's latency is known, us: by its sheet or a test, or not at all. */
const LATENCY_KNOWN_US = 15
const LATENCY_UNKNOWN_US = 40
/** How well the zero mark is known, degrees: the middle of two stops read to half a degree each; of a piston watched, which hardly moves there; an offset that was told; nothing. */
const ZERO_SIGMA_DEG = { read: 0.35, watched: 0.7, told: 1, nothing: 2 }
const zeroSigmaDeg = (c: Context): number => {
  const zero = zeroMark(c)
  if (zero === null) return ZERO_SIGMA_DEG.nothing
  if (!zero.read) return ZERO_SIGMA_DEG.told
  return latest(c.readings, 'spark.zero-mark')?.value.method === 'piston-watched' ? ZERO_SIGMA_DEG.watched : ZERO_SIGMA_DEG.read
}

function judgeLight(c: Context, readings: LightReading[]): TimingVerdict | null {
  if (c.spark.referenceDeg === undefined || readings.length === 0) return null
  const magnetic = sensorOf(c) === 'magnetic'
  const reversed = magnetic ? reversedAtSpeeds(c).flatMap((s) => s.lateDeg ?? []) : []
  return judgeTiming({
    commandedDeg: 0,
    readings,
    referenceDeg: c.spark.referenceDeg,
    delayUs: c.spark.delayUs ?? 0,
    rotation: c.facts.ignition?.rotation,
    hasDistributor: hasDistributor(c),
    minRpm: idleTargetRpm(c.resolved),
    maxRpm: Math.min(4000, c.resolved.redlineRpm * 0.8),
    cylinders: c.resolved.cylinders,
    pairedCoils: coilsOf(c) === 'paired',
    zeroSigmaDeg: zeroSigmaDeg(c),
    latencySigmaUs: c.spark.lightLatencyUs === undefined ? LATENCY_UNKNOWN_US : LATENCY_KNOWN_US,
    edgeShiftDeg: magnetic ? null : wrongEdgeShiftDeg(c.spark.targetWidthDeg ?? USUAL_TARGET_DEG, hasDistributor(c)),
    polarityLooked: latest(c.readings, 'spark.polarity')?.value.right === true,
    lobeShiftDeg: reversed.length ? reversed.reduce((a, b) => a + b, 0) / reversed.length : null,
  })
}

/**
 * The fit of named light readings, as it goes into the record.
 * @throws CoreError EVIDENCE_MISSING when one of them was not taken with what is set in the unit now, or they contradict each other
 */
export function fitVerdict(c: Context, entries: readonly StoredReading[]): EntryTable['spark.fit'] {
  const named = readingsOf(entries, 'spark.timing-light').map((r) => r.id)
  const light = currentLight(c).filter((r) => named.includes(r.id))
  const missing = (why: string) => new CoreError('EVIDENCE_MISSING', 'the fit', why)
  if (light.length === 0) throw missing('it wants light readings taken with the reference and delay now in the unit')
  if (light.length < named.length) throw missing(`${named.length - light.length} of the readings named were taken on other settings`)
  const verdict = judgeLight(c, corrected(c, light))!
  if (verdict.mistake) throw missing(`the readings contradict each other: ${verdict.mistake.message}`)
  const { referenceErrorDeg, referenceErrorSeDeg, delayErrorUs } = verdict
  return { referenceErrorDeg, referenceErrorSeDeg, delayErrorUs, readings: light.length }
}

/** Where the first fix is set, with its value offered; hand work is done at the light. */
function settingOf({ fixes, newReferenceDeg, newDelayUs }: TimingVerdict): Where | undefined {
  const [fix] = fixes
  if (fix?.id === 'change-reference' && newReferenceDeg !== null)
    return at('spark', 'trigger', 'choices.spark.referenceDeg', Math.round(newReferenceDeg * 10) / 10)
  if (fix?.id === 'change-delay' && newDelayUs !== null) return at('spark', 'trigger', 'choices.spark.delayUs', Math.round(newDelayUs))
  return undefined
}

/** Readings that were left out, in words. */
const leftOutWords = ({ leftOut }: Pick<TimingVerdict, 'leftOut'>): string[] =>
  leftOut.map(
    ({ rpm, observedDeg, missDeg }) =>
      `Left out: ${observedDeg.toFixed(1)}° at ${rpm.toFixed(0)} rpm, ${Math.abs(missDeg).toFixed(1)}° ${missDeg > 0 ? 'over' : 'under'} all others: a slip of the pen, or the wrong mark.`,
  )

export const timingRules: Rule[] = [
  {
    id: 'spark.timing-mistake',
    where: at('spark', 'light'),
    check: (c) => {
      const verdict = currentTiming(c)
      if (!verdict?.mistake) return null
      const moves = verdict.mistake.kind === 'advance-moves'
      return finding(
        'warn',
        moves ? 'Timing that rises with speed is no delay' : 'The timing readings contradict each other',
        verdict.mistake.message,
        moves ? 'Do not adjust anything: find what still moves.' : 'Repeat them before anything is adjusted.',
      )
    },
  },
  {
    id: 'spark.timing-error',
    where: at('spark', 'light'),
    check: (c) => {
      const verdict = currentTiming(c)
      if (!verdict || verdict.mistake || verdict.worstErrorDeg <= TIMING_PROVED_DEG) return null
      const because = `Reference error ${verdict.referenceErrorDeg.toFixed(1)}° ± ${verdict.referenceErrorSeDeg.toFixed(1)}°${verdict.delayErrorUs === null ? '' : `, delay error ${verdict.delayErrorUs.toFixed(0)} ± ${(verdict.delayErrorSeUs ?? 0).toFixed(0)} µs`}.`
      const missing = unproved(c)
      return finding(
        'warn',
        `Timing is off by up to ${verdict.worstErrorDeg.toFixed(1)}°`,
        [because, ...leftOutWords(verdict), ...verdict.suspects].join(' '),
        missing.length
          ? `Nothing is adjusted before ${missing.map((p) => p.title.toLowerCase()).join(', ')} ${missing.length > 1 ? 'are' : 'is'} proved: each can look like a timing error.`
          : (verdict.fixes[0]?.title ?? 'Take readings at another speed.'),
        missing.length ? undefined : settingOf(verdict),
      )
    },
  },
]
