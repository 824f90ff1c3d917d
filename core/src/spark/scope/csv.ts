import Papa from 'papaparse'
import { CoreError } from '../../kernel/index.ts'
import type { Trace } from './trace.ts'

const MAX_ROWS = 2_000_000
const timeScale: Record<string, number> = { s: 1, sec: 1, ms: 1e-3, us: 1e-6, µs: 1e-6, μs: 1e-6, ns: 1e-9 }
/** Unit in a heading: in brackets, or after a space, a slash or a low line at its end. */
const unitIn = (header: string): string | null =>
  /[([]\s*([a-zµμ]+)\s*[)\]]/i.exec(header)?.[1] ?? /[\s/_]\s*(s|sec|ms|us|µs|μs|ns|v|mv|a|ma)\s*$/i.exec(header)?.[1] ?? null

function toNumber(cell: string, decimalComma: boolean): number {
  const text = cell.trim()
  return text === '' ? NaN : Number(decimalComma ? text.replace(',', '.') : text)
}

/**
 * Reads what a scope wrote: a column of time and one of volts or more, with or without headings, comma, semicolon or tab between them, decimal
 * point or comma; time in s, ms, us or ns by its heading. Uneven times are brought to an even step by straight lines.
 * @returns one trace for each column of values, named by its heading
 * @throws CoreError SCOPE_UNREADABLE when there are no two columns of numbers, time does not rise, or there are fewer than 20 rows
 */
export function readScopeCsv(text: string): Trace[] {
  const delimiter = /\t/.test(text.slice(0, 4000)) ? '\t' : text.slice(0, 4000).includes(';') ? ';' : ','
  const decimalComma = delimiter !== ',' && /\d,\d/.test(text.slice(0, 4000))
  const { data } = Papa.parse<string[]>(text.replace(/^\uFEFF/, ''), { delimiter, skipEmptyLines: true, preview: MAX_ROWS })
  const isNumber = (cell: string | undefined) => cell !== undefined && Number.isFinite(toNumber(cell, decimalComma))
  const first = data.findIndex((row) => row.length >= 2 && row.slice(0, 2).every(isNumber))
  if (first < 0) throw new CoreError('SCOPE_UNREADABLE', 'scope file', 'no two columns of numbers found: time and volts are wanted')
  const rows = data.slice(first).filter((row) => isNumber(row[0]))
  if (rows.length < 20) throw new CoreError('SCOPE_UNREADABLE', 'scope file', `${rows.length} rows; 20 or more are wanted`)
  // headings and, below them, perhaps a line of units
  const heads = data.slice(0, first)
  const names = heads.find((row) => row.length >= 2) ?? []
  const units = heads.slice(1).find((row) => row.length >= 2 && row.every((cell) => /^[([]?[a-zµμ]*[)\]]?$/i.test(cell.trim())))
  const unitOf = (column: number) => (unitIn(names[column] ?? '') ?? units?.[column]?.replace(/[()[\]]/g, '').trim() ?? '').toLowerCase()
  const scale = timeScale[unitOf(0)] ?? 1
  const time = rows.map((row) => toNumber(row[0], decimalComma) * scale)
  if (time.some((t, i) => i > 0 && !(t > time[i - 1])))
    throw new CoreError('SCOPE_UNREADABLE', 'scope file', 'time does not rise from row to row')
  const stepS = (time[time.length - 1] - time[0]) / (time.length - 1)
  return rows[0].slice(1).flatMap((_, k): Trace[] => {
    const column = k + 1
    const values = rows.map((row) => toNumber(row[column] ?? '', decimalComma))
    if (values.filter(Number.isFinite).length < 0.9 * values.length) return []
    const unit = unitOf(column)
    const factor = unit === 'mv' || unit === 'ma' ? 1e-3 : 1
    return [
      {
        id: (names[column] ?? '').replace(/[([].*$/, '').trim() || `channel ${column}`,
        unit: unit === 'a' || unit === 'ma' ? 'A' : 'V',
        startS: 0,
        stepS,
        samples: evened(time, values, stepS, factor),
      },
    ]
  })
}

function evened(time: readonly number[], values: readonly number[], stepS: number, factor: number): Float32Array {
  const out = new Float32Array(time.length)
  let i = 0
  let last = 0
  for (let k = 0; k < out.length; k++) {
    const t = time[0] + k * stepS
    while (i < time.length - 2 && time[i + 1] < t) i++
    const share = Math.min(1, Math.max(0, (t - time[i]) / (time[i + 1] - time[i])))
    const v = values[i] + (values[i + 1] - values[i]) * share
    last = out[k] = Number.isFinite(v) ? v * factor : last
  }
  return out
}
