import { z } from 'zod'

const id = z.string().regex(/^[a-z][a-z0-9-]{0,40}$/, 'must be small letters, digits and hyphens, beginning with a letter')
const words = (most: number) => z.string().trim().min(1).max(most)
const mm = (least: number, most: number, what: string) => z.number().min(least).max(most).optional().describe(`${what}, mm`)

export const jointIds = ['throttle', 'adapter', 'manifold'] as const
export const jointWords: Record<(typeof jointIds)[number], string> = {
  throttle: 'throttle flange',
  adapter: 'adapter',
  manifold: 'manifold',
}
export type JointId = (typeof jointIds)[number]
/** A bolted joint: where its bolts sit, what they are, what they are screwed into. */
export const BoltJoint = z.strictObject({
  pattern: z.enum(['rectangle', 'circle', 'row']).optional(),
  bolts: z.int().min(2, 'must be two or more').max(24).optional(),
  widthMm: mm(5, 1000, 'across'),
  lengthMm: mm(5, 1500, 'along'),
  diameterMm: mm(10, 600, 'of the bolt circle'),
  at: z
    .array(z.strictObject({ xMm: z.number().min(-1000).max(1000), yMm: z.number().min(-1000).max(1000) }))
    .min(2)
    .max(24)
    .optional()
    .describe('places of the bolts from the middle, where they were moved, mm'),
  threadMm: z
    .union([z.literal(5), z.literal(6), z.literal(7), z.literal(8), z.literal(10), z.literal(12), z.literal(14)])
    .optional()
    .describe('mm'),
  class: z.enum(['5.8', '8.8', '10.9']).optional(),
  lubrication: z.enum(['dry', 'oiled', 'paste']).optional(),
  lug: z.enum(['light-alloy', 'cast-iron', 'steel']).optional(),
  engagementMm: mm(2, 60, 'thread in the lug'),
  washer: z.boolean().optional(),
  sheetNm: z.number().min(1).max(200).optional().describe('torque by the sheet of the part, Nm'),
})
export type BoltJoint = z.infer<typeof BoltJoint>

export const portKinds = {
  manifold: 'full manifold vacuum, below the plates',
  ported: 'at the plates’ edge: vacuum from off idle on',
  clean: 'filtered air, before the plates',
  runner: 'one cylinder’s runner, below its plate',
} as const
export type PortKind = keyof typeof portKinds
const portKind = z.enum(Object.keys(portKinds) as [PortKind, ...PortKind[]])
/** A port of the throttle body or manifold. */
export const Port = z.strictObject({
  name: words(40),
  kind: portKind,
  boreMm: mm(1, 30, 'inside'),
  capped: z.boolean().optional(),
})
export type Port = z.infer<typeof Port>
const Consumer = z.strictObject({ name: words(40), wants: portKind, large: z.boolean().optional() })
const Vacuum = z.strictObject({
  ports: z.record(id, Port).optional(),
  /** consumer to port */
  joined: z.record(id, id).optional(),
  own: z.record(id, Consumer).optional().describe('what only the person knows of'),
  mapHoseMm: mm(20, 3000, 'hose of the pressure sensor'),
  mapDrains: z.boolean().optional().describe('that hose runs downhill to the port'),
  collector: z.boolean().optional().describe('one small bore from every runner into a collector'),
  reservoirL: z.number().min(0).max(20).optional().describe('L'),
  boosterL: z.number().min(0.2).max(6).optional().describe('what one full application of the booster takes, L'),
})

export const LinkageChoices = z.strictObject({
  kind: z.enum(['cable', 'rod']).optional(),
  cam: z.enum(['round', 'snail', 'lever']).optional(),
  pedal: z
    .strictObject({
      travelMm: mm(15, 160, 'of the pad, to the floor without carpet'),
      padMm: mm(60, 500, 'pivot to pad'),
      armMm: mm(10, 400, 'pivot to the cable or rod'),
    })
    .optional(),
  leverMm: mm(8, 120, 'radius of the throttle’s lever or cam'),
  endRadiusMm: mm(8, 120, 'radius of the cam after a quarter turn'),
  bracketMm: mm(20, 400, 'cable bracket to throttle shaft'),
  startDeg: z.number().min(-60).max(80).optional().describe('lever at rest, beyond square to the bracket, deg'),
  slackMm: mm(0, 20, 'slack of the cable at rest'),
  rod: z
    .strictObject({
      groundMm: mm(20, 600, 'bell lever’s pivot to throttle shaft'),
      inMm: mm(8, 150, 'bell lever, arm that the pedal draws'),
      crankMm: mm(8, 150, 'bell lever, arm of the rod'),
      couplerMm: mm(20, 600, 'rod, eye to eye'),
      leverMm: mm(8, 150, 'throttle’s lever'),
      startDeg: z.number().min(5).max(175).optional().describe('bell lever at rest from the line of the pivots, deg'),
    })
    .optional(),
  plate: z
    .strictObject({
      boreMm: mm(15, 120, 'one bore'),
      shutDeg: z.number().min(0).max(20).optional().describe('plate shut, from square across, deg'),
      count: z.int().min(1).max(12).optional(),
    })
    .optional(),
  carpetMm: mm(0, 40, 'what the carpet takes of the pedal'),
  springs: z.int().min(0).max(4).optional().describe('that shut it'),
  staged: z.boolean().optional().describe('a second shaft opens after the first'),
  second: z
    .strictObject({
      boreMm: mm(15, 120, 'one bore of the second shaft'),
      count: z.int().min(1).max(12).optional(),
      fromPct: z.number().min(0).max(95).optional().describe('of the first shaft’s way at which it begins, %'),
      fullDeg: z.number().min(0).max(95).optional().describe('its plate with the first wide open, deg'),
    })
    .optional(),
  gearboxCable: z
    .strictObject({
      armMm: mm(5, 120, 'arm at the throttle that draws it'),
      wantedMm: mm(2, 120, 'travel by the gearbox’s sheet'),
    })
    .optional()
    .describe('kick-down or throttle-valve cable'),
  shafts: z.int().min(1).max(6).optional(),
})
export type LinkageChoices = z.infer<typeof LinkageChoices>

export const stackParts = {
  adapter: 'adapter',
  spacer: 'spacer',
  body: 'throttle body',
  base: 'base of the air cleaner',
  element: 'filter element',
  lid: 'lid',
  stud: 'stud over the lid',
} as const
export type StackPart = keyof typeof stackParts
const StackLine = z.strictObject({
  heightMm: z.number().min(-80).max(300).describe('what it adds; below zero for a dropped base, mm'),
  spreadMm: z.number().min(0).max(20).optional().describe('may differ by, mm'),
  leastMm: z.number().min(-80).max(300).optional().describe('lowest that can be had, mm'),
})
const stackId = z.enum(Object.keys(stackParts) as [StackPart, ...StackPart[]])

const SensorPlace = z.strictObject({
  fromPortMm: mm(50, 4000, 'along the pipe from the port'),
  toEndMm: mm(50, 6000, 'to the open end'),
  mergeMm: mm(50, 4000, 'where the branches merge, from the port'),
  pipeMm: mm(20, 150, 'pipe, outside'),
  upDeg: z.number().min(-90).max(90).optional().describe('axis above horizontal, deg'),
  sensors: z.int().min(1).max(2).optional(),
  sees: z.enum(['all', 'left', 'right']).optional().describe('cylinders whose gas passes it'),
})
type SensorPlace = z.infer<typeof SensorPlace>

export const boxIds = ['unit', 'coil', 'driver'] as const
export const boxWords: Record<(typeof boxIds)[number], string> = { unit: 'control unit', coil: 'coil', driver: 'ignition box' }
export type BoxId = (typeof boxIds)[number]
export const BoxPlace = z.strictObject({
  plugs: z.enum(['down', 'sideways', 'up']).optional(),
  dry: z.boolean().optional(),
  rubber: z.boolean().optional().describe('on rubber feet'),
  hottestC: z.number().min(0).max(150).optional().describe('hottest there, degC'),
  access: z.boolean().optional().describe('plugs can be reached behind the panel'),
  holeMm: mm(5, 120, 'hole that the plug goes through'),
  plugMm: mm(5, 120, 'plug, at its widest'),
  leadsM: z.number().min(0.1).max(15).optional().describe('leads as bought, m'),
})
export type BoxPlace = z.infer<typeof BoxPlace>

const pct = z.number().min(0).max(100)
export const PedalChoices = z.strictObject({
  curve: z
    .array(z.strictObject({ pedalPct: pct, platePct: pct }))
    .min(3)
    .max(9)
    .refine((points) => points.every((p, i) => i === 0 || (p.pedalPct > points[i - 1].pedalPct && p.platePct >= points[i - 1].platePct)), {
      message: 'must rise from point to point: the plate never closes while the pedal goes down',
    })
    .refine((points) => points[0].pedalPct === 0 && points[points.length - 1].pedalPct === 100, {
      message: 'must begin at 0 % of the pedal and end at 100 %',
    })
    .optional(),
  defaultPct: z.number().min(0).max(30).optional().describe('where springs hold the plate without current, %'),
})
export type PedalChoices = z.infer<typeof PedalChoices>

export const FitupChoices = z.strictObject({
  joints: z.partialRecord(z.enum(jointIds), BoltJoint).optional(),
  vacuum: Vacuum.optional(),
  linkage: LinkageChoices.optional(),
  stack: z.partialRecord(stackId, StackLine).optional(),
  liftMm: mm(0, 80, 'what the engine lifts on its mounts'),
  tiltDeg: z.number().min(0).max(20).optional().describe('cleaner leans against the bonnet, deg'),
  cleanerMm: mm(50, 600, 'air cleaner across'),
  sensor: SensorPlace.optional(),
  boxes: z.partialRecord(z.enum(boxIds), BoxPlace).optional(),
  pedal: PedalChoices.optional(),
  neckMm: mm(20, 200, 'neck of the air cleaner'),
  bodyNeckMm: mm(20, 200, 'neck of the throttle body'),
})
export type FitupChoices = z.infer<typeof FitupChoices>

declare module '../kernel/told.ts' {
  interface ChoiceTable {
    fitup?: FitupChoices
  }
}
