import { orificePsi } from '../air/index.ts'
import { airPerCylinderG, chargeTemperatureC } from '../injection/index.ts'
import { CoreError, solveSpd } from '../kernel/index.ts'
import { bilinear, type TuneDocument } from '../tune/index.ts'

/** One look at a warm idle: what the display or the stream shows, with screw and valve as they were. */
export interface IdlePoint {
  rpm: number
  mapKpa: number
  /** where the valve stands, %; nothing passes it while its port is blocked */
  valvePct: number
  blocked: boolean
  /** turns of the screw since the first look, open positive */
  turns: number
  /** the screw is all the way shut: what passes now is leak */
  screwShut: boolean
  coolantC?: number
  airC?: number
}
/** Where the air of an idle comes from, as the area of one sharp hole that passes as much, mm2. */
export interface AirBalance {
  /** all that came in at the last look, and what the engine wants at its target */
  totalMm2: number
  neededMm2: number
  /** how the total is shared out at the last look; null: not parted yet */
  leakMm2: number | null
  plateMm2: number | null
  valveMm2: number | null
  /** what 1 % of valve and one turn of the screw pass, mm2; null: not told apart yet */
  valveMm2PerPct: number | null
  screwMm2PerTurn: number | null
  /** what the points do not agree on, mm2 rms; null: no more points than unknowns */
  scatterMm2: number | null
  /** what would part it further, in words; null: nothing */
  wants: string | null
}
const R_J_KGK = 287.05
const WARM = { coolantC: 85, airC: 35 }

/** Air that the engine takes, g/s, by the tune's VE: speed density (Heywood, section 2.10). */
export function airGps({ axes, tables, parameters: p }: TuneDocument, at: Pick<IdlePoint, 'rpm' | 'mapKpa' | 'coolantC' | 'airC'>): number {
  const chargeC = chargeTemperatureC(at.airC ?? WARM.airC, at.coolantC ?? WARM.coolantC, p.chargeHeatShare)
  const ve = bilinear(axes, tables.ve, at.rpm, at.mapKpa)
  return airPerCylinderG(ve, at.mapKpa, chargeC, p.displacementCc / p.cylinders) * p.cylinders * (at.rpm / 120)
}
/** Area of one sharp hole that passes an air flow from the barometer into the manifold, mm2 (Heywood, appendix C, equations C.8 and C.9). */
export function holeMm2(gps: number, mapKpa: number, barometerKpa: number, airC: number): number {
  const perM2 = ((barometerKpa * 1000) / Math.sqrt(R_J_KGK * (airC + 273.15))) * orificePsi(mapKpa / barometerKpa)
  return (gps / 1000 / perM2) * 1e6
}

/** Least squares of a few unknowns by normal equations; null when the points do not part them. */
function fit(rows: readonly (readonly number[])[], values: readonly number[]): number[] | null {
  const n = rows[0].length
  const normal = Float64Array.from({ length: n * n }, (_, k) => rows.reduce((sum, r) => sum + r[Math.floor(k / n)] * r[k % n], 0))
  const right = Float64Array.from({ length: n }, (_, i) => rows.reduce((sum, r, k) => sum + r[i] * values[k], 0))
  const { x } = solveSpd(normal, right, false)
  return x.every(Number.isFinite) ? [...x] : null
}
/** a valve that moved less, %, or a screw that turned less, turns, tells nothing of its share */
const VALVE_MOVED_PCT = 4
const TURNED = 0.1
/** looks at one held speed are all one hole: only areas that differ by this part screw from valve, as a share */
const AREAS_DIFFER = 0.08
/** a point so near its target tells what the engine wants there, rpm */
const NEAR_TARGET_RPM = 60

/**
 * Parts the air of an idle into leak, plate and valve: every look is one hole, the plate's grows by so much a turn, the valve's by so much a percent.
 * @throws CoreError DATA_TOO_SHORT without a point
 */
export function airBalance(tune: TuneDocument, points: readonly IdlePoint[], targetRpm: number, idleMapKpa: number): AirBalance {
  const now = points.at(-1)
  if (!now) throw new CoreError('FACT_MISSING', 'a look at the idle: speed, valve and pressure')
  const { barometerKpa } = tune.parameters
  const area = (p: Pick<IdlePoint, 'rpm' | 'mapKpa' | 'coolantC' | 'airC'>) =>
    holeMm2(airGps(tune, p), p.mapKpa, barometerKpa, p.airC ?? WARM.airC)
  const areas = points.map(area)
  const opens = points.map((p) => (p.blocked ? 0 : p.valvePct))
  const spread = (values: readonly number[]) => Math.max(...values) - Math.min(...values)
  const byValve = spread(opens) >= VALVE_MOVED_PCT
  const byScrew = spread(points.filter((p) => !p.screwShut).map((p) => p.turns)) >= TURNED
  const shut = points.filter((p) => p.screwShut)
  const differ = spread(areas) >= AREAS_DIFFER * Math.max(...areas)
  const asSet = points.map((p, i) => ({ p, i })).filter(({ p }) => !p.screwShut)
  const rows = asSet.map(({ p, i }) => [1, ...(byValve ? [opens[i]] : []), ...(byScrew ? [p.turns] : [])])
  const solved =
    differ && rows.length >= (rows[0]?.length ?? 99)
      ? fit(
          rows,
          asSet.map(({ i }) => areas[i]),
        )
      : null
  const valvePer = solved && byValve ? solved[1] : null
  const screwPer = solved && byScrew ? solved[byValve ? 2 : 1] : null
  const residuals =
    solved && rows.length > rows[0].length ? rows.map((r, k) => areas[asSet[k].i] - r.reduce((s, v, j) => s + v * solved[j], 0)) : null
  const total = areas.at(-1)!
  // with nothing of the valve known a blocked one still parts it: all that comes then is plate and leak
  const valve = now.blocked ? 0 : valvePer === null ? null : Math.max(0, valvePer * now.valvePct)
  const leak = shut.length
    ? shut.reduce((sum, p) => sum + areas[points.indexOf(p)] - (p.blocked ? 0 : (valvePer ?? 0) * p.valvePct), 0) / shut.length
    : null
  const near = points.map((p, i) => ({ off: Math.abs(p.rpm - targetRpm), i })).sort((a, b) => a.off - b.off)[0]
  const neededMm2 = near.off <= NEAR_TARGET_RPM ? areas[near.i] : area({ ...now, rpm: targetRpm, mapKpa: idleMapKpa })
  return {
    totalMm2: total,
    neededMm2,
    leakMm2: leak === null ? null : Math.max(0, Math.min(leak, total)),
    plateMm2: valve === null ? null : Math.max(0, total - valve - Math.max(0, leak ?? 0)),
    valveMm2: valve,
    valveMm2PerPct: valvePer,
    screwMm2PerTurn: screwPer,
    scatterMm2: residuals && Math.sqrt(residuals.reduce((s, v) => s + v * v, 0) / residuals.length),
    wants:
      valve === null
        ? 'Look once with the valve’s port blocked: what passes then is plate and leak.'
        : leak === null
          ? 'Port blocked and the screw all the way shut, look once: what passes then is leak.'
          : null,
  }
}

/** Where the plate's share should end with the valve in its band, mm2: the least and the most; null: what a percent passes is not known. */
export function plateEndsMm2({ valveMm2PerPct: per, neededMm2 }: AirBalance, bandPct: readonly [number, number]): [number, number] | null {
  return per && per > 0 ? [Math.max(0, neededMm2 - per * bandPct[1]), Math.max(0, neededMm2 - per * bandPct[0])] : null
}
/** What 1 % of valve is of the idle's air, %; null: not parted yet. */
export const valveSharePct = ({ valveMm2PerPct, neededMm2 }: AirBalance): number | null =>
  valveMm2PerPct && neededMm2 > 0 ? (100 * valveMm2PerPct) / neededMm2 : null
