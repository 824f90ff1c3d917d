import Papa from 'papaparse'
import { CoreError } from '../kernel/index.ts'

type Encoding = 'utf-8' | 'utf-16le' | 'utf-16be' | 'windows-1252'

/** How a log file is written: everything needed to read its rows. */
export interface LogDialect {
  encoding: Encoding
  delimiter: string
  decimalMark: '.' | ','
  /** 0-based line of the column names; lines above it are preamble */
  headerRow: number
  /** 0-based line of units below the header, or null when units stand in the names or nowhere */
  unitsRow: number | null
  firstDataRow: number
  names: string[]
  units: string[]
  /** lines above the names, as they stand in the file */
  preamble: string[]
}

const DELIMITERS = [',', ';', '\t', '|', ' ']
const HEAD_LINES = 200
const NUMBER = /^[+-]?(\d+([.,]\d*)?|[.,]\d+)(e[+-]?\d+)?$/i
const DATE = String.raw`(?:\d{4}[-/.]\d{1,2}[-/.]\d{1,2}|\d{1,2}[-/.]\d{1,2}[-/.]\d{2,4})`
const CLOCK = new RegExp(String.raw`^(?:${DATE}[T ,]+)?\d{1,3}:\d\d(?::\d\d)?(?:[.,:]\d+)?(?: ?[ap]\.?m\.?)?(?:Z|[+-]\d\d:?\d\d)?$`, 'i')

const isDatum = (cell: string): boolean => NUMBER.test(cell) || CLOCK.test(cell)

/** @throws CoreError LOG_EMPTY, LOG_BINARY */
function detectEncoding(head: Uint8Array): Encoding {
  if (head.length === 0) throw new CoreError('LOG_EMPTY', 'file')
  if (head[0] === 0xff && head[1] === 0xfe) return 'utf-16le'
  if (head[0] === 0xfe && head[1] === 0xff) return 'utf-16be'
  const sample = head.subarray(0, 65536)
  let nulls = 0
  let control = 0
  for (const byte of sample) {
    if (byte === 0) nulls++
    else if (byte < 9 || (byte > 13 && byte < 32)) control++
  }
  if (nulls > 0 || control > sample.length / 50) throw new CoreError('LOG_BINARY', 'file')
  // a cut through a character at the sample's end must not count against UTF-8
  for (let cut = 0; cut < 4; cut++) {
    try {
      new TextDecoder('utf-8', { fatal: true }).decode(sample.subarray(0, sample.length - cut))
      return 'utf-8'
    } catch {
      continue
    }
  }
  return 'windows-1252'
}

/** "Engine speed (rpm)" -> name and unit; also [rpm], {rpm} and a trailing ", rpm". */
function splitNameAndUnit(cell: string): { name: string; unit: string } {
  const match = /^(.*?)\s*[([{]([^)\]}]*)[)\]}]\s*$/.exec(cell)
  if (match && match[1]) return { name: match[1].trim(), unit: match[2].trim() }
  return { name: cell.trim(), unit: '' }
}

/** Cells of a text, line by line, the first so many or all for 0. Columns that stand apart by blanks have as many blanks as look well. */
export function splitRows(text: string, delimiter: string, preview: number): string[][] {
  if (delimiter !== ' ') return Papa.parse<string[]>(text, { delimiter, preview }).data.map((row) => row.map((cell) => cell.trim()))
  return text.split(/\r?\n/, preview || undefined).map((line) => line.trim().split(/\s+/))
}
/** Names may hold blanks of their own where the columns stand further apart. */
const namesByBlanks = (line: string, width: number): string[] | null => {
  const wide = line.trim().split(/\s{2,}|\t/)
  return wide.length === width ? wide : null
}

/**
 * A quotation mark without its partner makes one cell of the lines after it.
 * @throws CoreError LOG_QUOTE when a cell of the row goes on over its line
 */
export function checkQuotes(row: string[], line: number, names: string[]): void {
  const swallowed = row.findIndex((cell) => cell.includes('\n'))
  if (swallowed >= 0)
    throw new CoreError(
      'LOG_QUOTE',
      names[swallowed] ?? 'file',
      `line ${line}: a cell opens with a quotation mark that is not closed on its line; take the mark out, or export again`,
    )
}

const share = (row: string[], test: (cell: string) => boolean): number => {
  const filled = row.filter((cell) => cell !== '')
  return filled.length === 0 ? 0 : filled.filter(test).length / filled.length
}

function modalWidth(rows: string[][]): { width: number; count: number } {
  const counts = new Map<number, number>()
  for (const row of rows) counts.set(row.length, (counts.get(row.length) ?? 0) + 1)
  let best = { width: 0, count: 0 }
  for (const [width, count] of counts) if (width > 1 && count > best.count) best = { width, count }
  return best
}

/** Puts names with blanks inside back together, in the lines above the first row of numbers. */
function namesApart(text: string, rows: string[][]): void {
  const { width } = modalWidth(rows)
  const lines = text.split(/\r?\n/, rows.length)
  rows.forEach((row, i) => {
    const names = row.length > width && share(row, isDatum) < 0.3 ? namesByBlanks(lines[i], width) : null
    if (names) rows[i] = names
  })
}

/**
 * Finds out how a log is written from its first bytes.
 * @param head the first 64 kB or more of the file
 * @throws CoreError LOG_EMPTY, LOG_BINARY, LOG_NO_HEADER, LOG_TOO_SHORT, LOG_QUOTE
 */
export function sniffDialect(head: Uint8Array): LogDialect {
  const encoding = detectEncoding(head)
  const text = new TextDecoder(encoding).decode(head.subarray(0, 262144)).replace(/^\uFEFF/, '')
  if (text.trim() === '') throw new CoreError('LOG_EMPTY', 'file')
  // a last line cut by the end of the sample would look like a short row
  const whole = head.length > 262144 ? text.slice(0, text.lastIndexOf('\n') + 1) : text

  let best: { delimiter: string; rows: string[][]; width: number; score: number } | null = null
  for (const delimiter of DELIMITERS) {
    const rows = splitRows(whole, delimiter, HEAD_LINES)
    if (delimiter === ' ') namesApart(whole, rows)
    const { width, count } = modalWidth(rows)
    if (width < 2) continue
    const data = rows.filter((row) => row.length === width)
    const numeric = data.reduce((sum, row) => sum + share(row, isDatum), 0) / data.length
    // blanks part words too: they are columns only where nothing else is
    const score = (count / rows.length) * numeric * Math.log2(1 + width) * (delimiter === ' ' ? 0.6 : 1)
    if (!best || score > best.score) best = { delimiter, rows, width, score }
  }
  if (!best) throw new CoreError('LOG_NO_HEADER', 'file')
  const { delimiter, rows, width } = best

  const fits = (row: string[]) => row.length >= width - 1 && row.length <= width + 1
  const holdsData = (row: string[] | undefined, least: number) =>
    row === undefined || row.join('') === '' || (fits(row) && share(row, isDatum) >= least)
  // most cells are numbers; or, in a log full of broken cells, some are in three rows running
  const startsData = (index: number) =>
    rows[index].join('') !== '' &&
    ((holdsData(rows[index], 0.5) && holdsData(rows[index + 1], 0.5)) || [0, 1, 2].every((k) => holdsData(rows[index + k], 0.01)))
  const firstDataRow = rows.findIndex((_, index) => startsData(index))
  const wordy = rows
    .map((row, index) => ({ row, index }))
    .filter(
      ({ row, index }) =>
        index < (firstDataRow < 0 ? Math.min(rows.length, 60) : firstDataRow) &&
        row.length >= width - 1 &&
        share(row, isDatum) < 0.3 &&
        row.join('') !== '',
    )
  if (firstDataRow < 0) {
    const names = wordy.at(-1)
    if (names) rows.forEach((row, index) => index > names.index && checkQuotes(row, index + 1, names.row))
    throw new CoreError(wordy.length ? 'LOG_TOO_SHORT' : 'LOG_NO_HEADER', 'file', 'there are column names but no row of numbers')
  }
  if (wordy.length === 0) throw new CoreError('LOG_NO_HEADER', 'file')
  const adjacent = wordy.filter(({ index }) => index >= firstDataRow - 3)
  const header = adjacent[0] ?? wordy[wordy.length - 1]
  const unitsLine = adjacent.find(({ index }) => index > header.index) ?? null

  const data = rows.slice(firstDataRow).flat()
  const commas = data.filter((cell) => /^[+-]?\d+,\d+$/.test(cell)).length
  const points = data.filter((cell) => /^[+-]?\d*\.\d+$/.test(cell)).length
  const split = header.row.map(splitNameAndUnit)
  return {
    encoding,
    delimiter,
    decimalMark: commas > points ? ',' : '.',
    headerRow: header.index,
    unitsRow: unitsLine ? unitsLine.index : null,
    firstDataRow,
    names: split.map((s) => s.name),
    units: split.map((s, i) => (unitsLine?.row[i] ? unitsLine.row[i].replace(/^[([{]|[)\]}]$/g, '').trim() : s.unit)),
    preamble: whole.split(/\r?\n/, header.index),
  }
}

/** Recognises a log of the same shape again: names and units in order, independent of the data. */
export function headerFingerprint(dialect: Pick<LogDialect, 'names' | 'units'>): string {
  let hash = 0x811c9dc5
  for (const char of dialect.names.join('\u0001') + '\u0002' + dialect.units.join('\u0001')) {
    hash ^= char.codePointAt(0)!
    hash = Math.imul(hash, 0x01000193) >>> 0
  }
  return hash.toString(16).padStart(8, '0')
}

/**
 * Time of day or elapsed time as hh:mm:ss.fff, mm:ss, with AM or PM, or after a date in any order, in seconds; NaN when it is none of them. Of a date
 * only that it changes matters: a day is a day in whichever order it is written.
 */
export function parseClockS(cell: string): number {
  const match = CLOCK_PARTS.exec(cell.trim())
  if (!match) return NaN
  const [, date, first, second, third, split, half] = match
  const share = split ? Number(`0.${split}`) : 0
  const parts = [first, second, ...(third === undefined ? [] : [third])].map(Number)
  if (half) {
    if (parts[0] > 12) return NaN
    parts[0] = (parts[0] % 12) + (/p/i.test(half) ? 12 : 0)
  }
  // two parts are minutes and seconds, unless a date or AM and PM say that they are hours
  const seconds = parts.reduce((sum, v) => sum * 60 + v, 0) * (third === undefined && (half || date) ? 60 : 1) + share
  if (!date) return seconds
  const [a, b, c] = date.split(/[-/.]/).map(Number)
  const [year, rest] = a > 31 ? [a, [b, c]] : [c < 100 ? 2000 + c : c, [b, a]]
  // day and month: what is over twelve is the day; else as the file's first rows would have it, the month second
  const [month, day] = rest[0] > 12 ? [rest[1], rest[0]] : rest
  return Date.UTC(year, month - 1, day) / 1000 + seconds
}
const CLOCK_PARTS = new RegExp(
  String.raw`^(?:(${DATE})[T ,]+)?(\d{1,3}):(\d\d)(?::(\d\d))?(?:[.,:](\d+))?(?: ?([ap])\.?m\.?)?(?:Z|[+-]\d\d:?\d\d)?$`,
  'i',
)
