import fc from 'fast-check'
import { describe, expect, it } from 'vitest'
import {
  defaultPreferences,
  type Dimension,
  dimensions,
  displayUnit,
  formatQuantity,
  parseQuantity,
  toDisplay,
  toMetric,
  type UnitPreferences,
} from './units.ts'

const inch: UnitPreferences = { system: 'inch', mixture: 'AFR', stoichAfr: 14.7 }

describe('typed quantities', () => {
  it.each<[string, Dimension, UnitPreferences, number]>([
    ['58 psi', 'pressure', defaultPreferences, 399.8959],
    ['4 bar', 'pressure', defaultPreferences, 400],
    ['58', 'pressure', inch, 399.8959],
    ['3,18 L', 'displacement', defaultPreferences, 3180],
    ['194 cu in', 'displacement', inch, 3179.0904],
    ['212 F', 'temperature', defaultPreferences, 100],
    ['-40', 'temperature', inch, -40],
    ['12.9', 'lambda', inch, 0.877551],
    ['0.88 lambda', 'lambda', inch, 0.88],
    // 5,000 ft = 1,524 m
    ['5,000 ft', 'distance', defaultPreferences, 1524],
    ['1,234.5', 'rpm', defaultPreferences, 1234.5],
    ['1.234,5', 'rpm', defaultPreferences, 1234.5],
    ['12 000', 'rpm', defaultPreferences, 12000],
    ["12'000", 'rpm', defaultPreferences, 12000],
    ['0,850 L', 'displacement', defaultPreferences, 850],
    ['3.180 L', 'displacement', defaultPreferences, 3180],
    ['3,1800 L', 'displacement', defaultPreferences, 3180],
    ['1,234,567', 'rpm', defaultPreferences, 1234567],
    ['.5', 'rpm', defaultPreferences, 0.5],
    ['4.', 'rpm', defaultPreferences, 4],
  ])('%s as %s is understood', (text, dimension, preferences, metric) => {
    expect(parseQuantity(text, dimension, preferences, 'field')).toBeCloseTo(metric, 3)
  })

  it.each(['', 'seven', '12 furlongs', '1.2.3', 'NaN', '1,2,3', '1,23.4', '1.234.56', '12 00'])(
    'refuses "%s" and says what it takes',
    (text) => {
      expect(() => parseQuantity(text, 'pressure', defaultPreferences, 'fuel pressure')).toThrow(
        expect.objectContaining({ code: 'NOT_A_QUANTITY', field: 'fuel pressure' }),
      )
    },
  )

  it('comes back from every unit of every dimension', () => {
    for (const units of Object.values(dimensions))
      for (const unit of units)
        fc.assert(
          fc.property(fc.double({ min: -1e4, max: 1e4, noNaN: true }), (v) => Math.abs(toMetric(toDisplay(v, unit), unit) - v) < 1e-6),
        )
  })

  it('shows a dash for what is not known', () => {
    expect(formatQuantity(null, 'pressure', defaultPreferences)).toBe('–')
    expect(formatQuantity(NaN, 'pressure', defaultPreferences)).toBe('–')
    expect(formatQuantity(400, 'pressure', inch)).toBe('58.0 psi')
    expect(displayUnit('lambda', inch).id).toBe('AFR')
  })
})
