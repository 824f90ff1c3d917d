import { expect, it } from 'vitest'
import { allFacts } from '@vectum/core'
import { fieldFor, fieldsOf, zones } from './zones.ts'

it('every fact of the catalogue is asked for once, in one zone of the car', () => {
  const asked = zones.flatMap(fieldsOf).map((f) => f.path)
  expect([...asked].sort()).toEqual(allFacts.map((f) => `facts.${f.path}`).sort())
})
it('a fact is found with its field and its zone', () => {
  expect(fieldFor('engine.compressionRatio')).toMatchObject({ zone: 'engine', field: { label: 'Compression, to 1', kind: 'quantity' } })
  expect(fieldFor('ignition.rotorRadiusMm')!.zone).toBe('ignition')
  expect(fieldFor('engine.colour')).toBeUndefined()
})
