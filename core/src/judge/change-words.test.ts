import { expect, it } from 'vitest'
import { wordsOf } from '../kernel/say.ts'
import { changeSays, pathWords, valueSays } from './change-words.ts'

const inch = { system: 'inch', mixture: 'lambda', stoichAfr: 14.7 } as const

it.each([
  ['facts.engine.compressionRatio', 'Compression, to 1'],
  ['choices.fuel.safety.stallCutOff', 'Fuel, safety, stall cut off'],
  ['choices.plan.fuelPressureKpa', 'Plan, fuel pressure'],
  ['title', 'Title'],
])('%s is known as "%s"', (path, words) => expect(pathWords(path)).toBe(words))

it.each<[string, unknown, string, string]>([
  ['facts.cam.idleVacuumKpa', 52, '52 kPa', '7.5 psi'],
  ['facts.engine.chamber', 'modern-heart', 'modern, heart-shaped', 'modern, heart-shaped'],
  ['facts.engine.firingOrder', [1, 3, 4, 2], '1-3-4-2', '1-3-4-2'],
  ['facts.fuel.tankVented', false, 'no', 'no'],
  ['facts.gearing.gearRatios', [3.1, 1], '3.10, 1', '3.10, 1'],
  ['choices.plan.fuelPressureKpa', 299.9219295, '300 kPa', '43.5 psi'],
  ['choices.fuel.safety.stallCutOff', true, 'yes', 'yes'],
  ['choices.fuel.feed', [{}, {}], '2 elements', '2 elements'],
  ['choices.spark.trigger', 'crank-cam', 'crank cam', 'crank cam'],
  ['facts.engine.boreMm', undefined, 'not known', 'not known'],
])('%s %s reads %s', (path, value, metric, other) => {
  expect(wordsOf(valueSays(path, value))).toBe(metric)
  expect(wordsOf(valueSays(path, value), inch)).toBe(other)
})

it('a change says what it was and what it is', () =>
  expect(wordsOf(changeSays({ path: 'facts.engine.boreMm', from: undefined, to: 86 }))).toBe('Bore: not known → 86 mm'))
