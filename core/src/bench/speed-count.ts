import { type Random } from '../kernel/index.ts'
import { CRANKING_RPM, peakAtV, sensorOf } from '../spark/index.ts'
import type { BenchIgnition } from './ignition.ts'

/** what an input wants of a magnetic pick-up's pulse, and of a square one's edge, V */
const MAGNETIC_THRESHOLD_V = 0.5
const SQUARE_THRESHOLD_V = 1.5
/** share of the counts that interference, or noise over the threshold, falsifies */
const SPIKE_SHARE = 0.03
const NOISE_SHARE = 0.06

const thresholdV = (ignition: BenchIgnition): number =>
  sensorOf(ignition.context) === 'magnetic' ? MAGNETIC_THRESHOLD_V : SQUARE_THRESHOLD_V

/** Whether the pick-up's pulse reaches the unit at a speed: a magnetic one grows with speed, a square one does not switch over too wide a gap. */
export function pulseReaches(ignition: BenchIgnition, rpm: number): boolean {
  const sensor = sensorOf(ignition.context)
  if (sensor === null) return true
  return sensor === 'magnetic'
    ? peakAtV(ignition.crankingV, CRANKING_RPM, rpm) >= MAGNETIC_THRESHOLD_V
    : ignition.fault('gap-wide') === null
}

/**
 * What one count of the unit's speed comes out as, over the truth: mostly 1. A pulse too many halves the time between two, one missing doubles it;
 * interference and noise over the threshold add pulses.
 */
export function countFactor(ignition: BenchIgnition | null, random: Random): number {
  if (!ignition) return 1
  const { fault, cylinders } = ignition
  if (fault('interference') !== null && random.next() < SPIKE_SHARE) return 1.5 + 0.5 * random.next()
  if (ignition.noiseV > thresholdV(ignition) && random.next() < NOISE_SHARE) return 1.6 + 0.8 * random.next()
  if (fault('pulse-extra') !== null && random.next() < 1 / cylinders) return 2
  if (fault('pulse-missing') !== null && random.next() < 1 / cylinders) return 0.5
  return 1
}
