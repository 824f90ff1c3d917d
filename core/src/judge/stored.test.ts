import { describe, expect, it } from 'vitest'
import { evaluate } from './judgement.ts'
import { madeReading, soundBuild } from './made-up.fixture.ts'
import { isUnreadable, readChoices, readEntry, readFacts, upcast } from './stored.ts'

describe('yesterday’s documents open', () => {
  it('whole ones come back as they are', () => {
    const { facts, choices } = soundBuild()
    expect(readFacts(1, facts)).toEqual({ value: facts, unreadable: [] })
    expect(readChoices(1, choices)).toEqual({ value: choices, unreadable: [] })
  })
  it('a value that is not taken any more is left out and named; the others stay', () => {
    const { value, unreadable } = readFacts(1, { engine: { cylinders: 6, boreMm: 9000, colour: 'red' }, fuel: { tankL: 60 } })
    expect(value).toEqual({ engine: { cylinders: 6 }, fuel: { tankL: 60 } })
    expect(unreadable.map((u) => u.what).sort()).toEqual(['Bore', 'Engine, colour'])
  })
  it('one bad element leaves its list out whole', () => {
    const { value, unreadable } = readFacts(1, { health: { compressionKpa: [1000, 'high'], leakDownPct: [5] } })
    expect(value).toEqual({ health: { leakDownPct: [5] } })
    expect(unreadable).toHaveLength(1)
  })
  it('what is no document at all is said to be none', () => expect(readFacts(1, 'text').unreadable[0].because).toContain('cannot be read'))
  it('an entry of an unknown kind or of a value nobody takes is named in its place', () => {
    const good = madeReading('fuel.arrows', { right: true })
    expect(readEntry(1, good)).toEqual(good)
    expect(readEntry(1, { ...good, kind: 'fuel.smell' })).toMatchObject({ because: expect.stringContaining('not known') })
    const bad = readEntry(1, { ...good, value: { right: 'perhaps' } })
    expect(isUnreadable(bad) && bad.what).toContain('fuel.arrows of')
  })
  it('a drive of the coil answered among the ways of the plan stands with the spark from version 2 on', () => {
    const old = { plan: { ways: { 'coil-drive': 'b', lines: 'b' } } }
    expect(readChoices(1, old)).toEqual({ value: { plan: { ways: { lines: 'b' } }, spark: { coilDrive: 'capacitive' } }, unreadable: [] })
    expect(readChoices(1, { ...old, spark: { coilDrive: 'built-in' } }).value.spark).toEqual({ coilDrive: 'built-in' })
    expect(readChoices(2, { spark: { coilDrive: 'capacitive' } }).value).toEqual({ spark: { coilDrive: 'capacitive' } })
  })
  it('upcasters lead on from the version a document was written in, one after the other', () => {
    const steps = { facts: [(d: unknown) => [d, 2], (d: unknown) => [d, 3]], choices: [], entry: [] }
    expect(upcast('facts', 1, 'a', steps)).toEqual([['a', 2], 3])
    expect(upcast('facts', 2, 'a', steps)).toEqual(['a', 3])
    expect(upcast('facts', 3, 'a', steps)).toBe('a')
  })
})

it('what cannot be read holds the dangerous steps until somebody has looked', () => {
  const { stations } = evaluate({ ...soundBuild(), unreadable: [{ what: 'Bore', because: 'is too much' }] })
  expect(stations[0].findings[0]).toMatchObject({ id: 'survey.unreadable', severity: 'stop', because: 'Bore is too much.' })
  expect(stations.find((s) => s.id === 'start')!.findings[0].id).toBe('survey.unreadable')
})
