import { CoreError, type EntryTable } from '../kernel/index.ts'
import { type TableName, tableFromCsv, tableNames, tableSpecs, TuneDocument, tuneDifferences } from '../tune/index.ts'
import { SAME_CELL_STEPS } from './limits.ts'

export type ExportPart = EntryTable['unit.export']['part']

/**
 * What a unit gave out against the tune that was sent: one table as CSV, or the whole tune as this program's own JSON, value by value.
 * @param part table that the file holds, or `document`
 * @returns how many values were compared, how many are other, and the worst of them in words
 * @throws CoreError CSV_INVALID, TABLE_INVALID, UNIT_FILE_UNREADABLE naming what is wrong with the file
 */
export function compareExport(tune: TuneDocument, part: ExportPart, text: string): { compared: number; different: number; worst: string } {
  if (part === 'document') return compareDocument(tune, text)
  const name: TableName = part
  const back = tableFromCsv(text, name)
  const { rpm, mapKpa } = tune.axes
  const sameAxis = (a: readonly number[], b: readonly number[]) => a.length === b.length && a.every((v, i) => Math.abs(v - b[i]) < 0.5)
  if (!sameAxis(back.axes.rpm, rpm) || !sameAxis(back.axes.mapKpa, mapKpa))
    throw new CoreError(
      'TABLE_INVALID',
      name,
      `the export has ${back.axes.rpm.length} × ${back.axes.mapKpa.length} cells to ${back.axes.rpm.at(-1)} rpm and ${back.axes.mapKpa.at(-1)} kPa; the tune in the car has ${rpm.length} × ${mapKpa.length} to ${rpm.at(-1)} rpm and ${mapKpa.at(-1)} kPa`,
    )
  const { decimals, unit } = tableSpecs[name]
  const near = SAME_CELL_STEPS * 10 ** -decimals
  const off = tune.tables[name].map((v, i) => Math.abs(back.cells[i] - v))
  const different = off.filter((d) => d > near).length
  const worst = off.indexOf(Math.max(...off))
  const at = `${rpm[worst % rpm.length]} rpm, ${mapKpa[Math.floor(worst / rpm.length)]} kPa`
  return {
    compared: off.length,
    different,
    worst: different
      ? `${at}: ${back.cells[worst].toFixed(decimals)} for ${tune.tables[name][worst].toFixed(decimals)} ${unit}`
      : 'none differs',
  }
}

function compareDocument(tune: TuneDocument, text: string): { compared: number; different: number; worst: string } {
  let json: unknown
  try {
    json = JSON.parse(text)
  } catch {
    throw new CoreError('UNIT_FILE_UNREADABLE', 'export', 'it is not JSON')
  }
  const parsed = TuneDocument.safeParse(json)
  if (!parsed.success) {
    const [issue] = parsed.error.issues
    throw new CoreError('UNIT_FILE_UNREADABLE', 'export', `${issue.path.join('.')} ${issue.message}`)
  }
  const differences = tuneDifferences(tune, parsed.data)
  return {
    compared: Object.keys(tune.parameters).length + tableNames.length + 1,
    different: differences.length,
    worst: differences.length
      ? differences
          .map((d) => `${d.label}: ${d.to}`)
          .join('; ')
          .slice(0, 200)
      : 'none differs',
  }
}
