import Papa from 'papaparse'
import { CoreError } from '../kernel/index.ts'
import { type ChannelId, channelSpecs, findUnit, isGauge, isVacuum } from './channels.ts'
import { checkMapping, type LogMapping, proposeMapping, type Unsure } from './mapping.ts'
import { ByteRow, type RowSource, TextRow } from './row-source.ts'
import { checkQuotes, type LogDialect, parseClockS, sniffDialect, splitRows } from './sniff.ts'
import type { ColumnSample } from './unit-guess.ts'

type RejectReason = 'empty' | 'not-a-number' | 'out-of-range' | 'backward' | 'repeat' | 'clock-reset' | 'gap' | 'short-row'
export interface Rejection {
  channel: ChannelId
  reason: RejectReason
  count: number
}

/** A log in columns. Time is strictly rising seconds from its first row; a cell that could not be read is NaN and is counted in `rejected`. */
export interface LogData {
  rows: number
  timeS: Float64Array
  channels: Partial<Record<Exclude<ChannelId, 'timeS'>, Float32Array>>
  rejected: Rejection[]
}

const MIN_ROWS = 10
const DAY_S = 86400
const MAX_BACKWARD_SHARE = 0.2
const RESET_BACK_S = 1
const RESET_GAP_S = 10

export type RowFate = 'keep' | 'repeat' | 'backward' | 'clock-reset' | 'midnight'
/** What becomes of a row by its clock. Loggers jitter a sample back now and then, restart from zero, or pass midnight; each is a different thing. */
export function rowFate(lastS: number, nextS: number): RowFate {
  if (nextS > lastS) return 'keep'
  if (nextS === lastS) return 'repeat'
  const backS = lastS - nextS
  if (backS > DAY_S * 0.9 && backS < DAY_S * 1.1) return 'midnight'
  return backS > RESET_BACK_S ? 'clock-reset' : 'backward'
}

const BLANK = new Set(['', '-', '--', '---', '----', 'n/a', 'na', 'nan', 'null', '?', '#n/a', '*', 'none', '...'])

function joined(a: Uint8Array, b: Uint8Array): Uint8Array {
  if (a.length === 0) return b
  const both = new Uint8Array(a.length + b.length)
  both.set(a)
  both.set(b, a.length)
  return both
}

const isFlag = (channel: ChannelId): boolean => channel === 'fuelCut' || channel === 'marker'

interface Column {
  channel: ChannelId
  index: number
  scale: number
  offset: number
  phi: boolean
  min: number
  max: number
  data: Float32Array
  empty: number
  notNumber: number
  outOfRange: number
}

function buildColumns(mapping: LogMapping): Column[] {
  const columns: Column[] = []
  for (const [channel, source] of Object.entries(mapping.channels) as [ChannelId, { column: number; unit: string }][]) {
    if (channel === 'timeS') continue
    const unit = findUnit(channel, source.unit)!
    const mixture = channel === 'lambda' || channel === 'lambda2' || channel === 'lambdaTarget'
    const offset = (unit.offset ?? 0) + (isGauge(unit.id) || isVacuum(unit.id) ? mapping.barometerKpa : 0)
    columns.push({
      channel,
      index: source.column,
      scale: mixture && unit.id === 'AFR' ? 1 / mapping.stoichAfr : unit.scale,
      offset,
      phi: mixture && unit.id === 'phi',
      min: channelSpecs[channel].min,
      max: channelSpecs[channel].max,
      data: new Float32Array(0),
      empty: 0,
      notNumber: 0,
      outOfRange: 0,
    })
  }
  return columns
}

const QUOTE = 34
const NEWLINE = 10

/** Reads a log row by row from its bytes in pieces; give it every piece in order, then call `finish`. */
export class LogReader {
  private readonly columns: Column[]
  private readonly timeIndex: number
  private readonly timeScale: number
  private readonly clock: boolean
  private readonly textRow: TextRow
  private readonly byteRow: ByteRow
  private readonly decoder: InstanceType<typeof TextDecoder> | null
  private timeS = new Float64Array(0)
  private rows = 0
  private lines = 0
  private carry: Uint8Array = new Uint8Array(0)
  private lastRawS = -Infinity
  private shiftS = 0
  private readonly timeRejects = new Map<RejectReason, number>()
  private seen = 0

  /**
   * @param further the bytes begin with a row further on in the file, not with its head
   * @throws CoreError LOG_NO_TIME, OUT_OF_RANGE when the mapping does not fit
   */
  constructor(
    private readonly dialect: LogDialect,
    mapping: LogMapping,
    further = false,
  ) {
    if (further) this.lines = dialect.firstDataRow
    checkMapping(mapping, dialect.names.length)
    this.columns = buildColumns(mapping)
    const commaDecimal = dialect.decimalMark === ','
    this.textRow = new TextRow(commaDecimal)
    this.byteRow = new ByteRow(dialect.delimiter, commaDecimal, dialect.names.length + 1)
    this.decoder = dialect.encoding === 'utf-8' ? null : new TextDecoder(dialect.encoding)
    const time = mapping.channels.timeS!
    this.timeIndex = time.column
    this.clock = time.unit === 'clock'
    this.timeScale = findUnit('timeS', time.unit)!.scale
  }

  get rowsRead(): number {
    return this.rows
  }

  /** @throws CoreError LOG_QUOTE for a quotation mark that is not closed on its line */
  push(piece: Uint8Array): void {
    const bytes = this.decoder ? new TextEncoder().encode(this.decoder.decode(piece, { stream: true })) : piece
    const cut = bytes.lastIndexOf(NEWLINE)
    if (cut < 0) {
      this.carry = joined(this.carry, bytes)
      return
    }
    this.take(joined(this.carry, bytes.subarray(0, cut + 1)))
    this.carry = bytes.slice(cut + 1)
  }

  private take(bytes: Uint8Array): void {
    if (bytes.includes(QUOTE)) return this.takeQuoted(new TextDecoder('utf-8').decode(bytes))
    for (let at = 0; at < bytes.length;) {
      at = this.byteRow.read(bytes, at)
      if (this.lines++ < this.dialect.firstDataRow || this.byteRow.empty) continue
      this.takeRow(this.byteRow)
    }
  }

  private takeQuoted(text: string): void {
    const lines = text.endsWith('\n') ? text.slice(0, -1) : text
    for (const row of Papa.parse<string[]>(lines, { delimiter: this.dialect.delimiter }).data) {
      if (this.lines++ < this.dialect.firstDataRow || (row.length === 1 && row[0] === '')) continue
      checkQuotes(row, this.lines, this.dialect.names)
      this.takeRow(this.textRow.set(row))
    }
  }

  private rejectTime(reason: RejectReason): void {
    this.timeRejects.set(reason, (this.timeRejects.get(reason) ?? 0) + 1)
  }

  private takeRow(row: RowSource): void {
    this.seen++
    const rawS = this.clock ? parseClockS(row.text(this.timeIndex)) : row.number(this.timeIndex) * this.timeScale
    if (!Number.isFinite(rawS)) {
      const blank = BLANK.has(row.text(this.timeIndex).toLowerCase())
      return this.rejectTime(row.cells < 2 ? 'short-row' : blank ? 'empty' : 'not-a-number')
    }
    const fate = rowFate(this.lastRawS, rawS)
    if (fate === 'repeat' || fate === 'backward') return this.rejectTime(fate)
    if (fate === 'midnight') this.shiftS += DAY_S
    if (fate === 'clock-reset') {
      this.rejectTime('clock-reset')
      this.shiftS += this.lastRawS - rawS + RESET_GAP_S
    }
    this.lastRawS = rawS
    if (this.rows === this.timeS.length) this.grow()
    const at = this.rows++
    this.timeS[at] = rawS + this.shiftS
    for (let c = 0; c < this.columns.length; c++) this.columns[c].data[at] = this.readCell(this.columns[c], row)
  }

  private readCell(column: Column, row: RowSource): number {
    let value = row.number(column.index)
    if (value !== value) {
      const text = row.text(column.index).toLowerCase()
      if (BLANK.has(text)) column.empty++
      else if (isFlag(column.channel) && /^(on|true|yes|ja|oui|si|sim|tak|active|aktiv|x)$/.test(text)) return 1
      else if (isFlag(column.channel) && /^(off|false|no|nein|non|nee|nej|nao|nie|inactive|inaktiv)$/.test(text)) return 0
      else column.notNumber++
      return NaN
    }
    value = column.phi ? 1 / value : value * column.scale + column.offset
    if (isFlag(column.channel) && value > 1) value = 1
    if (!(value >= column.min && value <= column.max)) {
      column.outOfRange++
      return NaN
    }
    return value
  }

  private grow(): void {
    const size = Math.max(4096, this.timeS.length * 2)
    const time = new Float64Array(size)
    time.set(this.timeS)
    this.timeS = time
    for (const column of this.columns) {
      const data = new Float32Array(size)
      data.set(column.data)
      column.data = data
    }
  }

  /** What was read so far, as it stands. @throws CoreError LOG_QUOTE */
  part(): LogPart {
    if (this.carry.length > 0) this.take(this.carry)
    this.carry = new Uint8Array(0)
    return {
      timeS: this.timeS.subarray(0, this.rows),
      columns: this.columns.map(({ channel, index, data, empty, notNumber, outOfRange }) => ({
        channel,
        index,
        data: data.subarray(0, this.rows),
        empty,
        notNumber,
        outOfRange,
      })),
      timeRejects: [...this.timeRejects],
      seen: this.seen,
      lastRawS: this.lastRawS,
      shiftS: this.shiftS,
    }
  }

  /** @throws CoreError LOG_TOO_SHORT, LOG_BACKWARD, LOG_ALL_BAD, LOG_QUOTE */
  finish(): LogData {
    return joinParts(this.dialect, this.timeIndex, [this.part()])
  }
}

/** Rows of a stretch of a file, read by themselves; plain data, so that it can cross from a worker. */
export interface LogPart {
  /** the clock of the file, with its own resets bridged, s */
  timeS: Float64Array
  columns: Pick<Column, 'channel' | 'index' | 'data' | 'empty' | 'notNumber' | 'outOfRange'>[]
  timeRejects: [RejectReason, number][]
  seen: number
  lastRawS: number
  shiftS: number
}

/**
 * A log of its stretches in their order, as if it had been read in one.
 * @param timeIndex the column of time
 * @throws CoreError LOG_TOO_SHORT, LOG_BACKWARD, LOG_ALL_BAD
 */
export function joinParts(dialect: LogDialect, timeIndex: number, parts: readonly LogPart[]): LogData {
  const rejects = new Map<RejectReason, number>()
  const reject = (reason: RejectReason, count = 1) => void rejects.set(reason, (rejects.get(reason) ?? 0) + count)
  const seen = parts.reduce((sum, p) => sum + p.seen, 0)
  const kept: { part: LogPart; from: number; shiftS: number }[] = []
  let [lastRawS, shiftS, rows] = [-Infinity, 0, 0]
  for (const part of parts) {
    for (const [reason, count] of part.timeRejects) reject(reason, count)
    let from = 0
    for (; from < part.timeS.length; from++) {
      const rawS = part.timeS[from]
      const fate = rowFate(lastRawS, rawS)
      if (fate === 'repeat' || fate === 'backward') {
        reject(fate)
        continue
      }
      if (fate === 'midnight') shiftS += DAY_S
      if (fate === 'clock-reset') {
        reject('clock-reset')
        shiftS += lastRawS - rawS + RESET_GAP_S
      }
      break
    }
    if (from === part.timeS.length) continue
    kept.push({ part, from, shiftS })
    rows += part.timeS.length - from
    shiftS += part.shiftS
    lastRawS = part.lastRawS
  }
  const bad = (reason: RejectReason) => rejects.get(reason) ?? 0
  const backward = bad('backward') + bad('clock-reset')
  if (seen > 1 && backward > seen * MAX_BACKWARD_SHARE)
    throw new CoreError(
      'LOG_BACKWARD',
      'time',
      `${backward} of ${seen} rows are earlier than the row before; sort the file by time or pick another time column`,
    )
  if (rows === 0 && seen > 0 && bad('not-a-number') + bad('empty') === seen) throw new CoreError('LOG_ALL_BAD', dialect.names[timeIndex])
  if (rows < MIN_ROWS)
    throw new CoreError('LOG_TOO_SHORT', 'file', `${rows} usable ${rows === 1 ? 'row' : 'rows'}, at least ${MIN_ROWS} are needed`)
  const timeS = new Float64Array(rows)
  let at = 0
  const firstS = kept[0].part.timeS[kept[0].from] + kept[0].shiftS
  for (const { part, from, shiftS: shift } of kept)
    for (let i = from; i < part.timeS.length; i++) timeS[at++] = part.timeS[i] + shift - firstS
  const rejected: Rejection[] = [...rejects].map(([reason, count]) => ({ channel: 'timeS', reason, count }))
  const gaps = countGaps(timeS)
  if (gaps > 0) rejected.push({ channel: 'timeS', reason: 'gap', count: gaps })
  const channels: LogData['channels'] = {}
  let readable = 0
  parts[0].columns.forEach(({ channel }, c) => {
    const data = new Float32Array(rows)
    let to = 0
    for (const { part, from } of kept) {
      data.set(part.columns[c].data.subarray(from), to)
      to += part.timeS.length - from
    }
    channels[channel as Exclude<ChannelId, 'timeS'>] = data
    const count = (what: 'empty' | 'notNumber' | 'outOfRange') => parts.reduce((sum, p) => sum + p.columns[c][what], 0)
    const [empty, notNumber, outOfRange] = [count('empty'), count('notNumber'), count('outOfRange')]
    if (empty + notNumber + outOfRange < rows) readable++
    if (empty) rejected.push({ channel, reason: 'empty', count: empty })
    if (notNumber) rejected.push({ channel, reason: 'not-a-number', count: notNumber })
    if (outOfRange) rejected.push({ channel, reason: 'out-of-range', count: outOfRange })
  })
  const { columns } = parts[0]
  if (columns.length > 0 && readable === 0) throw new CoreError('LOG_ALL_BAD', dialect.names[columns[0].index])
  return { rows, timeS, channels, rejected }
}

/** A gap is a step longer than five usual steps; loggers drop a sample or two when they are busy. */
function countGaps(timeS: Float64Array): number {
  const usual = usualStepS(timeS)
  let gaps = 0
  for (let i = 1; i < timeS.length; i++) if (timeS[i] - timeS[i - 1] > 5 * usual) gaps++
  return gaps
}

/** The usual time between rows: median over at most 2,000 steps spread over the log. */
export function usualStepS(timeS: Float64Array): number {
  if (timeS.length < 2) return NaN
  const stride = Math.max(1, Math.floor(timeS.length / 2000))
  const steps: number[] = []
  for (let i = 1; i < timeS.length; i += stride) steps.push(timeS[i] - timeS[i - 1])
  steps.sort((a, b) => a - b)
  return steps[steps.length >> 1]
}

export interface LogPreview {
  dialect: LogDialect
  mapping: LogMapping
  /** what a person has to say before it is read by that mapping */
  unsure: Unsure[]
  rows: string[][]
}

const SAMPLED_ROWS = 400
const spreadOut = (rows: string[][]): string[][] => {
  const every = Math.ceil(rows.length / SAMPLED_ROWS)
  return every ? rows.filter((_, i) => i % every === 0) : []
}
/**
 * First look at a file: how it is written, a proposed mapping with what is not sure of it, and some rows for a person to confirm it by.
 * @param head the first 64 kB or more
 * @param later pieces from further on in the file: a log begins cold and at idle, and its units show when it is driven
 * @param known the barometer where the build tells it, kPa
 */
export function previewLog(head: Uint8Array, later: readonly Uint8Array[] = [], known: { barometerKpa?: number } = {}): LogPreview {
  const dialect = sniffDialect(head)
  const { delimiter, firstDataRow } = dialect
  const text = new TextDecoder(dialect.encoding).decode(head.subarray(0, 262144)).replace(/^\uFEFF/, '')
  const whole = splitRows(text.slice(0, text.lastIndexOf('\n') + 1), delimiter, 0).slice(firstDataRow)
  // the first rows one after the other, since time is told by its steps; the rest spread out
  const rows = [...whole.slice(0, SAMPLED_ROWS), ...spreadOut(whole.slice(SAMPLED_ROWS))]
  const further = later.flatMap((piece) => {
    const whole = new TextDecoder(dialect.encoding).decode(piece)
    // its first and last lines are cut
    return splitRows(whole.slice(whole.indexOf('\n') + 1, whole.lastIndexOf('\n')), delimiter, SAMPLED_ROWS)
  })
  const comma = dialect.decimalMark === ','
  const samples: ColumnSample[] = dialect.names.map((_, column) => {
    const cells = [...rows, ...further].map((row) => (row[column] ?? '').trim())
    const filled = cells.filter((cell) => !BLANK.has(cell.toLowerCase()))
    return {
      values: cells.map((cell) => (cell === '' ? NaN : Number(comma ? cell.replace(',', '.') : cell))),
      clock: filled.length > 0 && filled.filter((cell) => !Number.isNaN(parseClockS(cell))).length > filled.length * 0.8,
    }
  })
  const { mapping, unsure } = proposeMapping(dialect, samples, dialect.preamble, known)
  return { dialect, mapping, unsure, rows: rows.filter((row) => row.length > 1).slice(0, 12) }
}

export const PIECE_BYTES = 1 << 15
/** Where a file is looked into besides its head: these shares of its length. */
export const LOOKED_INTO = [0.35, 0.6, 0.85]
const piecesOf = (bytes: Uint8Array): Uint8Array[] =>
  bytes.length > 8 * PIECE_BYTES
    ? LOOKED_INTO.map((share) => bytes.subarray(Math.floor(share * bytes.length), Math.floor(share * bytes.length) + PIECE_BYTES))
    : []

/** Reads a whole log that is in memory. Streams use `LogReader`. */
export function readLog(
  bytes: Uint8Array,
  given?: { dialect?: LogDialect; mapping?: LogMapping },
): LogData & { dialect: LogDialect; mapping: LogMapping; unsure: Unsure[] } {
  const preview = given?.dialect && given.mapping ? null : previewLog(bytes, piecesOf(bytes))
  const dialect = given?.dialect ?? preview!.dialect
  const mapping = given?.mapping ?? preview!.mapping
  const reader = new LogReader(dialect, mapping)
  const PIECE = 1 << 20
  for (let at = 0; at < bytes.length; at += PIECE) reader.push(bytes.subarray(at, at + PIECE))
  return { ...reader.finish(), dialect, mapping, unsure: preview?.unsure ?? [] }
}
