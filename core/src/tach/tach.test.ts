import fc from 'fast-check'
import { describe, expect, it } from 'vitest'
import { contextOf, evaluate } from '../judge/judgement.ts'
import { madeReading, soundBuild } from '../judge/made-up.fixture.ts'
import { speedoPulsesPerKm } from './speedometer.ts'
import {
  adapterOf,
  fitTach,
  fitStep,
  lagOf,
  needleOf,
  needleStep,
  selfTestRpm,
  sourcePulsesPerRev,
  tachAdapter,
  tachRatio,
} from './tachometer.ts'

const found = (tach: object, readings = [] as ReturnType<typeof madeReading>[], more: object = {}) =>
  evaluate(soundBuild({ choices: { tach }, ...more }, readings)).stations.find((s) => s.id === 'spark')!.findings

describe('pulses', () => {
  it.each([
    ['single-coil', 6, 3],
    ['paired-coil', 6, 1],
    ['coil-per-cylinder', 6, 0.5],
  ] as const)('%s on %d cylinders gives %d a turn', (source, cylinders, ppr) => expect(sourcePulsesPerRev({ source }, cylinders)).toBe(ppr))
  it('an output of the unit gives what it is set to, and nothing is guessed before it is', () => {
    expect(sourcePulsesPerRev({ source: 'unit-output', unitPulsesPerRev: 2 }, 8)).toBe(2)
    expect(sourcePulsesPerRev({ source: 'unit-output' }, 8)).toBeNull()
    expect(sourcePulsesPerRev({}, 8)).toBeNull()
  })
  // six cylinders on one coil are 3 pulses a turn; set to 8 it wants 4
  it('set to eight on a six it shows three quarters', () => expect(tachRatio(3, 8)).toBeCloseTo(0.75, 12))
})

describe('adapters', () => {
  it('nothing between equals, something between unequals, and a current loop never on a capacitive box', () => {
    expect(tachAdapter('square-12v', 'square-12v', false)).toEqual({ needed: null, stop: false })
    expect(tachAdapter('square-12v', 'coil-spike', false).needed).toContain('spike')
    expect(tachAdapter('square-5v', 'square-12v', false).needed).toContain('pull-up')
    expect(tachAdapter('coil-spike', 'current-loop', true).stop).toBe(true)
    expect(tachAdapter('coil-spike', 'current-loop', false).stop).toBe(false)
  })
  it('a current loop in the feed of an inductive coil is driven as it was built', () => {
    expect(tachAdapter('coil-current', 'current-loop', false)).toEqual({ needed: null, stop: false })
    expect(tachAdapter('coil-current', 'current-loop', true).stop).toBe(true)
    expect(tachAdapter('coil-current', 'coil-spike', false).needed).toContain('coil minus')
    const loop = (source: string) =>
      adapterOf(contextOf(soundBuild({ choices: { tach: { source, level: 'coil-current', wants: 'current-loop' } } })))!
    expect(loop('single-coil').needed).toBeNull()
    // one coil of three carries a third of the firings
    expect(loop('paired-coil').needed).toContain('all coils together')
  })
})

describe('the adapter of a build', () => {
  it('is the same for screen and finding: a capacitive drive chosen in the plan counts like one that is fitted', () => {
    const loop = { choices: { tach: { level: 'coil-spike', wants: 'current-loop' } } }
    expect(adapterOf(contextOf(soundBuild(loop)))!.stop).toBe(false)
    expect(adapterOf(contextOf(soundBuild({ choices: { ...loop.choices, spark: { coilDrive: 'capacitive' } } })))!.stop).toBe(true)
    expect(adapterOf(contextOf(soundBuild()))).toBeNull()
  })
})

describe('fit of readings', () => {
  it('finds gain and offset exactly, whatever they are', () => {
    fc.assert(
      fc.property(fc.double({ min: 0.3, max: 3, noNaN: true }), fc.double({ min: -300, max: 300, noNaN: true }), (gain, offset) => {
        const fit = fitTach([900, 2100, 3800].map((trueRpm) => ({ trueRpm, shownRpm: gain * trueRpm + offset })))!
        return Math.abs(fit.gain - gain) < 1e-9 && Math.abs(fit.offsetRpm - offset) < 1e-6
      }),
    )
  })
  it.each([
    [4, 6],
    [6, 4],
    [8, 4],
    [6, 8],
    [8, 6],
  ])('names a setting of %d on %d cylinders', (set, cylinders) => {
    const readings = [1000, 3000].map((trueRpm) => ({ trueRpm, shownRpm: (trueRpm * cylinders) / set }))
    expect(fitTach(readings, cylinders)!.setting).toEqual({ set, true: cylinders })
  })
  it('a gain that this engine cannot give names no setting: three quarters on eight cylinders are not six', () => {
    const readings = [1000, 3000].map((trueRpm) => ({ trueRpm, shownRpm: 0.75 * trueRpm }))
    expect(fitTach(readings, 8)!.setting).toBeNull()
    expect(fitTach(readings, 6)!.setting).toEqual({ set: 8, true: 6 })
    expect(fitTach(readings)!.setting).not.toBeNull()
  })
  it('one coil of several is summed with the others, or the unit’s output taken: there is no tachometer for two cylinders', () => {
    const remedy = (source: string) =>
      found({ source, setCylinders: 8 }, [], { facts: { engine: { cylinders: 8, firingOrder: null } } }).find((f) => f.id === 'tach.ratio')!
        .remedy
    expect(remedy('paired-coil')).toContain('sum the coils')
    expect(remedy('coil-per-cylinder')).toContain('the unit’s own output at 4 pulses a turn')
    expect(found({ source: 'single-coil', setCylinders: 8 }, [], {}).find((f) => f.id === 'tach.ratio')!.remedy).toContain(
      'Set it to 6 cylinders',
    )
  })
  it('one speed gives the gain alone, a true one names nothing, none gives nothing', () => {
    expect(fitTach([{ trueRpm: 2000, shownRpm: 1500 }])).toMatchObject({ gain: 0.75, offsetRpm: 0 })
    expect(fitTach([{ trueRpm: 2000, shownRpm: 2010 }])!.setting).toBeNull()
    expect(fitTach([])).toBeNull()
  })
})

describe('lag', () => {
  it('the time constant of a first-order display comes back from its own steps, up and down', () => {
    fc.assert(
      fc.property(fc.double({ min: 0.05, max: 2, noNaN: true }), fc.boolean(), (tau, up) => {
        const [from, to] = up ? [900, 3000] : [3000, 900]
        let rpm = from
        const shown = Array.from({ length: 12 }, (_, i) => ({
          timeS: (i + 1) * tau * 0.25,
          rpm: (rpm = needleStep(rpm, to, tau * 0.25, tau, tau)),
        }))
        return Math.abs(lagOf(from, to, shown)! / tau - 1) < 1e-3
      }),
    )
  })
  // a display of 0.30 s that starts 0.25 s late and shows 8 % too little: an older fit called that 0.86 s
  it.each([
    [0.3, 0.25, 0.92],
    [0.3, 0, 1.1],
    [1.2, 0.4, 1],
    [0.15, 0.1, 0.75],
  ])('tells a lag of %d s from %d s of dead time and a gain of %d', (tau, dead, gain) => {
    const shown = Array.from({ length: 14 }, (_, i) => {
      const timeS = 0.1 * (i + 1)
      return { timeS, rpm: gain * (3000 - 2000 * Math.exp(-Math.max(0, timeS - dead) / tau)) }
    })
    const fit = fitStep(1000, 3000, shown)!
    expect(fit.tauS).toBeCloseTo(tau, 2)
    expect(fit.deadS!).toBeCloseTo(dead, 2)
    expect(fit.gain!).toBeCloseTo(gain, 2)
  })
  it('from three points a time constant alone, and nothing told apart', () => {
    const shown = [0.2, 0.4, 0.8].map((timeS) => ({ timeS, rpm: 3000 - 2000 * Math.exp(-timeS / 0.5) }))
    expect(fitStep(1000, 3000, shown)).toEqual({ tauS: expect.closeTo(0.5, 6), deadS: null, gain: null })
  })
  it('a needle may fall more slowly than it rises', () => {
    const rise = needleStep(1000, 2000, 0.1, 0.1, 0.4) - 1000
    const fall = 2000 - needleStep(2000, 1000, 0.1, 0.1, 0.4)
    expect(rise).toBeGreaterThan(fall)
  })
  it('says nothing from points that are all at the end', () => expect(lagOf(900, 3000, [{ timeS: 3, rpm: 3000 }])).toBeNull())
})

describe('findings', () => {
  it.each<[string, object, ReturnType<typeof madeReading>[], object, string, 'stop' | 'warn']>([
    ['a wrong cylinder setting', { source: 'single-coil', setCylinders: 8 }, [], {}, 'tach.ratio', 'warn'],
    ['another level', { level: 'square-12v', wants: 'coil-spike' }, [], {}, 'tach.adapter', 'warn'],
    [
      'a current loop on a capacitive box',
      { level: 'coil-spike', wants: 'current-loop' },
      [],
      { facts: { ignition: { kind: 'capacitive' } } },
      'tach.adapter',
      'stop',
    ],
    [
      'readings three quarters of the truth',
      {},
      [1000, 3000].map((trueRpm) => madeReading('tach.reading', { trueRpm, shownRpm: 0.75 * trueRpm })),
      {},
      'tach.reads-wrong',
      'warn',
    ],
  ])('finds %s', (_what, tach, readings, more, id, severity) =>
    expect(found(tach, readings, more).find((f) => f.id === id)?.severity).toBe(severity),
  )
  it('a tachometer that fits and reads true has nothing against it', () => {
    const readings = [1000, 3000].map((trueRpm) => madeReading('tach.reading', { trueRpm, shownRpm: trueRpm + 20 }))
    expect(
      found({ source: 'single-coil', setCylinders: 6, level: 'coil-spike', wants: 'coil-spike' }, readings).filter((f) =>
        f.id.startsWith('tach.'),
      ),
    ).toEqual([])
  })
})

describe('needle and speedometer', () => {
  it('a sweep goes up its span and back in the time said, then rests', () =>
    expect([0, 0.5, 1, 1.5, 2, 3].map((s) => selfTestRpm(s, 8000, 2))).toEqual([0, 4000, 8000, 4000, 0, 0]))
  it('a slow display is noted with its time constant, of the way it was watched', () => {
    // after 1 s a display of 1.2 s has 1 - e^(-1/1.2) = 56.5 % of 2,000 rpm, after 2 s 81.1 %
    const step = madeReading('tach.step', {
      fromRpm: 1000,
      toRpm: 3000,
      points: [
        { timeS: 1, shownRpm: 2131 },
        { timeS: 2, shownRpm: 2622 },
      ],
    })
    const needle = needleOf(contextOf(soundBuild({}, [step])))
    expect(needle.rise).toBeCloseTo(1.2, 1)
    expect(needle.measured).toEqual({ rise: true, fall: false })
    const said = evaluate(soundBuild({}, [step]))
      .stations.flatMap((s) => s.findings)
      .find((f) => f.id === 'tach.slow')
    expect(said?.because).toContain('1.2 s rising')
  })
  it('axle 4.1 to 3.7, tyre 610 to 640 mm: 4,000 x 3.7/4.1 x 610/640 = 3,441 pulses a kilometre', () => {
    expect(speedoPulsesPerKm({ pulsesPerKm: 4000, oldAxle: 4.1, newAxle: 3.7, oldTyreMm: 610, newTyreMm: 640 })).toBeCloseTo(3440.5, 1)
    expect(speedoPulsesPerKm({ pulsesPerKm: 4000 })).toBe(4000)
    expect(speedoPulsesPerKm({ oldAxle: 4 })).toBeNull()
  })
})
