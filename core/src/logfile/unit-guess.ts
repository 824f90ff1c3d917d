import { type ChannelId, channelSpecs, findUnit, isGauge, isVacuum, sourceUnits } from './channels.ts'
import { saysAbsolute, saysGauge, saysRichness, saysVacuum } from './names.ts'

/** Cells of a column, spread over the file: NaN where a cell is no number. */
export interface ColumnSample {
  values: number[]
  /** the column is a clock or a date */
  clock: boolean
}
export interface UnitGuess {
  unit: string
  /** why it had to be asked; undefined: it is sure */
  unsure?: string
}
/** What is known of a column when its unit is guessed. */
export interface UnitClues {
  name: string
  /** as the header writes it; empty: it does not say */
  written: string
  sample: ColumnSample
  barometerKpa: number
  stoichAfr: number
  /** unit that the coolant was found to be in */
  coolantUnit?: string
  /** how the column goes with the throttle or the pulse, -1 to 1; 0: not known */
  withLoad: number
}

/** Letters and digits of a unit, so that "in. Hg", "inHg" and "IN HG" are one. */
const unitKey = (unit: string): string =>
  unit
    .toLowerCase()
    .replace(/[µμ]/g, 'u')
    .replace(/[º°]\s*/g, '')
    .replace(/["″]/g, 'in')
    .replace(/[\s()[\]{}._]/g, '')

/** The unit of a channel that a spelling means. */
export const namedUnit = (channel: ChannelId, written: string): string | undefined => {
  const key = unitKey(written)
  return key === '' ? undefined : sourceUnits[channel].find((u) => u.spellings.some((s) => s !== '' && unitKey(s) === key))?.id
}

interface Spread {
  low: number
  middle: number
  high: number
}
function spreadOf(values: readonly number[]): Spread | null {
  const sorted = values.filter(Number.isFinite).sort((a, b) => a - b)
  if (sorted.length < 3) return null
  const at = (share: number) => sorted[Math.floor(share * (sorted.length - 1))]
  return { low: at(0.02), middle: at(0.5), high: at(0.98) }
}
const inUnit = (channel: ChannelId, unitId: string, v: number, barometerKpa: number): number => {
  const unit = findUnit(channel, unitId)!
  return v * unit.scale + (unit.offset ?? 0) + (isGauge(unitId) || isVacuum(unitId) ? barometerKpa : 0)
}
/** A spread brought to the channel's own unit. */
function converted(channel: ChannelId, unitId: string, s: Spread, barometerKpa: number): Spread {
  const [a, middle, b] = [s.low, s.middle, s.high].map((v) => inUnit(channel, unitId, v, barometerKpa))
  return { low: Math.min(a, b), middle, high: Math.max(a, b) }
}

type Bounds = { low?: [number, number]; middle?: [number, number]; high?: [number, number] }
/** What a driven engine shows, in the channel's own unit: where a unit is not written, its numbers must be these. */
const driven: Partial<Record<ChannelId, Bounds>> = {
  rpm: { low: [0, 2500], middle: [400, 7000], high: [450, 13000] },
  mapKpa: { low: [12, 82], middle: [18, 180], high: [20, 330] },
  throttlePct: { low: [-3, 40], high: [8, 108] },
  lambda: { middle: [0.72, 1.35] },
  lambdaTarget: { middle: [0.72, 1.3], low: [0.6, 1.2], high: [0.8, 1.6] },
  coolantC: { low: [-30, 105], high: [62, 126] },
  intakeAirC: { low: [-25, 60], middle: [-15, 65], high: [-10, 95] },
  batteryV: { middle: [10.5, 15.2] },
  pulseMs: { middle: [0.9, 25], high: [1.5, 60] },
  fuelPressureKpa: { middle: [80, 700] },
  barometerKpa: { middle: [62, 108] },
}
const within = (v: number, bounds: [number, number] | undefined): boolean => !bounds || (v >= bounds[0] && v <= bounds[1])
const fits = (channel: ChannelId, s: Spread): boolean => {
  const b = driven[channel]
  return !b || (within(s.low, b.low) && within(s.middle, b.middle) && within(s.high, b.high))
}
/** Whether numbers could be in a unit at all: else what is written is wrong, or belongs to something else. */
const possible = (channel: ChannelId, s: Spread): boolean => {
  const { min, max } = channelSpecs[channel]
  const b = driven[channel]
  const loose = (bounds: [number, number] | undefined): [number, number] | undefined =>
    bounds && [bounds[0] - 0.35 * Math.abs(bounds[1] - bounds[0]), bounds[1] + 0.35 * Math.abs(bounds[1] - bounds[0])]
  return s.low >= min && s.high <= max && (!b || within(s.middle, loose(b.middle ?? [b.low?.[0] ?? -Infinity, b.high?.[1] ?? Infinity])))
}
const round = (v: number): string => (Math.abs(v) >= 100 ? v.toFixed(0) : v.toFixed(2))
const range = (s: Spread): string => `${round(s.low)} to ${round(s.high)}`

function guessTime({ written, sample }: UnitClues): UnitGuess {
  if (sample.clock) return { unit: 'clock' }
  const named = namedUnit('timeS', written)
  if (named && named !== 'clock') return { unit: named }
  const values = sample.values.filter(Number.isFinite)
  const steps = values
    .slice(1)
    .map((t, i) => t - values[i])
    .filter((s) => s > 0)
    .sort((a, b) => a - b)
  const step = steps[steps.length >> 1] ?? 0.1
  if (step > 0 && step < 0.95) return { unit: 's' }
  if (step >= 4 && step <= 1200) return { unit: 'ms' }
  if (step > 1200) return { unit: 'us' }
  return { unit: 's', unsure: `time goes in steps of ${round(step)}: seconds, or a count of rows` }
}

/** a pressure that is called nothing else is absolute, unless its unit is written and cannot be */
const KINDS = ['', ' gauge', ' vacuum'] as const
const ABSOLUTE = [''] as const
/** How a header says that a pressure is counted, and in which unit: "kPa vac", "psig", "kPa abs", or by the name. */
function pressureWords({ name, written }: UnitClues): { base: string | undefined; kind: (typeof KINDS)[number] | undefined } {
  const key = unitKey(written)
  const words = `${name} ${written.toLowerCase().replace(/[()[\]]/g, ' ')}`
  const bare = key.replace(/(vacuum|vac|gauge|gage|abs|absolute|rel)$/, '')
  const base = (namedUnit('mapKpa', key) ?? namedUnit('mapKpa', bare))?.split(' ')[0]
  if (saysVacuum(words) || /vac/.test(key)) return { base, kind: ' vacuum' }
  if (saysAbsolute(words) || /abs/.test(key)) return { base, kind: '' }
  const gauge = saysGauge(words) || /(gauge|gage|rel)$/.test(key) || /^(psig|barg|kpag)$/.test(key)
  return { base, kind: gauge ? ' gauge' : undefined }
}
function guessPressure(clues: UnitClues): UnitGuess {
  const { written, sample, barometerKpa, withLoad } = clues
  const { base, kind } = pressureWords(clues)
  const s = spreadOf(sample.values)
  const usual = `${base ?? 'kPa'}${kind ?? ''}`
  if (!s) return { unit: usual, unsure: 'it has no numbers to look at' }
  const negative = s.low < -0.02 * Math.abs(s.high - s.low) && s.low < 0
  const kinds = negative
    ? ([' gauge', ' vacuum'] as const)
    : kind === undefined
      ? base === undefined
        ? ABSOLUTE
        : KINDS
      : ([kind] as const)
  // a vacuum told as a negative number is a gauge pressure
  const allowed = negative && kind === ' vacuum' ? ([' gauge'] as const) : kind !== undefined && !negative ? ([kind] as const) : kinds
  const bases = base ? [base] : sourceUnits.mapKpa.map((u) => u.id).filter((id) => !id.includes(' '))
  const candidates = bases.flatMap((b) => allowed.map((k) => `${b}${k}`))
  const rising = (id: string) => withLoad === 0 || Math.sign(findUnit('mapKpa', id)!.scale) === Math.sign(withLoad)
  const good = candidates.filter((id) => fits('mapKpa', converted('mapKpa', id, s, barometerKpa)) && rising(id))
  if (good.length === 1) return { unit: good[0] }
  // a vacuum is called one: a pressure whose unit is written is absolute where it can be
  if (base !== undefined && kind === undefined && good.includes(base)) return { unit: base }
  if (good.length > 1) {
    // boost is seldom: what stays under the air outside is likelier than what does not
    const calm = good.filter((id) => converted('mapKpa', id, s, barometerKpa).high < 1.04 * barometerKpa)
    if (calm.length === 1 && (base !== undefined || calm[0].split(' ')[0] === 'kPa')) return { unit: calm[0] }
    return { unit: calm[0] ?? good[0], unsure: `${range(s)} can be ${good.join(' or ')}` }
  }
  const written_ = base !== undefined
  const could = candidates.filter((id) => possible('mapKpa', converted('mapKpa', id, s, barometerKpa)) && rising(id))
  if (written_ && could.length === 1) return { unit: could[0] }
  if (written_ && kind !== undefined && could.length) return { unit: could[0] }
  if (written_ && kind === undefined && could.includes(`${base}`)) return { unit: base }
  return { unit: negative ? `${base ?? 'kPa'} gauge` : usual, unsure: `${range(s)} ${written} is no manifold pressure of a driven engine` }
}

function guessMixture(channel: ChannelId, { name, written, sample, stoichAfr }: UnitClues): UnitGuess {
  const named = namedUnit(channel, written)
  const s = spreadOf(sample.values)
  const middle = s?.middle ?? 1
  if ((saysRichness(name) || named === 'phi') && middle < 4)
    return { unit: named === 'lambda' && unitKey(written) !== '-' ? 'lambda' : 'phi' }
  if (middle <= 4) {
    if (s && !fits(channel, s)) return { unit: 'lambda', unsure: `${range(s)} is far from lambda 1: a voltage, or another thing` }
    return { unit: 'lambda' }
  }
  const lambda = middle / stoichAfr
  if (lambda < 0.78 || lambda > 1.35)
    return {
      unit: 'AFR',
      unsure: `ratios about ${middle.toFixed(1)} are ${lambda < 1 ? 'very rich' : 'very lean'} for a display that counts from ${stoichAfr}: its own stoichiometric ratio is wanted`,
    }
  return { unit: 'AFR' }
}

function guessTrim({ written, sample }: UnitClues): UnitGuess {
  const named = namedUnit('correctionPct', written)
  const s = spreadOf(sample.values)
  if (!s) return named ? { unit: named } : { unit: 'percent', unsure: 'it has no numbers to look at' }
  if (named === 'ratio' || unitKey(written) === '-') {
    if (s.low > 0.2 && s.high < 3) return { unit: 'ratio' }
    if (s.middle > 50 && s.middle < 180) return { unit: 'percent-of-100' }
    return { unit: named ?? 'percent', unsure: `${range(s)} is no factor about 1` }
  }
  if (named === 'fraction') return { unit: 'fraction' }
  if (s.middle > 55 && s.middle < 190 && s.low > 30) return { unit: 'percent-of-100' }
  if (named !== undefined) return { unit: named }
  if (s.low < -1.05 || s.high > 3) return { unit: 'percent' }
  if (s.low > 0.5 && s.high < 1.6 && s.low < 0.995 && s.high > 1.005 && Math.abs(s.middle - 1) < 0.15) return { unit: 'ratio' }
  return {
    unit: s.low > 0.3 ? 'ratio' : 'percent',
    unsure: `${range(s)} can be per cent, ${s.low > 0.3 ? 'or a factor' : 'or shares of 1'}`,
  }
}

function guessTemperature(channel: ChannelId, { written, sample, coolantUnit }: UnitClues): UnitGuess {
  const named = namedUnit(channel, written)
  const s = spreadOf(sample.values)
  if (!s) return named ? { unit: named } : { unit: 'degC', unsure: 'it has no numbers to look at' }
  const can = ['degC', 'degF', 'K'].filter((id) => fits(channel, converted(channel, id, s, 0)))
  if (named) {
    if (
      possible(channel, converted(channel, named, s, 0)) &&
      (can.includes(named) || can.length === 0 || channel === 'intakeAirC' || s.high < 62)
    )
      return { unit: named }
    return { unit: named, unsure: `${range(s)} ${written} is no ${channelSpecs[channel].label} of a driven engine` }
  }
  if (channel === 'intakeAirC' && coolantUnit && can.includes(coolantUnit)) return { unit: coolantUnit }
  if (can.length === 1) return { unit: can[0] }
  return {
    unit: can[0] ?? 'degC',
    unsure: can.length ? `${range(s)} can be ${can.join(' or ')}` : `${range(s)} is no ${channelSpecs[channel].label} of a driven engine`,
  }
}

/** Openings in per cent or as a share of one; a log that starts at idle shows only zeros, and those say nothing. */
function guessOpening(channel: ChannelId, { written, sample }: UnitClues): UnitGuess {
  const named = namedUnit(channel, written)
  const s = spreadOf(sample.values)
  if (!s) return { unit: named ?? 'percent' }
  if (named) return s.high <= 110 ? { unit: named } : { unit: named, unsure: `${range(s)} is more than all of it` }
  // nothing is nothing in every unit
  if (s.high < 0.05 && s.low > -0.05) return { unit: 'percent' }
  if (s.high > 5.5 && s.high <= 108 && s.low > -6) return { unit: 'percent' }
  if (s.high > 0.2 && s.high <= 1.06 && s.low >= -0.05) return { unit: 'fraction' }
  return { unit: 'percent', unsure: `${range(s)} can be per cent, ${s.high <= 5.5 ? 'volts or a share of 1' : 'steps or degrees'}` }
}

/** A channel with one scale that the numbers settle where nothing is written. */
function guessPlain(channel: ChannelId, { written, sample }: UnitClues): UnitGuess {
  const named = namedUnit(channel, written)
  const units = sourceUnits[channel]
  const s = spreadOf(sample.values)
  if (named) {
    if (!s || possible(channel, converted(channel, named, s, 0))) return { unit: named }
    return { unit: named, unsure: `${range(s)} ${written} is no ${channelSpecs[channel].label}` }
  }
  if (units.length === 1 || !s) return { unit: units[0].id }
  const can = units.filter((u) => fits(channel, converted(channel, u.id, s, 0)))
  if (can.length === 1) return { unit: can[0].id }
  return {
    unit: (can[0] ?? units[0]).id,
    unsure: can.length
      ? `${range(s)} can be ${can.map((u) => u.id).join(' or ')}`
      : `${range(s)} is no ${channelSpecs[channel].label} in any unit known here`,
  }
}

/** The unit a column is most likely in, by what the header says and by what the numbers can be, and why it is not sure. */
export function guessUnit(channel: ChannelId, clues: UnitClues): UnitGuess {
  switch (channel) {
    case 'timeS':
      return guessTime(clues)
    case 'mapKpa':
      return guessPressure(clues)
    case 'lambda':
    case 'lambda2':
    case 'lambdaTarget':
      return guessMixture(channel, clues)
    case 'correctionPct':
    case 'learnedPct':
    case 'enrichmentPct':
      return guessTrim(clues)
    case 'coolantC':
    case 'intakeAirC':
      return guessTemperature(channel, clues)
    case 'throttlePct':
    case 'idleValvePct':
      return guessOpening(channel, clues)
    case 'fuelCut':
    case 'marker':
    case 'gear':
      return { unit: sourceUnits[channel][0].id }
    default:
      return guessPlain(channel, clues)
  }
}
