import { z } from 'zod'
import { CoreError } from '../kernel/index.ts'
import { ChannelId, channelSpecs, findUnit, isGauge, isVacuum, sourceUnits } from './channels.ts'
import { fold, namedChannels, nameScore } from './names.ts'
import { readPreamble } from './preamble.ts'
import type { LogDialect } from './sniff.ts'
import { type ColumnSample, guessUnit, namedUnit, type UnitGuess } from './unit-guess.ts'

/** Which column holds which channel, in which unit; confirmed by a person and remembered by the header's fingerprint. */
export const LogMapping = z.strictObject({
  channels: z.partialRecord(ChannelId, z.strictObject({ column: z.int().min(0).max(999), unit: z.string().max(40) })),
  stoichAfr: z.number().min(5).max(20).default(14.7).describe("stoichiometric ratio the display works with (not the tank's)"),
  barometerKpa: z.number().min(50).max(115).default(101.325).describe('for manifold pressure logged as gauge or vacuum, kPa'),
  loopOpen: z.boolean().optional().describe('said of a log without a correction: nothing was corrected while it ran'),
})
export type LogMapping = z.infer<typeof LogMapping>

/** Something that a person has to say before a file can be read for what it is. */
export const Unsure = z.object({ channel: ChannelId, because: z.string() })
export type Unsure = z.infer<typeof Unsure>
export interface Proposal {
  mapping: LogMapping
  unsure: Unsure[]
}

const USUAL_STOICH_AFR = 14.7
const USUAL_BAROMETER_KPA = 101.325
/** the solve wants these */
const NEEDED = ['timeS', 'rpm', 'mapKpa', 'lambda'] as const

interface Named {
  channel: ChannelId
  column: number
  score: number
  /** folded name without its unit */
  name: string
  written: string
}
/** Every way a header can be a channel: the whole name, or a name with its unit behind it ("MAP_kPa", "coolant deg F"). */
function readings(dialect: LogDialect, column: number): { name: string; written: string }[] {
  const name = fold(dialect.names[column])
  const written = dialect.units[column] ?? ''
  const list = [{ name, written }]
  if (written !== '') return list
  const words = dialect.names[column].split(/[\s_]+/)
  for (let tail = 1; tail <= Math.min(3, words.length - 1); tail++)
    list.push({ name: fold(words.slice(0, -tail).join(' ')), written: words.slice(-tail).join(' ') })
  return list
}
function candidates(dialect: LogDialect, samples: readonly ColumnSample[]): Named[] {
  const list: Named[] = []
  for (const channel of namedChannels)
    dialect.names.forEach((_, column) => {
      const usable = samples[column] && (samples[column].clock || samples[column].values.some(Number.isFinite))
      let best: Named | null = null
      for (const { name, written } of readings(dialect, column)) {
        // what was split off a name has to be a unit of that channel
        const split = written !== '' && written !== (dialect.units[column] ?? '')
        const kind = split && channel === 'mapKpa' && /^((in|mm)?hg|k?pa|m?bar|psi)?[ .]*(vac(uum)?|gauge|abs|g|a)?$/i.test(written)
        if (split && !kind && namedUnit(channel, written) === undefined) continue
        const score = nameScore(channel, name)
        // of two readings that fit alike, the one that knows the unit
        if (score > 0 && (!best || score > best.score || (split && score === best.score)))
          best = { channel, column, score, name: kind ? `${name} ${fold(written)}` : name, written }
      }
      if (best) list.push({ ...best, score: best.score + (usable ? 1 : 0) - column * 1e-3 })
    })
  return list.sort((a, b) => b.score - a.score)
}

/** How two columns go together, -1 to 1; 0 where too little is known. */
function correlation(a: readonly number[] | undefined, b: readonly number[] | undefined): number {
  if (!a || !b) return 0
  const both = a.map((v, i) => [v, b[i]] as const).filter(([x, y]) => Number.isFinite(x) && Number.isFinite(y))
  if (both.length < 60) return 0
  const mean = (k: 0 | 1) => both.reduce((sum, p) => sum + p[k], 0) / both.length
  const [mx, my] = [mean(0), mean(1)]
  let [xx, yy, xy] = [0, 0, 0]
  for (const [x, y] of both) {
    xx += (x - mx) ** 2
    yy += (y - my) ** 2
    xy += (x - mx) * (y - my)
  }
  const r = xx > 0 && yy > 0 ? xy / Math.sqrt(xx * yy) : 0
  return Math.abs(r) < 0.3 ? 0 : r
}

/**
 * Finds which column holds which channel by name (several languages, the trade's short forms) and settles its unit by what the header says and by
 * what the numbers of a driven engine can be. Each column serves one channel and each channel takes one column, best score first.
 * @param preamble lines above the names
 * @param known the barometer where the build tells it, kPa
 * @returns the mapping, and what a person has to look at before anything is read by it
 */
export function proposeMapping(
  dialect: LogDialect,
  samples: readonly ColumnSample[],
  preamble: readonly string[] = [],
  known: { barometerKpa?: number } = {},
): Proposal {
  const channels: LogMapping['channels'] = {}
  const taken = new Map<number, ChannelId>()
  const found = new Map<ChannelId, Named>()
  const unsure: Unsure[] = []
  const ranked = candidates(dialect, samples)
  for (const named of ranked) {
    if (found.has(named.channel) || taken.has(named.column)) continue
    found.set(named.channel, named)
    taken.set(named.column, named.channel)
  }
  const told = readPreamble(preamble)
  const stoichAfr = told.stoichAfr ?? USUAL_STOICH_AFR
  const barometerKpa = told.barometerKpa ?? barometerOf(found.get('barometerKpa'), samples) ?? known.barometerKpa ?? USUAL_BAROMETER_KPA
  const valuesOf = (channel: ChannelId) => samples[found.get(channel)?.column ?? -1]?.values
  const order = [...found.values()].sort((a, b) => Number(b.channel === 'coolantC') - Number(a.channel === 'coolantC'))
  for (const { channel, column, name, written } of order) {
    const guess: UnitGuess = guessUnit(channel, {
      name,
      written,
      sample: samples[column] ?? { values: [], clock: false },
      barometerKpa,
      stoichAfr,
      coolantUnit: channels.coolantC?.unit,
      withLoad: channel === 'mapKpa' ? correlation(valuesOf('mapKpa'), valuesOf('pulseMs') ?? valuesOf('throttlePct')) : 0,
    })
    channels[channel] = { column, unit: guess.unit }
    if (guess.unsure) unsure.push({ channel, because: `“${dialect.names[column]}”: ${guess.unsure}` })
    const twin = ranked.find(
      (r) =>
        r.channel === channel &&
        r.column !== column &&
        Math.round(r.score) === Math.round(found.get(channel)!.score) &&
        !taken.has(r.column),
    )
    if (twin && (NEEDED as readonly string[]).includes(channel))
      unsure.push({ channel, because: `“${dialect.names[column]}” and “${dialect.names[twin.column]}” could both be it` })
  }
  findTime(channels, samples, taken, unsure, dialect)
  for (const channel of NEEDED)
    if (!channels[channel]) unsure.push({ channel, because: `no column is called ${channelSpecs[channel].label} in a way known here` })
  return { mapping: { channels, stoichAfr, barometerKpa }, unsure }
}

/** A clock under another name, or a column that does nothing but rise. */
function findTime(
  channels: LogMapping['channels'],
  samples: readonly ColumnSample[],
  taken: ReadonlyMap<number, ChannelId>,
  unsure: Unsure[],
  dialect: LogDialect,
): void {
  if (channels.timeS) return
  const clock = samples.findIndex((sample, column) => sample.clock && !taken.has(column))
  if (clock >= 0) {
    channels.timeS = { column: clock, unit: 'clock' }
    return
  }
  const rising = samples.findIndex(({ values }, column) => {
    const known = values.filter(Number.isFinite)
    return !taken.has(column) && known.length > 10 && known.every((v, i) => i === 0 || v > known[i - 1])
  })
  if (rising < 0) return
  channels.timeS = {
    column: rising,
    unit: guessUnit('timeS', {
      name: '',
      written: dialect.units[rising] ?? '',
      sample: samples[rising],
      barometerKpa: 0,
      stoichAfr: 0,
      withLoad: 0,
    }).unit,
  }
  unsure.push({ channel: 'timeS', because: `“${dialect.names[rising]}” does nothing but rise: it may be time` })
}

/** The barometer of a column that logs it. */
function barometerOf(named: Named | undefined, samples: readonly ColumnSample[]): number | undefined {
  if (!named) return undefined
  const sample = samples[named.column]
  const { unit, unsure } = guessUnit('barometerKpa', {
    name: named.name,
    written: named.written,
    sample,
    barometerKpa: 0,
    stoichAfr: 0,
    withLoad: 0,
  })
  const sorted = sample.values.filter(Number.isFinite).sort((a, b) => a - b)
  return unsure || !sorted.length ? undefined : sorted[sorted.length >> 1] * findUnit('barometerKpa', unit)!.scale
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
/** Whether a mapping counts pressure from the air outside, so that its barometer matters. */
export const countsFromOutside = ({ channels }: LogMapping): boolean =>
  !!channels.mapKpa && (isGauge(channels.mapKpa.unit) || isVacuum(channels.mapKpa.unit))
