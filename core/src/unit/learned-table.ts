import Papa from 'papaparse'
import { alongCurve, CoreError, dimensions, toMetric } from '../kernel/index.ts'
import { bilinear, checkAxis, tuneDemand, type TuneDocument } from '../tune/index.ts'
import type { LearnedForm, LearnedLoad } from './choices.ts'

/** A unit's learned values on its own cells, as per cent of fuel; row by row, MAP the slow index. */
export interface LearnedTable {
  rpm: number[]
  mapKpa: number[]
  learnedPct: number[]
}
/** What the numbers of the file mean: asked, because nothing in them tells. */
export interface LearnedAs {
  form: LearnedForm
  /** a positive number adds fuel, or takes it */
  sign: 'adds' | 'takes'
  /** how its other axis tells load; left out: kPa absolute */
  load?: LearnedLoad
  /** most that this unit learns, %; left out: not known */
  limitPct?: number
}

/** Beyond this no unit learns, %. */
const MOST_PCT = 60
/** cells that tell which way a table goes hold so much, %, and there are so many of them; under this correlation it is turned round */
const TOLD_PCT = 1
const TOLD_CELLS = 4
const REVERSED_CORRELATION = -0.5
/** battery at which a pulse is worked out, V */
const RUNNING_V = 13.8

/** An axis of absolute pressures begins and ends so; one of throttles or of vacuum does not. */
const ABSOLUTE_KPA = { from: 8, to: 85 }

interface Grid {
  rpm: number[]
  load: number[]
  values: number[]
}
/** A grid of any size with its axes in the first row and column, speeds across or down: the larger axis is the speed. */
function readGrid(text: string): Grid {
  const { data, meta } = Papa.parse<string[]>(text.replace(/^\uFEFF/, '').trim(), {
    skipEmptyLines: true,
    delimitersToGuess: [',', ';', '\t'],
  })
  const decimalComma = meta.delimiter !== ','
  const read = (cell: string | undefined, where: string): number => {
    const trimmed = (cell ?? '').trim().replace(/\s*%$/, '')
    if (trimmed === '')
      throw new CoreError('LEARNED_INVALID', where, 'the cell is empty; give every cell a value, 0 where nothing was learned')
    const value = Number(decimalComma ? trimmed.replace(',', '.') : trimmed)
    if (!Number.isFinite(value)) throw new CoreError('LEARNED_INVALID', where, `"${trimmed}" is not a number`)
    return value
  }
  if (data.length < 3 || (data[0]?.length ?? 0) < 3)
    throw new CoreError('LEARNED_INVALID', 'the file', 'one row and one column of breakpoints and at least 2 × 2 cells are needed')
  const across = data[0].slice(1).map((cell, i) => read(cell, `row 1, column ${i + 2}`))
  const down: number[] = []
  const rows = data.slice(1).map((row, j) => {
    if (row.length !== across.length + 1)
      throw new CoreError('LEARNED_INVALID', `row ${j + 2}`, `it has ${row.length - 1} cells; ${across.length} are needed`)
    down.push(read(row[0], `row ${j + 2}, column 1`))
    return row.slice(1).map((cell, i) => read(cell, `row ${j + 2}, column ${i + 2}`))
  })
  const rpmAcross = Math.max(...across) >= Math.max(...down)
  const [rpm, load] = rpmAcross ? [across, down] : [down, across]
  const values = load.flatMap((_, j) => rpm.map((__, i) => (rpmAcross ? rows[j][i] : rows[i][j])))
  checkAxis('engine speed', rpm)
  if (Math.max(...rpm) < 1000)
    throw new CoreError('LEARNED_INVALID', 'engine speeds', `they end at ${Math.max(...rpm)}; speeds in rpm are needed on one axis`)
  return { rpm, load, values }
}

/** The same over absolute pressure, from the lowest up. */
function overPressure(
  { rpm, load, values }: Grid,
  as: LearnedLoad,
  barometerKpa: number,
): { rpm: number[]; mapKpa: number[]; values: number[] } {
  const inUnit = (id: 'psi' | 'inHg', v: number) =>
    toMetric(
      v,
      dimensions.pressure.find((unit) => unit.id === id)!,
    )
  const overAir = (kpa: number) => Math.round(10 * (barometerKpa + kpa)) / 10
  const toKpa = {
    kpa: (v: number) => v,
    'kpa-gauge': overAir,
    'psi-gauge': (v: number) => overAir(inUnit('psi', v)),
    'inhg-vacuum': (v: number) => overAir(-inUnit('inHg', v)),
  }[as]
  const rows = load.map((v, j) => ({ kpa: toKpa(v), values: values.slice(j * rpm.length, (j + 1) * rpm.length) }))
  // vacuum falls as load rises: such a table stands upside down
  if (as === 'inhg-vacuum' && rows[0].kpa > rows.at(-1)!.kpa) rows.reverse()
  const mapKpa = rows.map((r) => r.kpa)
  checkAxis('manifold pressure', mapKpa)
  if (mapKpa[0] < 5 || mapKpa.at(-1)! > 450)
    throw new CoreError(
      'LEARNED_INVALID',
      'manifold pressures',
      `they run from ${mapKpa[0]} to ${mapKpa.at(-1)}; 5 to 450 kPa absolute are needed. Is the load in another unit?`,
    )
  return { rpm, mapKpa, values: rows.flatMap((r) => r.values) }
}

/** What the numbers look like; `sure` is false where two forms fit, `load` null where two units do. */
export function guessForm(text: string): { form: LearnedForm; sure: boolean; load: LearnedLoad | null } {
  const { values, load: axis } = readGrid(text)
  const [least, greatest] = [Math.min(...axis), Math.max(...axis)]
  const load = least >= ABSOLUTE_KPA.from && greatest >= ABSOLUTE_KPA.to ? 'kpa' : null
  const nearOne = values.filter((v) => v > 0.5 && v < 1.7).length / values.length
  if (nearOne > 0.95) return { form: 'ratio', sure: true, load }
  const most = Math.max(...values.map(Math.abs))
  return most < 1.5 ? { form: 'ms', sure: false, load } : { form: 'percent', sure: false, load }
}

/**
 * Reads a unit's learned table: any grid as CSV, in the form and sign that were said.
 * @param tune the tune it was learned over: VE points and milliseconds mean something only against it
 * @throws CoreError LEARNED_INVALID naming row and column, AXIS_INVALID, with the bound where a value is beyond what the unit learns
 */
export function readLearned(text: string, { form, sign, load = 'kpa', limitPct }: LearnedAs, tune: TuneDocument): LearnedTable {
  const { rpm, mapKpa, values } = overPressure(readGrid(text), load, tune.parameters.barometerKpa)
  const most = limitPct ?? MOST_PCT
  const learnedPct = values.map((value, k) => {
    const at = [rpm[k % rpm.length], mapKpa[Math.floor(k / rpm.length)]] as const
    const pct = toPct(value, form, tune, ...at) * (sign === 'adds' ? 1 : -1)
    if (Math.abs(pct) > most + 0.05)
      throw new CoreError(
        'LEARNED_INVALID',
        `${at[0]} rpm, ${at[1]} kPa`,
        `${value} would be ${pct.toFixed(1)} %; ${limitPct === undefined ? 'no unit learns' : 'this unit does not learn'} more than ±${most} %. Is the form or the sign another?`,
      )
    return Math.round(pct * 100) / 100
  })
  return { rpm, mapKpa, learnedPct }
}
function toPct(value: number, form: LearnedForm, tune: TuneDocument, rpm: number, mapKpa: number): number {
  switch (form) {
    case 'percent':
      return value
    case 'ratio':
      return 100 * (value - 1)
    case 've-points':
      return (100 * value) / bilinear(tune.axes, tune.tables.ve, rpm, mapKpa)
    case 'ms': {
      const { pulseMs } = tuneDemand(tune, rpm, mapKpa)
      return (100 * value) / Math.max(0.1, pulseMs - alongCurve(tune.parameters.deadTimeMs, RUNNING_V))
    }
  }
}

/**
 * Whether a table says the opposite of what a log has shown to be held: adds where it takes. Two of them that agree correlate near +1.
 * @param held what the unit held at these cells by the last log, %; null where it was not driven
 */
export function looksReversed(
  table: LearnedTable,
  { rpm, mapKpa }: { rpm: readonly number[]; mapKpa: readonly number[] },
  held: readonly (number | null)[],
): boolean {
  let [both, a2, b2, n] = [0, 0, 0, 0]
  held.forEach((pct, c) => {
    if (pct === null || Math.abs(pct) < TOLD_PCT) return
    const told = learnedAt(table, rpm[c % rpm.length], mapKpa[Math.floor(c / rpm.length)])
    both += pct * told
    a2 += pct * pct
    b2 += told * told
    n++
  })
  return n >= TOLD_CELLS && b2 > 0 && both / Math.sqrt(a2 * b2) < REVERSED_CORRELATION
}

/** A learned table read at other cells, held at its edges. */
export const learnedAt = (table: LearnedTable, rpm: number, mapKpa: number): number =>
  bilinear({ rpm: table.rpm, mapKpa: table.mapKpa }, table.learnedPct, rpm, mapKpa)

/** What moved from one learned table to a later one, on the cells of the later: differences and their rms, %, and the cell that moved most. */
export function movedBetween(
  earlier: LearnedTable,
  later: LearnedTable,
): { movedPct: number[]; rmsPct: number; most: { rpm: number; mapKpa: number; pct: number } } {
  const n = later.rpm.length
  const movedPct = later.learnedPct.map((v, k) => v - learnedAt(earlier, later.rpm[k % n], later.mapKpa[Math.floor(k / n)]))
  const at = movedPct.reduce((best, v, k) => (Math.abs(v) > Math.abs(movedPct[best]) ? k : best), 0)
  return {
    movedPct,
    rmsPct: Math.sqrt(movedPct.reduce((sum, v) => sum + v * v, 0) / movedPct.length),
    most: { rpm: later.rpm[at % n], mapKpa: later.mapKpa[Math.floor(at / n)], pct: movedPct[at] },
  }
}
