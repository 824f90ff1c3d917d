import { type BuildData, type Context, latest, readingsOf, Random, seedOf } from '../kernel/index.ts'
import {
  alignOf,
  camSyncPosition,
  coilsOf,
  controlsTiming,
  CRANKING_RPM,
  delayDeg,
  dwellOf,
  edgeErrorDeg,
  firingIntervalDeg,
  hasDistributor,
  neededKv,
  ownAdvanceDeg,
  peakAtV,
  reachedKv,
  RELEASE_V,
  reversedShiftDeg,
  rotorOffsetDistDeg,
  sensorDegToCrank,
  sensorOf,
  strokesAsLed,
  USUAL_LOBE_DEG,
  USUAL_TARGET_DEG,
  widthDistDeg,
} from '../spark/index.ts'
import { oldAdvanceAtCrank, toldContext } from '../survey/index.ts'
import { faultSize, type IgnitionFaultId } from './faults.ts'

/** Peak of a sound magnetic pick-up while cranking and noise of a sound lead, V. */
const SOUND_CRANKING_V = 1.2
const SOUND_NOISE_V = 0.08
const SOUND_JITTER_DEG = 0.12
/** Speeds between which loose weights swing out. */
const WEIGHTS_RPM = { from: 900, to: 2800 }

/** The ignition of the bench car as it really is: what hands did to it, what the seed and the faults set on it make of that. */
export interface BenchIgnition {
  context: Context
  seed: number
  cylinders: number
  firingOrder: readonly number[]
  fault: (id: IgnitionFaultId) => number | null
  /** what the damper mark must be corrected by now */
  zeroOffsetDeg: number
  /** true crank angle BTDC at which the mechanical moment of the pulse comes, weights at rest; null without a pick-up that was set */
  pulseDeg: number | null
  /** true crank angle BTDC at which rotor and terminal are in line; null without a rotor */
  alignDegBtdc: number | null
  delayUs: number
  jitterDeg: number
  slackDeg: number
  noiseV: number
  crankingV: number
  /** cylinders in the order in which their leads or coils spark */
  order: number[]
  /** manifold pressure up to which the coil's voltage still jumps the gap, kPa */
  sparkReachKpa: number
}

/**
 * What is really there on the bench: every instrument and the running engine read it, no rule does. Settings in the unit do not move metal: only
 * readings of hand work do (`spark.fitted`, then `spark.moved`). Nobody sets a pick-up better than a few degrees by eye; the seed says how far off.
 * @returns null while cylinders, firing order or way of triggering are not known
 */
export function benchIgnition(build: BuildData): BenchIgnition | null {
  const context = toldContext(build)
  const { cylinders } = context.resolved
  const firingOrder = build.facts.engine?.firingOrder
  const { trigger } = context.spark
  if (!trigger || cylinders === null || !firingOrder || firingOrder.length !== cylinders) return null
  const seed = seedOf(build.id) ^ 0x1641
  const random = new Random(seed)
  const handErrorDeg = (random.next() < 0.5 ? -1 : 1) * (1.5 + 2.5 * random.next())
  const delayUs = 60 + 80 * random.next()
  const handAlignErrorDeg = 2 * (2 * random.next() - 1)
  const fault = (id: IgnitionFaultId) => faultSize(context.build.choices.bench, id)

  const marks = readingsOf(build.readings, 'spark.zero-mark')
  const slipped = fault('zero-slipped') ?? 0
  const reMarked = marks.some((r) => r.value.dealt === 're-marked')
  const fittedAt = build.readings.findLastIndex((r) => r.kind === 'spark.fitted')
  const fitted = latest(build.readings, 'spark.fitted')
  // a pick-up set before the mark was dealt with stands off by as much as the mark
  const setByWrongMark =
    fitted && readingsOf(build.readings.slice(0, fittedAt), 'spark.zero-mark').some((r) => r.value.dealt !== undefined) ? 0 : slipped
  const setAt = fitted?.value.referenceDeg ?? context.spark.referenceDeg
  const moved = readingsOf(build.readings.slice(fittedAt + 1), 'spark.moved')
  const laterDeg = (what: readonly string[]) =>
    moved.filter((r) => what.includes(r.value.what)).reduce((sum, r) => sum + r.value.laterDeg, 0)
  const pulseDeg =
    controlsTiming(context) && setAt !== undefined
      ? setAt + setByWrongMark + handErrorDeg + (fault('reference-off') ?? 0) - laterDeg(['distributor', 'sensor'])
      : null
  // a rotor whose place was read when it was fitted has moved with every turn since; else the setting has followed each of them already
  const alignedByHand = fitted?.value.alignDegBtdc
  return {
    context,
    seed,
    cylinders,
    firingOrder,
    fault,
    zeroOffsetDeg: reMarked ? 0 : slipped,
    pulseDeg,
    alignDegBtdc: hasDistributor(context)
      ? (alignedByHand === undefined ? alignOf(context) : alignedByHand - laterDeg(['distributor', 'cap'])) +
        handAlignErrorDeg +
        (fault('phase-off') ?? 0)
      : null,
    delayUs: delayUs + (fault('delay-long') ?? 0),
    jitterDeg: Math.hypot(SOUND_JITTER_DEG, fault('drive-worn') ?? 0),
    slackDeg: fault('drive-worn') === null ? 1.5 : 2 + 4 * fault('drive-worn')!,
    noiseV: fault('noise-high') ?? SOUND_NOISE_V,
    crankingV: SOUND_CRANKING_V * (fault('gap-wide') === null ? 1 : 0.35),
    order: orderAsLed(firingOrder, fault),
    sparkReachKpa: sparkReachKpa(context, fault('ballast') ?? 0),
  }
}

/** Voltage of a gap at no pressure at all, kV: the constant of its breakdown law. */
const GAP_AT_NO_PRESSURE_KV = 4.3
/** What the coil still reaches with a resistor in its feed, after the dwell of a feed without one. Needed voltage rises in a straight line with pressure. */
function sparkReachKpa(c: Context, ballastOhm: number): number {
  const charging = dwellOf(c)
  if (!charging || charging.output.dwellMs === null) return Infinity
  const { batteryV, inductanceMh, resistanceOhm } = charging.input
  const ohm = resistanceOhm + ballastOhm
  const amps = (batteryV / ohm) * (1 - Math.exp((-charging.output.dwellMs * ohm) / inductanceMh))
  const need = neededKv(c)
  return (need.mapKpa * (reachedKv((inductanceMh * amps * amps) / 2) - GAP_AT_NO_PRESSURE_KV)) / (need.kv - GAP_AT_NO_PRESSURE_KV)
}

/** What becomes of one cylinder's spark. */
export interface SparkOfCylinder {
  /** it falls where it can burn the cylinder's own charge */
  inTime: boolean
  /** where a charge lit by it bangs when it does not; null: there is no spark */
  bang: 'inlet' | 'exhaust' | 'kick' | null
  /** pressure up to which its voltage jumps the gap, over the pressure now: under 1 sparks begin to fail */
  reach: number
}
/** between these a spark still burns its own charge, crank degrees before and after top centre */
const EARLIEST_DEG = 70
const LATEST_DEG = 25
/** about overlap both valves are open: a bang there goes back through the inlet */
const OVERLAP_DEG = 40
/** what a bad crimp leaves of the voltage; and what each distributor degree past the rotor's overlap takes */
const BAD_LEAD_SHARE = 0.45
const GAP_SHARE_PER_DEG = 0.06
/** a gap worn to twice its width wants so much more voltage: what is left of the reach */
const WORN_PLUG_SHARE = 0.5

/** What is left of the voltage when the rotor stands away from its terminal at the spark: the gap inside the cap takes its part first. */
function rotorShare(ignition: BenchIgnition, advanceDeg: number): number {
  if (ignition.alignDegBtdc === null) return 1
  const { rotorTipWidthMm, terminalWidthMm, rotorRadiusMm } = ignition.context.resolved
  const overlap = widthDistDeg(rotorTipWidthMm + terminalWidthMm, rotorRadiusMm) / 2
  const past = Math.abs(rotorOffsetDistDeg(advanceDeg, ignition.alignDegBtdc)) - overlap
  return Math.max(0.1, 1 - GAP_SHARE_PER_DEG * Math.max(0, past))
}

/** The sparks of all cylinders at an advance and a manifold pressure, in the engine's firing order. */
export function sparksOf(ignition: BenchIgnition, advanceDeg: number, mapKpa: number): SparkOfCylinder[] {
  const { fault } = ignition
  const late = fault('stroke-out') === null ? 0 : 360
  const reach = (ignition.sparkReachKpa * rotorShare(ignition, advanceDeg)) / mapKpa
  // the one coil of a distributor is every cylinder's, a pair of plugs' own is two cylinders'
  const coils = coilsOf(ignition.context)
  const dead = (place: number) =>
    fault('coil-dead') !== null && (coils === 'single' || place === 0 || (coils === 'paired' && place === ignition.firingOrder.length / 2))
  return strokesAsLed(ignition.firingOrder, ignition.order, advanceDeg, late).map(({ stroke, beforeDeg }, place) => {
    if ((fault('pulse-missing') !== null && place === 1) || dead(place)) return { inTime: false, bang: null, reach: 0 }
    return {
      inTime: beforeDeg < EARLIEST_DEG || beforeDeg > 720 - LATEST_DEG,
      bang:
        stroke === 'intake' || (beforeDeg >= 360 && beforeDeg < 360 + OVERLAP_DEG)
          ? 'inlet'
          : stroke === 'compression'
            ? 'kick'
            : 'exhaust',
      reach:
        reach *
        (fault('lead-bad') !== null && place === 2 ? BAD_LEAD_SHARE : 1) *
        (fault('plug-worn') !== null && place === 0 ? WORN_PLUG_SHARE : 1),
    }
  })
}

function orderAsLed(firingOrder: readonly number[], fault: (id: IgnitionFaultId) => number | null): number[] {
  const order = [...firingOrder]
  if (fault('order-reversed') !== null) order.splice(1, order.length - 1, ...order.slice(1).reverse())
  if (fault('leads-crossed') !== null && order.length > 2) [order[1], order[2]] = [order[2], order[1]]
  return order
}

/** Degrees by which the electrical moment comes after the mechanical one at a speed: wrong edge, or wires of a magnetic pick-up changed over. */
function sensorLateDeg(ignition: BenchIgnition, rpm: number): number {
  const { context: c, fault } = ignition
  const toCrank = sensorDegToCrank(c)
  if (sensorOf(c) === 'magnetic') {
    if (fault('polarity-reversed') === null) return 0
    return (reversedShiftDeg(c.spark.lobeDeg ?? USUAL_LOBE_DEG, peakAtV(ignition.crankingV, CRANKING_RPM, rpm), RELEASE_V) ?? 0) * toCrank
  }
  const asChosen = edgeErrorDeg(c.spark, toCrank) ?? 0
  if (fault('edge-wrong') === null) return asChosen
  // the output is the other way round than its sheet says: right becomes wrong and wrong right
  return asChosen === 0 ? (c.spark.targetWidthDeg ?? USUAL_TARGET_DEG) * toCrank * (c.spark.setOn === 'leaving' ? -1 : 1) : 0
}

/** What loose weights add at a speed, crank degrees. */
function weightsDeg(ignition: BenchIgnition, rpm: number): number {
  const most = ignition.fault('weights-move')
  if (most === null) return 0
  return most * Math.min(1, Math.max(0, (rpm - WEIGHTS_RPM.from) / (WEIGHTS_RPM.to - WEIGHTS_RPM.from)))
}

/** True crank angle BTDC of the electrical pulse at a speed; null without a pick-up that was set. */
export const pulseAtDeg = (ignition: BenchIgnition, rpm: number): number | null =>
  ignition.pulseDeg === null ? null : ignition.pulseDeg + weightsDeg(ignition, rpm) - sensorLateDeg(ignition, rpm)

/**
 * True advance of the spark: the unit counts from where it believes the pulse is and takes off the delay it was told.
 * A distributor with a curve of its own follows that curve, whatever was commanded.
 */
export function sparkAtDeg(ignition: BenchIgnition, rpm: number, mapKpa: number, commandedDeg: number): number {
  const { spark } = ignition.context
  if (spark.trigger === 'own-curve' && spark.ownCurve) return ownAdvanceDeg(spark.ownCurve, rpm, mapKpa) ?? commandedDeg
  if (!controlsTiming(ignition.context)) return distributorDeg(ignition, rpm, mapKpa)
  const pulse = pulseAtDeg(ignition, rpm)
  if (pulse === null || spark.referenceDeg === undefined) return commandedDeg
  return commandedDeg + pulse - spark.referenceDeg - delayDeg(rpm, ignition.delayUs - (spark.delayUs ?? 0))
}

/** usual figures of a distributor with weights and a can, crank degrees, where the survey does not tell */
const USUAL_CURVE = { staticDeg: 8, weightsDeg: 24, fromRpm: 900, toRpm: 3400, canDeg: 14, canFullKpa: 45, canFromKpa: 12 }
const PORTED_FROM_RPM = 1100
/** Spark of a distributor left as it was: set by hand at rest, then weights by speed and the can by vacuum, whatever the unit commands. */
function distributorDeg(ignition: BenchIgnition, rpm: number, mapKpa: number): number {
  const { build, resolved } = ignition.context
  const told = oldAdvanceAtCrank(build.facts.ignition)
  const from = told.mechanicalStartRpm ?? USUAL_CURVE.fromRpm
  const to = told.mechanicalFullRpm ?? USUAL_CURVE.toRpm
  const weights = (told.mechanicalAdvanceDeg ?? USUAL_CURVE.weightsDeg) * Math.min(1, Math.max(0, (rpm - from) / (to - from)))
  const vacuumKpa = resolved.barometerKpa - mapKpa
  const full = told.vacuumFullKpa ?? USUAL_CURVE.canFullKpa
  const pulls = told.vacuumSource === 'manifold' || rpm > PORTED_FROM_RPM
  const can =
    (told.vacuumAdvanceDeg ?? USUAL_CURVE.canDeg) *
    Math.min(1, Math.max(0, (vacuumKpa - USUAL_CURVE.canFromKpa) / (full - USUAL_CURVE.canFromKpa)))
  return USUAL_CURVE.staticDeg + weights + (pulls ? can : 0) + (ignition.fault('reference-off') ?? 0)
}

const LIGHT_SIGMA_DEG = 0.35
/** What a person reads on the damper by timing light at a speed. */
export function lightSeenDeg(ignition: BenchIgnition, trueDeg: number, rpm: number, random: Random): number {
  const { fault, context, cylinders } = ignition
  // while the light waits the crank goes on towards top centre
  let seen = trueDeg - ignition.zeroOffsetDeg - ((fault('light-late') ?? 0) * 360 * rpm) / 60e6
  if (fault('light-other-lead') !== null) seen -= firingIntervalDeg(cylinders)
  // its dial counts a spark each turn as one each second turn: twice the angle brings the mark to zero
  if (fault('light-doubled') !== null && coilsOf(context) === 'paired') seen *= 2
  const parallax = (fault('light-parallax') ?? 0) * (random.next() - 0.5) * 2
  return seen + parallax + Math.hypot(LIGHT_SIGMA_DEG, 0.5 * ignition.jitterDeg) * random.normal()
}

/** Crank angle BTDC at which the cam sensor's lamp changes; null without one to place. */
export function camLampDeg(ignition: BenchIgnition): number | null {
  const { spark } = ignition.context
  if (spark.camSyncWindows === undefined || spark.referenceDeg === undefined) return null
  const { positionDegBtdc } = camSyncPosition.run({
    referenceDeg: spark.referenceDeg,
    cylinders: ignition.cylinders,
    windows: spark.camSyncWindows,
  })
  return positionDegBtdc + (ignition.fault('sync-off') ?? 0) + (ignition.fault('stroke-out') === null ? 0 : 360)
}

/** Level of a square output while the target is there, as it really is. */
export function outputAtTarget(ignition: BenchIgnition): 'low' | 'high' {
  const said = ignition.context.spark.output ?? 'low'
  return ignition.fault('edge-wrong') === null ? said : said === 'low' ? 'high' : 'low'
}
/** Whether a signal looked at on scope or lamp passes its target the way it was said to. */
export const polarityRight = (ignition: BenchIgnition): boolean =>
  sensorOf(ignition.context) === 'magnetic' ? ignition.fault('polarity-reversed') === null : ignition.fault('edge-wrong') === null
