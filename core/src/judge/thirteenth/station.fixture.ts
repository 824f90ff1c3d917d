import { z } from 'zod'
import type { Context } from '../../kernel/context.ts'
import { entry, latest, quantityField, type StoredReading } from '../../kernel/entry.ts'
import { number } from '../../kernel/fact.ts'
import { at, finding } from '../../kernel/finding.ts'
import { asSaying, kPa, say } from '../../kernel/say.ts'
import { station } from '../../kernel/station.ts'

/** A made-up station, the whole of it: what CONTRIBUTING tells to write, and the test adds to the line. It looks after the heater. */
const heaterFacts = {
  heater: { matrixKpa: number(0, 300, 'Heater matrix holds', 'pressure', { why: 'it shares the coolant', wantedBy: 'heater' }) },
} as const

const heaterEntries = {
  'heater.tested': entry({
    title: 'Heater matrix tested',
    proof: null,
    schema: z.strictObject({ pressureKpa: z.number().min(0).max(300), held: z.boolean() }),
    says: (v) => say`Heater matrix at ${kPa(v.pressureKpa)}: ${v.held ? 'held' : 'did NOT hold'}`,
    fields: { pressureKpa: quantityField('Tested at', 'pressure') },
    answers: [
      { label: 'Held', value: { held: true } },
      { label: 'Did not hold', value: { held: false } },
    ],
    tool: 'hand pump',
  }),
} as const

const tested = (c: Pick<Context, 'readings'>) =>
  latest(c.readings, 'heater.tested' as never) as unknown as (StoredReading & { value: { held: boolean; pressureKpa: number } }) | null

export const heater = station({
  id: 'heater',
  number: 13,
  title: 'Heater',
  question: 'Does the matrix hold?',
  key: 'e',
  after: ['survey'],
  facts: heaterFacts,
  choices: { heater: z.strictObject({ kept: z.boolean().optional() }) },
  entries: heaterEntries,
  rules: [
    {
      id: 'heater.leaks',
      check: (c) => {
        const last = tested(c)
        return last && !last.value.held
          ? finding(
              'stop',
              'The heater matrix leaks',
              say`It lost ${kPa(last.value.pressureKpa)}.`,
              'Replace it.',
              at('heater', undefined, 'heater.tested'),
            )
          : null
      },
    },
  ],
  requirements: (c) => [
    {
      id: 'tested',
      met: tested(c)?.value.held === true,
      action: say`Test the matrix at ${kPa(100)}`,
      where: at('heater', undefined, 'heater.tested'),
    },
  ],
  numbers: () => [],
  cautions: ['moving'],
  contributes: {
    parts: () => [
      {
        id: 'heater-hose',
        price: 'hose-carburettor',
        name: 'Heater hose',
        spec: asSaying('for coolant'),
        quantity: 2,
        unit: 'm',
        used: 'heater',
      },
    ],
    tasks: () => [
      { id: 'heater', title: 'Heater hoses', station: 'heater', kind: 'work', base: 1, after: ['removal'], before: ['hand-over'] },
    ],
  },
})
