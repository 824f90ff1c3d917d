import { elementLabel, hasSump, type FuelChoices, type FuelElement, type SectionId } from '@vectum/core'

/** Where everything of a circuit stands on the sheet. Pure geometry: no pressure, no judgement. */
export type EquipmentId = 'tank' | 'sump' | 'pump' | 'lift-pump' | 'regulator' | 'injectors'
export interface Placed {
  key: string
  x: number
  y: number
  label: string
  section: SectionId | null
  index: number
  element: FuelElement | null
  equipment: EquipmentId | null
}
export interface Pipe {
  section: SectionId
  points: [number, number][]
  /** what stands on it, in the order of the flow */
  items: Placed[]
}
export interface CircuitSheet {
  width: number
  height: number
  vessels: { id: 'tank' | 'sump'; x: number; y: number; w: number; h: number; label: string }[]
  equipment: Placed[]
  pipes: Pipe[]
}

/** Where the joints of each pipe stand: between each two things on it, in the order of the flow; a pipe with nothing on it has none. */
export const jointPlaces = ({ pipes }: CircuitSheet): { section: SectionId; points: [number, number][] }[] =>
  pipes.map(({ section, points, items }) => {
    const [from, to] = points.slice(-2)
    const xs = [from[0], ...items.map((i) => i.x), to[0]]
    return { section, points: items.length ? xs.slice(1).map((x, i): [number, number] => [(x + xs[i]) / 2, to[1]]) : [] }
  })

const WIDTH = 780
const LEFT = 74
const RIGHT = WIDTH - 46
const ROW = 118
const TOP = 66

const spread = (from: number, to: number, n: number): number[] =>
  Array.from({ length: n }, (_, i) => from + ((to - from) * (i + 1)) / (n + 1))

export function circuitSheet(fuel: FuelChoices): CircuitSheet {
  const layout = fuel.layout!
  const sump = hasSump(layout)
  const returnless = layout === 'returnless'
  const first = TOP + (sump ? 2 * ROW : 0)
  const [outY, backY] = [first, first + ROW]
  const place = (section: SectionId, xs: number[], y: number): Placed[] =>
    (fuel[section] ?? []).map((element, index) => ({
      key: `${section}:${element.id}`,
      x: xs[index],
      y,
      label: elementLabel(element),
      section,
      index,
      element,
      equipment: null,
    }))
  const equip = (equipment: EquipmentId, x: number, y: number, label: string): Placed => ({
    key: equipment,
    x,
    y,
    label,
    section: null,
    index: -1,
    element: null,
    equipment,
  })
  const count = (id: SectionId) => fuel[id]?.length ?? 0
  // the way out: equal slots for everything on the row
  const row = [
    ...Array<string>(count('suction')).fill('s'),
    'pump',
    ...(returnless ? [...Array<string>(count('delivery')).fill('d'), 'regulator'] : []),
    ...Array<string>(count('feed')).fill('f'),
  ]
  const slots = spread(LEFT, RIGHT, row.length)
  const xs = (mark: string) => slots.filter((_, i) => row[i] === mark)
  const pumpX = xs('pump')[0]
  const regulatorX = returnless ? xs('regulator')[0] : RIGHT
  const equipment = [
    equip('pump', pumpX, outY, fuel.pumpPlace === 'in-tank' ? 'pump, in tank' : 'pump'),
    equip('injectors', RIGHT, outY, 'injectors'),
    equip('regulator', regulatorX, returnless ? outY : backY, 'regulator'),
  ]
  const pipes: Pipe[] = [
    {
      section: 'suction',
      points: [
        [LEFT, outY],
        [pumpX, outY],
      ],
      items: place('suction', xs('s'), outY),
    },
    ...(returnless
      ? [
          {
            section: 'delivery' as const,
            points: [
              [pumpX, outY],
              [regulatorX, outY],
            ] as [number, number][],
            items: place('delivery', xs('d'), outY),
          },
        ]
      : []),
    {
      section: 'feed',
      points: [
        [returnless ? regulatorX : pumpX, outY],
        [RIGHT, outY],
      ],
      items: place('feed', xs('f'), outY),
    },
    {
      section: 'return',
      points: [
        [regulatorX, outY],
        [regulatorX, backY],
        [LEFT, backY],
      ],
      items: place('return', spread(regulatorX, LEFT, count('return')), backY),
    },
  ]
  if (sump) {
    const [liftY, overY] = [TOP, TOP + ROW]
    const liftRow = spread(RIGHT, LEFT, count('lift') + 1)
    equipment.push(equip('lift-pump', liftRow[0], liftY, 'lift pump'))
    pipes.push({
      section: 'lift',
      points: [
        [RIGHT, liftY],
        [LEFT, liftY],
      ],
      items: place('lift', liftRow.slice(1), liftY),
    })
    pipes.push({
      section: 'overflow',
      points: [
        [LEFT, overY],
        [RIGHT, overY],
      ],
      items: place('overflow', spread(LEFT, RIGHT, count('overflow')), overY),
    })
  }
  const bottom = backY + 34
  return {
    width: WIDTH,
    height: backY + 62,
    vessels: sump
      ? [
          { id: 'sump', x: 8, y: TOP - 34, w: LEFT - 8, h: bottom - TOP + 34, label: 'sump' },
          { id: 'tank', x: RIGHT, y: TOP - 34, w: 40, h: ROW + 68, label: 'tank' },
        ]
      : [{ id: 'tank', x: 8, y: outY - 34, w: LEFT - 8, h: bottom - outY + 34, label: 'tank' }],
    equipment,
    pipes,
  }
}

/** Position in its section that a thing dragged to x would take. */
export function slotAt(pipe: Pipe, x: number): number {
  const forward = pipe.points[pipe.points.length - 1][0] > pipe.points[pipe.points.length - 2][0]
  return pipe.items.filter((i) => (forward ? i.x < x : i.x > x)).length
}

const ports = { open: 'port open to air', manifold: 'port to manifold', 'above-plates': 'port above plates', capped: 'port capped' }
const mapWords = { plenum: 'MAP from plenum', 'one-runner': 'MAP from one runner', ported: 'MAP from a ported source' }
/** The regulator's port and where the unit reads manifold pressure: two lines that are easily taken for one. */
export function circuitNotes(fuel: FuelChoices, sheet: CircuitSheet): { d: string; x: number; y: number; end: boolean; text: string }[] {
  const regulator = sheet.equipment.find((p) => p.equipment === 'regulator')!
  const injectors = sheet.equipment.find((p) => p.equipment === 'injectors')!
  const { regulator: set, mapFrom } = fuel
  const atEnd = regulator.x === injectors.x
  const port = atEnd
    ? { d: `M${regulator.x - 17} ${regulator.y - 8}h-10v-19h-8`, x: regulator.x - 39, y: regulator.y - 22, end: true }
    : { d: `M${regulator.x + 17} ${regulator.y + 8}h7v80h6`, x: regulator.x + 34, y: regulator.y + 93, end: false }
  return [
    ...(set ? [{ ...port, text: ports[set.reference] }] : []),
    ...(mapFrom
      ? [
          {
            d: `M${injectors.x - 20} ${injectors.y + 4}v62h-6`,
            x: injectors.x - 30,
            y: injectors.y + 71,
            end: true,
            text: mapWords[mapFrom],
          },
        ]
      : []),
  ]
}
