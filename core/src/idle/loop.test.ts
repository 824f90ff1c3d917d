import { describe, expect, it } from 'vitest'
import type { LogData } from '../logfile/read.ts'
import { identifyPlant, loopMove, mixtureLoopMove, phaseMarginDeg, sparkMove } from './loop.ts'
import { swingOf } from './measure.ts'

const DEG = Math.PI / 180
/** A swing of 2 s in which speed answers the valve as 40 rpm/s for 1 %, 0.2 s late: at w = pi the size is 40/pi, the phase -90° - 36°. */
function swinging(periodS = 2, rpmPerSPct = 40, delayS = 0.2): Pick<LogData, 'timeS' | 'channels'> {
  const omega = (2 * Math.PI) / periodS
  const timeS = Float64Array.from({ length: 1200 }, (_, i) => i * 0.05)
  const lag = Math.PI / 2 + omega * delayS
  return {
    timeS,
    channels: {
      rpm: Float32Array.from(timeS, (t) => 750 + 6 * (rpmPerSPct / omega) * Math.sin(omega * t - lag)),
      idleValvePct: Float32Array.from(timeS, (t) => 20 + 6 * Math.sin(omega * t)),
    },
  }
}
const runs = [{ from: 0, to: 1200, restsAtPct: null, warm: true }]

describe('the engine as its idle controller sees it', () => {
  it.each([
    [2, 40, 0.2],
    [1.4, 25, 0.25],
    [3.1, 30, 0.02],
  ])('is found from a swing of %d s: %d rpm/s for 1 %%, %d s late', (periodS, rpmPerSPct, delayS) => {
    const log = swinging(periodS, rpmPerSPct, delayS)
    const plant = identifyPlant(log, runs, swingOf(log, runs)!)!
    expect(plant.periodS).toBeCloseTo(periodS, 1)
    expect(plant.rpmPerSPct / rpmPerSPct).toBeCloseTo(1, 1)
    expect(plant.delayS).toBeCloseTo(delayS, 1)
  })
  it('is not found where the valve stands still', () => {
    const { timeS, channels } = swinging()
    const log = { timeS, channels: { ...channels, idleValvePct: new Float32Array(1200).fill(20) } }
    expect(identifyPlant(log, runs, swingOf(log, runs)!)).toBeNull()
  })
})

describe('phase margin', () => {
  const plant = { periodS: 2, rpmPerSPct: 40, delayS: 0.2 }
  it('of gain alone: crossover at k Kp, 90° less what the delay takes there', () => {
    // 40 x 5/100 = 2 rad/s; 2 x 0.2 s = 22.9°; 90 - 22.9 = 67.1°
    expect(phaseMarginDeg({ idleGainPct: 5, idleIntegralPctS: 0, idleDampingPct: 0 }, plant)).toBeCloseTo(67.1, 1)
  })
  it('of an integral alone: nothing is left but what the delay takes away', () => {
    // k Ki / w^2 = 1 at w = sqrt(40 x 0.1) = 2 rad/s: 180 - 90 - 90 - 22.9
    expect(phaseMarginDeg({ idleGainPct: 0, idleIntegralPctS: 10, idleDampingPct: 0 }, plant)).toBeCloseTo(-22.9, 1)
  })
  it('a controller that does nothing never gets to a crossover', () =>
    expect(phaseMarginDeg({ idleGainPct: 0, idleIntegralPctS: 0, idleDampingPct: 0 }, plant)).toBe(Infinity))
})

describe('moves of the controller', () => {
  it('bring the crossover to where the delay leaves the margin', () => {
    const plant = { periodS: 1.5, rpmPerSPct: 20, delayS: 0.25 }
    const move = loopMove({ idleGainPct: 25, idleIntegralPctS: 19, idleDampingPct: 0 }, plant)
    // 90 - 55 - 20 = 15° = 0.2618; / 0.25 s = 1.047 rad/s, under half of 4.19; Kp = 1.047/20 cos 20° = 4.92 %/100 rpm; Ki = Kp tan 20° x 1.047 = 1.87
    expect(move.idleGainPct).toBeCloseTo(4.9, 1)
    expect(move.idleIntegralPctS).toBeCloseTo(1.9, 1)
    expect(move.marginDeg).toBeGreaterThan(53)
    expect(move.wasMarginDeg).toBeLessThan(30)
  })
  it('go no faster than half the swing, whatever the delay says', () => {
    const plant = { periodS: 2.5, rpmPerSPct: 30, delayS: 0.01 }
    const move = loopMove({ idleGainPct: 1, idleIntegralPctS: 24, idleDampingPct: 0 }, plant)
    // half of 2 pi / 2.5 s is 1.257 rad/s: 1.257/30 cos 20° = 3.94 %/100 rpm
    expect(move.idleGainPct).toBeCloseTo(3.9, 1)
  })
  it('damping gives fifteen degrees back: the same margin at twice the crossover', () => {
    const plant = { periodS: 1.5, rpmPerSPct: 20, delayS: 0.25 }
    const damped = loopMove({ idleGainPct: 25, idleIntegralPctS: 19, idleDampingPct: 0 }, plant, { damped: true })
    // 30° = 0.5236 / 0.25 s = 2.094 rad/s, half of 4.19: 2.094; Kp = 2.094/20 cos 5° = 10.4; Ki = 10.4 x 0.364 x 2.094 = 7.95; Kd = 10.4 (0.364 - 0.0875) / 2.094 = 1.38
    expect(damped.idleGainPct).toBeCloseTo(10, 0)
    expect(damped.idleDampingPct).toBeCloseTo(1.4, 1)
    expect(damped.idleIntegralPctS).toBeCloseTo(8, 1)
    expect(Math.abs(damped.marginDeg - 55)).toBeLessThan(3)
  })
  it('idle spark follows from what air does: 1 % of valve being 1.4 % of the air', () => {
    // 20 rpm/s / 1.4 x 0.74 = 10.6 rpm/s a degree; at 0.2 rad/s 100 x 0.2 / 10.6 = 1.9°; at 1.05 rad/s it would be 9.9: 6 at most
    const plant = { periodS: 1.5, rpmPerSPct: 20, delayS: 0.25 }
    expect(sparkMove(plant, 0.2, 1.4)).toBeCloseTo(1.9, 1)
    expect(sparkMove(plant, 1.05, 1.4)).toBe(6)
  })
  it('of the mixture: a quarter of the period is the delay, 35° of it the share kept', () => {
    // 2 s: delay 0.5 s, 35° = 0.6109, / 0.5 = 1.2; by gain 3 x 35/90 = 1.17
    expect(mixtureLoopMove(3, 2)).toBeCloseTo(1.2, 5)
    expect(mixtureLoopMove(20, 2)).toBeCloseTo(1.2, 5)
    expect(mixtureLoopMove(1, 2)).toBeCloseTo(0.39, 5)
  })
  it('the phase of a swing is that of speed behind valve: a sign turned would give another delay', () => {
    const log = swinging(1.48, 17, 0.27)
    const plant = identifyPlant(log, runs, swingOf(log, runs)!)!
    expect(((2 * Math.PI) / 1.48) * plant.delayS).toBeCloseTo(((360 * 0.27) / 1.48) * DEG, 1)
  })
})
