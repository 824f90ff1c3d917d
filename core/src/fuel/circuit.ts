import { z } from 'zod'
import { PumpSpec } from './pump.ts'

/** What a fuel circuit is made of. The four layouts are the same circuit with other sections. */
const Place = z.enum(['tank', 'under', 'boot', 'cabin', 'bay'])
export type Place = z.infer<typeof Place>
export const JointType = z.enum(['flare', 'taper', 'o-ring', 'push-on', 'quick'])
export type JointType = z.infer<typeof JointType>
const id = z.string().min(1).max(24)
const boreMm = z.number().min(2).max(30).describe('inner diameter, mm')
const ends = JointType.optional().describe('how its ends are made')

const LineElement = z.strictObject({
  id,
  kind: z.literal('line'),
  material: z.enum(['hard', 'hose']),
  hose: z.enum(['injection', 'braided', 'carburettor']).optional().describe('class of the hose'),
  boreMm,
  lengthM: z.number().min(0.02).max(15),
  place: Place,
  exhaustMm: z.number().min(0).max(2000).optional().describe('nearest distance to the exhaust, mm'),
  shielded: z.boolean().optional(),
  crossesMoving: z.boolean().optional(),
  ends,
})
export const FittingElement = z.strictObject({
  id,
  kind: z.literal('fitting'),
  fitting: z.enum(['elbow', 'banjo', 'union', 'tee', 'bulkhead']),
  boreMm,
  count: z.int().min(1).max(12),
  place: Place,
  ends,
})
const FilterElement = z.strictObject({
  id,
  kind: z.literal('filter'),
  micron: z.number().min(1).max(500).describe('mesh, micrometres'),
  dropKpa: z.number().min(0.01).max(100).describe('pressure lost when new, kPa'),
  atLph: z.number().min(1).max(1000).describe('flow of that figure, L/h'),
  body: z.enum(['metal', 'plastic']),
  place: Place,
  ends,
})
const CheckValveElement = z.strictObject({
  id,
  kind: z.literal('check-valve'),
  openingKpa: z.number().min(0).max(50).describe('pressure to open, kPa'),
  dropKpa: z.number().min(0).max(100).describe('pressure lost at flow, kPa'),
  atLph: z.number().min(1).max(1000).describe('flow of that figure, L/h'),
  place: Place,
  ends,
})
export const FuelElement = z.discriminatedUnion('kind', [LineElement, FittingElement, FilterElement, CheckValveElement])
export type FuelElement = z.infer<typeof FuelElement>
const Section = z
  .array(FuelElement)
  .max(20, 'must have at most 20 elements')
  .superRefine((elements, context) => {
    const twice = elements.findIndex((e, i) => elements.findIndex((other) => other.id === e.id) !== i)
    if (twice >= 0)
      context.addIssue({ code: 'custom', path: [twice, 'id'], message: `"${elements[twice].id}" stands twice in one section` })
  })

export const FuelLayout = z.enum(['return', 'returnless', 'lift-sump', 'surge-tank'])
export type FuelLayout = z.infer<typeof FuelLayout>

export const Regulator = z.strictObject({
  setKpa: z.number().min(30).max(700).describe('over its reference port, kPa'),
  reference: z.enum(['open', 'manifold', 'above-plates', 'capped']),
  openDropKpa: z.number().min(0.1).max(200).describe('pressure lost through it wide open, kPa'),
  openAtLph: z.number().min(10).max(1000).describe('flow of that figure, L/h'),
  minReturnLph: z.number().min(0).max(100).describe('return flow it needs to hold, L/h'),
})

/** A mechanical pump gives what its sheet says whatever the voltage; an electric one follows the supply. */
export const LiftPump = PumpSpec.extend({ kind: z.enum(['mechanical', 'electric']) })

export type LiftPump = z.infer<typeof LiftPump>
/** Stand-ins for what lifts fuel into a sump, made up for planning, until its sheet is typed in. */
export const genericLiftPumps: { id: string; label: string; spec: LiftPump }[] = [
  {
    id: 'mechanical',
    label: 'Mechanical, on the engine',
    spec: {
      kind: 'mechanical',
      generic: true,
      curves: [
        {
          voltageV: 12,
          points: [
            { pressureKpa: 0, flowLph: 70 },
            { pressureKpa: 15, flowLph: 45 },
            { pressureKpa: 28, flowLph: 0 },
          ],
        },
      ],
    },
  },
  {
    id: 'electric',
    label: 'Electric, low pressure',
    spec: {
      kind: 'electric',
      generic: true,
      curves: [
        {
          voltageV: 12,
          points: [
            { pressureKpa: 0, flowLph: 110 },
            { pressureKpa: 25, flowLph: 80 },
            { pressureKpa: 45, flowLph: 0 },
          ],
        },
      ],
    },
  },
]

export const FuelChoices = z.strictObject({
  layout: FuelLayout.optional(),
  pumpPlace: z.enum(['in-tank', 'outside']).optional(),
  pump: PumpSpec.optional(),
  liftPump: LiftPump.optional(),
  regulator: Regulator.optional(),
  suction: Section.optional().describe('tank or sump to pump'),
  delivery: Section.optional().describe('pump to regulator, returnless only'),
  feed: Section.optional().describe('to the injectors'),
  return: Section.optional().describe('regulator back to tank or sump'),
  lift: Section.optional().describe('tank to sump'),
  overflow: Section.optional().describe('sump back to tank'),
  heights: z
    .strictObject({
      fuelM: z.number().min(0).max(3).optional().describe('fuel level at a quarter full, above the ground, m'),
      pumpM: z.number().min(0).max(3).optional().describe('pump, above the ground, m'),
      sumpM: z.number().min(0).max(3).optional().describe('sump, above the ground, m'),
      railM: z.number().min(0).max(3).optional().describe('injectors, above the ground, m'),
    })
    .optional(),
  sump: z
    .strictObject({
      volumeL: z.number().min(0.1).max(20).optional().describe('usable, L'),
      uncoveredS: z.number().min(1).max(60).optional().describe('longest time the pick-up in the tank is dry, s'),
      vent: z.enum(['to-tank', 'outside', 'none']).optional(),
    })
    .optional(),
  mapFrom: z
    .enum(['plenum', 'one-runner', 'ported'])
    .optional()
    .describe('where the unit reads manifold pressure; apart from the regulator port'),
  tankGaugeKpa: z.number().min(-10).max(20).optional().describe('pressure in the tank over the air, kPa'),
  winterRvpKpa: z.number().min(30).max(110).optional().describe('Reid vapour pressure of winter fuel, kPa'),
  summerRvpKpa: z.number().min(30).max(110).optional().describe('Reid vapour pressure of summer fuel, kPa'),
  coolC: z.number().min(-20).max(40).optional().describe('fuel in ordinary use, degC'),
  hotC: z.number().min(20).max(75).optional().describe('fuel on the hottest day, degC'),
  wiring: z
    .strictObject({
      lengthM: z.number().min(0.1).max(20).optional().describe('supply wire to the pump, one way, m'),
      areaMm2: z.number().min(0.3).max(35).optional().describe('copper, mm2'),
      returnThroughWire: z.boolean().optional(),
    })
    .optional(),
  safety: z
    .strictObject({
      relay: z.boolean().optional(),
      crashCutOff: z.boolean().optional().describe('inertia or roll-over switch in the pump supply'),
      stallCutOff: z.boolean().optional().describe('stops the pump within 2 s of lost speed without the control unit'),
      mechanicalPumpRemoved: z.boolean().optional(),
      portsPlugged: z.boolean().optional().describe('unused ports closed with plugs rated for the pressure'),
    })
    .optional(),
})
export type FuelChoices = z.infer<typeof FuelChoices>

export type SectionId = 'suction' | 'delivery' | 'feed' | 'return' | 'lift' | 'overflow'
export const hasSump = (layout: FuelLayout): boolean => layout === 'lift-sump' || layout === 'surge-tank'

/** Sections of each layout in the order the fuel takes them, with the equipment at both ends. */
export function sectionsOf(layout: FuelLayout): { id: SectionId; title: string; from: string; to: string }[] {
  const source = hasSump(layout) ? 'sump' : 'tank'
  return [
    ...(hasSump(layout)
      ? [
          { id: 'lift' as const, title: 'Lift', from: 'tank', to: 'sump' },
          { id: 'overflow' as const, title: 'Overflow', from: 'sump', to: 'tank' },
        ]
      : []),
    { id: 'suction' as const, title: 'Suction', from: source, to: 'pump' },
    ...(layout === 'returnless' ? [{ id: 'delivery' as const, title: 'Delivery', from: 'pump', to: 'regulator' }] : []),
    { id: 'feed' as const, title: 'Feed', from: layout === 'returnless' ? 'regulator' : 'pump', to: 'injectors' },
    { id: 'return' as const, title: 'Return', from: 'regulator', to: source },
  ]
}

/** Loss coefficients of fittings (handbook 02; Crane TP-410 gives the same order). */
export const LOSS_K: Record<z.infer<typeof FittingElement>['fitting'], number> = {
  elbow: 0.9,
  banjo: 2.5,
  union: 0.1,
  tee: 1,
  bulkhead: 0.1,
}
/** Wall roughness, micrometres (handbook 02). */
export const ROUGHNESS_UM = { hard: 1.5, hose: 10 } as const

/** Usual sizes and their inner bores, mm (handbook 02). The bore of the part in hand wins: it can be typed for every line. */
export const boreTable = [
  { size: 'hard 8 mm', material: 'hard', boreMm: 6 },
  { size: 'hard 5/16 in', material: 'hard', boreMm: 6.2 },
  { size: 'hard 3/8 in', material: 'hard', boreMm: 7.7 },
  { size: 'hard 10 mm', material: 'hard', boreMm: 8 },
  { size: 'hose dash 6', material: 'hose', boreMm: 8.7 },
  { size: 'hard 1/2 in', material: 'hard', boreMm: 10.9 },
  { size: 'hose dash 8', material: 'hose', boreMm: 11.1 },
  { size: 'hose dash 10', material: 'hose', boreMm: 14.2 },
] as const
export const sizeOfBore = (material: 'hard' | 'hose', bore: number): string | null =>
  boreTable.find((b) => b.material === material && Math.abs(b.boreMm - bore) < 0.05)?.size ?? null

/** Hard line that shops have for a bore, by its outside: the next of the metric and of the inch sizes; null where none is wide enough. */
export function stockLine(leastBoreMm: number): string | null {
  const next = (unit: 'mm' | 'in') => boreTable.find((b) => b.material === 'hard' && b.size.endsWith(unit) && b.boreMm >= leastBoreMm)
  const sizes = [next('mm'), next('in')].flatMap((b) => (b ? [b.size.replace('hard ', '')] : []))
  return sizes.length ? `${sizes.join(' or ')} hard line` : null
}

/** A starting point for a layout, from which the person measures and edits: lengths of a usual saloon, stated as such on the screen. */
export function startingCircuit(layout: FuelLayout, braided = false): Pick<FuelChoices, SectionId | 'layout' | 'regulator' | 'sump'> {
  const hard = (lengthM: number, boreMm: number, place: Place, name: string): FuelElement => ({
    id: name,
    kind: 'line',
    ...(braided ? { material: 'hose' as const, hose: 'braided' as const } : { material: 'hard' as const }),
    boreMm,
    lengthM,
    place,
  })
  const hose = (lengthM: number, place: Place, name: string, boreMm = 8.7): FuelElement => ({
    id: name,
    kind: 'line',
    material: 'hose',
    hose: 'injection',
    boreMm,
    lengthM,
    place,
    ends: 'push-on',
  })
  const bend = (count: number, place: Place, name: string, boreMm = 8): FuelElement => ({
    id: name,
    kind: 'fitting',
    fitting: 'elbow',
    count,
    boreMm,
    place,
  })
  const coarse: FuelElement = { id: 'strainer', kind: 'filter', micron: 100, dropKpa: 1, atLph: 200, body: 'metal', place: 'tank' }
  const fine = (place: Place): FuelElement => ({ id: 'filter', kind: 'filter', micron: 10, dropKpa: 8, atLph: 200, body: 'metal', place })
  const check = (place: Place): FuelElement => ({ id: 'check', kind: 'check-valve', openingKpa: 3, dropKpa: 4, atLph: 200, place })
  const sump = hasSump(layout)
  const far = sump ? 'bay' : 'under'
  const runM = sump ? 0.8 : 3.6
  return {
    layout,
    regulator: { setKpa: 300, reference: 'open', openDropKpa: 40, openAtLph: 200, minReturnLph: 8 },
    ...(sump
      ? {
          sump: { volumeL: layout === 'surge-tank' ? 2 : 0.8, uncoveredS: 8 },
          lift: [hard(3.6, 6.2, 'under', 'lift-line'), bend(4, 'under', 'lift-bends', 6.2), hose(0.4, 'bay', 'lift-hose')],
          overflow: [hose(0.4, 'bay', 'overflow-hose'), hard(3.6, 6.2, 'under', 'overflow-line')],
        }
      : {}),
    suction: sump ? [hose(0.3, 'bay', 'suction-hose', 11.1)] : [coarse, hose(0.4, 'under', 'suction-hose', 11.1)],
    ...(layout === 'returnless' ? { delivery: [check('under'), fine('under'), hose(0.3, 'under', 'delivery-hose')] } : {}),
    feed: [
      ...(layout === 'returnless' ? [] : [check(far), fine(far)]),
      hard(runM, 8, far, 'feed-line'),
      bend(4, far, 'feed-bends'),
      hose(0.4, 'bay', 'feed-hose'),
    ],
    return:
      layout === 'returnless'
        ? [hose(0.3, 'under', 'return-hose')]
        : [hose(0.4, 'bay', 'return-hose'), hard(runM, 8, far, 'return-line'), bend(4, far, 'return-bends')],
  }
}

/** What choosing a layout sets: the layout, and a starting circuit for the sections it needs and does not have yet. */
export function layoutChanges(fuel: FuelChoices, layout: FuelLayout, setKpa?: number, braided = false): [path: string, value: unknown][] {
  const start = startingCircuit(layout, braided)
  const changes: [string, unknown][] = [['choices.fuel.layout', layout]]
  for (const { id } of sectionsOf(layout)) if (!fuel[id]?.length && start[id]) changes.push([`choices.fuel.${id}`, start[id]])
  if (!fuel.regulator) changes.push(['choices.fuel.regulator', { ...start.regulator, ...(setKpa ? { setKpa } : {}) }])
  if (start.sump && !fuel.sump) changes.push(['choices.fuel.sump', start.sump])
  return changes
}

/** What taking the other school of lines changes in a circuit that is laid out: hard line for braided hose and back, closed spaces left hard. */
export function lineChanges(fuel: FuelChoices, braided: boolean): [path: string, value: unknown][] {
  if (!fuel.layout) return []
  return sectionsOf(fuel.layout).flatMap(({ id }): [string, unknown][] => {
    const elements = fuel[id] ?? []
    const laid = elements.map((e): FuelElement => {
      if (e.kind !== 'line') return e
      const { hose, ...bare } = e
      if (braided)
        return e.material === 'hard' && e.place !== 'boot' && e.place !== 'cabin' ? { ...bare, material: 'hose', hose: 'braided' } : e
      return hose === 'braided' ? { ...bare, material: 'hard' } : e
    })
    return laid.some((e, i) => e !== elements[i]) ? [[`choices.fuel.${id}`, laid]] : []
  })
}

declare module '../kernel/told.ts' {
  interface ChoiceTable {
    fuel?: FuelChoices
  }
}
