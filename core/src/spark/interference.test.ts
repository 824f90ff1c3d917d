import { describe, expect, it } from 'vitest'
import { contextOf, evaluate } from '../judge/judgement.ts'
import { madeReading, soundBuild } from '../judge/made-up.fixture.ts'
import { suspectIds } from './interference-words.ts'
import { interferenceSuspects, nextSuspect, speedSpikes } from './interference.ts'

const noise = (seed: number) => () => (seed = (seed * 16807) % 2147483647) / 2147483647 - 0.5
/** A drive at 20 Hz: idle, a hard free rev, a fall, a stall. */
function drive() {
  const random = noise(7)
  const timeS: number[] = []
  const rpm: number[] = []
  for (let i = 0; i < 1200; i++) {
    const t = i / 20
    timeS.push(t)
    const clean = t < 20 ? 800 : t < 20.6 ? 800 + (t - 20) * 7000 : t < 30 ? 5000 : t < 31 ? 5000 - (t - 30) * 4200 : t < 50 ? 800 : 0
    rpm.push(clean === 0 ? 0 : clean + 20 * random())
  }
  return { timeS, rpm }
}

describe('speed spikes', () => {
  it('finds none in idle, a hard rev, a fall and a stall', () => {
    const { timeS, rpm } = drive()
    expect(speedSpikes(timeS, rpm)).toEqual([])
  })
  it.each([1, 2, 3])('finds each spike put in, once, where it was put (%d rows long)', (rows) => {
    const { timeS, rpm } = drive()
    const at = [100, 260, 520, 900]
    for (const i of at) for (let k = 0; k < rows; k++) rpm[i + k] += i === 520 ? -4000 : 4000
    expect(speedSpikes(timeS, rpm).map((s) => Math.round(s.timeS * 20))).toEqual(at)
  })
  it('a gap in time is no jump, and unreadable cells are none', () => {
    expect(speedSpikes([0, 10, 10.05], [800, 5000, 5000])).toEqual([])
    expect(speedSpikes([0, 0.05, 0.1], [800, NaN, 800])).toEqual([])
  })
})

describe('symptom-led checks', () => {
  const suspects = (readings: ReturnType<typeof madeReading>[], patch: object = {}) =>
    interferenceSuspects(contextOf(soundBuild(patch, readings)))
  const finding = (readings: ReturnType<typeof madeReading>[], patch: object = {}) =>
    evaluate(soundBuild(patch, readings))
      .stations.find((s) => s.id === 'spark')!
      .findings.find((f) => f.id === 'spark.interference')
  const resets = madeReading('spark.symptom', { symptom: 'resets', seen: true })

  it('takes from the survey what it knows, and asks for the rest in order', () => {
    const all = suspects([])
    expect(all.map((s) => s.id)).toEqual([...suspectIds])
    expect(all.slice(0, 3).map((s) => s.state)).toEqual(['clear', 'clear', 'open'])
    expect(nextSuspect(all)!.id).toBe('harness-route')
  })
  it('a suspect that is found comes first; when all are clear there is none', () => {
    const found = madeReading('spark.interference', { suspect: 'unit-ground', found: true })
    expect(nextSuspect(suspects([found]))!.id).toBe('unit-ground')
    const clear = suspectIds.map((suspect) => madeReading('spark.interference', { suspect, found: false }))
    expect(nextSuspect(suspects(clear))).toBeNull()
  })
  it('a symptom is a warning with the next proof, gone when it is no longer seen; a pump that runs on is a stop', () => {
    expect(finding([])).toBeUndefined()
    expect(finding([resets])).toMatchObject({ severity: 'warn', remedy: expect.stringContaining('Loom along plug leads') })
    expect(finding([resets], { facts: { ignition: { plugs: 'plain' } } })!.remedy).toContain('Resistor plugs')
    expect(finding([resets, madeReading('spark.symptom', { symptom: 'resets', seen: false })])).toBeUndefined()
    expect(finding([madeReading('spark.symptom', { symptom: 'pump-runs-on', seen: true })])!.severity).toBe('stop')
  })
})
