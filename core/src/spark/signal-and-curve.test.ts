import fc from 'fast-check'
import { describe, expect, it } from 'vitest'
import { contextOf, evaluate } from '../judge/judgement.ts'
import { madeReading, soundBuild } from '../judge/made-up.fixture.ts'
import { dwellOf } from './coil.ts'
import { dwellTable } from './dwell-table.ts'
import { wheelReferenceDeg } from './fitting.ts'
import { leadSwap } from './lead-swap.ts'
import { oldAdvanceDeg, oldCurveMap, oldCurveOf, timingPayoff } from './old-curve.ts'
import { wrongEdgeShiftDeg } from './sensor-edge.ts'
import { timingTape } from './timing-tape.ts'
import { ignitionUses, knockFrequenciesKhz, thresholdFor } from './trigger-signal.ts'

describe('two leads changed over', () => {
  const six = [1, 5, 3, 6, 2, 4]
  // neighbours in a six: 5 fires 120 degrees after 1. The lead of 1 on 5 sparks number 5 at 1's moment: 120 degrees early, in its compression.
  // The lead of 5 on 1 sparks number 1 120 degrees late, in its power stroke.
  it('neighbours of a six: one 120° early in compression, the other 120° late in power', () => {
    const [one, five] = leadSwap(six, 1, 5)
    expect(five).toMatchObject({ cylinder: 5, earlyDeg: 120, stroke: 'compression' })
    expect(one).toMatchObject({ cylinder: 1, earlyDeg: -120, stroke: 'power' })
  })
  // half the order apart both spark a whole turn off: 360 + 10 degrees before firing is the end of exhaust, as a paired coil's lost spark
  it('half the order apart: both a turn off, in the exhaust stroke', () => {
    expect(leadSwap(six, 1, 6).map((s) => s.stroke)).toEqual(['exhaust', 'exhaust'])
  })
  // two places in a six: 240 degrees before firing, plus 10 of advance, is the inlet stroke: it spits back
  it('two places apart spits back through the inlet', () => {
    expect(leadSwap(six, 1, 3).find((s) => s.cylinder === 3)).toMatchObject({ earlyDeg: 240, stroke: 'intake' })
  })
  it('what one gains the other loses, in any order, and a lead on its own tower does nothing', () => {
    fc.assert(
      fc.property(
        fc.integer({ min: 2, max: 12 }).chain((n) =>
          fc.tuple(
            fc.shuffledSubarray(
              [...Array(n).keys()].map((i) => i + 1),
              { minLength: n, maxLength: n },
            ),
            fc.integer({ min: 1, max: n }),
            fc.integer({ min: 1, max: n }),
          ),
        ),
        ([order, a, b]) => {
          const swap = leadSwap(order, a, b)
          if (a === b) return swap.length === 0
          const sum = swap[0].earlyDeg + swap[1].earlyDeg
          return Math.abs(sum) < 1e-9 || Math.abs(Math.abs(sum) - 720) < 1e-9
        },
      ),
    )
  })
})

describe('timing tape', () => {
  // by hand: 172 mm damper: pi x 172 / 360 = 1.501 mm a degree; 50 degrees are 75.05 mm
  it('is as long as the rim says, evenly ticked, tens marked', () => {
    const tape = timingTape(172, -10, 40)
    expect(tape).toHaveLength(51)
    expect(tape.at(-1)!.mm - tape[0].mm).toBeCloseTo(75.05, 2)
    expect(tape.filter((t) => t.kind === 'ten').map((t) => t.deg)).toEqual([-10, 0, 10, 20, 30, 40])
  })
  it('paper makes it longer: half a millimetre on 172 is one in 172', () => {
    const bare = timingTape(172, 0, 40)
    const thick = timingTape(172, 0, 40, 0.5)
    expect(thick.at(-1)!.mm / bare.at(-1)!.mm).toBeCloseTo(173 / 172, 9)
  })
})

describe('trigger', () => {
  it('the wrong edge shifts by the target’s width, twice that in a distributor', () => {
    expect(wrongEdgeShiftDeg(7, false)).toBe(7)
    expect(wrongEdgeShiftDeg(7, true)).toBe(14)
  })
  // sqrt(0.2 x 1.8) = 0.6: three times clear of both
  it('the threshold stands the same ratio from noise and signal', () => {
    const { thresholdV, clear } = thresholdFor(0.2, 1.8)
    expect(thresholdV).toBeCloseTo(0.6, 9)
    expect(clear).toBeCloseTo(3, 9)
    expect(thresholdV / 0.2).toBeCloseTo(clear, 9)
  })
  it('a noisy pick-up is a warning with its remedy, a clear one is none', () => {
    const of = (noiseV: number) =>
      evaluate(soundBuild({}, [madeReading('spark.signal', { noiseV, crankingV: 1 })]))
        .stations.find((s) => s.id === 'spark')!
        .findings.find((f) => f.id === 'spark.threshold')
    expect(of(0.5)!.severity).toBe('warn')
    expect(of(0.1)).toBeUndefined()
  })
  // 36 teeth, ninth tooth after the reference at top centre: 9 x 10 = 90 degrees
  it('a wheel of 36 with the ninth tooth at top centre has its reference at 90°', () =>
    expect(wheelReferenceDeg(36, 10, 1, 0)).toBeCloseTo(90, 12))
  // 86 mm: 900 / (pi x 43) = 6.66 kHz
  it('a bore of 86 mm knocks at 6.66 kHz', () => expect(knockFrequenciesKhz(86)[0]).toBeCloseTo(6.66, 2))
  it('every ignition has a use and a reason for both ways', () => {
    for (const use of Object.values(ignitionUses)) for (const [, why] of [use.signal, use.control]) expect(why.length).toBeGreaterThan(8)
  })
})

describe('dwell over voltage', () => {
  // by hand: 13 V, 0.75 ohm, 4.5 mH to 6.5 A: 6 ms x -ln(1 - 6.5 x 0.75 / 13) = 6 x 0.4700 = 2.820 ms
  it('at 14 V less a volt of the driver the usual coil takes 2.82 ms', () => {
    const rows = dwellTable({ inductanceMh: 4.5, resistanceOhm: 0.75, targetA: 6.5, sparksPerRev: 3, burnMs: 1.2 })
    expect(rows[0].dwellMs).toBeCloseTo(2.82, 2)
    expect(rows.map((r) => r.dwellMs!)).toEqual([...rows.map((r) => r.dwellMs!)].sort((a, b) => a - b))
    // 60000 / ((2.82 + 1.2) x 3)
    expect(rows[0].highestRpm).toBeCloseTo(4975, -1)
  })
  it('where the current is never reached there is no dwell and no speed', () =>
    expect(dwellTable({ inductanceMh: 8, resistanceOhm: 3, targetA: 6, sparksPerRev: 3, burnMs: 1 })[0]).toMatchObject({
      dwellMs: null,
      highestRpm: null,
    }))
  it('a wanted current of one’s own goes into the judgement', () => {
    expect(dwellOf(contextOf(soundBuild({ choices: { spark: { targetA: 5 } } })))!.input.targetA).toBe(5)
  })
})

describe('the old curve', () => {
  const facts = {
    ignition: {
      mechanicalAdvanceDeg: 22,
      mechanicalStartRpm: 900,
      mechanicalFullRpm: 3100,
      vacuumAdvanceDeg: 14,
      vacuumFullKpa: 45,
      vacuumSource: 'ported' as const,
    },
  }
  const curve = oldCurveOf(facts, 8)!
  // read at the distributor: 11 degrees from 450 to 1550 rpm and a can of 7 are the same curve
  it('read at the distributor its degrees and speeds count double, the vacuum does not', () =>
    expect(
      oldCurveOf(
        {
          ignition: {
            ...facts.ignition,
            curveShaft: 'distributor',
            mechanicalAdvanceDeg: 11,
            mechanicalStartRpm: 450,
            mechanicalFullRpm: 1550,
            vacuumAdvanceDeg: 7,
          },
        },
        8,
      ),
    ).toEqual(curve))
  it('needs the weights; the can may be missing', () => {
    expect(oldCurveOf({}, 8)).toBeNull()
    expect(oldCurveOf({ ignition: { ...facts.ignition, vacuumSource: 'none' } }, 8)!.vacuumDeg).toBe(0)
  })
  // half-way from 900 to 3100 rpm the weights give half of 22
  it('adds weights and can to the static timing', () => {
    expect(oldAdvanceDeg(curve, 800, 99, 99)).toBe(8)
    expect(oldAdvanceDeg(curve, 2000, 99, 99)).toBeCloseTo(8 + 11, 9)
    expect(oldAdvanceDeg(curve, 4000, 54, 99)).toBeCloseTo(8 + 22 + 14, 9)
  })
  it('a ported can sees nothing with the plate shut, a manifold one all of it', () => {
    expect(oldAdvanceDeg(curve, 800, 40, 99, true)).toBe(8)
    expect(oldAdvanceDeg({ ...curve, source: 'manifold' }, 800, 40, 99, true)).toBe(22)
  })
  it('as a map: rows from full load down, the can in where there is vacuum and the plate is open', () => {
    const map = oldCurveMap(
      curve,
      () => 30,
      { rpm: [800, 2000, 4000], mapKpa: [45, 99] },
      { idleRpm: 750, idleMapKpa: 45, barometerKpa: 99 },
    )
    expect(map.map((row) => row.map((cell) => Math.round(cell.oldDeg)))).toEqual([
      // no vacuum: static 8, half the weights, all of them
      [8, 19, 30],
      // 54 kPa of vacuum puts the can's 14 in, but at the idle, where a ported one sees none
      [8, 33, 44],
    ])
    expect(map[0][0]).toMatchObject({ mapKpa: 99, plannedDeg: 30 })
  })
  it('never falls with speed or with vacuum', () => {
    fc.assert(
      fc.property(
        fc.double({ min: 500, max: 6000, noNaN: true }),
        fc.double({ min: 25, max: 99, noNaN: true }),
        (rpm, map) =>
          oldAdvanceDeg(curve, rpm + 200, map, 99) >= oldAdvanceDeg(curve, rpm, map, 99) &&
          oldAdvanceDeg(curve, rpm, map - 2, 99) >= oldAdvanceDeg(curve, rpm, map, 99),
      ),
    )
  })
  it('timing that is the same pays nothing; 16 degrees off pays about 6 %', () => {
    const car = { redlineRpm: 5200, idleRpm: 750, idleMapKpa: 47, barometerKpa: 99 }
    const same = timingPayoff(curve, (rpm, map) => oldAdvanceDeg(curve, rpm, map, 99, rpm === 750), car)
    expect(same.every((r) => r.gainPct === 0)).toBe(true)
    const off = timingPayoff(curve, (rpm, map) => oldAdvanceDeg(curve, rpm, map, 99, rpm === 750) + 16, car)
    for (const r of off) expect(r.gainPct).toBeCloseTo(100 * (1 / (1 - 2.5e-4 * 256) - 1), 6)
    expect(off[0].gainPct).toBeGreaterThan(6)
    expect(off[0].gainPct).toBeLessThan(7)
  })
})
