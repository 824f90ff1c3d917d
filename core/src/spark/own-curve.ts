import { alongCurve, at, type Context, finding, kPa, type Rule, say } from '../kernel/index.ts'
import { boostKpaOf } from '../survey/index.ts'
import type { SparkChoices } from './choices.ts'
import { sweepOf } from './phase.ts'
import { guardDeg, plannedSparkDeg } from './planned-advance.ts'

type OwnCurve = NonNullable<SparkChoices['ownCurve']>
const sorted = <T>(points: readonly T[], by: (point: T) => number): T[] => [...points].sort((a, b) => by(a) - by(b))

/** Advance of a programmable distributor, crank degrees BTDC: its curve over speed plus what is added over manifold pressure, straight between points. */
export function ownAdvanceDeg(curve: OwnCurve, rpm: number, mapKpa: number): number | null {
  if (!curve.points?.length) return null
  const overSpeed = alongCurve(
    sorted(curve.points, (p) => p.rpm).map((p) => [p.rpm, p.deg] as const),
    rpm,
  )
  const added = curve.load?.length
    ? alongCurve(
        sorted(curve.load, (p) => p.mapKpa).map((p) => [p.mapKpa, p.deg] as const),
        mapKpa,
      )
    : 0
  return overSpeed + added
}

export interface OwnCurveRow {
  rpm: number
  /** at full load and at a light load, crank degrees BTDC */
  fullDeg: number
  lightDeg: number
  plannedFullDeg: number
  plannedLightDeg: number
  guardDeg: number
}
const LIGHT_LOAD_SHARE = 0.5

/** The summed advance at even speeds, beside what the base tune would command and the detonation guard; empty without a curve. */
export function ownCurveTable(c: Context): OwnCurveRow[] {
  const curve = c.spark.ownCurve
  if (c.spark.trigger !== 'own-curve' || !curve?.points?.length) return []
  const { redlineRpm, barometerKpa } = c.resolved
  const lightKpa = LIGHT_LOAD_SHARE * barometerKpa
  const step = Math.ceil(redlineRpm / 8 / 100) * 100
  return Array.from({ length: Math.floor(redlineRpm / step) }, (_, i) => (i + 1) * step).map((rpm) => ({
    rpm,
    fullDeg: ownAdvanceDeg(curve, rpm, barometerKpa)!,
    lightDeg: ownAdvanceDeg(curve, rpm, lightKpa)!,
    plannedFullDeg: plannedSparkDeg(c.resolved, rpm, barometerKpa),
    plannedLightDeg: plannedSparkDeg(c.resolved, rpm, lightKpa),
    guardDeg: guardDeg(c.resolved, rpm, barometerKpa, barometerKpa),
  }))
}

/** The point of the whole plane, boost included, at which the curve stands furthest over the guard; null where it stands over it nowhere. */
function overGuard(c: Context): { rpm: number; mapKpa: number; deg: number; guardDeg: number } | null {
  const curve = c.spark.ownCurve
  if (c.spark.trigger !== 'own-curve' || !curve?.points?.length) return null
  const { redlineRpm, barometerKpa } = c.resolved
  const topKpa = barometerKpa + boostKpaOf(c.facts)
  let worst: { rpm: number; mapKpa: number; deg: number; guardDeg: number } | null = null
  for (let i = 1; i <= PLANE_STEPS; i++)
    for (let j = 0; j <= PLANE_STEPS; j++) {
      const rpm = Math.round((i * redlineRpm) / PLANE_STEPS / 10) * 10
      const mapKpa = LIGHTEST_KPA + (j * (topKpa - LIGHTEST_KPA)) / PLANE_STEPS
      const deg = ownAdvanceDeg(curve, rpm, mapKpa)!
      const guard = guardDeg(c.resolved, rpm, mapKpa, barometerKpa)
      if (deg > guard && (!worst || deg - guard > worst.deg - worst.guardDeg)) worst = { rpm, mapKpa, deg, guardDeg: guard }
    }
  return worst
}
const PLANE_STEPS = 24
const LIGHTEST_KPA = 25

export const ownCurveRules: Rule[] = [
  {
    id: 'spark.own-curve',
    where: at('spark', 'curve'),
    check: (c) => {
      const rows = ownCurveTable(c)
      const over = overGuard(c)
      if (over)
        return finding(
          'stop',
          'The distributor’s curve is over the detonation guard',
          say`${over.deg.toFixed(1)}° at ${over.rpm} rpm and ${kPa(over.mapKpa)}${over.mapKpa > c.resolved.barometerKpa ? ', under boost' : ''}; ${over.guardDeg.toFixed(1)}° is the guard for this compression and octane.`,
          `Take ${(over.deg - over.guardDeg).toFixed(1)}° or more out of the curve there${over.mapKpa > c.resolved.barometerKpa ? ', by points of its load curve above the barometer' : ''}. Raising it again wants a knock check.`,
        )
      const { minAdvanceDeg, maxAdvanceDeg } = sweepOf(c)
      const out = rows.find((r) => Math.max(r.fullDeg, r.lightDeg) > maxAdvanceDeg || Math.min(r.fullDeg, r.lightDeg) < minAdvanceDeg)
      return out
        ? finding(
            'warn',
            'The summed curve leaves the swept range',
            `At ${out.rpm} rpm it gives ${out.fullDeg.toFixed(1)}° to ${out.lightDeg.toFixed(1)}°; the rotor was phased for ${minAdvanceDeg}° to ${maxAdvanceDeg}°.`,
            'Widen least and most advance to the curve, then set the phase again.',
          )
        : null
    },
  },
]
