import { zodErrors } from '../kernel/index.ts'
import { type TableName, tableNames, tableSpecs, type TuneDocument, TuneParameters } from './tune.ts'

export type ParameterKey = keyof TuneParameters
export type ParameterGroup = 'engine' | 'injectors' | 'starting' | 'warm-up' | 'throttle' | 'idle' | 'loop' | 'limits' | 'sensors'
export const parameterGroups: Record<ParameterGroup, string> = {
  engine: 'Engine and air',
  injectors: 'Injectors',
  starting: 'Starting',
  'warm-up': 'After start and warm-up',
  throttle: 'Throttle moves',
  idle: 'Idle',
  loop: 'Closed loop',
  limits: 'Limits and outputs',
  sensors: 'Sensors',
}
export interface ParameterSpec {
  group: ParameterGroup
  label: string
  unit: string
  /** of a curve: what its points run over */
  over?: string
}

/** Every parameter of a tune with the words and units it is shown with; bounds are those of the schema. */
export const parameterSpecs: Record<ParameterKey, ParameterSpec> = {
  displacementCc: { group: 'engine', label: 'Displacement', unit: 'cm³' },
  cylinders: { group: 'engine', label: 'Cylinders', unit: '' },
  barometerKpa: { group: 'engine', label: 'Barometer of the tune', unit: 'kPa' },
  chargeHeatShare: { group: 'engine', label: 'Charge heating share', unit: 'of coolant over air' },
  injectors: { group: 'injectors', label: 'Injectors', unit: '' },
  injectorCcMin: { group: 'injectors', label: 'Flow of each', unit: 'cm³/min' },
  toldFlowPct: { group: 'injectors', label: 'Flow told to a unit that makes its own base', unit: '% of each' },
  fuelPressureKpa: { group: 'injectors', label: 'Fuel pressure', unit: 'kPa' },
  injectionsPerCycle: { group: 'injectors', label: 'Openings in a cycle', unit: '' },
  fuelDensityKgL: { group: 'injectors', label: 'Fuel density', unit: 'kg/L' },
  stoichAfr: { group: 'injectors', label: 'Stoichiometric ratio', unit: 'AFR' },
  deadTimeMs: { group: 'injectors', label: 'Dead time', unit: 'ms', over: 'V' },
  primeMs: { group: 'starting', label: 'Prime pulse', unit: 'ms' },
  primeS: { group: 'starting', label: 'Pump primes', unit: 's' },
  crankingPct: { group: 'starting', label: 'Cranking fuel', unit: '% of stoichiometric', over: '°C' },
  crankingDecayFirings: { group: 'starting', label: 'Cranking fuel decays over', unit: 'firings' },
  crankingAdvanceDeg: { group: 'starting', label: 'Cranking advance', unit: '° BTDC' },
  floodClearPct: { group: 'starting', label: 'Flood clear above', unit: '% throttle' },
  afterStartPct: { group: 'warm-up', label: 'After start', unit: '% more', over: '°C' },
  afterStartS: { group: 'warm-up', label: 'After start lasts', unit: 's' },
  warmupPct: { group: 'warm-up', label: 'Warm-up', unit: '% more', over: '°C' },
  accelPctPer100: { group: 'throttle', label: 'Acceleration, warm', unit: '% for 100 %/s' },
  accelMapPctPer100: { group: 'throttle', label: 'By manifold pressure, warm', unit: '% for 100 kPa/s' },
  accelColdFactor: { group: 'throttle', label: 'Acceleration, cold', unit: 'times' },
  accelDecayS: { group: 'throttle', label: 'Acceleration decays in', unit: 's' },
  cutAboveRpm: { group: 'throttle', label: 'Fuel cut above', unit: 'rpm, throttle shut' },
  cutReturnRpm: { group: 'throttle', label: 'Fuel back below', unit: 'rpm' },
  idleTargetRpm: { group: 'idle', label: 'Idle target', unit: 'rpm', over: '°C' },
  idleInGearRpm: { group: 'idle', label: 'In gear, automatic', unit: 'rpm more' },
  idleFanRpm: { group: 'idle', label: 'With the fan on', unit: 'rpm more' },
  idleValvePct: { group: 'idle', label: 'Idle valve starts at', unit: '%', over: '°C' },
  idleFanValvePct: { group: 'idle', label: 'Valve opens with the fan by', unit: '%' },
  idleGearValvePct: { group: 'idle', label: 'Valve opens in gear by', unit: '%' },
  idleGainPct: { group: 'idle', label: 'Valve against a speed error', unit: '% for 100 rpm' },
  idleIntegralPctS: { group: 'idle', label: 'and what is left of it', unit: '%/s for 100 rpm' },
  idleDampingPct: { group: 'idle', label: 'Valve against a changing speed', unit: '% for 100 rpm/s' },
  idleSparkDegPer100: { group: 'idle', label: 'Spark against a speed error', unit: '° for 100 rpm' },
  idleSparkMostDeg: { group: 'idle', label: 'and no further than', unit: '°' },
  idleAdaptMostPct: { group: 'idle', label: 'Valve moved from its start by at most', unit: '%' },
  loopGainPctS: { group: 'loop', label: 'Speed of correction', unit: '%/s for 1 %' },
  loopMinCoolantC: { group: 'loop', label: 'From coolant', unit: '°C' },
  loopDelayS: { group: 'loop', label: 'After start', unit: 's' },
  loopAuthorityPct: { group: 'loop', label: 'Authority', unit: '%' },
  loopMaxMapKpa: { group: 'loop', label: 'Below manifold pressure', unit: 'kPa' },
  loopFloorRpm: { group: 'loop', label: 'From speed', unit: 'rpm' },
  learnAuthorityPct: { group: 'loop', label: 'Unit learns by itself, up to', unit: '%, 0 for not' },
  nitrousRetardDeg: { group: 'limits', label: 'Nitrous draws spark back by', unit: '°' },
  airRetardFromC: { group: 'limits', label: 'Hot air draws spark back from', unit: '°C' },
  airRetardDegPerK: { group: 'limits', label: 'by', unit: '° for each °C' },
  revLimitRpm: { group: 'limits', label: 'Rev limit', unit: 'rpm' },
  overboostKpa: { group: 'limits', label: 'Fuel cut over manifold pressure', unit: 'kPa' },
  fanOnC: { group: 'limits', label: 'Fan on', unit: '°C' },
  fanOffC: { group: 'limits', label: 'Fan off', unit: '°C' },
  revSoftBelowRpm: { group: 'limits', label: 'Spark drawn back from', unit: 'rpm under the limit' },
  shiftLightBelowRpm: { group: 'limits', label: 'Shift light from', unit: 'rpm under the limit' },
  tachPulsesPerRev: { group: 'limits', label: 'Tachometer output', unit: 'pulses a turn' },
  mapKpaPerV: { group: 'sensors', label: 'Manifold pressure', unit: 'kPa for each volt' },
  mapAtZeroVKpa: { group: 'sensors', label: 'Manifold pressure at 0 V', unit: 'kPa' },
  coolantSensorOhm: { group: 'sensors', label: 'Coolant sensor', unit: 'ohm', over: '°C' },
  airSensorOhm: { group: 'sensors', label: 'Intake air sensor', unit: 'ohm', over: '°C' },
  throttleShutV: { group: 'sensors', label: 'Throttle shut', unit: 'V' },
  throttleOpenV: { group: 'sensors', label: 'Throttle open', unit: 'V' },
  lambdaAtZeroV: { group: 'sensors', label: 'Mixture meter at 0 V', unit: 'lambda' },
  lambdaPerV: { group: 'sensors', label: 'Mixture meter', unit: 'lambda for each volt' },
}

/** What is wrong with a value of a parameter, with its bound; null when it can be taken. The same schema decides on the server. */
export function checkParameter(key: ParameterKey, value: unknown): string | null {
  const parsed = TuneParameters.shape[key].safeParse(value)
  return parsed.success ? null : `${parameterSpecs[key].label}: ${zodErrors(parsed.error)[0]?.message ?? 'cannot be taken'}`
}

export interface TuneDifference {
  /** `tables.ve`, `parameters.fanOnC` or `axes` */
  id: string
  label: string
  from: string
  to: string
}
const asText = (value: unknown): string =>
  Array.isArray(value) ? (value as [number, number][]).map(([x, y]) => `${x}: ${y}`).join(', ') : String(value)
const same = (a: unknown, b: unknown): boolean => JSON.stringify(a) === JSON.stringify(b)

/**
 * What another computation would change in a tune, value by value. Tables count cell by cell; where the axes differ they go together with all
 * three tables, because cells on other axes mean other points.
 */
export function tuneDifferences(have: TuneDocument, other: TuneDocument): TuneDifference[] {
  const list: TuneDifference[] = []
  if (!same(have.axes, other.axes))
    list.push({
      id: 'axes',
      label: tunePartLabel('axes'),
      from: `${have.axes.rpm.length} × ${have.axes.mapKpa.length}`,
      to: `${other.axes.rpm.length} × ${other.axes.mapKpa.length}, to ${other.axes.rpm.at(-1)} rpm`,
    })
  else
    for (const name of tableNames) {
      const change = have.tables[name].map((v, i) => other.tables[name][i] - v)
      const changed = change.filter((v) => Math.abs(v) > 1e-9)
      if (!changed.length) continue
      const most = changed.reduce((a, b) => (Math.abs(b) > Math.abs(a) ? b : a))
      const { label, unit, decimals } = tableSpecs[name]
      list.push({
        id: `tables.${name}`,
        label,
        from: `${changed.length} of ${change.length} cells`,
        to: `by up to ${most > 0 ? '+' : ''}${most.toFixed(decimals)} ${unit}`,
      })
    }
  if (!same(have.runner, other.runner))
    list.push({
      id: 'runner',
      label: tunePartLabel('runner'),
      from: have.runner ? `${have.runner.ve.length} cells` : 'none',
      to: other.runner ? `${other.runner.ve.length} cells` : 'none',
    })
  for (const key of Object.keys(parameterSpecs) as ParameterKey[])
    if (!same(have.parameters[key], other.parameters[key]))
      list.push({
        id: `parameters.${key}`,
        label: parameterSpecs[key].label,
        from: asText(have.parameters[key]),
        to: `${asText(other.parameters[key])} ${parameterSpecs[key].unit}`.trim(),
      })
  return list
}

/** What a part of a tune is called, by its id. */
export function tunePartLabel(id: string): string {
  const [kind, key] = id.split('.')
  if (kind === 'axes') return 'Axes with all three tables'
  if (kind === 'runner') return 'VE by throttle'
  return kind === 'tables' ? tableSpecs[key as TableName].label : parameterSpecs[key as ParameterKey].label
}
/** Parts that the mixture of a warm engine in steady driving hangs on. */
export const steadyMixtureParts: ReadonlySet<string> = new Set([
  'axes',
  'runner',
  'tables.ve',
  'tables.lambdaTarget',
  ...(Object.keys(parameterSpecs) as ParameterKey[])
    .filter((key) => ['engine', 'injectors'].includes(parameterSpecs[key].group))
    .map((key) => `parameters.${key}`),
])

/** The part of a tune was learned or edited here, by its provenance: set-up does not take it back unasked. */
export const isOwnWork = (have: TuneDocument, id: string): boolean =>
  /\b(learned|edited)\b/i.test(have.provenance[id.split('.').at(-1)!] ?? '')

/** A tune with the parts named taken from another, each with the other's provenance; everything else stays as it was learned or edited. */
export function takeParts(have: TuneDocument, other: TuneDocument, ids: readonly string[]): TuneDocument {
  const provenance = { ...have.provenance }
  const from = (key: string) => {
    if (other.provenance[key] !== undefined) provenance[key] = other.provenance[key]
    else delete provenance[key]
  }
  const axes = ids.includes('axes')
  const taken = (name: TableName) => axes || ids.includes(`tables.${name}`)
  const tables = Object.fromEntries(tableNames.map((name) => [name, (taken(name) ? other : have).tables[name]])) as TuneDocument['tables']
  for (const name of tableNames) if (taken(name)) from(name)
  const parameters = { ...have.parameters } as Record<string, unknown>
  for (const key of Object.keys(parameterSpecs) as ParameterKey[])
    if (ids.includes(`parameters.${key}`)) {
      parameters[key] = other.parameters[key]
      from(key)
    }
  // it stands on the speed axis, so it goes where that goes
  const runner = axes || ids.includes('runner') ? other.runner : have.runner
  if (runner !== have.runner) from('runner')
  const { runner: _, ...rest } = have
  return {
    ...rest,
    axes: axes ? other.axes : have.axes,
    tables,
    parameters: parameters as TuneParameters,
    provenance,
    ...(runner ? { runner } : {}),
  }
}
