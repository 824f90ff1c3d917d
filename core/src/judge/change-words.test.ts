import { expect, it } from 'vitest'
import { wordsOf } from '../kernel/say.ts'
import { changeSays, pathWords, valueSays } from './change-words.ts'
import { checkFact } from './check-told.ts'
import { choiceLabels } from './choice-labels.ts'

const inch = { system: 'inch', mixture: 'lambda', stoichAfr: 14.7 } as const

it.each([
  ['facts.engine.compressionRatio', 'Compression, to 1'],
  ['choices.fuel.safety.stallCutOff', 'Stops within 2 s of a stalled engine, without the unit'],
  ['choices.plan.fuelPressureKpa', 'Fuel pressure'],
  // as the server compares two builds, without the word before it
  ['spark.referenceDeg', 'Reference angle'],
  ['choices.rehearsal.spark.referenceDeg', 'Rehearsed: Reference angle'],
  ['rehearsal.spark.alignDegBtdc', 'Rehearsed: Rotor in line at'],
  ['choices.plan.tasks.wiring.hours', 'Plan, tasks, wiring, hours'],
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

it('every choice that has a name has a place in the schema, and no name stands for two of one part', () => {
  const part = (path: string) => path.split('.')[0]
  // lists whose names are fixed
  const named = (path: string) =>
    path.replace('boxes.*', 'boxes.unit').replace('joints.*', 'joints.throttle').replace('stack.*', 'stack.body')
  for (const [path, label] of Object.entries(choiceLabels)) {
    expect(label.trim().length, path).toBeGreaterThan(2)
    const twins = Object.entries(choiceLabels).filter(([other, name]) => name === label && part(other) === part(path) && other !== path)
    expect(
      twins.map(([other]) => other).filter((other) => !other.includes('.unit.') && !path.includes('.unit.')),
      label,
    ).toEqual([])
    // a value that no schema takes is refused with its own path; one that the schema does not know is refused as unknown
    const refusal = checkFact(`choices.${named(path)}`, { never: 'a value' }) ?? ''
    expect(refusal, path).not.toContain('not a field that is known')
  }
})
