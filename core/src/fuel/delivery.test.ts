import { describe, expect, it } from 'vitest'
import { evaluate } from '../judge/judgement.ts'
import { madeReading, severityOf, soundBuild } from '../judge/made-up.fixture.ts'

/** The middle pump gives 165 L/h at 300 kPa and 13.5 V; 96 kW take 37.4 L/h, 46.7 with the margin of a quarter. */
const can = (lph: number, more: object = {}) =>
  madeReading('fuel.delivery', { litres: (lph * 60) / 3600, seconds: 60, pressureKpa: 300, voltageV: 13.5, warm: false, ...more })
const generic = { choices: { fuel: { pump: { generic: true } } } }

describe('delivery into a can', () => {
  it.each([
    [149, null], // 90 % of 165 is 148.5
    [148, 'warn'],
    [46.8, 'warn'],
    [46.6, 'warn'],
    [37.5, 'warn'],
    [37.2, 'stop'],
  ])('%d L/h', (lph, severity) => expect(severityOf('fuel.delivery', {}, [can(lph)])).toBe(severity))
  it('says what it was measured against', () => {
    const words = (lph: number) =>
      evaluate(soundBuild({}, [can(lph)]))
        .stations.find((s) => s.id === 'fuel')!
        .findings.find((f) => f.id === 'fuel.delivery')!.because
    expect(words(100)).toMatch(/100 L\/h into the can, cold, at 300 kPa and 13.5 V; its curve gives 165 L\/h/)
    expect(words(40)).toMatch(/40 L\/h .* wants 47 L\/h with its margin of 25 %/)
  })
  it('hot counts apart from cold', () => expect(severityOf('fuel.delivery', {}, [can(160), can(120, { warm: true })])).toBe('warn'))
  it('asks for the hot one after the cold one', () => {
    expect(severityOf('fuel.delivery-hot', {}, [can(160)])).toBe('note')
    expect(severityOf('fuel.delivery-hot', {}, [can(160), can(155, { warm: true })])).toBeNull()
  })
  it('a stand-in curve warns until the pump in hand was measured at its pressure', () => {
    expect(severityOf('fuel.generic-pump', generic)).toBe('warn')
    expect(severityOf('fuel.generic-pump', generic, [can(160, { pressureKpa: 200 })])).toBe('warn')
    expect(severityOf('fuel.generic-pump', generic, [can(160)])).toBeNull()
    expect(severityOf('fuel.generic-pump')).toBeNull()
  })
})
