import { z } from 'zod'
import type { ParameterKey } from '../tune/index.ts'

/** How a unit takes its settings, who corrects its fuel, and what its learned values are given in (handbook 10). */
export const SetBy = z.enum(['questions', 'tables', 'both'])
export type SetBy = z.infer<typeof SetBy>
export const Learns = z.enum(['itself', 'trim', 'nobody'])
export type Learns = z.infer<typeof Learns>
export const LearnedForm = z.enum(['percent', 'ratio', 've-points', 'ms'])
export type LearnedForm = z.infer<typeof LearnedForm>
/** How a unit's table tells load: pressure absolute, over the air outside, or under it. */
export const LearnedLoad = z.enum(['kpa', 'kpa-gauge', 'psi-gauge', 'inhg-vacuum'])
export type LearnedLoad = z.infer<typeof LearnedLoad>
/** What a unit can show on its display or write into a log. */
export const shownChannels = [
  'rpm',
  'map',
  'throttle',
  'mixture',
  'target',
  'trim',
  'learned',
  'coolant',
  'air',
  'battery',
  'idle-valve',
] as const

const axis = (low: number, high: number, unit: string) =>
  z
    .array(z.number().min(low).max(high))
    .min(2)
    .max(40)
    .refine((values) => values.every((v, i) => i === 0 || v > values[i - 1]), `must rise from point to point, ${unit}`)
const id = z.string().regex(/^[a-z][a-zA-Z0-9-]{0,40}$/, 'must be the id of a question')

/** How the unit asks one of the general questions, or whether it does. */
const AskedAs = z.strictObject({
  asked: z.boolean().optional().describe('false: this unit does not ask it'),
  words: z.string().trim().min(1).max(80).optional().describe('as the unit words it'),
  unit: z.string().trim().min(1).max(12).optional().describe('unit it wants the answer in'),
  step: z.number().min(0.0001).max(1000).optional().describe('smallest step of the answer, in that unit'),
})
/** A question that only this unit asks, answered by a figure of the tune. */
const OwnQuestion = z.strictObject({
  id,
  words: z.string().trim().min(1).max(80),
  parameter: z.string().max(40).describe('parameter of the tune that answers it') as unknown as z.ZodType<ParameterKey>,
  step: z.number().min(0.0001).max(1000).optional(),
})

/** The control unit as a thing: asked once, each of it may stay unknown. */
export const UnitChoices = z.strictObject({
  setBy: SetBy.optional(),
  learns: Learns.optional(),
  whyLearns: z.string().trim().max(200).optional().describe('why this school of learning was taken'),
  learnedForm: LearnedForm.optional(),
  learnedRpm: axis(0, 15000, 'rpm').optional(),
  learnedMapKpa: axis(5, 450, 'kPa').optional(),
  learnLimitPct: z.number().min(1).max(60).optional().describe('most that it learns, %'),
  learnSettleS: z.number().min(1).max(3600).optional().describe('time in one cell in which a steady error is mostly learned, s'),
  learnFromCoolantC: z.number().min(-20).max(110).optional(),
  learnFromRpm: z.number().min(0).max(6000).optional(),
  learnToMapKpa: z.number().min(20).max(400).optional().describe('over this manifold pressure it does not learn, kPa'),
  saves: z.enum(['always', 'key-off', 'by-hand']).optional(),
  foldsIntoBase: z.boolean().optional().describe('saving puts what was learned into the base'),
  keepsOverKeyOff: z.boolean().optional(),
  keepsOverBatteryOff: z.boolean().optional(),
  idleLearns: z.enum(['valve', 'air', 'spark', 'nothing']).optional(),
  idleLearnLimitPct: z.number().min(1).max(60).optional().describe('most that idle learning moves it, %'),
  shows: z.array(z.enum(shownChannels)).max(shownChannels.length).optional(),
  logs: z.array(z.enum(shownChannels)).max(shownChannels.length).optional(),
  logLeavesBy: z.enum(['card', 'cable', 'radio', 'none']).optional(),
  hasMarker: z.boolean().optional().describe('an input that marks a moment in its log'),
  mixtureIn: z.enum(['lambda', 'AFR']).optional(),
  pressureIn: z.enum(['kPa', 'psi', 'bar', 'inHg']).optional(),
  temperatureIn: z.enum(['°C', '°F']).optional(),
  firmware: z.string().trim().min(1).max(60).optional(),
  questions: z.record(id, AskedAs).optional(),
  own: z.array(OwnQuestion).max(40).optional(),
  profile: z.string().trim().min(1).max(60).optional().describe('profile of the shop that it was taken from'),
})
export type UnitChoices = z.infer<typeof UnitChoices>

declare module '../kernel/told.ts' {
  interface ChoiceTable {
    unit?: UnitChoices
  }
}
