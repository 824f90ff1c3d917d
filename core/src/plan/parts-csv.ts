import Papa from 'papaparse'
import { CoreError } from '../kernel/index.ts'
import { PartEntry, PartStatus } from './choices.ts'
import type { Part } from './parts.ts'

const CSV_COLUMNS = ['id', 'name', 'spec', 'quantity', 'unit', 'used', 'price', 'status', 'arrives', 'note'] as const

/** What a spreadsheet would work out instead of showing (OWASP, CSV Injection), also when more lines follow in the same cell. */
const FORMULA = /^[=+\-@\t\r\n]/
/** The parts list as CSV, RFC 4180. A field that a spreadsheet would take for a formula is led by an apostrophe. */
export const partsToCsv = (parts: readonly Part[]): string =>
  Papa.unparse(
    parts.map((p) => CSV_COLUMNS.map((column) => p[column] ?? '')),
    { newline: '\r\n', escapeFormulae: FORMULA },
  ).replace(/^/, `${CSV_COLUMNS.join(',')}\r\n`)

/**
 * A parts list brought back: quantity, price, status, arrival and note of each line by its id. Lines that say what the list says already
 * change nothing; other columns are ignored.
 * @returns entries for `choices.plan.parts`, only where something differs
 * @throws CoreError PARTS_INVALID naming line and column
 */
export function partsFromCsv(text: string, parts: readonly Part[]): Record<string, PartEntry> {
  const { data, meta } = Papa.parse<Record<string, string>>(text.replace(/^\uFEFF/, ''), { header: true, skipEmptyLines: 'greedy' })
  if (!meta.fields?.includes('id')) throw new CoreError('PARTS_INVALID', 'the first line', 'it must name the column "id"')
  const known = new Map(parts.map((p) => [p.id, p]))
  const changes: Record<string, PartEntry> = {}
  for (const [i, row] of data.entries()) {
    const line = `line ${i + 2}`
    const part = known.get(row.id?.trim())
    if (!part) throw new CoreError('PARTS_INVALID', line, `"${row.id}" is no part of this list`)
    const entry: Record<string, unknown> = {}
    for (const column of ['quantity', 'price'] as const) {
      const cell = row[column]?.trim().replace(',', '.')
      if (cell === undefined || cell === '') continue
      const value = Number(cell)
      if (value !== part[column]) entry[column] = value
    }
    for (const column of ['status', 'arrives', 'note'] as const) {
      const cell = row[column]
        ?.trim()
        .replace(/^'(?=[=+\-@\t\r\n])/, '')
        .trim()
      if (cell && cell !== part[column]) entry[column] = cell
    }
    if (Object.keys(entry).length === 0) continue
    const parsed = PartEntry.safeParse(entry)
    if (!parsed.success) {
      const issue = parsed.error.issues[0]
      const bound =
        issue.path[0] === 'status'
          ? `must be one of ${PartStatus.options.join(', ')}`
          : issue.path[0] === 'arrives'
            ? 'must be a date like 2026-03-31'
            : issue.path[0] === 'note'
              ? 'must be at most 200 characters'
              : `must be a number from 0 to ${issue.path[0] === 'price' ? '100000' : '1000'}`
      throw new CoreError('PARTS_INVALID', `${line}, ${String(issue.path[0])}`, bound)
    }
    changes[part.id] = parsed.data
  }
  return changes
}
