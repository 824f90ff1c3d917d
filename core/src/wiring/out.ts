import Papa from 'papaparse'
import { CoreError } from '../kernel/index.ts'
import { FUSES_A } from '../electrics/index.ts'
import type { CircuitEdit } from './choices.ts'
import type { Harness, Wire } from './harness.ts'
import { isBolted } from './places.ts'

/** One plug with its pins, as it is held in the hand. */
export interface Connector {
  place: string
  label: string
  pins: { pin: string; circuit: string; name: string; colour: string; areaMm2: number | null; to: string }[]
}
/** Pin-out of every place that has a plug, in the order of the list. */
export function connectorsOf({ wires, places }: Harness): Connector[] {
  const at = new Map<string, Connector>()
  for (const { circuit, pins, colour, size } of wires)
    for (const end of ['from', 'to'] as const) {
      const place = circuit[end]
      const label = places.get(place)!.label
      const one = at.get(place) ?? { place, label, pins: [] }
      const other = circuit[end === 'from' ? 'to' : 'from']
      one.pins.push({
        pin: pins[end],
        circuit: circuit.id,
        name: circuit.name,
        colour,
        areaMm2: size?.areaMm2 ?? null,
        to: places.get(other)!.label,
      })
      at.set(place, one)
    }
  return [...at.values()]
}
/** Plugs that must be seated, latched and tugged: places with pins, not eyelets under a bolt. */
export function plugsOf(h: Harness): readonly Connector[] {
  if (!plugs.has(h))
    plugs.set(
      h,
      connectorsOf(h).filter((k) => !isBolted(k.place)),
    )
  return plugs.get(h)!
}
const plugs = new WeakMap<Harness, readonly Connector[]>()

export interface FuseLine {
  circuit: string
  name: string
  fuseA: number
  feeds: string
  relay: boolean
  /** a channel of the power box set to trip there, no fuse */
  channel: boolean
}
/** Guarded by a channel of a power box. */
export const onChannel = (h: Pick<Harness, 'powerBox'>, w: Wire): boolean =>
  h.powerBox && w.circuit.kind === 'feed' && w.circuit.from === 'fuses'
export const fuseCard = ({ wires, places, powerBox }: Harness): FuseLine[] =>
  wires
    .filter((w) => w.circuit.fused && w.size?.fuseA)
    .map((w) => ({
      circuit: w.circuit.id,
      name: w.circuit.name,
      fuseA: w.size!.fuseA!,
      feeds: places.get(w.circuit.to)!.label,
      relay: w.circuit.relay,
      channel: onChannel({ powerBox }, w),
    }))

/** Wire of each size and colour to buy, m, and what ends it. */
export interface WireBill {
  wire: { areaMm2: number; colour: string; lengthM: number }[]
  eyelets: number
  terminals: number
  fuses: { fuseA: number; count: number }[]
  relays: number
}
export function billOf({ wires, powerBox }: Harness): WireBill {
  const runs = new Map<string, WireBill['wire'][number]>()
  const fuses = new Map<number, number>()
  let eyelets = 0
  let terminals = 0
  for (const w of wires) {
    const { circuit, size, colour, lengthM } = w
    for (const place of [circuit.from, circuit.to])
      if (isBolted(place)) eyelets++
      else terminals++
    if (!size) continue
    const base = colour.split('/')[0]
    const key = `${size.areaMm2} ${base}`
    const run = runs.get(key) ?? { areaMm2: size.areaMm2, colour: base, lengthM: 0 }
    runs.set(key, { ...run, lengthM: run.lengthM + lengthM })
    if (size.fuseA && !onChannel({ powerBox }, w)) fuses.set(size.fuseA, (fuses.get(size.fuseA) ?? 0) + 1)
  }
  return {
    wire: [...runs.values()].sort((a, b) => b.areaMm2 - a.areaMm2 || a.colour.localeCompare(b.colour)),
    eyelets,
    terminals,
    fuses: [...fuses].map(([fuseA, count]) => ({ fuseA, count })).sort((a, b) => a.fuseA - b.fuseA),
    relays: wires.filter((w) => w.circuit.relay && w.circuit.kind === 'feed').length,
  }
}
/** What stands on the sleeve at each end of a wire. */
export const labelsOf = ({ wires, places }: Harness): { circuit: string; end: string; text: string }[] =>
  wires.flatMap(({ circuit, pins }) =>
    (['from', 'to'] as const).map((end) => {
      const other = end === 'from' ? 'to' : 'from'
      return {
        circuit: circuit.id,
        end: circuit[end],
        text: `${circuit.name} · ${places.get(circuit[end])!.label} ${pins[end]} → ${places.get(circuit[other])!.label} ${pins[other]}`,
      }
    }),
  )

/** Scales that a drawing is made at, and the width of a sheet it must go on, mm. */
const SCALES = [10, 20, 25, 50]
const SHEET_MM = 180
/** The largest scale, 1 : so many, at which so much of the car goes on an upright sheet. */
export const drawingScale = (widthMm: number): number => SCALES.find((s) => widthMm / s <= SHEET_MM) ?? SCALES[SCALES.length - 1]

const columns = [
  'circuit',
  'name',
  'from',
  'to',
  'continuousA',
  'surgeA',
  'lengthM',
  'areaMm2',
  'gaugeAwg',
  'colour',
  'fuseA',
  'relay',
  'pinFrom',
  'pinTo',
  'dropV',
  'note',
] as const
const row = ({ circuit: c, lengthM, size, gaugeAwg, colour, pins }: Wire) => ({
  circuit: c.id,
  name: c.name,
  from: c.from,
  to: c.to,
  continuousA: Number(c.continuousA.toFixed(3)),
  surgeA: Number(c.surgeA.toFixed(3)),
  lengthM,
  areaMm2: size?.areaMm2 ?? '',
  gaugeAwg: gaugeAwg ?? '',
  colour,
  fuseA: size?.fuseA ?? '',
  relay: c.relay ? 'yes' : '',
  pinFrom: pins.from,
  pinTo: pins.to,
  dropV: size ? Number(size.dropV.toFixed(3)) : '',
  note: c.edit.note ?? '',
})
/** The circuit list as CSV: one line a wire, columns named with their units. */
export const circuitsToCsv = ({ wires }: Harness): string => Papa.unparse(wires.map(row), { columns: [...columns] })

/** What may be changed in the list and comes back; everything else of it is worked out. */
const backNumbers = { lengthM: 'measuredM', areaMm2: 'areaMm2', continuousA: 'continuousA', fuseA: 'fuseA' } as const
const bounds = { lengthM: [0.05, 20, 'm'], areaMm2: [0.22, 70, 'mm2'], continuousA: [0, 200, 'A'] } as const

/**
 * Edits that a circuit list brings back from a spreadsheet: only what differs from the harness as it is.
 * @throws CoreError PARTS_INVALID naming line, column, bound and unit
 */
export function circuitsFromCsv(text: string, h: Harness): Record<string, CircuitEdit> {
  const { data } = Papa.parse<Record<string, string>>(text.replace(/^\uFEFF/, ''), { header: true, skipEmptyLines: true })
  const by = new Map(h.wires.map((w) => [w.circuit.id, w]))
  const edits: Record<string, CircuitEdit> = {}
  data.forEach((line, i) => {
    const w = by.get(line.circuit)
    if (!w) throw new CoreError('PARTS_INVALID', `line ${i + 2}, circuit`, `this harness has no circuit "${line.circuit ?? ''}"`)
    const now = row(w)
    const edit: CircuitEdit = {}
    for (const column of Object.keys(backNumbers) as (keyof typeof backNumbers)[]) {
      const cell = line[column]?.trim()
      if (cell === undefined || cell === '' || cell === String(now[column])) continue
      const value = Number(cell.replace(',', '.'))
      const where = `line ${i + 2}, ${column}`
      if (!Number.isFinite(value)) throw new CoreError('PARTS_INVALID', where, `"${cell}" is not a number`)
      if (column === 'fuseA' && !(FUSES_A as readonly number[]).includes(value))
        throw new CoreError('PARTS_INVALID', where, `${value} A is no standard fuse: ${FUSES_A.join(', ')} A`)
      const bound = column === 'fuseA' ? null : bounds[column]
      if (bound && !(value >= bound[0] && value <= bound[1]))
        throw new CoreError('PARTS_INVALID', where, `must be ${bound[0]} to ${bound[1]} ${bound[2]}`)
      edit[backNumbers[column]] = value
    }
    for (const column of ['name', 'colour', 'note'] as const) {
      const cell = line[column]?.trim()
      if (cell && cell !== now[column]) edit[column] = cell.slice(0, column === 'note' ? 200 : column === 'name' ? 60 : 24)
    }
    if (Object.keys(edit).length) edits[w.circuit.id] = edit
  })
  return edits
}
