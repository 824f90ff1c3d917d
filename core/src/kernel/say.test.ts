import { describe, expect, it } from 'vitest'
import { asSaying, degC, kPa, kW, lambda, mm, say, sayAll, wordsOf } from './say.ts'
import { inputWords, shown } from './shown.ts'
import type { UnitPreferences } from './units.ts'

const inch: UnitPreferences = { system: 'inch', mixture: 'lambda', stoichAfr: 14.7 }
const afr: UnitPreferences = { system: 'metric', mixture: 'AFR', stoichAfr: 14.7 }

describe('a sentence keeps its quantities', () => {
  it('is metric text when nothing is said, and the reader’s units when something is', () => {
    const said = say`${kPa(14.2, 1)} left of ${kPa(20)}`
    expect(wordsOf(said)).toBe('14.2 kPa left of 20 kPa')
    // 14.2 / 6.894757 and 20 / 6.894757
    expect(wordsOf(said, inch)).toBe('2.1 psi left of 2.9 psi')
  })
  it('takes text, numbers and other sentences between', () => {
    const inner = say`bore ${mm(8.7)}`
    expect(wordsOf(say`${2} lines, ${inner}, ${'hot'} at ${degC(60)}`, inch)).toBe('2 lines, bore 0.343 in, hot at 140 °F')
  })
  it('strings sentences together without losing one quantity', () => {
    const all = sayAll([say`a ${kPa(100)}`, 'b', say`c ${kW(74.57)}`])
    expect(wordsOf(all)).toBe('a 100 kPa; b; c 75 kW')
    expect(wordsOf(all, inch)).toBe('a 14.5 psi; b; c 100 hp')
    expect(wordsOf(sayAll([]))).toBe('')
  })
  it('is plain data: it goes through JSON unchanged', () => {
    const said = say`at ${kPa(300)} and ${lambda(0.9)}`
    expect(wordsOf(JSON.parse(JSON.stringify(said)), afr)).toBe('at 300 kPa and 13.23 AFR')
  })
  it('a plain text is a sentence without quantities', () => expect(asSaying('dry')).toEqual({ text: ['dry'], quantities: [] }))
})

describe('inputs behind a number are words with units, never names of the code', () => {
  it.each([
    ['bsfcGKwh', 'specific consumption', 'fuelUse'],
    ['fuelDensityKgL', 'density of the fuel', 'densityLitre'],
    ['rotorRadiusMm', 'rotor radius', 'length'],
    ['maxDutyPct', 'duty at most', 'percent'],
    ['batteryV', 'battery', 'voltage'],
    ['rpm', 'engine speed', 'rpm'],
    ['pressureKpa', 'pressure', 'pressure'],
    ['stallCutOff', 'stall cut off', null],
  ])('%s is %s', (name, words, dimension) => expect(inputWords(name)).toEqual({ words, dimension }))
  it('carries the quantity for the reader’s unit, and rounds what has none', () => {
    expect(shown({ setKpa: 299.9219295, lossK: 0.45678 })).toEqual([
      { name: 'set', value: '300 kPa', quantity: { value: 299.9219295, dimension: 'pressure' } },
      { name: 'loss k', value: '0.457' },
    ])
  })
})
