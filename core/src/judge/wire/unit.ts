import { z } from 'zod'
import { UnitSpec } from '../../plan/index.ts'
import { UnitChoices } from '../../unit/index.ts'
import { id, when } from './board.ts'

const Value = z.union([z.number(), z.string()])
/** The answer card with what the unit told; values are in the unit's own units. */
export const UnitCard = z.object({
  left: z.string().nullable().describe('what is still to be done before the unit is known to hold what was meant; null: nothing'),
  answers: z.array(
    z.object({
      id: z.string(),
      group: z.string(),
      words: z.string(),
      value: Value.nullable(),
      shown: z.string(),
      unit: z.string(),
      step: z.number().nullable(),
      exact: z.number().nullable(),
      rounded: z.object({ side: z.enum(['down', 'up', 'nearest']), because: z.string() }).nullable(),
      options: z.record(z.string(), z.string()).nullable(),
      from: z.string(),
      missing: z.string().nullable(),
      ifHigh: z.string(),
      ifLow: z.string(),
      dangerous: z.boolean(),
      temporary: z.boolean(),
      told: z.object({ value: Value, unit: z.string(), at: when, who: z.string() }).nullable(),
      state: z.enum(['equal', 'differs', 'changed', 'open', 'missing']),
      effect: z.string(),
    }),
  ),
})
export const UnitProfile = z.object({ name: z.string(), who: z.string(), updatedAt: when, unit: UnitChoices, offers: UnitSpec.optional() })
export type UnitProfile = z.infer<typeof UnitProfile>
export const UnitProfiles = z.array(UnitProfile)
export const ExportCompared = z.object({ id, compared: z.int(), different: z.int(), worst: z.string() })
