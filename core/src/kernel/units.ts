import { CoreError } from './errors.ts'

/**
 * Units at the edge. Inside everything is metric with the unit in the name; a person types and reads what they are used to.
 * Each unit is a straight line to the metric one: metric = value x scale + offset. Source: the exact definitions, as fixed in the catalogue.
 */
export interface Unit {
  id: string
  scale: number
  offset?: number
  decimals: number
  spellings?: string[]
}

export const dimensions = {
  pressure: [
    { id: 'kPa', scale: 1, decimals: 0 },
    { id: 'psi', scale: 6.894757, decimals: 1, spellings: ['lb/in2', 'lbs'] },
    { id: 'bar', scale: 100, decimals: 2 },
    { id: 'mbar', scale: 0.1, decimals: 0, spellings: ['hpa'] },
    { id: 'inHg', scale: 3.386389, decimals: 1, spellings: ['"hg', 'in hg'] },
  ],
  power: [
    { id: 'kW', scale: 1, decimals: 0 },
    { id: 'hp', scale: 0.7457, decimals: 0, spellings: ['bhp'] },
  ],
  displacement: [
    { id: 'cc', scale: 1, decimals: 0, spellings: ['cm3', 'ccm'] },
    { id: 'cu in', scale: 16.387064, decimals: 0, spellings: ['in3', 'cuin', 'ci', 'cid'] },
    { id: 'L', scale: 1000, decimals: 2, spellings: ['litre', 'litres', 'liter'] },
  ],
  length: [
    { id: 'mm', scale: 1, decimals: 1 },
    { id: 'in', scale: 25.4, decimals: 3, spellings: ['"', 'inch', 'inches'] },
  ],
  distance: [
    { id: 'm', scale: 1, decimals: 2 },
    { id: 'ft', scale: 0.3048, decimals: 1, spellings: ['feet', "'"] },
  ],
  temperature: [
    { id: '°C', scale: 1, decimals: 0, spellings: ['c', 'degc'] },
    { id: '°F', scale: 5 / 9, offset: -160 / 9, decimals: 0, spellings: ['f', 'degf'] },
  ],
  injectorFlow: [{ id: 'cc/min', scale: 1, decimals: 0, spellings: ['ccm', 'cm3/min', 'ml/min'] }],
  pumpFlow: [
    { id: 'L/h', scale: 1, decimals: 0, spellings: ['lph'] },
    { id: 'US gal/h', scale: 3.785412, decimals: 1, spellings: ['gph', 'gal/h'] },
  ],
  massFlow: [
    { id: 'g/s', scale: 1, decimals: 1 },
    { id: 'lb/h', scale: 0.125998, decimals: 1 },
  ],
  airVolume: [
    { id: 'm³/min', scale: 1, decimals: 2 },
    { id: 'cfm', scale: 1 / 35.3146667, decimals: 0 },
  ],
  speed: [
    { id: 'km/h', scale: 1, decimals: 0, spellings: ['kph', 'kmh'] },
    { id: 'mph', scale: 1.609344, decimals: 0 },
  ],
  mass: [
    { id: 'kg', scale: 1, decimals: 0 },
    { id: 'lb', scale: 0.45359237, decimals: 0, spellings: ['lbs'] },
  ],
  volume: [
    { id: 'L', scale: 1, decimals: 0, spellings: ['litre', 'litres'] },
    { id: 'US gal', scale: 3.785412, decimals: 1, spellings: ['gal'] },
  ],
  rpm: [{ id: 'rpm', scale: 1, decimals: 0 }],
  angle: [{ id: '°', scale: 1, decimals: 1, spellings: ['deg'] }],
  voltage: [{ id: 'V', scale: 1, decimals: 2 }],
  current: [{ id: 'A', scale: 1, decimals: 1 }],
  resistance: [{ id: 'Ω', scale: 1, decimals: 2, spellings: ['ohm', 'ohms'] }],
  inductance: [{ id: 'mH', scale: 1, decimals: 1 }],
  timeUs: [{ id: 'µs', scale: 1, decimals: 0, spellings: ['us'] }],
  timeMs: [{ id: 'ms', scale: 1, decimals: 2 }],
  timeS: [{ id: 's', scale: 1, decimals: 1 }],
  percent: [{ id: '%', scale: 1, decimals: 1 }],
  velocity: [
    { id: 'm/s', scale: 1, decimals: 2 },
    { id: 'ft/s', scale: 0.3048, decimals: 1 },
  ],
  heat: [{ id: 'W', scale: 1, decimals: 0 }],
  /** a difference of temperatures: no zero to move */
  temperatureStep: [
    { id: '°C', scale: 1, decimals: 0 },
    { id: '°F', scale: 5 / 9, decimals: 0 },
  ],
  temperatureRise: [
    { id: 'K/h', scale: 1, decimals: 1 },
    { id: '°F/h', scale: 5 / 9, decimals: 0 },
  ],
  wireArea: [{ id: 'mm²', scale: 1, decimals: 1, spellings: ['mm2'] }],
  frontalArea: [
    { id: 'm²', scale: 1, decimals: 2, spellings: ['m2'] },
    { id: 'sq ft', scale: 0.09290304, decimals: 1, spellings: ['ft2'] },
  ],
  litresPer100: [{ id: 'L/100 km', scale: 1, decimals: 1 }],
  mesh: [{ id: 'µm', scale: 1, decimals: 0, spellings: ['um', 'micron'] }],
  hours: [{ id: 'h', scale: 1, decimals: 1 }],
  days: [{ id: 'days', scale: 1, decimals: 0, spellings: ['d', 'day'] }],
  fuelUse: [{ id: 'g/kWh', scale: 1, decimals: 0 }],
  density: [{ id: 'kg/m³', scale: 1, decimals: 3 }],
  densityLitre: [{ id: 'kg/L', scale: 1, decimals: 3 }],
  torque: [
    { id: 'Nm', scale: 1, decimals: 1 },
    { id: 'lbf ft', scale: 1.355818, decimals: 1, spellings: ['lb ft', 'ft lb'] },
  ],
  force: [
    { id: 'N', scale: 1, decimals: 0 },
    { id: 'lbf', scale: 4.448222, decimals: 1 },
  ],
  airFlow: [{ id: 'kg/h', scale: 1, decimals: 1 }],
  number: [{ id: '', scale: 1, decimals: 2 }],
  count: [{ id: '', scale: 1, decimals: 0 }],
  lambda: [{ id: 'λ', scale: 1, decimals: 3, spellings: ['lambda'] }],
} as const satisfies Record<string, readonly Unit[]>

export type Dimension = keyof typeof dimensions
type UnitSystem = 'metric' | 'inch'
export interface UnitPreferences {
  system: UnitSystem
  mixture: 'lambda' | 'AFR'
  stoichAfr: number
}
export const defaultPreferences: UnitPreferences = { system: 'metric', mixture: 'lambda', stoichAfr: 14.7 }

const inchUnits: Partial<Record<Dimension, string>> = {
  pressure: 'psi',
  power: 'hp',
  displacement: 'cu in',
  length: 'in',
  distance: 'ft',
  temperature: '°F',
  pumpFlow: 'US gal/h',
  massFlow: 'lb/h',
  airVolume: 'cfm',
  speed: 'mph',
  mass: 'lb',
  volume: 'US gal',
  velocity: 'ft/s',
  temperatureStep: '°F',
  temperatureRise: '°F/h',
  frontalArea: 'sq ft',
  torque: 'lbf ft',
  force: 'lbf',
}

/** The unit a person sees for a dimension. Manifold pressure stays kPa in both systems when `absolute` is set: a MAP table is in kPa. */
export function displayUnit(dimension: Dimension, preferences: UnitPreferences): Unit {
  const units: readonly Unit[] = dimensions[dimension]
  if (dimension === 'lambda' && preferences.mixture === 'AFR') return { id: 'AFR', scale: 1 / preferences.stoichAfr, decimals: 2 }
  const wanted = preferences.system === 'inch' ? inchUnits[dimension] : undefined
  return units.find((unit) => unit.id === wanted) ?? units[0]
}

export const toDisplay = (metric: number, unit: Unit): number => (metric - (unit.offset ?? 0)) / unit.scale
export const toMetric = (shown: number, unit: Unit): number => shown * unit.scale + (unit.offset ?? 0)

/** A metric number as a person reads it, with its unit; a dash when there is none. */
export function formatQuantity(
  metric: number | null | undefined,
  dimension: Dimension,
  preferences: UnitPreferences,
  decimals?: number,
): string {
  const unit = displayUnit(dimension, preferences)
  if (metric === null || metric === undefined || !Number.isFinite(metric)) return '–'
  const text = toDisplay(metric, unit).toFixed(decimals ?? unit.decimals)
  return unit.id === '' ? text : unit.id === '°' || unit.id === '%' ? `${text}${unit.id === '%' ? ' %' : '°'}` : `${text} ${unit.id}`
}

/**
 * A number as people write it: 3.18 and 3,18; 5,000 and 5.000,5 and 1,234.5; 12 000 and 12'000. A comma before exactly three digits parts thousands, unless
 * a zero leads; a point alone never does. null: no such number.
 */
function numberTyped(typed: string): number | null {
  const marks = typed.replace(/[ '’\u00a0\u202f]/g, '')
  const [point, comma] = [marks.lastIndexOf('.'), marks.lastIndexOf(',')]
  const thousands = /^[+-]?[1-9]\d{0,2}(,\d{3})+$/
  const plain =
    point >= 0 && comma >= 0
      ? point > comma
        ? /^[+-]?\d{1,3}(,\d{3})+\.\d*$/.test(marks)
          ? marks.replaceAll(',', '')
          : ''
        : /^[+-]?\d{1,3}(\.\d{3})+,\d*$/.test(marks)
          ? marks.replaceAll('.', '').replace(',', '.')
          : ''
      : thousands.test(marks)
        ? marks.replaceAll(',', '')
        : marks.replace(',', '.')
  const value = plain === '' ? NaN : Number(plain)
  return Number.isFinite(value) ? value : null
}

/**
 * Reads what a person typed: "58 psi", "4 bar", "3,18 L", or a bare number in the unit they see.
 * @returns the value in the metric unit of the dimension
 * @throws CoreError NOT_A_QUANTITY naming the field and the units it takes
 */
export function parseQuantity(text: string, dimension: Dimension, preferences: UnitPreferences, field: string): number {
  const match = /^\s*([+-]?(?:\d[\d.,'’\u00a0\u202f]*(?: \d{3}(?!\d))*(?:[.,]\d+)?|[.,]\d+))\s*(.*?)\s*$/.exec(text)
  const units: readonly Unit[] =
    dimension === 'lambda'
      ? [dimensions.lambda[0], { id: 'AFR', scale: 1 / preferences.stoichAfr, decimals: 2, spellings: [':1'] }]
      : dimensions[dimension]
  const takes = units.map((unit) => unit.id).filter(Boolean)
  const help = takes.length ? `type a number, or a number with ${takes.join(', ')}` : 'type a number'
  const value = match ? numberTyped(match[1]) : null
  if (!match || value === null) throw new CoreError('NOT_A_QUANTITY', field, `"${text.trim()}" is not a number; ${help}`)
  const spelled = match[2].toLowerCase()
  if (spelled === '') return toMetric(value, displayUnit(dimension, preferences))
  const unit = units.find((candidate) => candidate.id.toLowerCase() === spelled || candidate.spellings?.includes(spelled))
  if (!unit) throw new CoreError('NOT_A_QUANTITY', field, `"${match[2]}" is not a unit it knows; ${help}`)
  return toMetric(value, unit)
}
