import {
  airPerCylinderG,
  chargeTemperatureC,
  dutyPct,
  LINEAR_LIMIT_MS,
  MAX_DUTY_PCT,
  pulseMs,
  WARM_AIR_C,
  WARM_COOLANT_C,
} from '../injection/index.ts'
import { degC, type Finding, finding, gramsPerSecond, kW, type Said, say, type Severity, type Told } from '../kernel/index.ts'
import { guardDeg } from '../spark/index.ts'
import { boostKpaOf, idleTargetRpm, resolveFacts } from '../survey/index.ts'
import { bilinear, kinkPct } from './axes.ts'
import { roughPct } from './rough.ts'
import { runnerShare } from './runner.ts'
import {
  DUTY_STOP_PCT,
  FUEL_AGREES_PCT,
  FULL_LOAD_SHARE,
  HOT_LOOP_FLOOR_RPM,
  MAX_FULL_LOAD_LAMBDA,
  REV_LIMIT_FACTOR,
  ROUGH_FROM_SHARE,
  WILD_LOOP_FLOOR_RPM,
} from './limits.ts'
import { expectedVe } from './expected-ve.ts'
import { lintTune } from './lint.ts'
import { unusual } from './usual.ts'
import type { TuneDocument } from './tune.ts'

/** What a check of a tune has against it, as it says it. */
export interface TuneObjection {
  code: string
  severity: Severity
  message: Said
  because: Said
  remedy: Said
}
/** The same as a finding: metric text, and its quantities apart. */
export type TuneProblem = Omit<Finding, 'id'> & { code: string }

const RUNNING_V = 13.8

const rank: Record<Severity, number> = { stop: 0, warn: 1, note: 2 }

/** Fuel a tune asks for at an operating point, warm, g per engine cycle, and the pulse that makes. */
export function tuneDemand(
  tune: TuneDocument,
  rpm: number,
  mapKpa: number,
  airC = WARM_AIR_C,
): { fuelPerCycleG: number; pulseMs: number; fuelGps: number; lambda: number } {
  const { parameters: p, axes, tables } = tune
  const lambda = bilinear(axes, tables.lambdaTarget, rpm, mapKpa)
  const air = airPerCylinderG(
    bilinear(axes, tables.ve, rpm, mapKpa),
    mapKpa,
    chargeTemperatureC(airC, WARM_COOLANT_C, p.chargeHeatShare),
    p.displacementCc / p.cylinders,
  )
  const fuel = (air * p.cylinders) / (p.stoichAfr * lambda)
  return { fuelPerCycleG: fuel, pulseMs: pulseMs(fuel, p, RUNNING_V), fuelGps: (fuel * rpm) / 120, lambda }
}

/**
 * What a unit with this tune opens its injectors for, without trim and enrichment, ms: open beyond the dead time, and the dead time.
 * @param at operating point with the temperatures and the voltage of that moment, and the target then in force
 */
export function pulseAsked(
  { parameters: p, axes, tables, runner }: Pick<TuneDocument, 'parameters' | 'axes' | 'tables' | 'runner'>,
  at: { rpm: number; mapKpa: number; throttlePct: number; intakeAirC: number; coolantC: number; batteryV: number; lambda: number },
): { openMs: number; deadMs: number } {
  const charge = chargeTemperatureC(at.intakeAirC, at.coolantC, p.chargeHeatShare)
  const cylinderCc = p.displacementCc / p.cylinders
  let air = airPerCylinderG(bilinear(axes, tables.ve, at.rpm, at.mapKpa), at.mapKpa, charge, cylinderCc) * p.cylinders
  if (runner) {
    const ve = bilinear({ rpm: axes.rpm, mapKpa: runner.throttlePct }, runner.ve, at.rpm, at.throttlePct)
    air += runnerShare(runner, at.throttlePct) * (airPerCylinderG(ve, p.barometerKpa, charge, cylinderCc) * p.cylinders - air)
  }
  const deadMs = pulseMs(0, p, at.batteryV)
  return { openMs: pulseMs(air / (p.stoichAfr * at.lambda), p, at.batteryV) - deadMs, deadMs }
}

/** The detonation guard for each cell of a spark table, crank degrees BTDC. */
export function sparkCeiling(told: Told, axes: TuneDocument['axes'], barometerKpa: number): (cell: number) => number {
  const r = resolveFacts(told)
  const n = axes.rpm.length
  return (cell) => guardDeg(r, axes.rpm[cell % n], axes.mapKpa[Math.floor(cell / n)], barometerKpa)
}

/** Checks that run on every tune, computed or edited: what would hurt the engine, and whether its fuel agrees with the power it is for. */
export function checkTune(tune: TuneDocument, told: Told): TuneProblem[] {
  const problems: TuneObjection[] = []
  const r = resolveFacts(told)
  const { axes, tables, parameters: p } = tune
  const nr = axes.rpm.length
  const at = (i: number, j: number) => `${axes.rpm[i]} rpm, ${axes.mapKpa[j]} kPa`

  const worst = {
    lean: null as null | { i: number; j: number; value: number },
    spark: null as null | { i: number; j: number; over: number; guard: number },
    bend: null as null | { i: number; j: number; value: number },
  }
  const rough = roughPct(tune)
  const guardAt = sparkCeiling(told, axes, p.barometerKpa)
  axes.mapKpa.forEach((map, j) =>
    axes.rpm.forEach((_, i) => {
      const c = j * nr + i
      if (
        map >= FULL_LOAD_SHARE * p.barometerKpa &&
        tables.lambdaTarget[c] > MAX_FULL_LOAD_LAMBDA &&
        tables.lambdaTarget[c] > (worst.lean?.value ?? 0)
      )
        worst.lean = { i, j, value: tables.lambdaTarget[c] }
      const guard = guardAt(c)
      const over = tables.spark[c] - guard
      if (over > 0.05 && over > (worst.spark?.over ?? 0)) worst.spark = { i, j, over, guard }
      if (i > 0 && i < nr - 1) {
        const bend = kinkPct(axes.rpm, i, tables.ve[c - 1], tables.ve[c], tables.ve[c + 1])
        if (map >= ROUGH_FROM_SHARE * p.barometerKpa && bend > rough && bend > (worst.bend?.value ?? 0)) worst.bend = { i, j, value: bend }
      }
    }),
  )
  if (worst.lean)
    problems.push({
      code: 'lean-full-load',
      severity: 'stop',
      message: 'Full load is too lean',
      because: `Lambda ${worst.lean.value.toFixed(3)} at ${at(worst.lean.i, worst.lean.j)}; ${MAX_FULL_LOAD_LAMBDA} is the most above ${(FULL_LOAD_SHARE * p.barometerKpa).toFixed(0)} kPa.`,
      remedy: 'Set 0.86-0.88 there before the engine sees load.',
    })
  if (worst.spark)
    problems.push({
      code: 'spark-over-guard',
      severity: 'stop',
      message: 'Spark is above the detonation guard',
      because: `${(worst.spark.guard + worst.spark.over).toFixed(1)}° at ${at(worst.spark.i, worst.spark.j)}; the guard is ${worst.spark.guard.toFixed(1)}° for ${r.compressionRatio}:1 on ${r.octaneRon} RON.`,
      remedy: 'Lower it. Raise it later only with a knock check.',
    })
  if (worst.bend)
    problems.push({
      code: 've-rough',
      severity: 'warn',
      message: 'The VE table is not smooth',
      because: `A kink of ${worst.bend.value.toFixed(1)} % at ${at(worst.bend.i, worst.bend.j)}.`,
      remedy: 'Smooth it, unless a log has shown the step to be real.',
    })

  const choices = told.choices ?? {}
  const expected = expectedVe(told.facts, choices, r)
  const { papers } = expected
  const powerRpm = Math.min(papers.rpm, axes.rpm[nr - 1])
  // full load is the highest pressure the engine reaches, with the heat of its boost
  const fullKpa = r.barometerKpa + boostKpaOf(told.facts)
  const peak = tuneDemand(tune, powerRpm, fullKpa, papers.airC)
  const duty = dutyPct(peak.pulseMs, powerRpm, p.injectionsPerCycle)
  if (duty > MAX_DUTY_PCT)
    problems.push({
      code: 'duty',
      severity: duty > DUTY_STOP_PCT ? 'stop' : 'warn',
      message: 'Injectors are open too long at full power',
      because: `${duty.toFixed(0)} % duty at ${powerRpm.toFixed(0)} rpm; ${MAX_DUTY_PCT} % is the limit.`,
      remedy: 'Larger injectors, or more pressure within the maker’s limit.',
    })
  const idleRpm = idleTargetRpm(r)
  const idle = tuneDemand(tune, idleRpm, r.idleMapKpa)
  if (idle.pulseMs < LINEAR_LIMIT_MS[1])
    problems.push({
      code: 'idle-pulse',
      severity: 'warn',
      message: 'The idle pulse is very short',
      because: `${idle.pulseMs.toFixed(2)} ms at ${idleRpm} rpm; under ${LINEAR_LIMIT_MS[1]} ms injectors are not linear.`,
      remedy: 'Smaller injectors, or fewer openings a cycle.',
    })
  const odd = unusual({ r, facts: told.facts, choices, p })
  const otherFuel = odd.some((o) => o.code === 'stoich-fuel')
  // with another fuel's ratio the fuel cannot agree, and power and cam are not to blame
  if (r.powerKw !== null && !otherFuel) {
    // papers speak of rated air: a thinner one makes less of everything
    const wantedGps = (papers.fuelGps * (1 + papers.margin) * fullKpa) / papers.ratedKpa
    const off = 100 * (peak.fuelGps / wantedGps - 1)
    if (Math.abs(off) > FUEL_AGREES_PCT)
      problems.push({
        code: 'fuel-cross-check',
        severity: 'warn',
        message: 'The tune’s fuel does not agree with the power',
        because: say`At ${powerRpm.toFixed(0)} rpm it asks for ${gramsPerSecond(peak.fuelGps)}; ${kW(r.powerKw)} wants ${gramsPerSecond(wantedGps)} (${off > 0 ? '+' : ''}${off.toFixed(0)} %).`,
        remedy: 'One of them is wrong: check power, cam and redline in Survey.',
      })
  }
  if (p.revLimitRpm > r.redlineRpm * REV_LIMIT_FACTOR)
    problems.push({
      code: 'rev-limit',
      severity: 'stop',
      message: 'Rev limit is above the engine’s',
      because: `${p.revLimitRpm} rpm against ${r.redlineRpm} rpm.`,
      remedy: `Set it to ${r.redlineRpm} rpm or less.`,
    })
  if (p.fanOffC >= p.fanOnC)
    problems.push({
      code: 'fan',
      severity: 'warn',
      message: 'The fan goes off before it goes on',
      because: say`On at ${degC(p.fanOnC)}, off at ${degC(p.fanOffC)}.`,
      remedy: say`Off ${{ value: 4, dimension: 'temperatureStep' }} to ${{ value: 5, dimension: 'temperatureStep' }} below on.`,
    })
  if (
    (r.camClass === 'hot' || r.camClass === 'wild') &&
    p.loopFloorRpm < (r.camClass === 'wild' ? WILD_LOOP_FLOOR_RPM : HOT_LOOP_FLOOR_RPM)
  )
    problems.push({
      code: 'loop-floor',
      severity: 'warn',
      message: 'Closed loop runs where overlap fools the sensor',
      because: `Floor ${p.loopFloorRpm} rpm with a ${r.camClass} cam.`,
      remedy: `Set the floor to ${r.camClass === 'wild' ? WILD_LOOP_FLOOR_RPM : HOT_LOOP_FLOOR_RPM} rpm.`,
    })
  return [...odd, ...problems, ...lintTune(tune, told, expected)]
    .sort((a, b) => rank[a.severity] - rank[b.severity])
    .map(({ code, severity, message, because, remedy }) => ({
      code,
      ...finding(severity, message, because, remedy),
    }))
}
