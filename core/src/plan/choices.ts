import { z } from 'zod'
import { Route } from '../air/index.ts'

export const sizeIds = ['power', 'air', 'injector', 'pump', 'throttle', 'feed-bore', 'return-bore', 'alternator'] as const
export type SizeId = (typeof sizeIds)[number]

/** An override is a person's own figure in the place of a computed one, never without a reason. */
const Override = z.strictObject({
  value: z.number().min(0).max(100_000),
  reason: z.string().trim().min(3, 'must say why, in three letters or more').max(200),
  who: z.string().max(80).optional().describe('set by the server: whose figure it is'),
  at: z.iso.datetime().optional().describe('set by the server'),
})
const isoDate = z.iso.date()
const weight = z.int().min(0).max(3).optional().describe('0 does not matter to 3 matters most')

/** What a candidate control unit offers, as its own sheet says. */
export const UnitSpec = z.strictObject({
  name: z.string().trim().min(1).max(80).optional(),
  injectorOutputs: z.int().min(0).max(24).optional(),
  coilOutputs: z.int().min(0).max(24).optional(),
  phased: z.boolean().optional(),
  magneticInput: z.boolean().optional(),
  hallInput: z.boolean().optional(),
  camInput: z.boolean().optional(),
  timingControl: z.boolean().optional(),
  throttleLoad: z.boolean().optional().describe('load from throttle position'),
  electronicThrottle: z.boolean().optional(),
  boost: z.boolean().optional(),
  fanOutput: z.boolean().optional(),
  spareOutputs: z.int().min(0).max(24).optional(),
  logging: z.boolean().optional(),
  support: z.boolean().optional(),
})
export type UnitSpec = z.infer<typeof UnitSpec>

export const PartStatus = z.enum(['to-buy', 'ordered', 'have', 'fitted'])
export type PartStatus = z.infer<typeof PartStatus>
export const PartEntry = z.strictObject({
  status: PartStatus.optional(),
  price: z.number().min(0).max(100_000).optional().describe('each, in the workshop’s money'),
  quantity: z.number().min(0).max(1000).optional(),
  arrives: isoDate.optional(),
  note: z.string().trim().max(200).optional(),
})
export type PartEntry = z.infer<typeof PartEntry>
export const TaskEntry = z.strictObject({
  hours: z.number().min(0).max(400).optional().describe('own figure for this task, h'),
  leadDays: z.number().min(0).max(365).optional(),
  booked: isoDate.optional().describe('day on which an outside trade was booked: its lead time counts from there'),
  sundays: z.boolean().optional().describe('an outside trade that works on Sundays'),
  notBefore: isoDate.optional(),
  person: z.int().min(0).max(4).optional(),
  done: isoDate.optional(),
  hoursTaken: z.number().min(0).max(1000).optional(),
  hoursLeft: z.number().min(0).max(400).optional().describe('still to do, h'),
})
export type TaskEntry = z.infer<typeof TaskEntry>
const key = z.string().regex(/^[a-z][a-z0-9-]{0,40}$/, 'must be the id of a line of the list')
export const Experience = z.enum(['first', 'before', 'shop'])
export type Experience = z.infer<typeof Experience>
export const Person = z.strictObject({
  name: z.string().trim().min(1).max(40),
  hours: z
    .array(z.number().min(0).max(16))
    .length(7, 'must have seven figures, Monday to Sunday')
    .describe('free hours, Monday to Sunday, h'),
})
export type Person = z.infer<typeof Person>

/** Decisions taken for a build. Facts describe the car; choices say what it will become. */
export const PlanChoices = z.strictObject({
  route: Route.optional(),
  timingControl: z.boolean().optional(),
  electronicThrottle: z.boolean().optional(),
  injectors: z.int().min(1).max(24).optional(),
  injectorCcMin: z.number().min(50).max(10_000).optional().describe('rated flow each, cm3/min'),
  injectorRatedKpa: z.number().min(50).max(700).optional().describe('pressure difference of the rating, kPa'),
  fuelPressureKpa: z.number().min(50).max(700).optional().describe('base pressure over the injector outlet, kPa'),
  maxDutyPct: z.number().min(50).max(95).optional(),
  throttleM3Min: z.number().min(0.5).max(100).optional().describe('throttle flow rating, all bores, m3/min'),
  throttleRatedKpa: z.number().min(1).max(30).optional().describe('test depression of that rating, kPa'),
  throttleDropKpa: z.number().min(1).max(15).optional().describe('depression allowed at full load, kPa'),
  phased: z.boolean().optional().describe('injection timed to each cylinder’s inlet stroke'),
  brakeBooster: z.boolean().optional(),
  overrides: z.partialRecord(z.enum(sizeIds), Override).optional(),
  ways: z.record(key, z.enum(['a', 'b', 'c'])).optional(),
  acceptWork: z.int().min(0).max(9).optional().describe('points of work accepted in a recommended route'),
  aims: z
    .strictObject({ drivability: weight, coldStart: weight, economy: weight, power: weight, distribution: weight, spark: weight })
    .optional()
    .describe('what the owner wants of it; left out: by the use of the car'),
  periodLook: weight,
  reversible: weight,
  quiet: weight,
  unit: UnitSpec.optional(),
  supply: z.enum(['matched-set', 'separate']).optional(),
  experience: Experience.optional(),
  hourlyRate: z.number().min(0).max(1000).optional().describe('what an hour of work counts in the comparison'),
  currency: z.string().trim().min(1).max(8).optional().describe('the workshop’s money, as it stands beside every price'),
  prices: z.record(key, z.number().min(0).max(100_000)).optional(),
  parts: z.record(key, PartEntry).optional(),
  tasks: z.record(key, TaskEntry).optional(),
  tools: z.record(key, z.enum(['have', 'borrow', 'make', 'buy'])).optional(),
  start: isoDate.optional(),
  people: z.array(Person).min(1).max(5).optional(),
})
export type PlanChoices = z.infer<typeof PlanChoices>

declare module '../kernel/told.ts' {
  interface ChoiceTable {
    plan?: PlanChoices
  }
}
