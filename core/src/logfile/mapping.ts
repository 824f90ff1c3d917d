import { z } from 'zod'
import { CoreError } from '../kernel/index.ts'
import { ChannelId, channelSpecs, findUnit, sourceUnits } from './channels.ts'
import type { LogDialect } from './sniff.ts'

/** Which column holds which channel, in which unit; confirmed by a person and remembered by the header's fingerprint. */
export const LogMapping = z.strictObject({
  channels: z.partialRecord(ChannelId, z.strictObject({ column: z.int().min(0).max(999), unit: z.string().max(40) })),
  stoichAfr: z.number().min(5).max(20).default(14.7).describe("stoichiometric ratio the display works with (not the tank's)"),
  barometerKpa: z.number().min(50).max(115).default(101.325).describe('for manifold pressure logged as gauge or vacuum, kPa'),
})
export type LogMapping = z.infer<typeof LogMapping>

const fold = (text: string): string =>
  text
    .normalize('NFD')
    .replace(/[\u0300-\u036f]/g, '')
    .replace(/ß/g, 'ss')
    .toLowerCase()
    .replace(/[_\-./'’]+/g, ' ')
    .replace(/\s+/g, ' ')
    .trim()

const TARGET = /\b(target|soll|sollwert|desired|wanted|cible|consigne|objetivo|obiettivo|doel|set ?point|commanded|goal)\b/
const CORRECTION = /\b(corr(ection)?|trim|regelung|regler|closed ?loop|feedback|korrektur|correccion|correzione|correctie|boucle)\b/
const LEARNED = /\b(learn(ed|t)?|adapt(ion|ive|ation|ed)?|gelernt|lern\w*|long ?term|appris|apprentissage|aprendid\w*|appres\w*|geleerd)\b/

/** What each channel is called in the languages of the trade: ordered from the surest name down. A later pattern scores lower. */
const names: Record<ChannelId, { is: RegExp[]; not?: RegExp }> = {
  timeS: {
    is: [/^(time|zeit|temps|tiempo|tempo|tijd)\b/, /\b(time ?stamp|elapsed|zeit\w*|clock|uhrzeit|seconds|timestamp)\b/],
    not: /\b(dwell|burn|pulse|injection|since)\b/,
  },
  rpm: {
    is: [
      /^(rpm|engine (speed|rpm)|(motor ?)?drehzahl|regime( moteur)?|toerental|giri( motore)?|revoluciones|regimen( motor)?)$/,
      /\b(rpm|engine speed|drehzahl|motordrehzahl|regime|giri|toerental|crank speed|revs)\b/,
    ],
    not: /target|soll|idle|leerlauf|limit|error|\bd ?rpm\b|consigne|rate/,
  },
  mapKpa: {
    is: [
      /^(map|manifold (absolute )?pressure|saugrohrdruck|ladedruck|pression (d )?admission|presion (de )?admision|pressione (di )?aspirazione|inlaatdruk)$/,
      /\b(map|manifold|saugrohr\w*|intake pressure|inlet pressure|pression (collecteur|admission)|admision|aspirazione|inlaatdruk|unterdruck|vacuum|vuoto|vacio|depression|collettore|boost)\b/,
    ],
    not: /target|soll|temp|rate|fuel|kraftstoff|\bd ?map\b|table|switch/,
  },
  throttlePct: {
    is: [
      /^(tps|throttle( position)?|drosselklappe(nwinkel|nstellung)?|papillon|mariposa|farfalla|gasklep)$/,
      /\b(tps|throttle|drosselklappe\w*|papillon|mariposa|farfalla|gasklep\w*)\b/,
    ],
    not: /target|soll|rate|\bd ?tps\b|dot|pedal|accel/,
  },
  lambda: {
    is: [
      /^(lambda|afr|air fuel ratio|a f( ratio)?|luftverhaltnis|richesse|lambda (ist|measured|actual|gemessen|mesure|1)|afr (measured|actual|1)|wideband)$/,
      /\b(lambda|afr|air fuel|wideband|luftverhaltnis|breitband|richesse|phi)\b/,
    ],
    not: /target|soll|desired|wanted|cible|consigne|objetivo|obiettivo|doel|corr|trim|regel|error|fehler|setpoint|set point|commanded/,
  },
  lambdaTarget: {
    is: [
      /^(target (lambda|afr)|(lambda|afr) (target|soll)|soll ?lambda|lambda ?soll(wert)?|desired (lambda|afr)|lambda (cible|consigne|objetivo|obiettivo|doel))$/,
    ],
  },
  coolantC: {
    is: [
      /^(coolant( temp(erature)?)?|kuhlmittel(temperatur)?|kuhlwasser(temperatur)?|ect|water temp(erature)?|engine temp(erature)?|temperature (d )?eau|refrigerante|liquido( refrigerante)?|koelvloeistof|acqua)$/,
      /\b(coolant|kuhlmittel\w*|kuhlwasser\w*|ect|water|motortemp\w*|eau|refrigerante|koelvloeistof|koelwater)\b/,
    ],
    not: /corr|enrich|factor/,
  },
  intakeAirC: {
    is: [
      /^(intake air( temp(erature)?)?|iat|air temp(erature)?|ansaugluft(temperatur)?|inlet (air )?temp(erature)?|temperature (d )?air|aire( de admision)?|aria( aspirata)?|inlaatlucht|charge temp(erature)?)$/,
      /\b(intake air|inlet air|iat|air temp\w*|ansaugluft\w*|lufttemp\w*|aire|aria|inlaatlucht)\b/,
    ],
    not: /corr|fuel|ratio|mass|flow/,
  },
  batteryV: {
    is: [
      /^(battery( voltage)?|bordnetz(spannung)?|batterie(spannung)?|batt?|tension( batterie)?|bateria|batteria|accu(spanning)?|supply( voltage)?|voltage|vbat)$/,
      /\b(battery|bordnetz\w*|batterie\w*|bateria|batteria|supply volt\w*|accu\w*)\b/,
    ],
    not: /corr/,
  },
  correctionPct: {
    is: [
      /^(closed ?loop( correction)?|(lambda ?)?regelung|(fuel |lambda |afr )?(correction|trim)|lambda ?regler|correction (lambda|richesse)|korrektur|short term trim|correccion|correzione|correctie|feedback)$/,
      CORRECTION,
    ],
    not: /learn|adapt|gelernt|long ?term|air temp|iat|coolant|warm|baro|batt|spark|ignition|zund|idle|accel/,
  },
  learnedPct: {
    is: [/^(learn(ed|t)( correction| trim)?|adaption|gelernt(e korrektur)?|long term trim|appris|aprendido|appreso|geleerd)$/, LEARNED],
  },
  enrichmentPct: {
    is: [
      /^(other |total )?(enrichment|anreicherung|enrichissement)$/,
      /\b(enrich\w*|anreicherung|warm ?up|warmlauf|enrichissement|arricchimento|enriquecimiento|verrijking)\b/,
    ],
  },
  pulseMs: {
    is: [
      /^(pulse( width)?|einspritzzeit|injection (time|duration|pulse)|temps (d )?injection|tiempo (de )?inyeccion|tempo (di )?iniezione|inspuittijd|injector (pulse|on)( width| time)?)$/,
      /\b(pulse ?width|einspritz\w*|injection time|injector pulse|injection|inspuittijd|iniezione|inyeccion)\b/,
    ],
    not: /angle|duty|phase|dead|timing/,
  },
  advanceDegBtdc: {
    is: [
      /^(spark( advance| timing| angle)?|zundwinkel|zundung|advance|ignition( advance| timing| angle)?|avance( allumage)?|anticipo|avance (de )?encendido|ontsteking\w*|timing)$/,
      /\b(spark|zundwinkel|advance|ignition|avance|anticipo|encendido|ontsteking\w*)\b/,
    ],
    not: /dwell|target|knock|energy|corr|retard/,
  },
  idleValvePct: {
    is: [
      /^(idle (air )?(valve|control|actuator)( position| duty)?|iac|leerlauf(steller|regler|ventil)|vanne (de )?ralenti|valvula (de )?ralenti|valvola (del )?minimo|stationair\w*)$/,
      /\b(idle valve|iac|leerlaufsteller|idle duty|ralenti|minimo|idle air)\b/,
    ],
    not: /target|speed|rpm|drehzahl/,
  },
  fuelCut: {
    is: [
      /^((decel )?fuel cut( off)?|schubabschaltung|coupure( injection)?|corte|cut ?off|overrun|cut|brandstofafsluiting|dfco)$/,
      /\b(fuel cut|schub\w*|overrun|coupure|cut off|corte)\b/,
    ],
  },
  speedKmh: {
    is: [
      /^((vehicle|road|car|ground) speed|geschwindigkeit|fahrgeschwindigkeit|vitesse|velocidad|velocita|snelheid|speed)$/,
      /\b(vehicle speed|road speed|geschwindigkeit|vitesse|velocidad|velocita|snelheid)\b/,
    ],
    not: /engine|motor/,
  },
  gear: { is: [/^(gear|gang|rapport|marcha|marcia|versnelling)$/], not: /ratio/ },
  fuelPressureKpa: {
    is: [
      /^(fuel (rail )?pressure|kraftstoffdruck|benzindruck|pression (d )?essence|pression carburant|presion (de )?combustible|pressione benzina|brandstofdruk|rail pressure)$/,
      /\b(fuel press\w*|kraftstoffdruck|benzindruck|rail press\w*)\b/,
    ],
  },
  barometerKpa: {
    is: [
      /^(baro(meter|metric( pressure)?)?|luftdruck|umgebungsdruck|ambient pressure|pression atmospherique|atmospheric pressure)$/,
      /\b(baro\w*|luftdruck|umgebungsdruck|ambient press\w*|atmospher\w*)\b/,
    ],
    not: /corr/,
  },
}

function nameScore(channel: ChannelId, name: string): number {
  const rule = names[channel]
  if (rule.not?.test(name) && !rule.is[0].test(name)) return 0
  if (rule.is[0].test(name)) return 100
  for (let i = 1; i < rule.is.length; i++) if (rule.is[i].test(name)) return 60 - 10 * i
  if (channel === 'lambdaTarget' && TARGET.test(name) && /\b(lambda|afr|air fuel|richesse|luftverhaltnis)\b/.test(name)) return 80
  return 0
}

const foldUnit = (unit: string): string => unit.toLowerCase().replace(/[\s()[\]{}]/g, '')

export interface ColumnSample {
  /** readable numbers of the column in the preview, decimal mark already settled */
  numbers: number[]
  clock: boolean
}

const median = (values: number[]): number => {
  if (values.length === 0) return NaN
  const sorted = [...values].sort((a, b) => a - b)
  return sorted[sorted.length >> 1]
}

/** What is known of a column when its unit is guessed. */
interface UnitClues {
  name: string
  /** as the header writes it, folded; empty: it does not say */
  unit: string
  /** the unit of this channel that the header's is a spelling of */
  named: string | undefined
  sample: ColumnSample
  middle: number
}
const guessTime = ({ named, sample }: UnitClues): string => {
  if (sample.clock) return 'clock'
  if (named) return named
  const steps = sample.numbers.slice(1).map((t, i) => t - sample.numbers[i])
  return median(steps.filter((s) => s > 0)) >= 5 ? 'ms' : 's'
}
const guessPressure = ({ name, unit, named, sample, middle }: UnitClues): string => {
  const base = named?.split(' ')[0] ?? (middle > 300 ? 'mbar' : Math.abs(middle) < 2.5 ? 'bar' : 'kPa')
  if (/\b(vacuum|unterdruck|depression|vuoto|vacio)\b/.test(name) || isVacuumUnit(unit)) return `${base} vacuum`
  if (/\b(gauge|relativ\w*|boost)\b/.test(name) || sample.numbers.some((v) => v < 0)) return `${base} gauge`
  return base
}
const guessMixture = ({ name, unit, named, middle }: UnitClues): string => {
  // French richesse is fuel over air: the inverse of lambda
  if (/\b(phi|richesse)\b/.test(name) || named === 'phi') return named === 'lambda' && unit !== '-' && unit !== '' ? 'lambda' : 'phi'
  return middle > 4 ? 'AFR' : 'lambda'
}
const guessCorrection = ({ unit, sample, middle }: UnitClues): string => {
  if (middle > 50 && middle < 250) return 'percent-of-100'
  const nearOne = sample.numbers.length > 0 && sample.numbers.every((v) => v > 0.3 && v < 3)
  return nearOne && unit !== '%' ? 'ratio' : 'percent'
}
const guessOpening = ({ named, sample }: UnitClues): string | undefined => {
  if (named) return named
  const most = Math.max(...sample.numbers)
  // a log that starts at idle shows only zeros: those say nothing
  return most <= 1.05 && most > 0.2 ? 'fraction' : undefined
}
/** Channels whose numbers or words tell more than the unit's spelling; undefined: as the spelling says. */
const unitGuesses: Partial<Record<ChannelId, (clues: UnitClues) => string | undefined>> = {
  timeS: guessTime,
  mapKpa: guessPressure,
  lambda: guessMixture,
  lambdaTarget: guessMixture,
  correctionPct: guessCorrection,
  learnedPct: guessCorrection,
  enrichmentPct: guessCorrection,
  throttlePct: guessOpening,
  idleValvePct: guessOpening,
  rpm: ({ named, middle }) => named ?? (middle > 0 && middle < 12 ? 'krpm' : undefined),
}

/** The unit a column is most likely in: what the header says, checked against what the numbers can be. */
function guessUnit(channel: ChannelId, name: string, unitText: string, sample: ColumnSample): string {
  const unit = foldUnit(unitText)
  const units = sourceUnits[channel]
  const named = unit === '' ? undefined : units.find((u) => u.spellings.includes(unit))?.id
  const clues = { name, unit, named, sample, middle: median(sample.numbers) }
  return unitGuesses[channel]?.(clues) ?? named ?? units[0].id
}
const isVacuumUnit = (unit: string): boolean => /vac/.test(unit)

/**
 * Finds which column holds which channel by name (several languages) and settles its unit by name and by the numbers.
 * Each column serves one channel and each channel takes one column, best score first. What is not recognised is left out:
 * a person points at it in the import step.
 */
export function proposeMapping(dialect: LogDialect, samples: ColumnSample[]): LogMapping {
  const folded = dialect.names.map(fold)
  const candidates: { channel: ChannelId; column: number; score: number }[] = []
  for (const channel of Object.keys(names) as ChannelId[])
    folded.forEach((name, column) => {
      const score = nameScore(channel, name)
      const usable = samples[column] && (samples[column].numbers.length > 0 || samples[column].clock)
      if (score > 0) candidates.push({ channel, column, score: score + (usable ? 1 : 0) - column * 1e-3 })
    })
  candidates.sort((a, b) => b.score - a.score)
  const channels: LogMapping['channels'] = {}
  const taken = new Set<number>()
  for (const { channel, column } of candidates) {
    if (channels[channel] || taken.has(column)) continue
    taken.add(column)
    channels[channel] = {
      column,
      unit: guessUnit(channel, folded[column], dialect.units[column] ?? '', samples[column] ?? { numbers: [], clock: false }),
    }
  }
  if (!channels.timeS) {
    const clock = samples.findIndex((sample, column) => sample.clock && !taken.has(column))
    if (clock >= 0) channels.timeS = { column: clock, unit: 'clock' }
  }
  return { channels, stoichAfr: 14.7, barometerKpa: 101.325 }
}

/** @throws CoreError COLUMN_MISSING or OUT_OF_RANGE when a mapping does not fit the file it is for */
export function checkMapping(mapping: LogMapping, columns: number): void {
  if (!mapping.channels.timeS) throw new CoreError('LOG_NO_TIME', 'mapping.channels.timeS')
  for (const [channel, source] of Object.entries(mapping.channels) as [ChannelId, { column: number; unit: string }][]) {
    if (source.column >= columns)
      throw new CoreError('OUT_OF_RANGE', `mapping.channels.${channel}.column`, `the file has ${columns} columns, counted from 0`)
    if (!findUnit(channel, source.unit))
      throw new CoreError(
        'OUT_OF_RANGE',
        `mapping.channels.${channel}.unit`,
        `${channelSpecs[channel].label} can be in ${sourceUnits[channel].map((u) => u.id).join(', ')}`,
      )
  }
}
