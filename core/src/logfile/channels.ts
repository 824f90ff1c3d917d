import { z } from 'zod'
import type { Dimension } from '../kernel/index.ts'

/** A channel of a log as the core works with it: its unit, and the bounds outside which a cell is a broken reading, not a fact. */
export interface ChannelSpec {
  label: string
  unit: string
  min: number
  max: number
}

export const channelSpecs = {
  timeS: { label: 'time', unit: 's', min: -1e12, max: 1e12 },
  rpm: { label: 'engine speed', unit: 'rpm', min: 0, max: 15000 },
  mapKpa: { label: 'manifold pressure (absolute)', unit: 'kPa', min: 5, max: 450 },
  throttlePct: { label: 'throttle', unit: '%', min: -10, max: 120 },
  lambda: { label: 'lambda', unit: 'lambda', min: 0.4, max: 20 },
  lambda2: { label: 'lambda of the other bank', unit: 'lambda', min: 0.4, max: 20 },
  lambdaTarget: { label: 'target lambda', unit: 'lambda', min: 0.5, max: 2 },
  coolantC: { label: 'coolant', unit: 'degC', min: -50, max: 160 },
  intakeAirC: { label: 'intake air', unit: 'degC', min: -50, max: 160 },
  batteryV: { label: 'battery', unit: 'V', min: 2, max: 32 },
  correctionPct: { label: 'closed-loop correction', unit: '%', min: -80, max: 150 },
  learnedPct: { label: 'learned correction', unit: '%', min: -80, max: 150 },
  enrichmentPct: { label: 'other enrichment (warm-up, acceleration)', unit: '%', min: -90, max: 900 },
  pulseMs: { label: 'pulse width', unit: 'ms', min: 0, max: 100 },
  advanceDegBtdc: { label: 'spark', unit: 'deg BTDC', min: -60, max: 90 },
  idleValvePct: { label: 'idle valve', unit: '%', min: -5, max: 105 },
  fuelCut: { label: 'fuel cut', unit: 'flag', min: 0, max: 1 },
  speedKmh: { label: 'road speed', unit: 'km/h', min: 0, max: 450 },
  gear: { label: 'gear', unit: '', min: -1, max: 12 },
  fuelPressureKpa: { label: 'fuel pressure', unit: 'kPa', min: 0, max: 1500 },
  barometerKpa: { label: 'barometer', unit: 'kPa', min: 50, max: 115 },
  marker: { label: 'marker', unit: 'flag', min: 0, max: 1 },
} as const satisfies Record<string, ChannelSpec>

export type ChannelId = keyof typeof channelSpecs
export const channelIds = Object.keys(channelSpecs) as ChannelId[]
export const ChannelId = z.enum(channelIds as [ChannelId, ...ChannelId[]])

/** What kind of number a channel is, for showing it in a person's own units. */
export const channelDimension: Readonly<Record<ChannelId, Dimension>> = {
  timeS: 'timeS',
  rpm: 'rpm',
  mapKpa: 'pressure',
  throttlePct: 'percent',
  lambda: 'lambda',
  lambda2: 'lambda',
  lambdaTarget: 'lambda',
  coolantC: 'temperature',
  intakeAirC: 'temperature',
  batteryV: 'voltage',
  correctionPct: 'percent',
  learnedPct: 'percent',
  enrichmentPct: 'percent',
  pulseMs: 'timeMs',
  advanceDegBtdc: 'angle',
  idleValvePct: 'percent',
  fuelCut: 'count',
  speedKmh: 'speed',
  gear: 'count',
  fuelPressureKpa: 'pressure',
  barometerKpa: 'pressure',
  marker: 'count',
}

/** Ends of a drawing's scale for what reads far off at times and says nothing there: a lambda in a cut is free air. */
export const drawnWithin: Partial<Record<ChannelId, { low: number; high: number }>> = {
  lambda: { low: 0.7, high: 1.3 },
  lambda2: { low: 0.7, high: 1.3 },
}

/** Units a source column may be in, each as a straight line to the channel's own unit. */
interface SourceUnit {
  id: string
  /** how the unit may be written in a header, after lower-casing and stripping blanks and brackets */
  spellings: string[]
  scale: number
  offset?: number
}

const plain: SourceUnit = { id: 'plain', spellings: ['', '-', '%', 'v', 'ms', 'rpm', 'lambda', 'λ'], scale: 1 }
const pressureUnits: SourceUnit[] = [
  { id: 'kPa', spellings: ['kpa', 'kpa(abs)', 'kpaabs', 'kpaa', 'kpa abs'], scale: 1 },
  { id: 'mbar', spellings: ['mbar', 'hpa', 'mb', 'mbar abs'], scale: 0.1 },
  { id: 'bar', spellings: ['bar'], scale: 100 },
  { id: 'psi', spellings: ['psi', 'psia', 'lb/in2', 'lbf/in2', 'psi abs'], scale: 6.894757 },
  { id: 'inHg', spellings: ['inhg', '"hg', 'in.hg', 'hg', 'inches hg', 'inch hg', 'inches of mercury'], scale: 3.386389 },
  { id: 'mmHg', spellings: ['mmhg', 'torr'], scale: 0.1333224 },
  { id: 'Pa', spellings: ['pa'], scale: 0.001 },
]
const temperatureUnits: SourceUnit[] = [
  { id: 'degC', spellings: ['c', '°c', 'degc', 'celsius', 'ºc', 'grad c', 'deg c', 'gradc'], scale: 1 },
  { id: 'degF', spellings: ['f', '°f', 'degf', 'fahrenheit', 'ºf', 'deg f', 'gradf'], scale: 5 / 9, offset: -160 / 9 },
  { id: 'K', spellings: ['k', 'kelvin'], scale: 1, offset: -273.15 },
]
const trimUnits: SourceUnit[] = [
  { id: 'percent', spellings: ['%', 'pct', 'percent', ''], scale: 1 },
  { id: 'percent-of-100', spellings: ['%of100'], scale: 1, offset: -100 },
  {
    id: 'ratio',
    spellings: ['ratio', 'factor', 'faktor', 'facteur', 'fattore', 'fator', 'x', '-', 'mult', 'multiplier'],
    scale: 100,
    offset: -100,
  },
  { id: 'fraction', spellings: ['fraction', 'per unit', 'pu'], scale: 100 },
]

const mixtureUnits: SourceUnit[] = [
  { id: 'lambda', spellings: ['lambda', 'λ', '-', 'lam', ''], scale: 1 },
  { id: 'AFR', spellings: ['afr', ':1', 'a/f', 'kg/kg', 'ratio', 'af'], scale: 1 },
  { id: 'phi', spellings: ['phi', 'φ', 'eqr'], scale: 1 },
]

export const sourceUnits: Record<ChannelId, SourceUnit[]> = {
  timeS: [
    { id: 's', spellings: ['s', 'sec', 'secs', 'seconds', 'sek', 'sekunden', 'secondes', 'segundos', 'secondi', ''], scale: 1 },
    { id: 'ms', spellings: ['ms', 'msec', 'millis', 'milliseconds'], scale: 0.001 },
    { id: 'us', spellings: ['us', 'µs', 'μs'], scale: 1e-6 },
    { id: 'min', spellings: ['min', 'minutes'], scale: 60 },
    { id: 'clock', spellings: ['hh:mm:ss', 'hh:mm:ss.fff', 'hh:mm:ss,fff', 'mm:ss', 'mm:ss.fff', 'h:m:s'], scale: 1 },
  ],
  rpm: [
    {
      id: 'rpm',
      spellings: [
        'rpm',
        '1/min',
        'min-1',
        'u/min',
        'r/min',
        'rev/min',
        'tr/min',
        'giri/min',
        'omw/min',
        'varv/min',
        'obr/min',
        'tours/min',
        '',
      ],
      scale: 1,
    },
    { id: 'krpm', spellings: ['krpm', 'rpmx1000', 'x1000rpm', '1000rpm'], scale: 1000 },
    { id: 'Hz', spellings: ['hz', 'rev/s', '1/s'], scale: 60 },
  ],
  mapKpa: [
    ...pressureUnits,
    ...pressureUnits.map((u) => ({ ...u, id: `${u.id} gauge`, spellings: [`${u.id.toLowerCase()}g`, `${u.id.toLowerCase()}gauge`] })),
    ...pressureUnits.map((u) => ({
      ...u,
      id: `${u.id} vacuum`,
      spellings: [`${u.id.toLowerCase()}vac`, `${u.id.toLowerCase()}vacuum`],
      scale: -u.scale,
    })),
  ],
  throttlePct: [
    { ...plain, id: 'percent' },
    { id: 'fraction', spellings: ['0-1', 'fraction'], scale: 100 },
  ],
  lambda: mixtureUnits,
  lambda2: mixtureUnits,
  lambdaTarget: mixtureUnits,
  coolantC: temperatureUnits,
  intakeAirC: temperatureUnits,
  batteryV: [
    { id: 'V', spellings: ['v', 'volt', 'volts', ''], scale: 1 },
    { id: 'mV', spellings: ['mv'], scale: 0.001 },
  ],
  correctionPct: trimUnits,
  learnedPct: trimUnits,
  enrichmentPct: trimUnits,
  pulseMs: [
    { id: 'ms', spellings: ['ms', 'msec', ''], scale: 1 },
    { id: 'us', spellings: ['us', 'µs', 'μs'], scale: 0.001 },
    { id: 's', spellings: ['s'], scale: 1000 },
  ],
  advanceDegBtdc: [
    {
      id: 'degBtdc',
      spellings: ['deg', '°', 'degbtdc', '°btdc', '°kw', '°kwv.ot', '°ca', 'btdc', 'grad', 'degres', 'grados', 'gradi', 'grader', ''],
      scale: 1,
    },
  ],
  idleValvePct: [
    { ...plain, id: 'percent' },
    { id: 'fraction', spellings: ['0-1', 'fraction'], scale: 100 },
  ],
  fuelCut: [{ ...plain, id: 'flag' }],
  marker: [{ ...plain, id: 'flag' }],
  speedKmh: [
    { id: 'km/h', spellings: ['km/h', 'kmh', 'kph', ''], scale: 1 },
    { id: 'mph', spellings: ['mph', 'mi/h'], scale: 1.609344 },
    { id: 'm/s', spellings: ['m/s'], scale: 3.6 },
  ],
  gear: [plain],
  fuelPressureKpa: pressureUnits,
  barometerKpa: pressureUnits,
}

export const isGauge = (unitId: string): boolean => unitId.endsWith(' gauge')
export const isVacuum = (unitId: string): boolean => unitId.endsWith(' vacuum')

export function findUnit(channel: ChannelId, unitId: string): SourceUnit | undefined {
  return sourceUnits[channel].find((unit) => unit.id === unitId)
}
