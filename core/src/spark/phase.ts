import { at, type Context, finding, readingsOf, type Rule, sinceLast, tuneInCar } from '../kernel/index.ts'
import { delayDeg } from './delay-retard.ts'
import { defaultSweep, type SweptRange } from './geometry.ts'
import { SWEPT_AGREES_DEG, THIN_OVERLAP_DIST_DEG } from './limits.ts'
import { plannedSparkDeg } from './planned-advance.ts'
import { rotorOffsetDistDeg, rotorPhase, widthDistDeg } from './rotor-phase.ts'
import { hasDistributor } from './ways.ts'

export const BURN_MS = 1.2
/** Degrees by which a rotor seen through a window may be misread. */
const WINDOW_SIGMA_DIST_DEG = 1.5

/** Least and most that the tune in the car commands, crank degrees BTDC; null while none is in it. */
export function tuneSweepOf({ build }: Pick<Context, 'build'>): SweptRange | null {
  const { advanceLeastDeg: least, advanceMostDeg: most } = tuneInCar(build)?.figures ?? {}
  return least === undefined || most === undefined ? null : { minAdvanceDeg: least, maxAdvanceDeg: most }
}
/** The swept range: what is entered, widened to what the tune in the car really commands; usual corners while neither is known. */
export function sweepOf(c: Pick<Context, 'spark' | 'build'>): SweptRange {
  const { minAdvanceDeg, maxAdvanceDeg } = c.spark
  const tune = tuneSweepOf(c)
  const least = [minAdvanceDeg, tune?.minAdvanceDeg].filter((x) => x !== undefined)
  const most = [maxAdvanceDeg, tune?.maxAdvanceDeg].filter((x) => x !== undefined)
  return {
    minAdvanceDeg: least.length ? Math.min(...least) : defaultSweep.minAdvanceDeg,
    maxAdvanceDeg: most.length ? Math.max(...most) : defaultSweep.maxAdvanceDeg,
  }
}
/** The middle of the swept range keeps the rotor as near to its terminal at one end as at the other. */
export const alignOf = (c: Pick<Context, 'spark' | 'build'>): number => {
  const { minAdvanceDeg, maxAdvanceDeg } = sweepOf(c)
  return c.spark.alignDegBtdc ?? (minAdvanceDeg + maxAdvanceDeg) / 2
}

export const phaseOf = (c: Context) => {
  if (!hasDistributor(c) || c.resolved.cylinders === null) return null
  const input = {
    alignDegBtdc: alignOf(c),
    ...sweepOf(c),
    cylinders: c.resolved.cylinders,
    rotorRadiusMm: c.resolved.rotorRadiusMm,
    tipWidthMm: c.resolved.rotorTipWidthMm,
    terminalWidthMm: c.resolved.terminalWidthMm,
  }
  return { input, output: rotorPhase.run(input) }
}

/** What each school's alignment gives: in line at the middle of the range, at its ends, or at cruise. */
export function phaseSchools(c: Context): { label: string; alignDegBtdc: number; overlapDistDeg: number; clearDistDeg: number }[] {
  const phase = phaseOf(c)
  if (!phase) return []
  const { minAdvanceDeg, maxAdvanceDeg } = phase.input
  const schools = [
    ['middle of the range', (minAdvanceDeg + maxAdvanceDeg) / 2],
    ['at the least advance', minAdvanceDeg],
    ['at the most advance', maxAdvanceDeg],
    ['at full load', plannedSparkDeg(c.resolved, 0.8 * c.resolved.redlineRpm, c.resolved.barometerKpa)],
  ] as const
  return schools.map(([label, alignDegBtdc]) => {
    const { overlapDistDeg, crossFireMarginDistDeg } = rotorPhase.run({ ...phase.input, alignDegBtdc })
    return { label, alignDegBtdc, overlapDistDeg, clearDistDeg: crossFireMarginDistDeg }
  })
}

/** The alignment seen through a window, crank degrees BTDC: what advance and offset together say. */
export const alignSeenDeg = (advanceDeg: number, beforeTerminalDeg: number): number => advanceDeg - 2 * beforeTerminalDeg

/** Readings of the phase since pick-up or cap were last moved, with the alignment they show; null without any. */
export function phaseSeenOf(c: Context) {
  const seen = readingsOf(
    sinceLast(c.readings, (r) => r.kind === 'spark.moved' && r.value.what !== 'sensor'),
    'spark.phase-seen',
  )
  if (!seen.length) return null
  const aligns = seen.map((r) => alignSeenDeg(r.value.advanceDeg, r.value.beforeTerminalDeg))
  const mean = aligns.reduce((a, b) => a + b, 0) / aligns.length
  return { readings: seen.map((r) => r.value), alignDegBtdc: mean, spreadDeg: Math.max(...aligns) - Math.min(...aligns) }
}

/** Distributor degrees the rotor travels while a spark burns: half of what the crank does. */
export const burnTravelDistDeg = (rpm: number, burnMs: number): number => delayDeg(rpm, burnMs * 1000) / 2

/**
 * Clear gap to the next terminal when a spark at the redline has burnt out, distributor degrees: the rotor goes on while it burns.
 * The advance is that planned for full load there, within the swept range.
 */
export function burnClearance(c: Context) {
  const phase = phaseOf(c)
  if (!phase) return null
  const { cylinders, rotorRadiusMm, tipWidthMm, terminalWidthMm, alignDegBtdc, minAdvanceDeg, maxAdvanceDeg } = phase.input
  const rpm = c.resolved.redlineRpm
  const burnMs = c.spark.burnMs ?? BURN_MS
  const planned = plannedSparkDeg(c.resolved, rpm, c.resolved.barometerKpa)
  const advanceDeg = Math.min(maxAdvanceDeg, Math.max(minAdvanceDeg, planned))
  const travelDistDeg = burnTravelDistDeg(rpm, burnMs)
  const pastDistDeg = travelDistDeg - rotorOffsetDistDeg(advanceDeg, alignDegBtdc)
  const halfWidths = widthDistDeg(tipWidthMm + terminalWidthMm, rotorRadiusMm) / 2
  return { rpm, burnMs, advanceDeg, travelDistDeg, clearDistDeg: 360 / cylinders - pastDistDeg - halfWidths }
}

const n1 = (value: number) => value.toFixed(1)

export const phaseRules: Rule[] = [
  {
    id: 'spark.phase',
    where: at('spark', 'phase', 'choices.spark.alignDegBtdc'),
    check: (c) => {
      const phase = phaseOf(c)
      if (!phase) return null
      const { overlapDistDeg, bestAlignDegBtdc, crossFireMarginDistDeg, offsetAtMaxDistDeg, offsetAtMinDistDeg } = phase.output
      const shift = (phase.input.alignDegBtdc - bestAlignDegBtdc) / 2
      const worse = Math.abs(offsetAtMaxDistDeg) > Math.abs(offsetAtMinDistDeg) ? phase.input.maxAdvanceDeg : phase.input.minAdvanceDeg
      const remedy = `Best alignment is ${n1(bestAlignDegBtdc)}° BTDC: turn the cap ${n1(Math.abs(shift))}° ${shift < 0 ? 'against' : 'with'} rotation, or narrow the swept range.`
      if (overlapDistDeg <= 0 || crossFireMarginDistDeg <= 0)
        return finding(
          'stop',
          'The rotor leaves its terminal',
          `At ${n1(worse)}° BTDC the electrodes miss each other by ${n1(-overlapDistDeg)} distributor degrees; ${n1(crossFireMarginDistDeg)}° to the next tower.`,
          remedy,
        )
      return overlapDistDeg < THIN_OVERLAP_DIST_DEG
        ? finding(
            'warn',
            Math.abs(shift) < 0.5
              ? 'Little rotor overlap at the ends'
              : `Rotor aligned ${n1(Math.abs(shift * 2))}° ${shift < 0 ? 'late' : 'early'}`,
            `At ${n1(worse)}° BTDC only ${n1(overlapDistDeg)}° of overlap is left.`,
            remedy,
          )
        : null
    },
  },
  {
    id: 'spark.swept-range',
    where: at('spark', 'phase', 'choices.spark.minAdvanceDeg'),
    check: (c) => {
      const tune = tuneSweepOf(c)
      const { minAdvanceDeg, maxAdvanceDeg } = c.spark
      if (!tune || (minAdvanceDeg === undefined && maxAdvanceDeg === undefined)) return null
      const below = minAdvanceDeg !== undefined && tune.minAdvanceDeg < minAdvanceDeg - SWEPT_AGREES_DEG
      const above = maxAdvanceDeg !== undefined && tune.maxAdvanceDeg > maxAdvanceDeg + SWEPT_AGREES_DEG
      return below || above
        ? finding(
            'warn',
            'The tune in the car sweeps further than was entered',
            `It commands ${n1(tune.minAdvanceDeg)}° to ${n1(tune.maxAdvanceDeg)}°; entered is ${minAdvanceDeg === undefined ? '–' : n1(minAdvanceDeg)}° to ${maxAdvanceDeg === undefined ? '–' : n1(maxAdvanceDeg)}°. Phase and lead are judged over what is commanded.`,
            'Take the entered range away, or take the ends out of the tune; then set the phase to the middle again.',
          )
        : null
    },
  },
  {
    id: 'spark.phase-seen',
    where: at('spark', 'phase'),
    check: (c) => {
      const phase = phaseOf(c)
      const seen = phaseSeenOf(c)
      if (!phase || !seen) return null
      const offDistDeg = (seen.alignDegBtdc - phase.input.alignDegBtdc) / 2
      if (Math.abs(offDistDeg) <= WINDOW_SIGMA_DIST_DEG) return null
      const real = rotorPhase.run({ ...phase.input, alignDegBtdc: seen.alignDegBtdc })
      const lost = real.overlapDistDeg <= 0 || real.crossFireMarginDistDeg <= 0
      return finding(
        lost ? 'stop' : 'warn',
        lost ? 'Seen through the window the rotor leaves its terminal' : 'The rotor is not where the dial has it',
        `In line at ${n1(seen.alignDegBtdc)}° BTDC, not ${n1(phase.input.alignDegBtdc)}°; worst overlap then ${n1(real.overlapDistDeg)}°.`,
        `Turn the cap ${n1(Math.abs(offDistDeg))}° ${offDistDeg > 0 ? 'with' : 'against'} rotation, record it, and look again. Cap keyed: move the rotor or its tab.`,
      )
    },
  },
  {
    id: 'spark.burn-travel',
    where: at('spark', 'phase'),
    check: (c) => {
      const burn = burnClearance(c)
      return burn && burn.clearDistDeg <= 0
        ? finding(
            'warn',
            'The spark may jump to the next tower as it burns out',
            `${burn.burnMs} ms at ${burn.rpm.toFixed(0)} rpm is ${n1(burn.travelDistDeg)}° of rotor travel: ${n1(-burn.clearDistDeg)}° into the next terminal.`,
            'A shorter spark, a larger cap, or coils without a rotor.',
          )
        : null
    },
  },
]
