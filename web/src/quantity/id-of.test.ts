import { expect, it } from 'vitest'
import { idOf } from './id-of.ts'

it.each([
  ['Oil gauge', 'oil-gauge'],
  ['  Rear, large! ', 'rear-large'],
  ['2nd fan', 'nd-fan'],
  ['123', ''],
  ['é', ''],
  ['x'.repeat(60), 'x'.repeat(40)],
])('%s is %s', (name, id) => expect(idOf(name)).toBe(id))
