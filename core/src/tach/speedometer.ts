import type { SpeedoChoices } from './choices.ts'

/**
 * Pulses a kilometre of a sender on the gearbox after axle or tyre were changed: more turns of the shaft for each turn of the wheel, and more
 * turns of the wheel for each kilometre. @returns null without the sender's own number
 */
export function speedoPulsesPerKm({
  pulsesPerKm,
  oldAxle = 1,
  newAxle = oldAxle,
  oldTyreMm = 1,
  newTyreMm = oldTyreMm,
}: SpeedoChoices): number | null {
  return pulsesPerKm === undefined ? null : pulsesPerKm * (newAxle / oldAxle) * (oldTyreMm / newTyreMm)
}
