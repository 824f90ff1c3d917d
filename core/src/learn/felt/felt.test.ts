import { describe, expect, it } from 'vitest'
import { contextOf, evaluate } from '../../judge/judgement.ts'
import { madeReading, soundBuild } from '../../judge/made-up.fixture.ts'
import { closers, feltLead, openFelt } from './felt.ts'
import { type FeltRow, marksIn, type Moment, momentInLog, momentOf } from './moment.ts'

/** A steady cruise, twenty rows a second, with what is changed on the way. */
const rows = (change: (t: number) => Partial<FeltRow> = () => ({}), seconds = 10): FeltRow[] =>
  Array.from({ length: seconds * 20 }, (_, i) => ({
    ...{ timeS: i / 20, rpm: 2500, mapKpa: 60, throttlePct: 15, lambda: 1, lambdaTarget: 1, advanceDegBtdc: 30, coolantC: 85 },
    ...change(i / 20),
  }))
const around = (change?: (t: number) => Partial<FeltRow>, atS = 6) => momentOf(rows(change), atS)!

describe('the seconds around a mark', () => {
  it('three before it and one after it count; nothing read then is nothing', () => {
    const at = (t: number) => around((s) => (Math.abs(s - t) < 0.01 ? { lambda: 1.3 } : {})).leanLambda!
    expect(at(3.05)).toBeCloseTo(0.3, 9)
    expect(at(6.95)).toBeCloseTo(0.3, 9)
    expect(at(2.9)).toBe(0)
    expect(at(7.1)).toBe(0)
    expect(momentOf(rows(), 60)).toBeNull()
  })
  it('a step is what the foot opens within half a second: 12 % in 0.4 s is 12, over 2 s it is 3', () => {
    const ramp = (seconds: number) => around((t) => ({ throttlePct: 15 + 12 * Math.min(1, Math.max(0, (t - 4) / seconds)) })).stepPct!
    expect(ramp(0.4)).toBeCloseTo(12, 1)
    expect(ramp(2)).toBeCloseTo(3, 1)
    // shutting it is none
    expect(around((t) => ({ throttlePct: t < 5 ? 30 : 5 })).stepPct).toBe(0)
    expect(around(() => ({ throttlePct: null })).stepPct).toBeNull()
  })
  it('a speed that comes and goes by 80 hunts by 80; a car that gathers 100 rpm in a second does not', () => {
    expect(around((t) => ({ rpm: 2500 + 80 * Math.sin(2 * Math.PI * t) })).hunts).toBeGreaterThan(70)
    expect(around((t) => ({ rpm: 2000 + 100 * t })).hunts).toBeLessThan(1)
  })
  it('is told against its target, and of a log by its channels', () => {
    expect(around(() => ({ lambda: 0.95, lambdaTarget: 0.85 })).leanLambda).toBeCloseTo(0.1, 9)
    expect(around(() => ({ lambda: null }))).toMatchObject({ leanLambda: null, richLambda: null })
    const list = rows()
    const channel = (of: (r: FeltRow) => number | null) => Float32Array.from(list, (r) => of(r) ?? NaN)
    const log = {
      timeS: Float64Array.from(list, (r) => r.timeS),
      channels: {
        rpm: channel((r) => r.rpm),
        mapKpa: channel((r) => r.mapKpa),
        marker: channel((r) => (r.timeS > 4 && r.timeS < 4.4 ? 1 : 0)),
      },
    }
    expect(marksIn(log)).toEqual([4.05])
    expect(momentInLog(log, 4.05)).toMatchObject({ rpm: 2500, mapKpa: 60, advanceDegBtdc: null, stepPct: null })
  })
  it('a marker held down is one mark; pressed again after a second it is another', () => {
    const at = (...on: [number, number][]) => {
      const list = rows()
      return marksIn({
        timeS: Float64Array.from(list, (r) => r.timeS),
        channels: { marker: Float32Array.from(list, (r) => (on.some(([a, b]) => r.timeS >= a && r.timeS < b) ? 1 : 0)) },
      })
    }
    expect(at([1, 5])).toEqual([1])
    expect(at([1, 1.2], [1.6, 1.8])).toEqual([1])
    expect(at([1, 1.2], [2.2, 2.4])).toEqual([1, 2.2])
    expect(at()).toEqual([])
  })
})

const moment = (more: Partial<Moment> = {}): Moment => ({
  ...{ rpm: 2500, mapKpa: 60, advanceDegBtdc: 30, coolantC: 85, stepPct: 0, leanLambda: 0, richLambda: 0, hunts: 5 },
  ...more,
})
const felt = (what: string, more: Partial<Moment> = {}) => madeReading('learn.felt', { what, moment: moment(more), tuneId: null } as never)
const lead = (what: string, more: Partial<Moment> = {}) => {
  const reading = felt(what, more)
  return feltLead(reading.value as never, contextOf(soundBuild()))
}

describe('where it leads', () => {
  it('a stumble after a step that goes lean wants more fuel for acceleration, one that goes rich less: 8 % is a step, 7.9 is none', () => {
    expect(lead('stumble', { stepPct: 8, leanLambda: 0.061 })).toMatchObject({
      test: expect.stringContaining('More fuel for acceleration'),
      where: { station: 'learn', part: 'log', field: 'throttle-steps' },
    })
    expect(lead('stumble', { stepPct: 20, richLambda: 0.081 }).test).toContain('Less fuel')
    expect(lead('stumble', { stepPct: 7.9, leanLambda: 0.07 }).seen).toContain('with a still foot it was lean')
    expect(lead('stumble', { stepPct: 20, leanLambda: 0.06, richLambda: 0.08 }).test).toContain('Not fuel')
  })
  it('says what it cannot know, and what would tell', () => {
    expect(lead('stumble', { stepPct: null })).toMatchObject({
      seen: 'the log does not tell the throttle',
      test: expect.stringContaining('Mark it again with throttle and lambda'),
    })
    expect(lead('stumble', { leanLambda: null, richLambda: null }).seen).toBe('the log does not tell the mixture')
    expect(lead('stumble', { stepPct: 2 })).toMatchObject({ seen: 'neither foot nor mixture moved much', where: { station: 'start' } })
  })
  it('ping: lean first where it was lean, else the spark back and a trial', () => {
    expect(lead('ping').test).toContain('back by 4°')
    expect(lead('ping', { leanLambda: 0.08 }).test).toContain('Lean first')
    expect(lead('ping').where).toMatchObject({ station: 'learn', part: 'spark' })
  })
  it('surge, smell and a miss go to their own tests', () => {
    expect(lead('surge', { hunts: 90, leanLambda: 0.1 }).test).toContain('hold it there steadily')
    expect(lead('surge', { hunts: 59 }).seen).toContain('which is little')
    expect(lead('surge', { hunts: 61 }).seen).not.toContain('which is little')
    expect(lead('smell').where).toMatchObject({ station: 'fuel', field: 'fuel.leak-check' })
    expect(lead('miss', { leanLambda: 0.2 }).seen).toContain('did not burn')
  })
})

describe('until it is settled', () => {
  const judged = (...readings: ReturnType<typeof felt>[]) => evaluate(soundBuild({}, readings)).stations.find((s) => s.id === 'learn')!
  const found = (...readings: ReturnType<typeof felt>[]) => judged(...readings).findings.find((f) => f.id === 'learn.felt')
  it('it stands as a finding: a smell as a stop, ping from 0.85 of the barometer on as a stop, below as a warning', () => {
    const { barometerKpa } = contextOf(soundBuild()).resolved
    expect(found(felt('smell'))).toMatchObject({ severity: 'stop', where: { station: 'fuel' } })
    expect(found(felt('ping', { mapKpa: 0.86 * barometerKpa }))!.severity).toBe('stop')
    expect(found(felt('ping', { mapKpa: 0.84 * barometerKpa }))!.severity).toBe('warn')
    expect(found(felt('stumble'))!.message).toBe('Stumble at 2500 rpm, 60 kPa is not settled')
    expect(found(felt('stumble'), felt('smell'))!.message).toBe('Smell of fuel at 2500 rpm, 60 kPa, and 1 more, are not settled')
    expect(found()).toBeUndefined()
  })
  const prime = () => madeReading('fuel.prime', { pumpStops: true } as never)
  const leak = (dry: boolean) => madeReading('fuel.leak-check', { dry } as never)
  const settled = (by: { id: string }, of: { id: string }) =>
    madeReading('learn.felt-closed', { feltId: of.id, readingId: by.id, said: 'a cap left open' } as never)
  const open = (...readings: ReturnType<typeof felt>[]) => openFelt(contextOf(soundBuild({}, readings)))
  it('only a reading taken after it, of a kind that tells and that stands, may close it: a wet joint closes no smell', () => {
    const [before, wet, after] = [leak(true), leak(false), leak(true)]
    const smell = felt('smell')
    const c = contextOf(soundBuild({}, [prime(), before, smell, wet, madeReading('note', { text: 'x' } as never), after] as never))
    expect(closers(c, openFelt(c)[0]).map((r) => r.id)).toEqual([after.id])
  })
  it('a log that was not believed closes nothing; a hold of a trial is enough by itself', () => {
    const solve = (suspect?: string) =>
      madeReading('learn.result', {
        ...{ logId: felt('ping').id, tuneId: null, usedSeconds: 9, provenTimePct: 9, errorRmsPct: 1, unsafeCells: 0 },
        ...(suspect ? { suspect } : {}),
      } as never)
    const hold = madeReading('learn.trial-point', {
      ...{ tuneId: felt('ping').id, rpm: 2500, mapKpa: 60, mapDeg: 24, advanceDegBtdc: 18, torqueNm: 190, knock: false, on: 'dyno' },
    } as never)
    const [bad, good] = [solve('exhaust-leak'), solve()]
    const c = contextOf(soundBuild({}, [felt('ping'), bad, good, hold] as never))
    expect(closers(c, openFelt(c)[0]).map((r) => r.id)).toEqual([good.id, hold.id])
  })
  it('closed by one of these it is gone; named by another, or by one that has fallen since, it stays open', () => {
    const [smell, dry, wet] = [felt('smell'), leak(true), leak(false)]
    const closed = settled(dry, smell)
    expect(open(prime() as never, smell, dry as never, closed as never)).toEqual([])
    expect(found(prime() as never, smell, dry as never, closed as never)).toBeUndefined()
    expect(open(prime() as never, smell, wet as never, settled(wet, smell) as never)).toHaveLength(1)
    expect(open(smell, settled(smell, smell) as never)).toHaveLength(1)
    expect(open(prime() as never, smell, dry as never, closed as never, wet as never)).toHaveLength(1)
  })
})
