import { expect, it } from 'vitest'
import { checkFact } from './check-told.ts'

it('one field of a thing that wants more is taken; what is wrong with itself is told', () => {
  // a port wants a name and a kind: they stand in the build already
  expect(checkFact('choices.fitup.vacuum.ports.heater.capped', true)).toBeNull()
  expect(checkFact('choices.fitup.vacuum.ports.heater.boreMm', 40)).toContain('30')
  expect(checkFact('choices.fitup.vacuum.ports.heater', { name: 'Heater' })).not.toBeNull()
})
it('a path that no schema knows, and a name that is none, are refused', () => {
  expect(checkFact('choices.fitup.nothing', 1)).toContain('not a field that is known')
  expect(checkFact('choices.wiring.circuits.Pump.fuseA', 10)).toContain('small letters')
})
it('bounds stand as they did: a negative length, a fuse of no standard, a loop of relays', () => {
  expect(checkFact('choices.wiring.circuits.pump.measuredM', -1)).toContain('0.05')
  expect(checkFact('choices.wiring.circuits.pump.fuseA', 12)).toContain('standard fuse')
  expect(checkFact('choices.wiring.circuits', { pump: { coilFrom: 'fan' }, fan: { coilFrom: 'pump' } })).toContain('loop of relays')
})
