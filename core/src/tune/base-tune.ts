import { type CamClass, peakPowerRpm } from '../air/index.ts'
import {
  chargeTemperatureC,
  DEAD_TIME_14V_MS,
  DEAD_TIME_SLOPE_MS_PER_V,
  fuels,
  injectorFlowAtPressure,
  openingsPerCycle,
  WARM_AIR_C,
  WARM_COOLANT_C,
} from '../injection/index.ts'
import { measuredPlates } from '../fitup/index.ts'
import { type ChoiceTable, CoreError, smooth } from '../kernel/index.ts'
import { CRUISE_TOTAL_MAX, fullLoadAdvanceDeg, sparkDeg } from '../spark/index.ts'
import { boostKpaOf, type Facts, idleTargetRpm, type ResolvedFacts, resolveFacts } from '../survey/index.ts'
import { HOT_LOOP_FLOOR_RPM, WILD_LOOP_FLOOR_RPM } from './limits.ts'
import { runnerTable } from './runner.ts'
import { CHARGE_HEAT_SHARE, expectedVe } from './expected-ve.ts'
import { sensorParameterKeys, usualSensors } from './sensors.ts'
import { TuneDocument, type TuneParameters } from './tune.ts'

/** Starting values of handbook 05, by cam class. */
const IDLE_LAMBDA: Record<CamClass, number> = { stock: 1, mild: 0.97, hot: 0.93, wild: 0.9 }
/** Closed loop at idle by the school that was chosen: always, or off below the speed that a hot cam asks for; else by the cam. */
const loopFloorRpm = (cam: CamClass, school: string | undefined): number =>
  school === 'a' ? 0 : school === 'b' ? Math.max(HOT_LOOP_FLOOR_RPM, LOOP_FLOOR_RPM[cam]) : LOOP_FLOOR_RPM[cam]
const LOOP_FLOOR_RPM: Record<CamClass, number> = { stock: 0, mild: 0, hot: HOT_LOOP_FLOOR_RPM, wild: WILD_LOOP_FLOOR_RPM }
const FULL_LAMBDA = 0.87
const BOOST_LAMBDA_PER_KPA = 0.001
const LEAST_LAMBDA = 0.76
/** a cautious start; it goes by the size of the system, which its maker's sheet tells */
const NITROUS_RETARD_DEG = 8
/** fuel is cut so far over what the boost should reach */
const OVERBOOST_OVER_KPA = 20
const THERMOSTAT_C = 82
/** closed loop ends at 85 kPa, or at this share of a thinner barometer: full load is not left to it */
const LOOP_UNDER = 0.86
/** Bands of full-load enrichment as share of the barometer, so that altitude works (handbook 05). */
const RICH_FROM = 0.8
const RICH_FULL = 0.92

const round = (value: number, decimals: number): number => Math.round(value * 10 ** decimals) / 10 ** decimals

/** Breakpoints: close together where the car idles and cruises, up to the redline and just over the barometer, or over the boost. */
export function tuneAxes(redlineRpm: number, barometerKpa: number, boostKpa = 0): { rpm: number[]; mapKpa: number[] } {
  const top = Math.ceil(redlineRpm / 100) * 100
  const shares = [0, 0.065, 0.13, 0.21, 0.29, 0.37, 0.46, 0.55, 0.64, 0.73, 0.82, 0.91, 1]
  const rpm = shares.map((share) => Math.round((500 + share * (top - 500)) / 50) * 50)
  const shareMap = [0.25, 0.33, 0.41, 0.49, 0.57, 0.65, 0.73, 0.81, 0.89, 0.96, 1.03]
  const boosted = boostKpa > 5 ? [0.25, 0.5, 0.75, 1.05].map((share) => barometerKpa * 1.03 + share * boostKpa) : []
  const mapKpa = [...shareMap.map((share) => share * barometerKpa), ...boosted].map(Math.round)
  return { rpm: [...new Set(rpm)], mapKpa: [...new Set(mapKpa)] }
}

function lambdaTarget(rpm: number, mapKpa: number, r: ResolvedFacts, idleRpm: number): number {
  const idleness = (1 - smooth(idleRpm * 1.3, idleRpm * 1.8, rpm)) * (1 - smooth(r.idleMapKpa + 10, r.idleMapKpa + 25, mapKpa))
  const base = 1 - (1 - IDLE_LAMBDA[r.camClass]) * idleness
  const full = Math.max(LEAST_LAMBDA, FULL_LAMBDA - BOOST_LAMBDA_PER_KPA * Math.max(0, mapKpa - r.barometerKpa))
  return base + (full - base) * smooth(RICH_FROM * r.barometerKpa, RICH_FULL * r.barometerKpa, mapKpa)
}

/**
 * Base tune from survey and choices: VE, target lambda and spark tables with all parameters, each with where it came from.
 * @throws CoreError FACT_MISSING when cylinders, displacement or the injectors are not known
 */
export function computeBaseTune(facts: Facts, choices: ChoiceTable): TuneDocument {
  const r = resolveFacts({ facts, choices })
  const plan = choices.plan ?? {}
  if (r.cylinders === null) throw new CoreError('FACT_MISSING', 'number of cylinders')
  if (r.displacementCc === null) throw new CoreError('FACT_MISSING', 'displacement')
  for (const [key, label] of [
    ['injectors', 'number of injectors'],
    ['injectorCcMin', 'injector flow'],
    ['injectorRatedKpa', 'injector rating pressure'],
    ['fuelPressureKpa', 'fuel pressure'],
  ] as const)
    if (plan[key] === undefined) throw new CoreError('FACT_MISSING', label)
  const route = plan.route ?? 'throttle-body'
  const fuel = fuels[r.fuelKind]
  const boostKpa = boostKpaOf(facts)
  const axes = tuneAxes(r.redlineRpm, r.barometerKpa, boostKpa)
  const idleRpm = idleTargetRpm(r)
  const { ve, papers, fullPowerVePct } = expectedVe(facts, choices, r)
  const fill = (decimals: number, value: (rpm: number, mapKpa: number) => number) =>
    axes.mapKpa.flatMap((map) => axes.rpm.map((rpm) => round(value(rpm, map), decimals)))
  const flowAtPressure = injectorFlowAtPressure.run({
    ratedCcMin: plan.injectorCcMin!,
    ratedKpa: plan.injectorRatedKpa!,
    actualKpa: plan.fuelPressureKpa!,
  }).flowCcMin
  const parameters: TuneParameters = {
    displacementCc: r.displacementCc,
    cylinders: r.cylinders,
    injectors: plan.injectors!,
    injectorCcMin: round(flowAtPressure, 2),
    fuelPressureKpa: plan.fuelPressureKpa!,
    // a body's few injectors open once for each firing they share; port injectors once a cycle
    injectionsPerCycle: openingsPerCycle(route, r.cylinders, plan.injectors!),
    fuelDensityKgL: fuel.densityKgL,
    stoichAfr: fuel.stoichAfr,
    deadTimeMs: [8, 10, 12, 14, 16].map((v) => [
      v,
      round(DEAD_TIME_14V_MS * Math.exp((DEAD_TIME_SLOPE_MS_PER_V / DEAD_TIME_14V_MS) * (v - 14)), 3),
    ]),
    chargeHeatShare: CHARGE_HEAT_SHARE,
    barometerKpa: round(r.barometerKpa, 2),
    crankingPct: [
      [-10, 350],
      [20, 220],
      [80, 130],
    ],
    crankingDecayFirings: 200,
    warmupPct: [
      [-10, 45],
      [20, 25],
      [50, 8],
      [72, 0],
    ],
    afterStartPct: [
      [-10, 35],
      [20, 26],
      [80, 12],
    ],
    afterStartS: 20,
    primeMs: 6,
    accelPctPer100: 20,
    accelColdFactor: 2,
    accelDecayS: 0.3,
    cutAboveRpm: Math.max(1600, idleRpm * 2),
    cutReturnRpm: Math.max(1250, idleRpm * 1.6),
    idleTargetRpm: [
      [-10, idleRpm + 400],
      [20, idleRpm + 250],
      [65, idleRpm],
    ],
    idleValvePct: [
      [-10, 45],
      [20, 36],
      [80, 18],
    ],
    crankingAdvanceDeg: 10,
    loopMinCoolantC: 72,
    loopDelayS: 30,
    loopAuthorityPct: 25,
    loopMaxMapKpa: Math.round(Math.min(85, LOOP_UNDER * r.barometerKpa)),
    loopFloorRpm: loopFloorRpm(r.camClass, plan.ways?.['closed-loop']),
    revLimitRpm: r.redlineRpm,
    fanOnC: THERMOSTAT_C + 10,
    fanOffC: THERMOSTAT_C + 5,
    primeS: 2.5,
    floodClearPct: 90,
    idleInGearRpm: r.automatic ? -50 : 0,
    idleFanRpm: 50,
    idleFanValvePct: 0,
    idleGearValvePct: 0,
    idleGainPct: 1.2,
    idleIntegralPctS: 2.4,
    idleDampingPct: 0,
    idleSparkDegPer100: 3,
    idleSparkMostDeg: 6,
    idleAdaptMostPct: 60,
    loopGainPctS: 0.6,
    accelMapPctPer100: 4,
    learnAuthorityPct: 0,
    toldFlowPct: 100,
    overboostKpa: Math.round(r.barometerKpa + boostKpa + OVERBOOST_OVER_KPA),
    nitrousRetardDeg: facts.induction?.nitrous ? NITROUS_RETARD_DEG : 0,
    airRetardFromC: 40,
    airRetardDegPerK: 0.2,
    revSoftBelowRpm: 200,
    shiftLightBelowRpm: 300,
    tachPulsesPerRev: r.cylinders / 2,
    ...usualSensors(r.barometerKpa + boostKpa),
  }
  const full = fullLoadAdvanceDeg(r)
  return TuneDocument.parse({
    schema: 'vectum-tune/1',
    axes,
    tables: {
      ve: fill(1, ve),
      lambdaTarget: fill(3, (rpm, map) => lambdaTarget(rpm, map, r, idleRpm)),
      spark: fill(1, (rpm, map) => sparkDeg(rpm, map, r, idleRpm)),
    },
    parameters,
    ...(route === 'individual-runner'
      ? {
          runner: runnerTable({
            rpm: axes.rpm,
            ve,
            barometerKpa: r.barometerKpa,
            idleRpm,
            idleMapKpa: r.idleMapKpa,
            powerRpm: peakPowerRpm(r.camClass, r.redlineRpm),
            displacementCc: r.displacementCc,
            chargeC: chargeTemperatureC(WARM_AIR_C, WARM_COOLANT_C, CHARGE_HEAT_SHARE),
            airC: WARM_AIR_C,
            plates: measuredPlates(choices.fitup, r.cylinders ?? 1),
          }),
        }
      : {}),
    provenance: {
      ...(route === 'individual-runner' ? { runner: 'computed: where the plates pass what the engine takes' } : {}),
      ve: `computed: ${r.camClass} cam, ${route}, redline ${r.redlineRpm} rpm, idle at ${r.idleMapKpa.toFixed(0)} kPa; ${
        fullPowerVePct === null
          ? ''
          : `full load from ${r.powerKw!.toFixed(0)} kW (${fullPowerVePct.toFixed(0)} % at ${papers.rpm.toFixed(0)} rpm), `
      }${(100 * papers.margin).toFixed(0)} % richer there than the papers: an engine is not its papers`,
      lambdaTarget: `computed: idle ${IDLE_LAMBDA[r.camClass].toFixed(2)} for a ${r.camClass} cam, cruise 1.00, full load ${FULL_LAMBDA} from ${(RICH_FROM * r.barometerKpa).toFixed(0)} to ${(RICH_FULL * r.barometerKpa).toFixed(0)} kPa`,
      spark: `computed: ${full.toFixed(1)}° at full load (${r.chamber} chamber, ${r.compressionRatio}:1, ${r.octaneRon} RON), ${CRUISE_TOTAL_MAX}° at most in cruise`,
      injectorCcMin: `computed: ${plan.injectorCcMin} cc/min at ${plan.injectorRatedKpa} kPa, brought to ${plan.fuelPressureKpa} kPa`,
      toldFlowPct: 'the injectors’ own, until a log shows what the unit makes of it',
      deadTimeMs: 'assumed: usual high-impedance injector; the part’s sheet wins',
      displacementCc: 'survey',
      cylinders: 'survey',
      barometerKpa: 'survey, or standard air',
      chargeHeatShare: 'assumed: half-way between intake air and a warm port',
      injectors: 'plan',
      fuelPressureKpa: 'plan',
      injectionsPerCycle: `computed: ${route}, ${plan.injectors} injectors`,
      fuelDensityKgL: `fuel: ${r.fuelKind}`,
      stoichAfr: `fuel: ${r.fuelKind}`,
      primeMs: 'starting value',
      primeS: 'starting value',
      crankingPct: 'starting values over coolant',
      crankingDecayFirings: 'starting value',
      crankingAdvanceDeg: 'starting value, within 8° to 12°',
      floodClearPct: 'starting value',
      afterStartPct: 'starting values over coolant',
      afterStartS: 'starting value',
      warmupPct: 'starting values over coolant, zero where closed loop begins',
      accelPctPer100: 'starting value',
      accelColdFactor: 'starting value',
      accelDecayS: 'starting value',
      cutAboveRpm: `computed: from the idle target of ${idleRpm} rpm`,
      cutReturnRpm: `computed: from the idle target of ${idleRpm} rpm`,
      idleTargetRpm: `starting value for a ${r.camClass} cam, more when cold`,
      idleValvePct: 'starting values over coolant',
      loopMinCoolantC: 'where warm-up fuel ends',
      loopDelayS: 'starting value',
      loopAuthorityPct: 'starting value for the first drives',
      loopMaxMapKpa: 'starting value: full load is not left to the loop',
      loopFloorRpm: plan.ways?.['closed-loop']
        ? 'the school chosen in Plan: closed loop at idle'
        : `starting value for a ${r.camClass} cam`,
      revLimitRpm: `survey: redline ${r.redlineRpm} rpm`,
      fanOnC: 'thermostat opening and ten',
      fanOffC: 'five under fan on',
      idleInGearRpm: r.automatic ? 'starting value for an automatic' : 'no automatic gearbox',
      idleFanRpm: 'starting value',
      idleFanValvePct: 'none until the drop with the fan was measured at Idle',
      idleGearValvePct: 'none until the drop into gear was measured at Idle',
      idleGainPct: 'starting value, slow on purpose: Idle measures the engine and says more',
      idleIntegralPctS: 'starting value',
      idleDampingPct: 'none until the engine was measured at Idle',
      idleSparkDegPer100: 'starting value',
      idleSparkMostDeg: 'starting value',
      idleAdaptMostPct: 'starting value',
      loopGainPctS: 'starting value',
      accelMapPctPer100: 'starting value',
      learnAuthorityPct: 'off: the drives and Learn come first',
      nitrousRetardDeg: facts.induction?.nitrous ? 'starting value: the maker’s sheet of the system decides' : 'no nitrous',
      overboostKpa: boostKpa > 0 ? `computed: ${OVERBOOST_OVER_KPA} kPa over the highest boost` : 'computed: well over the barometer',
      airRetardFromC: 'starting value',
      airRetardDegPerK: 'starting value, a guard against detonation',
      revSoftBelowRpm: 'starting value',
      shiftLightBelowRpm: 'starting value',
      tachPulsesPerRev: `computed: one pulse a firing of ${r.cylinders} cylinders`,
      ...Object.fromEntries(
        sensorParameterKeys.map((key) => [key, 'assumed: a usual sensor. Take it from the sheet of yours, or measure it']),
      ),
    },
  })
}
