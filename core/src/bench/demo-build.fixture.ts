import { readFileSync } from 'node:fs'
import { join } from 'node:path'
import type { BuildData } from '../kernel/build.ts'

/** A demo car as a build with nothing recorded yet. */
export function demoBuild(file: string): BuildData {
  const { id, title, facts, choices } = JSON.parse(readFileSync(join(import.meta.dirname, '../../../demo/cars', file), 'utf8'))
  // a unit that learns by itself has tests of its own
  const { unit: _, ...rest } = choices
  return { id, title, facts, choices: rest, readings: [], tunes: [], logs: [] }
}
