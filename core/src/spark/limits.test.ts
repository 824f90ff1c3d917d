import { describe, expect, it } from 'vitest'
import { contextOf, evaluate } from '../judge/judgement.ts'
import { madeReading, severityOf, soundBuild } from '../judge/made-up.fixture.ts'
import { coilDrives } from './coil.ts'
import { tightestLead } from './findings.ts'
import { zeroMark } from './proofs.ts'
import { judgeTiming } from './timing-fixes.ts'

const sound = (spark: object = {}, facts: object = {}) => ({ choices: { spark }, facts })
const reading = (rpm: number, observedDeg: number) => ({ rpm, observedDeg })
const judge = (readings: { rpm: number; observedDeg: number }[]) =>
  judgeTiming({ commandedDeg: 10, readings, referenceDeg: 54, delayUs: 0, rotation: 'clockwise', hasDistributor: true, maxRpm: 5200 })

/** Both sides of each limit of handbook 03. */
describe('limits of Spark', () => {
  it('two degrees of jitter come off the lead', () => {
    // swept to 40° at a reference of 52°: (52 - 40 - 2)° at 5200 rpm = 10 / (6 x 5200) s = 320.5 us
    const lead = tightestLead(contextOf(soundBuild(sound({ referenceDeg: 52, maxAdvanceDeg: 40 }))))!
    expect(lead.rpm).toBe(5200)
    expect(lead.leadUs).toBeCloseTo(320.5, 0)
  })
  it('the reference offered is half a degree over what is enough', () => {
    // 40 + 2 + 6e-6 x 5200 x 301 us = 9.391, + 0.5 -> 51.89; a tenth of a degree either way would show
    const late = evaluate(soundBuild(sound({ referenceDeg: 45, maxAdvanceDeg: 40, latencyUs: 301 })))
      .stations.find((s) => s.id === 'spark')!
      .findings.find((f) => f.id === 'spark.lead')!
    expect(late.where!.offer).toBe(51.9)
  })
  it.each([
    [1, true],
    [1.1, false],
    [-1, true],
    [-1.1, false],
  ])('a zero mark off by %d degree is dealt with: %s', (offsetDeg, dealt) =>
    expect(zeroMark(contextOf(soundBuild({}, [madeReading('spark.zero-mark', { method: 'piston-stop', offsetDeg })])))!.dealt).toBe(dealt),
  )
  it.each([
    [1.4, false],
    [1.6, true],
  ])('readings at one speed %d degrees apart contradict each other: %s', (apart, contradict) =>
    expect(
      judge([reading(1000, 10), reading(1000, 10 + apart), reading(1000, 10 + apart / 2), reading(3000, 10)]).mistake?.kind === 'scatter',
    ).toBe(contradict),
  )
  // misses of m with signs that neither a level nor a slope can take up; 1.48 m is their typical miss
  it.each([
    [0.66, undefined],
    [0.69, 'poor-fit'],
  ])('readings that miss a straight line by %d degrees each', (m, kind) => {
    const signs = [1, -1, -1, 1, -1, 1, 1, -1]
    expect(judge(signs.map((sign, i) => reading(1000 + 300 * i, 10 + sign * m))).mistake?.kind).toBe(kind)
  })
  it('a drive of the coil is enough from 1.4 times what the gap wants', () => {
    const spares = Array.from({ length: 200 }, (_, i) => 0.5 + 0.02 * i).flatMap((plugGapMm) =>
      coilDrives(contextOf(soundBuild(sound({ plugGapMm })))).filter((d) => d.spare !== null),
    )
    const near = (low: number, high: number) => spares.filter((d) => d.spare! > low && d.spare! < high)
    expect(near(1.4, 1.5).length).toBeGreaterThan(0)
    expect(near(1.3, 1.4).length).toBeGreaterThan(0)
    expect(near(1.4, 1.6).every((d) => d.enough)).toBe(true)
    expect(near(1.2, 1.4).some((d) => d.enough)).toBe(false)
  })
  it('the fit is good enough within 0.5 degrees and 35 microseconds', () => {
    // half of n readings at each end: delay se = sigma sqrt(4/n) / (6e-6 x span); eight that agree with a belief of 0.5 deg that
    // counts like two: sigma = 0.5 sqrt(2/8) = 0.25; Huber's weights cost sqrt(1.037) x (1 + 2/8 x 0.134/0.866) = 1.058 of it
    const n = (count: number, spanRpm: number) =>
      judge(Array.from({ length: count }, (_, i) => reading(i % 2 ? 1000 + spanRpm : 1000, 10))).enough
    // 0.25 x 1.058 x sqrt(1/2) / (6e-6 x span): 35 us at 891 rpm
    expect([n(8, 860), n(8, 920)]).toEqual([false, true])
  })
  it.each([
    [5, null],
    [5.1, 'warn'],
  ])('%d degrees of slack', (crankDeg, severity) =>
    expect(severityOf('spark.slack', {}, [madeReading('spark.slack', { crankDeg })])).toBe(severity),
  )
  it('a signal twice over its noise', () => {
    const rate = (crankingV: number) =>
      severityOf('spark.threshold', sound({ trigger: 'locked-magnetic' }), [madeReading('spark.signal', { noiseV: 0.5, crankingV })])
    // the threshold stands midway (geometric) between: sqrt(4) = 2 times over the noise at 2 V
    expect(rate(2.1)).toBeNull()
    expect(rate(1.9)).not.toBeNull()
  })
  const scope = (more: object) =>
    madeReading('spark.scope', {
      rpm: 800,
      pulses: 60,
      missing: 0,
      extra: 0,
      jitterDeg: 0.1,
      polarity: 'right',
      noiseV: 0.05,
      peakV: 5,
      ...more,
    })
  it.each([
    [0.7, null],
    [0.71, 'warn'],
    [2, 'warn'],
    [2.01, 'stop'],
  ])('jitter of %d degrees on the scope', (jitterDeg, severity) =>
    expect(severityOf('spark.scope', {}, [scope({ jitterDeg })])).toBe(severity),
  )
  it('a wheel that is not the one told stops, before a word on missing pulses', () => {
    const wheel = sound({ trigger: 'toothed-wheel', wheel: { teeth: 36, missing: 1 } })
    const found = evaluate(soundBuild(wheel, [scope({ counted: { places: 60, missing: 2 }, missing: 40 })]))
      .stations.flatMap((s) => s.findings)
      .find((f) => f.id === 'spark.scope')!
    expect(found.severity).toBe('stop')
    expect(`${found.message} ${found.because}`).toMatch(/wheel is not the one.*60 places with 2 missing; told are 36 with 1/)
  })
  it('a polarity that cannot be told is said with its reason; one that is told is not', () => {
    expect(severityOf('spark.scope-polarity', {}, [scope({ polarity: 'unknown', unsure: 'the signal is a wave without a gap' })])).toBe(
      'note',
    )
    expect(severityOf('spark.scope-polarity', {}, [scope({ polarity: 'right' })])).toBeNull()
    expect(severityOf('spark.scope-polarity', {}, [scope({ polarity: 'reversed' })])).toBe('stop')
  })
  it.each([
    [50, null],
    [50.1, 'warn'],
  ])('%d kPa of boost on plugs of the usual heat', (boostKpa, severity) =>
    expect(
      severityOf('spark.plug-heat', sound({}, { induction: { kind: 'blow-through', boostKpa }, ignition: { plugHeat: 'as-maker' } })),
    ).toBe(severity),
  )
  it.each([
    [7.79, null],
    [7.81, 'warn'],
    [5.21, null],
    [5.19, 'warn'],
  ])('%d A by clamp of 6.5 A wanted', (peakA, severity) =>
    expect(severityOf('spark.coil-current', sound({ targetA: 6.5 }), [madeReading('spark.coil-current', { batteryV: 13.5, peakA })])).toBe(
      severity,
    ),
  )
  it.each([
    [0.95, null],
    [1.05, 'warn'],
  ])('every light reading %d degrees off', (off, severity) => {
    const light = [800, 800, 1500, 2200, 3000, 3000].map((rpm) =>
      madeReading('spark.timing-light', { rpm, observedDeg: 10 + off, commandedDeg: 10, referenceDeg: 54, delayUs: 0 }),
    )
    expect(severityOf('spark.timing-error', {}, light)).toBe(severity)
  })
  it('the reference is known within half a degree', () => {
    // ten readings, half at 3000 and half at H, sigma 0.5 sqrt(2/10) x 1.018 x (1 + 2/10 x 0.155) = 0.235: se^2 = 0.235^2 / 10 x (1 + (mean / half span)^2)
    const enough = (high: number) =>
      judgeTiming({
        commandedDeg: 10,
        readings: Array.from({ length: 10 }, (_, i) => reading(i % 2 ? high : 3000, 10)),
        referenceDeg: 54,
        delayUs: 0,
        rotation: 'clockwise',
        hasDistributor: true,
        maxRpm: 7000,
      }).enough
    // half a degree at 4060 rpm: mean over half span is 6.66
    expect([enough(4010), enough(4110)]).toEqual([false, true])
  })
})
