import fc from 'fast-check'
import { describe, expect, it } from 'vitest'
import { contextOf, entryKinds, evaluate } from '../judge/judgement.ts'
import { madeReading, soundBuild } from '../judge/made-up.fixture.ts'
import type { StoredReading } from '../kernel/entry.ts'
import { zodErrors } from '../kernel/wording.ts'
import { fixActions } from './apply-fix.ts'
import { breakdownKv, coilDrives, dwellDeg, ohmPerMetre, reachedKv, storeEnergyMj, volumeRatioAt } from './coil.ts'
import { airGapMm, camSyncOf, wheelReferenceDeg, wheelReferenceOf } from './fitting.ts'
import { otherPulsesDeg, withinCycle } from './geometry.ts'
import { strokesAsLed } from './lead-swap.ts'
import { gainByUsePct, useShares } from './old-curve.ts'
import { ownAdvanceDeg } from './own-curve.ts'
import { alignSeenDeg, burnTravelDistDeg, phaseSchools } from './phase.ts'
import { sparkProcedure } from './procedure.ts'
import { proofsOf, sameOrder, unproved, zeroMark } from './proofs.ts'
import { edgeErrorDeg, edgeOf, lobeWave, reversedShiftDeg } from './sensor-edge.ts'
import { judgeTiming } from './timing-fixes.ts'
import { currentLight, currentTiming } from './timing.ts'
import { zeroOffsetDeg } from './zero-mark.ts'
import { coilCount, coilsOf, hasCamSignal, sparksPerRevOf, triggerWays } from './ways.ts'

const c = (spark: object = {}, readings: StoredReading[] = [], more: object = {}) =>
  contextOf(soundBuild({ choices: { spark }, ...more }, readings))
const found = (spark: object, readings: StoredReading[] = [], more: object = {}) =>
  evaluate(soundBuild({ choices: { spark }, ...more }, readings)).stations.find((s) => s.id === 'spark')!.findings
const ids = (...args: Parameters<typeof found>) => found(...args).map((f) => f.id)

describe('edge and polarity', () => {
  it.each([
    // low while the target is there: it falls as the target arrives and rises as it leaves; high the other way round
    ['low', 'arriving', 'falling'],
    ['low', 'leaving', 'rising'],
    ['high', 'arriving', 'rising'],
    ['high', 'leaving', 'falling'],
  ] as const)('output %s, set on %s: the %s edge', (output, setOn, edge) => expect(edgeOf(output, setOn)).toBe(edge))
  it('set on arriving, taken on leaving: late by the width of the target, 10° in a distributor being 20° at the crank', () => {
    const spark = { output: 'low', setOn: 'arriving', edge: 'rising', targetWidthDeg: 10 } as const
    expect(edgeErrorDeg(spark, 2)).toBe(20)
    expect(edgeErrorDeg({ ...spark, setOn: 'leaving', edge: 'falling' }, 1)).toBe(-10)
    expect(edgeErrorDeg({ ...spark, edge: 'falling' }, 2)).toBe(0)
    expect(edgeErrorDeg({ output: 'low' }, 2)).toBeNull()
    const stop = found({ trigger: 'hall', ...spark }).find((f) => f.id === 'spark.edge')!
    expect(stop.severity).toBe('stop')
    expect(`${stop.because} ${stop.remedy}`).toMatch(/20° late.*falling edge/)
  })
  it('a magnetic pulse peaks one unit from its middle at 1, crosses zero there, falling, and is odd', () => {
    // -u exp((1 - u^2)/2): its slope (u^2 - 1) exp(...) is zero at u = 1, where it is -1
    expect([lobeWave(-1), lobeWave(0), lobeWave(1)]).toEqual([1, -0, -1])
    expect(lobeWave(0.3)).toBe(-lobeWave(-0.3))
  })
  it('wires changed over trigger after the middle, later the stronger the signal, and never when it is too weak', () => {
    // the lobe that now comes second has died down to 0.1 of 1 V where u exp((1 - u^2)/2) = 0.1: u = 2.8 (2.8 x 0.0327 = 0.092), 2.75 (0.103)
    const shift = reversedShiftDeg(3, 1, 0.1)!
    expect(shift).toBeGreaterThan(2.75)
    expect(shift).toBeLessThan(2.8)
    fc.assert(
      fc.property(fc.double({ min: 0.2, max: 20, noNaN: true }), fc.double({ min: 1.1, max: 3, noNaN: true }), (peak, times) => {
        expect(reversedShiftDeg(3, peak * times, 0.1)!).toBeGreaterThan(reversedShiftDeg(3, peak, 0.1)!)
      }),
    )
    expect(reversedShiftDeg(3, 0.05, 0.1)).toBeNull()
  })
})

describe('fitting', () => {
  it('usual gaps by sensor and place', () => {
    expect([airGapMm('magnetic', true), airGapMm('magnetic', false), airGapMm('hall', true)]).toEqual([
      [0.2, 0.5],
      [0.5, 1.2],
      [0.8, 1.5],
    ])
  })
  it('a wheel of 60: tooth 14 at top centre, reference tooth 4, 1.5° left: (14 - 4) x 6 + 1.5 = 61.5°', () => {
    expect(wheelReferenceDeg(60, 14, 4, 1.5)).toBe(61.5)
    // counted past the gap it comes round: (2 - 52) x 6 = -300, that is 60
    expect(wheelReferenceOf({ wheel: { teeth: 60, toothAtTdc: 2, referenceTooth: 52 } })).toBe(60)
    expect(wheelReferenceOf({ wheel: { teeth: 60 } })).toBeNull()
  })
  it('a reference half a tooth or more from the count is a stop', () => {
    const wheel = { teeth: 36, missing: 1, toothAtTdc: 6, referenceTooth: 0 }
    expect(ids({ trigger: 'toothed-wheel', wheel, referenceDeg: 66 })).toContain('spark.wheel')
    expect(ids({ trigger: 'toothed-wheel', wheel, referenceDeg: 63 })).not.toContain('spark.wheel')
  })
  it('the cam pulse of a six, half an interval ahead of 60°: 120°, 60° clear, less what the lamp is off, slack and 2° of jitter', () => {
    const readings = [madeReading('spark.cam-lamp', { crankDegBtdc: 130 }), madeReading('spark.slack', { crankDeg: 6 })]
    const sync = camSyncOf(c({ trigger: 'crank-cam', referenceDeg: 60, camSyncWindows: 0.5 }, readings))!
    expect([sync.output.positionDegBtdc, sync.output.marginDeg, sync.offDeg]).toEqual([120, 60, 10])
    expect(sync.leftDeg).toBe(60 - 10 - 6 - 2)
    // the same angle a whole cycle on is the same place
    expect(
      camSyncOf(
        c({ trigger: 'crank-cam', referenceDeg: 60, camSyncWindows: 0.5 }, [madeReading('spark.cam-lamp', { crankDegBtdc: -590 })]),
      )!.offDeg,
    ).toBe(10)
  })
  it.each<[string, object, object, string, 'stop' | 'warn']>([
    [
      'cast gear on a steel roller cam',
      { trigger: 'hall', gear: 'cast-iron' },
      { facts: { cam: { material: 'roller-steel' } } },
      'spark.gear',
      'stop',
    ],
    ['a gear on a cam nobody knows', { trigger: 'hall', gear: 'cast-iron' }, {}, 'spark.gear', 'warn'],
    ['an odd-fire engine', { trigger: 'hall' }, { facts: { engine: { oddFire: true } } }, 'spark.odd-fire', 'stop'],
    [
      'the coil of a capacitive box as signal',
      { trigger: 'speed-signal', signalFrom: 'coil-negative', coilDrive: 'capacitive' },
      {},
      'spark.signal-source',
      'stop',
    ],
    ['no source chosen', { trigger: 'speed-signal' }, {}, 'spark.signal-source', 'warn'],
    ['a wheel not counted', { trigger: 'toothed-wheel' }, {}, 'spark.wheel', 'warn'],
    ['own coils without a cam signal', { trigger: 'toothed-wheel', coils: 'per-cylinder' }, {}, 'spark.paired-only', 'stop'],
    [
      'phased injection without a cam signal',
      { trigger: 'crank-cam', camSignal: false },
      { choicesPlan: { phased: true } },
      'spark.paired-only',
      'stop',
    ],
    [
      'pairs of five cylinders',
      { trigger: 'toothed-wheel', coils: 'paired' },
      { facts: { engine: { cylinders: 5, firingOrder: [1, 2, 4, 5, 3] } } },
      'spark.paired-only',
      'stop',
    ],
    ['a knock sensor on a bracket', { trigger: 'hall', knock: { place: 'bracket' } }, {}, 'spark.knock-place', 'warn'],
    ['oily old plugs', { trigger: 'hall' }, { facts: { ignition: { oldPlugs: 'oily' } } }, 'spark.old-plugs', 'warn'],
    ['plugs hotter than the maker’s', { trigger: 'hall' }, { facts: { ignition: { plugHeat: 'hotter' } } }, 'spark.plug-heat', 'warn'],
    [
      'a plain heat range under boost',
      { trigger: 'hall' },
      { facts: { ignition: { plugHeat: 'as-maker' }, induction: { kind: 'turbo', boostKpa: 80 } } },
      'spark.plug-heat',
      'warn',
    ],
    ['a second signal in the distributor without its place', { trigger: 'hall', camSignal: true }, {}, 'spark.cam-sync', 'warn'],
    ['more current than the coil bears', { trigger: 'hall', targetA: 8, coilLimitA: 7 }, {}, 'spark.coil-limit', 'warn'],
    [
      'a wide gap under boost',
      { trigger: 'hall', plugGapMm: 1.8 },
      { facts: { induction: { kind: 'turbo', boostKpa: 150 } } },
      'spark.voltage',
      'warn',
    ],
  ])('%s: %j', (_, spark, more, id, severity) => {
    const { choicesPlan, ...rest } = more as { choicesPlan?: object }
    const list = evaluate(soundBuild({ ...rest, choices: { spark, ...(choicesPlan ? { plan: choicesPlan } : {}) } })).stations.find(
      (s) => s.id === 'spark',
    )!.findings
    expect(list.find((f) => f.id === id)?.severity).toBe(severity)
  })
})

describe('coils by way', () => {
  it.each([
    ['hall', {}, 'single', 1, 3],
    ['crank-cam', {}, 'per-cylinder', 6, 0.5],
    ['crank-cam', { camSignal: false }, 'paired', 3, 1],
    ['toothed-wheel', {}, 'paired', 3, 1],
    ['toothed-wheel', { camSignal: true }, 'per-cylinder', 6, 0.5],
  ] as const)('%s %j: %s, %d coils on a six, %d sparks of one a turn', (trigger, more, layout, count, perRev) => {
    const x = c({ trigger, ...more })
    expect([coilsOf(x), coilCount(coilsOf(x), 6), sparksPerRevOf(x, 6)]).toEqual([layout, count, perRev])
    // all coils together spark three times a turn; a paired spark is there for two cylinders
    expect(count * perRev * (layout === 'paired' ? 0.5 : 1)).toBe(layout === 'paired' ? 1.5 : 3)
  })
})

const proven = [
  madeReading('spark.zero-mark', { method: 'piston-stop', beforeDeg: 24, afterDeg: 24 }),
  madeReading('spark.stroke', { method: 'thumb', inStep: true }),
  madeReading('spark.order', { cylinders: [1, 5, 3, 6, 2, 4] }),
  madeReading('spark.polarity', { right: true, method: 'lamp' }),
]
describe('proofs', () => {
  it('come in the order in which each can look like the next', () => {
    expect(proofsOf(c({ trigger: 'locked-magnetic' })).map((p) => p.id)).toEqual(['zero-mark', 'lock-out', 'stroke', 'order', 'polarity'])
    expect(proofsOf(c({ trigger: 'toothed-wheel' })).map((p) => p.id)).toEqual(['zero-mark', 'order', 'polarity'])
    expect(proofsOf(c({ trigger: 'speed-signal' }))).toEqual([])
    expect(unproved(c({ trigger: 'hall' }, proven))).toEqual([])
  })
  it('an order is right from whichever cylinder it is begun, and wrong backwards', () => {
    fc.assert(
      fc.property(fc.shuffledSubarray([1, 2, 3, 4, 5, 6, 7, 8], { minLength: 8 }), fc.nat(7), (order, from) => {
        expect(sameOrder([...order.slice(from), ...order.slice(0, from)], order)).toBe(true)
        expect(sameOrder([...order].reverse(), order)).toBe(false)
      }),
    )
    expect(sameOrder([1, 2, 3], [1, 2, 3, 4])).toBe(false)
  })
  it('with paired coils each of a pair may be seen in the other’s place, nothing else', () => {
    const state = (cylinders: number[]) =>
      proofsOf(c({ trigger: 'toothed-wheel', coils: 'paired' }, [madeReading('spark.order', { cylinders })])).find((p) => p.id === 'order')!
        .state
    // pairs of 1-5-3-6-2-4: 1 with 6, 5 with 2, 3 with 4
    expect(state([6, 2, 4, 1, 5, 3])).toBe('proved')
    expect(state([6, 5, 3, 1, 2, 4])).toBe('proved')
    expect(state([1, 3, 5, 6, 4, 2])).toBe('wrong')
  })
  it('a mark off by more than a line is wrong until it is dealt with; stored, it corrects; marked anew, it does not', () => {
    const at = (value: object) =>
      c({ trigger: 'hall' }, [madeReading('spark.zero-mark', { method: 'piston-stop', offsetDeg: 6, ...value })])
    expect(zeroMark(at({}))).toEqual({ offsetDeg: 6, correctionDeg: 6, dealt: false, read: false })
    expect(zeroMark(at({ dealt: 'stored' }))).toEqual({ offsetDeg: 6, correctionDeg: 6, dealt: true, read: false })
    expect(zeroMark(at({ dealt: 're-marked' }))!.correctionDeg).toBe(0)
  })
  it('the offset is the middle of the stop’s two readings: both sides of it, by hand', () => {
    // read 26 before and 22 after, the middle is 2 before the mark: every reading is 2 too early
    expect(zeroOffsetDeg({ beforeDeg: 26, afterDeg: 22 })).toBe(-2)
    expect(zeroOffsetDeg({ beforeDeg: 22, afterDeg: 26 })).toBe(2)
    expect(zeroOffsetDeg({ beforeDeg: 24, afterDeg: 24 })).toBe(0)
    const at = (value: object) => c({ trigger: 'hall' }, [madeReading('spark.zero-mark', { method: 'piston-stop', ...value })])
    const state = (value: object) => proofsOf(at(value))[0].state
    expect(state({ beforeDeg: 24, afterDeg: 24 })).toBe('proved')
    expect(state({ offsetDeg: 0 })).toBe('open')
    expect(state({ beforeDeg: 22, afterDeg: 26 })).toBe('wrong')
    expect(state({ beforeDeg: 22, afterDeg: 26, dealt: 'stored' })).toBe('proved')
    // what is said to be marked anew is read again on the new mark
    expect(state({ beforeDeg: 22, afterDeg: 26, dealt: 're-marked' })).toBe('wrong')
    expect(state({ beforeDeg: 24, afterDeg: 24, dealt: 're-marked' })).toBe('proved')
  })
  it.each([
    [{ method: 'piston-stop', beforeDeg: 24 }, /afterDeg: must be given, in crank degrees/],
    [{ method: 'piston-stop' }, /beforeDeg: must be given/],
    [{ method: 'piston-stop', beforeDeg: 10, afterDeg: 80 }, /more than 30°/],
    [{ method: 'piston-stop', beforeDeg: 91, afterDeg: 80 }, /beforeDeg/],
  ])('%j is refused', (value, words) => {
    const parsed = entryKinds['spark.zero-mark'].schema.safeParse(value)
    expect(
      zodErrors(parsed.error!)
        .map((e) => `${e.path}: ${e.message}`)
        .join(),
    ).toMatch(words)
  })
  it('a stored offset goes into every light reading', () => {
    const light = madeReading('spark.timing-light', { rpm: 900, observedDeg: 15, commandedDeg: 15, referenceDeg: 54, delayUs: 0 })
    const stored = madeReading('spark.zero-mark', { method: 'piston-stop', offsetDeg: 4, dealt: 'stored' })
    expect(currentTiming(c({ trigger: 'hall' }, [stored, light]))!.referenceErrorDeg).toBe(4)
  })
  it('light readings from before the pick-up was moved belong to the past', () => {
    const light = madeReading('spark.timing-light', { rpm: 900, observedDeg: 19, commandedDeg: 15, referenceDeg: 54, delayUs: 0 })
    const cap = madeReading('spark.moved', { what: 'cap', laterDeg: 4 })
    const turned = madeReading('spark.moved', { what: 'distributor', laterDeg: 4 })
    expect(currentLight(c({ trigger: 'hall' }, [light, cap]))).toHaveLength(1)
    expect(currentLight(c({ trigger: 'hall' }, [light, turned]))).toHaveLength(0)
  })
})

describe('the procedure of each way', () => {
  it.each(Object.keys(triggerWays))('%s has steps in order, each once, with words and a tool', (trigger) => {
    const steps = sparkProcedure(c({ trigger }))
    expect(new Set(steps.map((s) => s.id)).size).toBe(steps.length)
    expect(steps.length).toBeGreaterThan(2)
    for (const s of steps) expect([s.title, s.how, s.tool].every((text) => text.length > 2)).toBe(true)
    const at = (id: string) => steps.findIndex((s) => s.id === id)
    // the mark before anything is set by it, the stroke before the pick-up, the pick-up before its polarity is looked at
    if (at('fitted') >= 0) expect([at('zero'), at('reference')].every((i) => i >= 0 && i < at('fitted'))).toBe(true)
    if (at('polarity') >= 0) expect(at('fitted')).toBeLessThan(at('polarity'))
  })
  it('another way keeps what both share', () => {
    const done = (trigger: string) =>
      sparkProcedure(c({ trigger }, proven))
        .filter((s) => s.state === 'done')
        .map((s) => s.id)
    expect(done('hall')).toEqual(expect.arrayContaining(['zero', 'stroke', 'order', 'polarity']))
    expect(done('crank-cam')).toEqual(expect.arrayContaining(['zero', 'stroke', 'order', 'polarity']))
    expect(done('locked-magnetic')).not.toContain('lock-out')
  })
  it('a cam signal adds its steps; without a way there are none', () => {
    const has = (spark: object, id: string) => sparkProcedure(c(spark)).some((s) => s.id === id)
    expect([has({ trigger: 'crank-cam' }, 'lamp'), has({ trigger: 'crank-cam', camSignal: false }, 'lamp')]).toEqual([true, false])
    expect(hasCamSignal(c({ trigger: 'toothed-wheel' }))).toBe(false)
    expect(sparkProcedure(c({ trigger: null }))).toEqual([])
  })
})

describe('phase', () => {
  it('seen 6 distributor degrees before its terminal at 30°: in line at 30 - 12 = 18°', () => expect(alignSeenDeg(30, 6)).toBe(18))
  it('a spark of 1.2 ms at 5,500 rpm: 6 x 5,500 x 0.0012 = 39.6 crank degrees, 19.8 of the rotor', () =>
    expect(burnTravelDistDeg(5500, 1.2)).toBeCloseTo(19.8, 12))
  it('no school overlaps more than the middle of the range', () => {
    fc.assert(
      fc.property(fc.integer({ min: -5, max: 15 }), fc.integer({ min: 20, max: 50 }), (minAdvanceDeg, maxAdvanceDeg) => {
        const [middle, ...others] = phaseSchools(c({ trigger: 'hall', minAdvanceDeg, maxAdvanceDeg }))
        for (const s of others) expect(s.overlapDistDeg).toBeLessThanOrEqual(middle.overlapDistDeg + 1e-9)
      }),
    )
  })
  it('the window contradicting the dial is a warning, and a stop where the electrodes part', () => {
    const seen = (deg: number) => [madeReading('spark.phase-seen', { advanceDeg: 20, beforeTerminalDeg: (20 - deg) / 2 })]
    const at = (deg: number) =>
      found({ trigger: 'hall', alignDegBtdc: 22, minAdvanceDeg: 8, maxAdvanceDeg: 36 }, seen(deg)).find((f) => f.id === 'spark.phase-seen')
        ?.severity
    expect([at(22), at(28), at(90)]).toEqual([undefined, 'warn', 'stop'])
  })
})

describe('coil and box', () => {
  it('a chamber at top centre has its volume once, at bottom centre compression times', () => {
    expect(volumeRatioAt(0, 9)).toBeCloseTo(1, 12)
    expect(volumeRatioAt(180, 9)).toBeCloseTo(9, 12)
  })
  it('1 µF at 450 V holds 101.25 mJ; half of that on 80 pF is 35.6 kV', () => {
    expect(storeEnergyMj(1, 450)).toBe(101.25)
    // sqrt(2 x 0.5 x 0.10125 / 80e-12) = 35,576 V
    expect(reachedKv(101.25)).toBeCloseTo(35.58, 2)
  })
  it('a gap of 0.8 mm at 10 bar and 600 K breaks down at 4.3 + 2.27 + 4.32 = 10.9 kV, more with gap and pressure', () => {
    expect(breakdownKv(10, 600, 0.8)).toBeCloseTo(10.887, 3)
    expect(breakdownKv(12, 600, 0.8)).toBeGreaterThan(breakdownKv(10, 600, 0.8))
    expect(breakdownKv(10, 600, 1)).toBeGreaterThan(breakdownKv(10, 600, 0.8))
  })
  it('each drive says what it gives, draws and is wired to; only a box has its trigger wire', () => {
    const drives = coilDrives(c({ trigger: 'crank-cam' }))
    expect(drives.map((d) => d.id)).toEqual(['built-in', 'inductive-driver', 'capacitive'])
    for (const d of drives) expect(d.circuits.length).toBeGreaterThan(1)
    expect(drives.filter((d) => d.circuits.some((w) => /trigger/.test(w.to))).map((d) => d.id)).toEqual(['capacitive'])
  })
  it('dwell in degrees: the same milliseconds are twice the angle at twice the speed, and a box has none', () => {
    expect(dwellDeg(c({ trigger: 'hall' }), 2000)! / dwellDeg(c({ trigger: 'hall' }), 1000)!).toBeCloseTo(2, 12)
    expect(dwellDeg(c({ trigger: 'hall', coilDrive: 'capacitive' }), 1000)).toBeNull()
  })
  it('7,000 ohm over 500 mm is 14 kΩ a metre; one lead four times as high is named', () => {
    expect(ohmPerMetre({ lengthMm: 500, ohm: 7000 })).toBe(14000)
    const lead = (cylinder: number, ohm: number) => madeReading('spark.lead', { cylinder, lengthMm: 500, ohm })
    const leads = [lead(1, 7000), lead(2, 7100), lead(3, 28_000), lead(4, 6900)]
    expect(found({ trigger: 'hall' }, leads).find((f) => f.id === 'spark.lead-ohm')!.message).toContain('Lead 3')
    expect(ids({ trigger: 'hall' }, [...leads, lead(3, 7000)])).not.toContain('spark.lead-ohm')
  })
})

describe('a distributor’s own curve', () => {
  const ownCurve = {
    points: [
      { rpm: 3000, deg: 30 },
      { rpm: 1000, deg: 10 },
    ],
    load: [
      { mapKpa: 40, deg: 12 },
      { mapKpa: 100, deg: 0 },
    ],
  }
  it('at 2,000 rpm and 70 kPa: 20 of speed and 6 of load', () => expect(ownAdvanceDeg(ownCurve, 2000, 70)).toBeCloseTo(26, 12))
  it('holds its ends, and nothing without points', () => {
    expect([ownAdvanceDeg(ownCurve, 500, 100), ownAdvanceDeg(ownCurve, 6000, 30)]).toEqual([10, 42])
    expect(ownAdvanceDeg({}, 2000, 70)).toBeNull()
  })
  it('over the guard at full load it is a stop with the degrees to take out', () => {
    const wild = {
      points: [
        { rpm: 1000, deg: 30 },
        { rpm: 4000, deg: 55 },
      ],
    }
    const stop = found({ trigger: 'own-curve', signalFrom: 'coil-negative', ownCurve: wild }).find((f) => f.id === 'spark.own-curve')!
    expect(stop.severity).toBe('stop')
    expect(stop.remedy).toMatch(/Take \d+\.\d° or more out/)
  })
})

describe('fixes', () => {
  const light = (rpm: number, observedDeg: number, referenceDeg: number, delayUs: number) =>
    madeReading('spark.timing-light', { rpm, observedDeg, commandedDeg: 15, referenceDeg, delayUs })
  it('whatever the error, what the fix sets or turns leaves nothing when read again', () => {
    fc.assert(
      fc.property(
        fc.double({ min: -9, max: 9, noNaN: true }),
        fc.double({ min: 0, max: 180, noNaN: true }),
        fc.boolean(),
        (error, delay, turn) => {
          const pulse = 54 + error
          const seen = (rpm: number, R: number, set: number, at: number) => 15 + at - R - 6e-6 * rpm * (delay - set)
          const spark = { trigger: 'hall', referenceDeg: 54, delayUs: 0, alignDegBtdc: 20 }
          const x = c(spark, [...proven, ...[900, 3500, 900, 3500].map((rpm) => light(rpm, seen(rpm, 54, 0, pulse), 54, 0))])
          const verdict = currentTiming(x)!
          const id = turn ? 'turn-distributor' : 'change-reference'
          if (!verdict.fixes.some((f) => f.id === id)) return
          const { changes, readings } = fixActions(x, verdict, id)
          const set = Object.fromEntries(changes.map((ch) => [ch.path.split('.').at(-1)!, ch.value]))
          const moved = readings.find((r) => r.kind === 'spark.moved')?.value as { laterDeg: number } | undefined
          const now = pulse - (moved?.laterDeg ?? 0)
          for (const rpm of [900, 3500]) expect(Math.abs(seen(rpm, set.referenceDeg ?? 54, set.delayUs ?? 0, now) - 15)).toBeLessThan(0.5)
          // turning carries the rotor along, the unit’s setting leaves it
          expect(set.alignDegBtdc ?? 20).toBeCloseTo(turn ? 20 - error : 20, 0)
        },
      ),
    )
  })
  it('contradicting readings do nothing', () => {
    const x = c({ trigger: 'hall' }, [...proven, light(900, 10, 54, 0), light(900, 20, 54, 0)])
    expect(fixActions(x, currentTiming(x)!, 'change-reference')).toEqual({ changes: [], readings: [] })
  })
  it('the next speed is the one after which least is left open, by trying every other', () => {
    const ask = {
      commandedDeg: 0,
      referenceDeg: 54,
      delayUs: 0,
      rotation: 'clockwise',
      hasDistributor: true,
      minRpm: 800,
      maxRpm: 4000,
    } as const
    const worth = (speeds: number[]) => {
      const v = judgeTiming({ ...ask, readings: speeds.map((rpm) => ({ rpm, observedDeg: 0 })) })
      return Math.max(v.referenceErrorSeDeg / 0.5, (v.delayErrorSeUs ?? Infinity) / 35)
    }
    for (const had of [[900], [900, 2000], [900, 3500, 3500]]) {
      const next = judgeTiming({ ...ask, readings: had.map((rpm) => ({ rpm, observedDeg: 0 })) }).nextRpm
      for (let rpm = 800; rpm <= 4000; rpm += 400) expect(worth([...had, next])).toBeLessThanOrEqual(worth([...had, rpm]) + 1e-9)
    }
  })
})

describe('payoff by use', () => {
  it('shares of the time add up to one, and the whole lies between the least and the most', () => {
    for (const use of ['road', 'track', undefined]) expect(Object.values(useShares(use)).reduce((a, b) => a + b, 0)).toBeCloseTo(1, 12)
    const region = (id: 'idle' | 'cruise' | 'pull-away' | 'full', gainPct: number) => ({
      id,
      label: id,
      rpm: 1,
      mapKpa: 1,
      oldDeg: 1,
      plannedDeg: 1,
      gainPct,
      heldBack: false,
    })
    // 0.15 x 2 + 0.55 x 4 + 0.25 x 0 + 0.05 x 1 = 2.55
    expect(
      gainByUsePct([region('idle', 2), region('cruise', 4), region('pull-away', 0), region('full', 1)], useShares('road')),
    ).toBeCloseTo(2.55, 12)
  })
})

describe('angles of the cycle', () => {
  it('any angle comes into -360 up to 360, by whole cycles only', () => {
    fc.assert(
      fc.property(fc.integer({ min: -5000, max: 5000 }), (deg) => {
        const within = withinCycle(deg)
        expect(within >= -360 && within < 360).toBe(true)
        expect(Math.abs((deg - within) % 720)).toBe(0)
      }),
    )
  })
  it('a six at 60°: the others’ pulses stand at 180° and 300° of the turn, each once', () =>
    // 60 + 120, + 240, + 360 (its own again), + 480, + 600, within one turn
    expect(otherPulsesDeg(60, 120).sort((a, b) => a - b)).toEqual([60, 180, 300]))
  it('strokes as the leads lie: in order all in compression; a turn out all 360° away', () => {
    const order = [1, 5, 3, 6, 2, 4]
    expect(strokesAsLed(order, order, 10).every((s) => s.stroke === 'compression' && s.beforeDeg === 10)).toBe(true)
    expect(strokesAsLed(order, order, 10, 360).every((s) => s.beforeDeg === 370)).toBe(true)
    // 5 and 3 changed over: each sparks one interval off, the rest in place
    const off = strokesAsLed(order, [1, 3, 5, 6, 2, 4], 10)
    expect(off.map((s) => s.beforeDeg)).toEqual([10, 610, 130, 10, 10, 10])
  })
})
