import { describe, expect, it } from 'vitest'
import { contextOf, evaluate } from '../judge/judgement.ts'
import { madeReading, severityOf, soundBuild, soundFuel } from '../judge/made-up.fixture.ts'
import { wordsOf } from '../kernel/index.ts'
import { planSizes } from '../plan/sizes.ts'
import { bleedDown } from './bleed-down.ts'
import { boreTable, startingCircuit } from './circuit.ts'
import { designOf, withBore } from './design.ts'
import { returnFloor } from './flow-findings.ts'
import { pressedBefore, provedOver } from './proof-basis.ts'
import { rechecksDue } from './proof-findings.ts'
import { genericPumps, pumpOf } from './pump.ts'

const line = (more: object) => ({
  choices: { fuel: { feed: [{ kind: 'line', id: 'l1', material: 'hard', boreMm: 8, lengthM: 2, place: 'outside', ...more }] } },
})
const screen = (micron: number) => ({ kind: 'filter', id: 'f', micron, body: 'metal', place: 'outside', cleanDropKpa: 1, cleanLph: 100 })

/** Both sides of each limit of handbook 02. */
describe('limits of Fuel', () => {
  it.each([
    [99, 'stop'],
    [100, null],
  ])('a line %d mm from the exhaust', (exhaustMm, severity) => expect(severityOf('fuel.exhaust', line({ exhaustMm }))).toBe(severity))
  it('a feed faster than 3 m/s, a suction faster than 1 m/s', () => {
    const full = designOf(contextOf(soundBuild()))!.solutions
    const most = (id: string) =>
      Math.max(...full.flatMap((s) => s.branches.filter((b) => b.section === id).map((b) => Math.abs(b.flowLph))))
    // v = Q / A: the bore at which a flow runs at a speed, mm
    const bore = (lph: number, v: number) => Math.sqrt((4 * lph) / 3.6e6 / Math.PI / v) * 1000
    const feed = (v: number) => severityOf('fuel.feed-velocity', line({ boreMm: bore(most('feed'), v) }))
    // the bore changes the flow a little: stay 5 % off on both sides
    expect([feed(2.85), feed(3.15)]).toEqual([null, 'warn'])
    const suction = (v: number) =>
      severityOf('fuel.suction-velocity', {
        choices: {
          fuel: {
            suction: [{ kind: 'line', id: 's', material: 'hard', boreMm: bore(most('suction'), v), lengthM: 0.3, place: 'outside' }],
          },
        },
      })
    expect([suction(0.93), suction(1.07)]).toEqual([null, 'warn'])
  })
  it('vapour margin: under 20 kPa it warns, under 10 kPa it stops', () => {
    const margin = (summerRvpKpa: number) => {
      const build = soundBuild({ choices: { fuel: { summerRvpKpa } } })
      const worst = Math.min(...designOf(contextOf(build))!.solutions.map((s) => s.inletMarginKpa))
      return { worst, severity: severityOf('fuel.inlet', { choices: { fuel: { summerRvpKpa } } }) }
    }
    const seen = Array.from({ length: 60 }, (_, i) => margin(50 + i))
    const near = (kpa: number, side: 1 | -1) =>
      seen.filter((m) => (m.worst - kpa) * side > 0).sort((a, b) => Math.abs(a.worst - kpa) - Math.abs(b.worst - kpa))[0]
    expect(near(20, 1)).toMatchObject({ severity: null })
    expect(near(20, 1).worst).toBeLessThan(22)
    expect(near(20, -1)).toMatchObject({ severity: 'warn' })
    expect(near(20, -1).worst).toBeGreaterThan(18)
    expect(near(10, 1)).toMatchObject({ severity: 'warn' })
    expect(near(10, 1).worst).toBeLessThan(11.4)
    expect(near(10, -1)).toMatchObject({ severity: 'stop' })
    expect(near(10, -1).worst).toBeGreaterThan(8.6)
  })
  it.each([
    [40, null],
    [41, 'warn'],
  ])('a finest filter of %d micron after it', (micron, severity) =>
    expect(
      severityOf('fuel.filter-missing', { choices: { fuel: { suction: [screen(120)], delivery: [], feed: [screen(micron)] } } }) === null
        ? null
        : 'warn',
    ).toBe(severity),
  )
  it('a draw within a quarter of its curve', () => {
    const expected = pumpOf(soundFuel.pump!).currentA(300)!
    const rate = (share: number) =>
      severityOf('fuel.pump-draw', {}, [madeReading('fuel.pump-draw', { currentA: expected * share, voltageV: 13.5, pressureKpa: 300 })])
    expect([rate(1.24), rate(1.26), rate(0.76), rate(0.74)]).toEqual([null, 'warn', null, 'warn'])
  })
  it.each([
    [210, 'holds'],
    [209, 'unknown'],
  ])('%d of 300 kPa left after ten minutes', (at10Kpa, cause) =>
    expect(bleedDown({ at0Kpa: 300, at1Kpa: 290, at5Kpa: 250, at10Kpa, pinch: 'not-tried' }).cause).toBe(cause),
  )
  it('the second look falls due a week after it first ran', () => {
    const ran = madeReading(
      'start.ran',
      { secondsToFire: 2, idleRpm: 800, coolantC: 80, tuneId: '00000000-0000-4000-8000-000000000001' },
      { takenAt: '2026-03-02T10:00:00.000Z' },
    )
    expect(rechecksDue(contextOf(soundBuild({}, [ran]))).map((d) => d.dueAt)).toEqual(['2026-03-02', '2026-03-09'])
  })
  it('a return line is wide enough when a wide-open regulator leaves nine tenths of the set pressure', () => {
    const design = designOf(contextOf(soundBuild()))!
    const floorAt = (boreMm: number) =>
      returnFloor(design, {
        ...design.circuit,
        sections: { ...design.circuit.sections, return: withBore(design.circuit.sections.return ?? [], boreMm) },
      })
    const [small, next] = boreTable.filter((b) => b.boreMm >= 4.5)
    const least = (setKpa: number) =>
      planSizes(contextOf(soundBuild({ choices: { fuel: { regulator: { setKpa } } } }))).find((s) => s.sizeId === 'return-bore')!.computed
    expect(least(floorAt(small.boreMm) / 0.88)).toBe(small.boreMm)
    expect(least(floorAt(small.boreMm) / 0.92)).toBe(next.boreMm)
  })
  it('a joint counts as looked at under pressure within a tenth of the set pressure', () => {
    const c = contextOf(soundBuild())
    const before = (pressureKpa: number) =>
      pressedBefore(c, {}, [
        { kind: 'fuel.prime', value: {} },
        { kind: 'fuel.pressure', value: { pressureKpa, engineRunning: false } },
      ] as never)
    // 300 kPa: 270 to 330
    expect([271, 329].map(before)).toEqual([null, null])
    for (const off of [269, 331]) expect(wordsOf(before(off)!)).toContain('of 300 kPa')
  })
  it('a proof is 1.2 times the working pressure, for ten minutes', () => {
    const c = contextOf(soundBuild())
    expect(provedOver(c, { pressureKpa: 360, minutes: 10 })).toBeNull()
    expect(wordsOf(provedOver(c, { pressureKpa: 358, minutes: 10 })!)).toContain('360 kPa or more')
    expect(wordsOf(provedOver(c, { pressureKpa: 360, minutes: 9.8 })!)).toContain('10 min or more')
    // boost stands on top where the port follows it: 1.2 x 370 = 444
    const blown = contextOf(
      soundBuild({
        facts: { induction: { kind: 'blow-through', boostKpa: 70 } },
        choices: { fuel: { regulator: { reference: 'above-plates' } } },
      }),
    )
    expect(provedOver(blown, { pressureKpa: 445, minutes: 10 })).toBeNull()
    expect(provedOver(blown, { pressureKpa: 443, minutes: 10 })).not.toBeNull()
  })
  it('a lift that falls short at full power leaves a minute in the sump, or stops the job', () => {
    const lifted = (volumeL: number) => ({
      choices: {
        fuel: {
          ...startingCircuit('lift-sump'),
          liftPump: {
            kind: 'mechanical',
            curves: [
              {
                voltageV: 12,
                points: [
                  { pressureKpa: 0, flowLph: 32 },
                  { pressureKpa: 25, flowLph: 0 },
                ],
              },
            ],
          },
          sump: { volumeL },
        },
      },
    })
    const { deficitLph } = designOf(contextOf(soundBuild(lifted(0.5))))!.solutions.find((s) => s.state === 'full')!.lift!
    const forSeconds = (s: number) => severityOf('fuel.lift', lifted((deficitLph * s) / 3600))
    expect([forSeconds(57), forSeconds(63)]).toEqual(['stop', 'warn'])
  })
  it('heights that nobody measured are given a metre of fuel before they stop: 7 kPa', () => {
    const at = (summerRvpKpa: number) => {
      const patch = { choices: { fuel: { summerRvpKpa, heights: { fuelM: null } } } }
      const worst = Math.min(...designOf(contextOf(soundBuild(patch)))!.solutions.map((s) => s.inletMarginKpa))
      return { worst, severity: severityOf('fuel.inlet', patch) }
    }
    const seen = Array.from({ length: 160 }, (_, i) => at(60 + i / 8))
    const just = (kpa: number) => seen.find((m) => m.worst < kpa)!
    // 10 - 7 = 3 kPa
    expect(just(3.7).worst).toBeGreaterThan(3.2)
    expect(just(3.7).severity).toBe('warn')
    expect(just(2.9).worst).toBeGreaterThan(2.4)
    expect(just(2.9).severity).toBe('stop')
  })
  it('an idling tank is a warning within the hour, a stop within ten minutes', () => {
    const found = (tankL: number) =>
      evaluate(soundBuild({ facts: { fuel: { tankL } }, choices: { fuel: { hotC: 40, pump: { curves: genericPumps[2].spec.curves } } } }))
        .stations.find((s) => s.id === 'fuel')!
        .findings.find((f) => f.id === 'fuel.tank-heat')
    const minutes = (tankL: number) => Number(/after (\d+) min/.exec(found(tankL)!.because)![1])
    const sizes = Array.from({ length: 148 }, (_, i) => 10 + i)
    const last = sizes.findLast((l) => found(l))!
    expect(minutes(last)).toBeGreaterThanOrEqual(56)
    expect(minutes(last)).toBeLessThanOrEqual(60)
    expect(found(last + 1)).toBeUndefined()
    const stops = sizes.filter((l) => found(l)?.severity === 'stop').map(minutes)
    const warns = sizes.filter((l) => found(l)?.severity === 'warn').map(minutes)
    expect(Math.max(...stops)).toBeLessThanOrEqual(10)
    expect(Math.max(...stops)).toBeGreaterThanOrEqual(9)
    expect(Math.min(...warns)).toBeGreaterThanOrEqual(10)
  })
})
