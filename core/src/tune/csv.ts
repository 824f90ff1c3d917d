import Papa from 'papaparse'
import { CoreError } from '../kernel/index.ts'
import type { Axes } from './axes.ts'
import { RunnerTable } from './runner.ts'
import { type TableName, tableSpecs, type TuneDocument } from './tune.ts'

function gridToCsv(corner: string, rpm: readonly number[], down: readonly number[], cells: readonly number[]): string {
  const rows = down.map((value, j) => [value, ...cells.slice(j * rpm.length, (j + 1) * rpm.length)])
  return Papa.unparse([[corner, ...rpm], ...rows], { newline: '\n' }) + '\n'
}
/** A table as CSV: the first row holds engine speeds, the first column manifold pressures. Numbers are written in full, so they read back exactly. */
export const tableToCsv = (tune: TuneDocument, name: TableName): string =>
  gridToCsv(`${name} (mapKpa down / rpm across)`, tune.axes.rpm, tune.axes.mapKpa, tune.tables[name])

/** VE by throttle as CSV: the first row holds engine speeds, the first column throttles, %. */
export const runnerToCsv = ({ throttlePct, ve }: RunnerTable, rpm: readonly number[]): string =>
  gridToCsv('ve (throttlePct down / rpm across)', rpm, throttlePct, ve)

/**
 * VE by throttle from a CSV of the same shape, on the speeds the tune has.
 * @throws CoreError TABLE_INVALID naming row and column, or the speeds that do not fit
 */
export function runnerFromCsv(text: string, have: RunnerTable, rpm: readonly number[]): RunnerTable {
  const { axes, cells } = tableFromCsv(text, 've', { rowsAre: 'throttle', min: 1 })
  if (axes.rpm.join() !== rpm.join())
    throw new CoreError('TABLE_INVALID', 'VE by throttle', `its speeds are ${axes.rpm.join(', ')} rpm; the tune has ${rpm.join(', ')} rpm`)
  const made = RunnerTable.safeParse({ ...have, throttlePct: axes.mapKpa, ve: cells })
  if (!made.success) throw new CoreError('TABLE_INVALID', 'VE by throttle', made.error.issues[0].message)
  return made.data
}

/**
 * Reads a table written by `tableToCsv` or by a spreadsheet (comma, semicolon or tab; decimal point or comma).
 * @throws CoreError TABLE_INVALID naming row and column
 */
export function tableFromCsv(
  text: string,
  name: TableName,
  { rowsAre = 'manifold pressure', min = tableSpecs[name].min }: { rowsAre?: string; min?: number } = {},
): { axes: Axes; cells: number[] } {
  const { data, meta } = Papa.parse<string[]>(text.replace(/^\uFEFF/, '').trim(), {
    skipEmptyLines: true,
    delimitersToGuess: [',', ';', '\t'],
  })
  const comma = meta.delimiter !== ','
  const read = (cell: string | undefined, where: string): number => {
    const trimmed = (cell ?? '').trim()
    const value = trimmed === '' ? NaN : Number(comma ? trimmed.replace(',', '.') : trimmed)
    if (!Number.isFinite(value)) throw new CoreError('TABLE_INVALID', name, `${where} holds "${trimmed}", which is not a number`)
    return value
  }
  if (data.length < 3)
    throw new CoreError(
      'TABLE_INVALID',
      name,
      `it has ${data.length} rows; one row of engine speeds and at least two of ${rowsAre}s are needed`,
    )
  const rpm = data[0].slice(1).map((cell, i) => read(cell, `row 1, column ${i + 2} (engine speed)`))
  const mapKpa: number[] = []
  const cells: number[] = []
  data.slice(1).forEach((row, j) => {
    if (row.length !== rpm.length + 1)
      throw new CoreError('TABLE_INVALID', name, `row ${j + 2} has ${row.length - 1} cells; ${rpm.length} are needed`)
    mapKpa.push(read(row[0], `row ${j + 2}, column 1 (${rowsAre})`))
    row.slice(1).forEach((cell, i) => {
      const value = read(cell, `row ${j + 2}, column ${i + 2}`)
      const { max, unit, label } = tableSpecs[name]
      if (value < min || value > max)
        throw new CoreError(
          'TABLE_INVALID',
          name,
          `row ${j + 2}, column ${i + 2} is ${value}; ${label.toLowerCase()} must be ${min} to ${max} ${unit}`,
        )
      cells.push(value)
    })
  })
  return { axes: { rpm, mapKpa }, cells }
}
