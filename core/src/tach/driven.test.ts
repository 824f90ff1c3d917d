import { describe, expect, it } from 'vitest'
import { evaluate } from '../judge/judgement.ts'
import { madeReading, soundBuild } from '../judge/made-up.fixture.ts'
import { drivenSettings, rpmOfFrequency } from './driven.ts'

const look = (frequencyHz: number, shownRpm: number, setting?: string) => ({ frequencyHz, shownRpm, ...(setting ? { setting } : {}) })

describe('a tachometer driven alone', () => {
  it('shows 120 times the frequency over its cylinders: 100 Hz on eight is 1,500 rpm', () => {
    expect(rpmOfFrequency(100, 8)).toBe(1500)
    expect(rpmOfFrequency(100, 6)).toBe(2000)
    expect(rpmOfFrequency(50, 4)).toBe(1500)
  })
  it('is proved by two frequencies, the second twice the first, each within 4 %', () => {
    const one = (looks: Parameters<typeof drivenSettings>[0]) => drivenSettings(looks, 6)[0]
    expect(one([look(100, 2000)])).toMatchObject({ proved: false, wants: expect.stringContaining('another frequency') })
    expect(one([look(100, 2000), look(199, 3980)]).proved).toBe(false)
    expect(one([look(100, 2000), look(200, 4000)])).toMatchObject({ proved: true, wants: null })
    expect(one([look(100, 2000), look(200, 4150)]).proved).toBe(true)
    expect(one([look(100, 2000), look(200, 4170)]).proved).toBe(false)
    expect(one([look(100, 1910), look(200, 4000)]).proved).toBe(false)
  })
  it('names the cylinders it counts like', () => {
    // made for eight, set to six: 8/6 of what it should
    expect(drivenSettings([look(100, 2000)], 8)[0].countsLike).toBe(6)
    expect(drivenSettings([look(100, 1500)], 8)[0].countsLike).toBe(8)
    expect(drivenSettings([look(100, 1700)], 8)[0].countsLike).toBeNull()
  })
  it('keeps the settings of a converter apart, in the order they were tried', () => {
    const tried = drivenSettings([look(100, 3000, 'A'), look(100, 2000, 'B'), look(200, 4000, 'B')], 6)
    expect(tried.map((s) => [s.setting, s.proved])).toEqual([
      ['A', false],
      ['B', true],
    ])
  })
  const findings = (...readings: ReturnType<typeof madeReading>[]) =>
    evaluate(soundBuild({ choices: { tach: { source: 'single-coil', setCylinders: 6 } } }, readings)).stations.find(
      (s) => s.id === 'spark',
    )!.findings
  const driven = (frequencyHz: number, shownRpm: number, setting?: string) =>
    madeReading('tach.driven', look(frequencyHz, shownRpm, setting))
  it('that reads wrong is found, with the setting that was right', () => {
    const wrong = findings(driven(100, 2000, 'B'), driven(200, 4000, 'B'), driven(100, 3000, 'A')).find(
      (f) => f.id === 'tach.driven-wrong',
    )!
    expect(wrong.because).toContain('1.50 times what it should, as one set to 4 cylinders')
    expect(wrong.remedy).toContain('It read right at “B”')
    expect(findings(driven(100, 2000), driven(200, 4000)).map((f) => f.id)).not.toContain('tach.driven-wrong')
  })
  it('that reads right alone and wrong on the car is given the wrong thing', () => {
    const onCar = [1000, 3000].map((trueRpm) => madeReading('tach.reading', { trueRpm, shownRpm: 0.7 * trueRpm }))
    const remedy = (...more: ReturnType<typeof madeReading>[]) =>
      findings(...more, ...onCar).find((f) => f.id === 'tach.reads-wrong')!.remedy
    expect(remedy()).toContain('Drive it alone from a known frequency')
    expect(remedy(driven(100, 2000), driven(200, 4000))).toContain('what comes from the source is wrong')
  })
})
