import { z } from 'zod'
import { FUSES_A } from '../electrics/index.ts'
import { isPlace } from './places.ts'

const id = z.string().regex(/^[a-z][a-z0-9-]{0,40}$/, 'must be small letters, digits and hyphens, beginning with a letter')
const words = (most: number) => z.string().trim().min(1).max(most)
const fuse = z.number().refine((a) => (FUSES_A as readonly number[]).includes(a), `must be a standard fuse: ${FUSES_A.join(', ')} A`)
const reason = z.string().trim().min(3, 'must say why, in three letters or more').max(200)
const PlaceId = z.string().refine(isPlace, 'must be a place of the harness')

/** What a person says otherwise of a circuit that the plan asks for; what is left out goes on following the plan. */
export const CircuitEdit = z.strictObject({
  name: words(60).optional(),
  from: PlaceId.optional(),
  to: PlaceId.optional(),
  continuousA: z.number().min(0).max(200).optional().describe('A'),
  surgeA: z.number().min(0).max(1500).optional().describe('while it starts, 0.2 s, A'),
  measuredM: z.number().min(0.05).max(20).optional().describe('one way, laid with string or tape, m'),
  areaMm2: z.number().min(0.22).max(70).optional().describe('copper, mm2'),
  colour: words(24).optional(),
  fuseA: z
    .union([fuse, z.literal(0)])
    .optional()
    .describe('A; 0: none is fitted'),
  relay: z.boolean().optional(),
  pin: words(12).optional().describe('at the unit’s connector, as marked on it'),
  via: z.array(id).max(20).optional().describe('way points it is laid over, in order'),
  sleeve: z.boolean().optional().describe('in a heat sleeve'),
  tied: z.boolean().optional().describe('held within a hand’s breadth of both its plugs'),
  coilFrom: id.optional().describe('circuit that feeds the coil of its relay'),
  enabled: z.boolean().optional().describe('an output that is switched on in the unit'),
  note: words(200).optional(),
  leftOut: reason.optional().describe('not part of this harness, because'),
})
export type CircuitEdit = z.infer<typeof CircuitEdit>
/** A circuit that only the person knows of. */
export const OwnCircuit = z.strictObject({
  name: words(60),
  from: PlaceId,
  to: PlaceId,
  continuousA: z.number().min(0).max(200).describe('A'),
  surgeA: z.number().min(0).max(1500).optional(),
  feed: z.enum(['battery', 'keyed', 'unit']).describe('what it is fed from'),
  why: reason,
})
export type OwnCircuit = z.infer<typeof OwnCircuit>

const Point = z.strictObject({
  xMm: z.number().min(-1500).max(6000).describe('behind the front axle, mm'),
  yMm: z.number().min(-1200).max(1200).describe('right of the middle, mm'),
})
const channel = z.enum(['rpm', 'mapKpa', 'throttlePct', 'coolantC', 'intakeAirC', 'batteryV', 'fuelKpa', 'oilKpa', 'speedKmh'])
export type OutputChannel = z.infer<typeof channel>
const Condition = z.strictObject({
  channel,
  on: z.number().min(-50).max(20000),
  off: z.number().min(-50).max(20000).describe('it goes off past this; below `on` for what comes on rising'),
  delayS: z.number().min(0).max(600).optional().describe('holds so long before it acts, s'),
  andRpmOver: z.number().min(0).max(15000).optional(),
})
export type OutputCondition = z.infer<typeof Condition>
export const Sender = z.strictObject({
  name: words(40),
  unit: words(12),
  signal: z.enum(['ohm', 'volt']),
  points: z
    .array(z.strictObject({ signal: z.number().min(0).max(1e6), value: z.number().min(-100).max(20000) }))
    .min(2, 'must have two points or more')
    .max(20),
})
export type Sender = z.infer<typeof Sender>
/** A gauge on a sender: its scale, in the sender's unit. */
export const Gauge = z.strictObject({
  name: words(40),
  sender: id,
  low: z.number().min(-100).max(20000),
  high: z.number().min(-100).max(20000),
})
export type Gauge = z.infer<typeof Gauge>
export const inputActionWords = {
  'closed-loop-off': 'closes the mixture loop off',
  'target-change': 'changes the target of the mixture',
  'spark-change': 'changes the spark',
  'idle-raise': 'raises the idle',
  nitrous: 'arms nitrous',
  immobilise: 'keeps the engine from starting',
  'log-mark': 'sets a mark in the log',
} as const
export type InputAction = keyof typeof inputActionWords
const inputActions = Object.keys(inputActionWords) as [InputAction, ...InputAction[]]
/** Relays whose coils feed one another in a ring, in order; null: none do. */
export function relayRing(circuits: Readonly<Record<string, Pick<CircuitEdit, 'coilFrom'>>>): string[] | null {
  for (const start of Object.keys(circuits)) {
    const through = [start]
    for (let next = circuits[start].coilFrom; next !== undefined; next = circuits[next]?.coilFrom) {
      if (next === start) return [...through, start]
      if (through.includes(next)) break
      through.push(next)
    }
  }
  return null
}
const version = z.string().regex(/^\d+(\.\d+){0,3}$/, 'must be numbers with points, like 2.14')

export const WiringChoices = z.strictObject({
  circuits: z
    .record(id, CircuitEdit)
    .superRefine((circuits, check) => {
      const ring = relayRing(circuits)
      if (ring)
        check.addIssue({
          code: 'custom',
          path: [ring[0], 'coilFrom'],
          message: `must not close a loop of relays: ${ring.join(' ← ')}; none of them would ever pull in`,
        })
    })
    .optional(),
  own: z.record(id, OwnCircuit).optional(),
  places: z.record(PlaceId, Point).optional(),
  laid: z.boolean().optional().describe('the routes were looked at on the car and stand'),
  wheelbaseMm: z.number().min(1500).max(4500).optional().describe('scale of the plan, mm'),
  exhaustSide: z.enum(['left', 'right', 'both']).optional(),
  batterySide: z.enum(['left', 'right']).optional(),
  bayC: z.number().min(20).max(100).optional().describe('hottest air in the bay, measured, degC'),
  batteryAh: z.number().min(10).max(200).optional().describe('Ah'),
  resetV: z.number().min(4).max(11).optional().describe('where the unit resets, by its sheet, V'),
  outputA: z.number().min(0.1).max(20).optional().describe('what one output of the unit switches, by its sheet, A'),
  injectorOhm: z.number().min(0.5).max(30).optional().describe('of one injector’s coil, ohm'),
  grommets: z.record(id, z.boolean()).optional().describe('through-panels with a grommet in the hole'),
  unitGround: z.enum(['own-wire', 'casting']).optional(),
  loom: z.enum(['new', 'sound', 'brittle']).optional().describe('what is kept of the old loom'),
  bus: z
    .strictObject({
      ends: z.int().min(0).max(4).optional().describe('resistors of 120 ohm on it'),
      lengthM: z.number().min(0.1).max(100).optional(),
      stubM: z.number().min(0).max(20).optional().describe('longest branch, m'),
    })
    .optional(),
  powerBox: z
    .strictObject({
      channels: z.int().min(1).max(64).optional(),
      channelA: z.number().min(1).max(60).optional().describe('what one channel carries, by its sheet, A'),
      totalA: z.number().min(5).max(400).optional().describe('all of them together, by its sheet, A'),
    })
    .optional()
    .describe('switches and guards circuits instead of fuses and relays'),
  senders: z.record(id, Sender).optional(),
  gauges: z.record(id, Gauge).optional(),
  inputs: z.record(id, z.strictObject({ name: words(40), action: z.enum(inputActions) })).optional(),
  outputs: z.record(id, z.strictObject({ name: words(40), when: Condition, relay: z.boolean().optional() })).optional(),
  boxes: z
    .record(
      id,
      z.strictObject({ name: words(40), firmware: version.optional(), wantedBy: words(40).optional(), least: version.optional() }),
    )
    .optional(),
})
export type WiringChoices = z.infer<typeof WiringChoices>

declare module '../kernel/told.ts' {
  interface ChoiceTable {
    wiring?: WiringChoices
  }
}
