import { readFileSync } from 'node:fs'
import { join } from 'node:path'
import fc from 'fast-check'
import { describe, expect, it } from 'vitest'
import { computeBaseTune } from './base-tune.ts'
import { checkParameter, isOwnWork, parameterSpecs, takeParts, tuneDifferences } from './parameters.ts'
import { TuneDocument, TuneParameters } from './tune.ts'

const demo = (file: string) => {
  const { facts, choices } = JSON.parse(readFileSync(join(import.meta.dirname, '../../../demo/cars', file), 'utf8'))
  return computeBaseTune(facts, choices)
}
const a = demo('1-lowland.json')
const b = demo('2-rampart.json')

describe('parameters', () => {
  it('each has words and a group, none is forgotten', () => {
    expect(Object.keys(parameterSpecs).sort()).toEqual(Object.keys(TuneParameters.shape).sort())
  })
  it('each value of a computed tune says where it came from', () => {
    for (const key of Object.keys(parameterSpecs)) expect(a.provenance[key], key).toMatch(/\w{4}/)
  })
  it('every parameter of a computed tune is within its own bounds; outside them it is refused by name', () => {
    for (const key of Object.keys(parameterSpecs) as (keyof typeof parameterSpecs)[])
      expect(checkParameter(key, a.parameters[key])).toBeNull()
    expect(checkParameter('fanOnC', 200)).toMatch(/^Fan on: .*130/)
    expect(checkParameter('deadTimeMs', [[3, 1]])).toMatch(/^Dead time: /)
  })
})

it('a tune goes out as JSON and comes back the same, cell by cell', () => {
  for (const tune of [a, b]) expect(TuneDocument.parse(JSON.parse(JSON.stringify(tune)))).toEqual(tune)
})
it('what was learned or edited is own work, what was computed or assumed is not', () => {
  const have = {
    ...a,
    provenance: { ...a.provenance, ve: 'learned from drive.csv over version 2', fanOnC: 'edited by hand from version 1' },
  }
  expect(['tables.ve', 'parameters.fanOnC', 'tables.spark', 'parameters.deadTimeMs'].map((id) => isOwnWork(have, id))).toEqual([
    true,
    true,
    false,
    false,
  ])
})

describe('what another computation would change', () => {
  it('nothing between a tune and itself', () => expect(tuneDifferences(a, structuredClone(a))).toEqual([]))
  it('one cell and one parameter: both are named with their size', () => {
    const other = structuredClone(a)
    other.tables.ve[7] += 3
    other.parameters.fanOnC = 91
    expect(tuneDifferences(a, other)).toEqual([
      { id: 'tables.ve', label: 'Volumetric efficiency', from: `1 of ${a.tables.ve.length} cells`, to: 'by up to +3.0 %' },
      { id: 'parameters.fanOnC', label: 'Fan on', from: String(a.parameters.fanOnC), to: '91 °C' },
    ])
  })
  it('taking everything makes the other, taking nothing leaves the first, and what is taken differs no more', () => {
    const all = tuneDifferences(a, b).map((d) => d.id)
    expect(takeParts(a, b, [])).toEqual(a)
    expect(tuneDifferences(takeParts(a, b, all), b)).toEqual([])
    fc.assert(
      fc.property(fc.subarray(all), (ids) => {
        const made = takeParts(a, b, ids)
        expect(TuneDocument.safeParse(made).success).toBe(true)
        expect(tuneDifferences(made, b).map((d) => d.id)).toEqual(all.filter((id) => !ids.includes(id)))
      }),
    )
  })
  it('a learned table keeps its own provenance until it is taken', () => {
    const learned = { ...a, provenance: { ...a.provenance, ve: 'learned from log 7' } }
    expect(takeParts(learned, b, ['parameters.fanOnC']).provenance.ve).toBe('learned from log 7')
    expect(takeParts(learned, { ...b, axes: a.axes }, ['tables.ve']).provenance.ve).toBe(b.provenance.ve)
  })
})
