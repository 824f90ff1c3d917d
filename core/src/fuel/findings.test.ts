import { describe, expect, it } from 'vitest'
import { contextOf, evaluate } from '../judge/judgement.ts'
import { madeReading, soundBuild, soundFuel } from '../judge/made-up.fixture.ts'
import { stations } from '../judge/stations.ts'
import { type FuelElement, layoutChanges, startingCircuit } from './circuit.ts'
import { designOf, fuelDesign, missingForCircuit, withBore } from './design.ts'
import { returnFloor } from './flow-findings.ts'
import { fuelGates } from './gates.ts'
import { jointsOf, leakState } from './joints.ts'
import { pressureChecks } from './pressure-check.ts'
import { genericPumps } from './pump.ts'

const found = (patch: object, readings = [] as ReturnType<typeof madeReading>[]) =>
  evaluate(soundBuild(patch, readings)).stations.find((s) => s.id === 'fuel')!.findings
const finding = (id: string, patch: object, readings = [] as ReturnType<typeof madeReading>[]) =>
  found(patch, readings).find((f) => f.id === id)
const fuel = (patch: object) => ({ choices: { fuel: patch } })
const hose = (more: Partial<FuelElement & { kind: 'line' }>): FuelElement =>
  ({ id: 'x', kind: 'line', material: 'hose', hose: 'injection', boreMm: 8.7, lengthM: 0.5, place: 'under', ...more }) as FuelElement
const feedWith = (...extra: FuelElement[]) => fuel({ feed: [...soundFuel.feed!, ...extra] })
const small = genericPumps[0].spec

describe('fuel findings', () => {
  it('a sound system has neither stop nor warn', () => expect(found({}).filter((f) => f.severity !== 'note')).toEqual([]))
  it.each<[string, object, string, 'stop' | 'warn']>([
    ['a pump too small for the power', { facts: { engine: { powerKw: 330 } }, ...fuel({ pump: small }) }, 'fuel.pump-small', 'stop'],
    ['a pump with little margin', { facts: { engine: { powerKw: 210 } }, ...fuel({ pump: small }) }, 'fuel.pump-small', 'warn'],
    [
      'thin wire to the pump',
      { facts: { engine: { powerKw: 330 } }, ...fuel({ wiring: { lengthM: 8, areaMm2: 0.5 } }) },
      'fuel.wiring-drop',
      'warn',
    ],
    ['a return that holds the pressure up', fuel({ return: withBore(soundFuel.return!, 3) }), 'fuel.return-floor', 'stop'],
    ['no pressure at full power', { facts: { engine: { powerKw: 600 } } }, 'fuel.not-held', 'stop'],
    [
      'multi-port without reference',
      { choices: { plan: { route: 'multi-port', injectors: 6, injectorCcMin: 150 } } },
      'fuel.reference',
      'warn',
    ],
    ['a capped regulator', fuel({ regulator: { reference: 'capped' } }), 'fuel.reference', 'warn'],
    ['manifold pressure from a ported source', fuel({ mapFrom: 'ported' }), 'fuel.map-source', 'stop'],
    ['manifold pressure from one runner', fuel({ mapFrom: 'one-runner' }), 'fuel.map-source', 'warn'],
    [
      'a fine filter before the pump',
      fuel({ suction: [{ id: 'f', kind: 'filter', micron: 10, dropKpa: 3, atLph: 200, body: 'metal', place: 'under' }] }),
      'fuel.filter-order',
      'stop',
    ],
    ['no fine filter at all', fuel({ feed: soundFuel.feed!.filter((e) => e.kind !== 'filter') }), 'fuel.filter-missing', 'warn'],
    ['a pump above the fuel', fuel({ heights: { pumpM: 0.9 } }), 'fuel.pump-high', 'stop'],
    ['a high place and a hot day', { facts: { place: { barometerKpa: 80 } }, ...fuel({ hotC: 52 }) }, 'fuel.inlet', 'stop'],
    ['a thin feed', fuel({ feed: withBore(soundFuel.feed!, 4) }), 'fuel.feed-velocity', 'warn'],
    ['a thin suction', fuel({ suction: [hose({ boreMm: 6 })] }), 'fuel.suction-velocity', 'warn'],
    ['nothing coarse before the pump', fuel({ suction: [hose({ boreMm: 11.1 })] }), 'fuel.strainer', 'warn'],
    [
      'a fitting in the boot',
      feedWith({ id: 'u', kind: 'fitting', fitting: 'union', count: 1, boreMm: 8, place: 'boot' }),
      'fuel.joints-inside',
      'warn',
    ],
    [
      'a plastic filter in the boot',
      feedWith({ id: 'p', kind: 'filter', micron: 10, dropKpa: 3, atLph: 200, body: 'plastic', place: 'boot' }),
      'fuel.joints-inside',
      'stop',
    ],
    ['an old copper line kept', { facts: { fuel: { lineBoreMm: 8, lineMaterial: 'copper' } } }, 'fuel.old-line', 'warn'],
    ['a regulator that needs more return', fuel({ regulator: { minReturnLph: 100 }, pump: small }), 'fuel.min-return', 'warn'],
    ['a tank without vent', { facts: { fuel: { tankVented: false } } }, 'fuel.tank-vent', 'warn'],
    ['carburettor hose', feedWith(hose({ hose: 'carburettor' })), 'fuel.soft-hose', 'stop'],
    ['hose in the boot', feedWith(hose({ place: 'boot' })), 'fuel.closed-space', 'stop'],
    ['a line by the exhaust', feedWith(hose({ exhaustMm: 60 })), 'fuel.exhaust', 'stop'],
    ['a line across the linkage', feedWith(hose({ crossesMoving: true })), 'fuel.moving-parts', 'stop'],
    [
      'a plastic filter in the bay',
      feedWith({ id: 'p', kind: 'filter', micron: 10, dropKpa: 3, atLph: 200, body: 'plastic', place: 'bay' }),
      'fuel.plastic-filter',
      'stop',
    ],
    [
      'the mechanical pump left in',
      { facts: { fuel: { mechanicalPump: true } }, ...fuel({ safety: { mechanicalPumpRemoved: false } }) },
      'fuel.mechanical-pump',
      'stop',
    ],
    ['a low-pressure regulator kept', { facts: { fuel: { reuseRegulator: true, reuseRegulatorKpa: 30 } } }, 'fuel.low-regulator', 'stop'],
    ['a pump that runs on', fuel({ safety: { stallCutOff: false } }), 'fuel.stall-cut-off', 'stop'],
    ['no crash cut-off', fuel({ safety: { crashCutOff: false } }), 'fuel.crash-cut-off', 'warn'],
    ['no relay', fuel({ safety: { relay: false } }), 'fuel.relay', 'warn'],
    ['an open port', fuel({ safety: { portsPlugged: false } }), 'fuel.ports', 'stop'],
    ['a tank without baffles', { facts: { fuel: { tankBaffled: false } } }, 'fuel.baffle', 'warn'],
    ['two pressures', fuel({ regulator: { setKpa: 340 } }), 'fuel.plan-pressure', 'warn'],
    ['flare on push-on', feedWith(hose({ id: 'a', ends: 'push-on' }), hose({ id: 'b', ends: 'flare' })), 'fuel.joint-ends', 'warn'],
  ])('finds %s', (_what, patch, id, severity) => {
    const f = finding(id, patch)
    expect(f?.severity).toBe(severity)
    expect(f!.because.length).toBeGreaterThan(15)
  })
  it('a height that nobody measured stops nobody', () => {
    const guessed = fuel({ heights: { pumpM: 0.9, fuelM: null } })
    expect(finding('fuel.pump-high', guessed)!.severity).toBe('warn')
    expect(finding('fuel.pump-high', guessed)!.because).toContain('not measured')
    // 45 kPa short of the vapour is no matter of a height
    expect(
      finding('fuel.inlet', { facts: { place: { barometerKpa: 60 } }, ...fuel({ hotC: 52, heights: { fuelM: null } }) })!.severity,
    ).toBe('stop')
  })
  it('a pump already in the tank is not told to go there', () => {
    const hot = { facts: { place: { barometerKpa: 80 } }, ...fuel({ hotC: 52, pumpPlace: 'in-tank' }) }
    expect(finding('fuel.inlet', hot)!.remedy).not.toContain('A pump in the tank')
    expect(finding('fuel.strainer', fuel({ suction: [hose({ boreMm: 11.1 })], pumpPlace: 'in-tank' }))).toBeUndefined()
  })
  it('steel of the right bore may stay; a canister and a tank inside are named', () => {
    expect(finding('fuel.old-line', { facts: { fuel: { lineBoreMm: 8, lineMaterial: 'steel' } } })).toBeUndefined()
    expect(finding('fuel.old-line', { facts: { fuel: { lineBoreMm: 5, lineMaterial: 'copper' } } })).toBeUndefined()
    expect(finding('fuel.canister', { facts: { fuel: { canister: true } } })!.severity).toBe('note')
    expect(finding('fuel.tank-inside', { facts: { fuel: { tankPlace: 'boot' } } })!.severity).toBe('note')
    expect(finding('fuel.tank-inside', { facts: { fuel: { tankPlace: 'rear-under' } } })).toBeUndefined()
  })
  it('heights and wire that nobody measured follow tank and battery', () => {
    const d = (facts: object) =>
      designOf(contextOf(soundBuild({ facts, ...fuel({ heights: { fuelM: null }, wiring: { lengthM: null } }) })))!
    expect(d({}).circuit.heights.fuelM).toBe(0.45)
    expect(d({ fuel: { tankPlace: 'boot' } }).circuit.heights.fuelM).toBe(0.7)
    // 1.5 m in place of 5
    expect(d({ electrics: { batteryPlace: 'boot' } }).circuit.wireOhm / d({}).circuit.wireOhm).toBeCloseTo(0.3, 6)
  })
  it('a lift pump short at full power leaves seconds: a long hill must fit into them', () => {
    const lifted = (volumeL: number) =>
      fuel({
        ...startingCircuit('lift-sump'),
        liftPump: {
          kind: 'mechanical',
          curves: [
            {
              voltageV: 12,
              points: [
                { pressureKpa: 0, flowLph: 30 },
                { pressureKpa: 20, flowLph: 0 },
              ],
            },
          ],
        },
        sump: { volumeL },
      })
    const seconds = (volumeL: number) => Number(/last (\d+) s/.exec(finding('fuel.lift', lifted(volumeL))!.because)![1])
    expect(seconds(2) / seconds(1)).toBeCloseTo(2, 1)
    expect(finding('fuel.lift', lifted(0.1))!.severity).toBe('stop')
    expect(finding('fuel.lift', lifted(2))!.severity).toBe('warn')
  })
  it('a shield answers the exhaust', () =>
    expect(finding('fuel.exhaust', feedWith(hose({ exhaustMm: 60, shielded: true })))).toBeUndefined())
  it('names the bore that cures the return, and with it the stop is gone', () => {
    const bad = fuel({ return: withBore(soundFuel.return!, 3) })
    const bore = Number(/\((\d+(?:\.\d+)?) mm bore\)/.exec(finding('fuel.return-floor', bad)!.remedy)![1])
    expect(finding('fuel.return-floor', fuel({ return: withBore(soundFuel.return!, bore) }))).toBeUndefined()
  })
  it('names the wire that cures the drop, and with it the warning is gone', () => {
    const thin = { facts: { engine: { powerKw: 330 } }, ...fuel({ wiring: { lengthM: 8, areaMm2: 0.5 } }) }
    const area = Number(/^(\d+(?:\.\d+)?) mm²/.exec(finding('fuel.wiring-drop', thin)!.remedy)![1])
    expect(finding('fuel.wiring-drop', { ...thin, ...fuel({ wiring: { lengthM: 8, areaMm2: area } }) })).toBeUndefined()
  })
  // by hand: 300 kPa set, 52 kPa vacuum: sqrt(352/300) = 1.083
  it('gives the size of a missing reference as the flow error at idle', () =>
    expect(finding('fuel.reference', { choices: { plan: { route: 'multi-port', injectors: 6, injectorCcMin: 150 } } })!.because).toContain(
      '+8.3 % fuel',
    ))
  it('a pot too small says which would do', () => {
    const sump = fuel({
      ...startingCircuit('lift-sump'),
      liftPump: {
        kind: 'mechanical',
        curves: [
          {
            voltageV: 12,
            points: [
              { pressureKpa: 0, flowLph: 30 },
              { pressureKpa: 20, flowLph: 0 },
            ],
          },
        ],
      },
      sump: { volumeL: 0.1, uncoveredS: 12, vent: 'none' },
    })
    expect(finding('fuel.surge', sump)!.remedy).toMatch(/A pot of 0\.1[0-9] L/)
    expect(finding('fuel.sump-vent', sump)!.severity).toBe('stop')
    expect(finding('fuel.lift', sump)!.because).toContain('37 L/h')
  })
})

describe('leak check', () => {
  const joints = jointsOf(soundFuel)
  const pressed = () => madeReading('fuel.prime', { cycles: 2, pumpStops: true })
  const dryAll = () => [pressed(), ...joints.map((j) => madeReading('fuel.joint', { jointId: j.id, dry: true }))]
  it('passes joint by joint, and not while one is unseen', () => {
    expect(leakState(contextOf(soundBuild({}, dryAll()))).passed).toBe(true)
    const missing = leakState(contextOf(soundBuild({}, [pressed(), ...dryAll().slice(2)])))
    expect([missing.passed, missing.unseen.map((j) => j.id)]).toEqual([false, [joints[0].id]])
  })
  it('a wet joint is a stop at fuel and at every later station until it is passed', () => {
    const wet = [...dryAll(), madeReading('fuel.joint', { jointId: joints[2].id, dry: false })]
    const states = evaluate(soundBuild({}, wet)).stations
    expect(states.filter((s) => s.findings.some((f) => f.id === 'fuel.leak')).map((s) => s.id)).toEqual(stations.slice(2).map((s) => s.id))
    expect(states.slice(2).every((s) => s.state === 'blocked')).toBe(true)
    const mended = [...wet, madeReading('fuel.joint', { jointId: joints[2].id, dry: true })]
    expect(evaluate(soundBuild({}, mended)).stations.some((s) => s.findings.some((f) => f.id === 'fuel.leak'))).toBe(false)
  })
  it('a wet check of the whole opens it again, a dry one of the whole settles it', () => {
    const after = [...dryAll(), madeReading('fuel.leak-check', { dry: false, where: 'rail' })]
    expect(leakState(contextOf(soundBuild({}, after))).wet).toEqual(['rail'])
    expect(leakState(contextOf(soundBuild({}, [...after, madeReading('fuel.leak-check', { dry: true })]))).passed).toBe(true)
  })
})

describe('set-up and proof', () => {
  it('clears with circuit, cut-offs, arrows, prime, pressure and dry joints', () => {
    const readings = [
      madeReading('fuel.arrows', { right: true }),
      madeReading('fuel.prime', { cycles: 2, pumpStops: true }),
      madeReading('fuel.pressure', { pressureKpa: 300, engineRunning: false }),
      madeReading('fuel.leak-check', { dry: true }),
    ]
    expect(evaluate(soundBuild({}, readings)).stations.find((s) => s.id === 'fuel')!.state).toBe('cleared')
    for (let i = 0; i < readings.length; i++)
      expect(
        evaluate(
          soundBuild(
            {},
            readings.filter((_, j) => j !== i),
          ),
        ).stations.find((s) => s.id === 'fuel')!.state,
      ).toBe('ready')
  })
  it('brings a referenced gauge at idle to the base: 247 kPa with 47 kPa at the port and 99 kPa air is 299 kPa', () => {
    const [check] = pressureChecks(
      contextOf(
        soundBuild(fuel({ regulator: { reference: 'manifold' } }), [
          madeReading('fuel.pressure', { pressureKpa: 247, engineRunning: true, referenceKpa: 47 }),
        ]),
      ),
    )
    expect(check.baseKpa).toBeCloseTo(299, 9)
  })
  it.each<[string, ReturnType<typeof madeReading>, string]>([
    ['a pump that does not stop', madeReading('fuel.prime', { cycles: 1, pumpStops: false }), 'fuel.prime'],
    ['an arrow the wrong way', madeReading('fuel.arrows', { right: false }), 'fuel.arrows'],
    ['a proof that did not hold', madeReading('fuel.proof', { pressureKpa: 450, minutes: 10, held: false }), 'fuel.proof'],
    ['too much current', madeReading('fuel.pump-draw', { currentA: 14, voltageV: 12.5, pressureKpa: 300 }), 'fuel.pump-draw'],
    [
      'a falling pressure',
      madeReading('fuel.bleed-down', { at0Kpa: 300, at1Kpa: 200, at5Kpa: 60, at10Kpa: 10, pinch: 'feed-holds' }),
      'fuel.bleed-down',
    ],
    ['a wet re-check', madeReading('fuel.recheck', { when: 'hot', dry: false, where: 'rail' }), 'fuel.leak'],
  ])('finds %s in its reading', (_what, reading, id) => expect(finding(id, {}, [reading])).toBeDefined())
  it('asks for the hot and first-week checks once it has run, and counts them when done', () => {
    const ran = madeReading('start.ran', { secondsToFire: 1, idleRpm: 700, coolantC: 80, tuneId: '6d0f4a52-0c1e-4f7a-9d3b-1f62a0c80009' })
    expect(finding('fuel.recheck', {}, [ran])!.severity).toBe('warn')
    const done = (['hot', 'first-week'] as const).map((when) => madeReading('fuel.recheck', { when, dry: true }))
    expect(finding('fuel.recheck', {}, [ran, done[0]])!.severity).toBe('note')
    expect(finding('fuel.recheck', {}, [ran, ...done])).toBeUndefined()
  })
})

describe('choosing a layout', () => {
  it('brings what it needs and keeps what is laid out', () => {
    const changed = Object.fromEntries(layoutChanges(soundFuel, 'returnless'))
    expect(Object.keys(changed)).toEqual(['choices.fuel.layout', 'choices.fuel.delivery'])
    const fresh = Object.fromEntries(layoutChanges({}, 'lift-sump', 250))
    expect(fresh['choices.fuel.regulator']).toMatchObject({ setKpa: 250 })
    expect(Object.keys(fresh)).toEqual(expect.arrayContaining(['choices.fuel.lift', 'choices.fuel.overflow', 'choices.fuel.sump']))
  })
})

describe('the design', () => {
  it('says what is missing, in order, and solves nothing before', () => {
    const empty = contextOf(soundBuild({ choices: { fuel: null } }))
    expect(missingForCircuit(empty)).toEqual(['Choose the layout of the fuel system'])
    expect(designOf(empty)).toBeNull()
    expect(missingForCircuit(contextOf(soundBuild(fuel({ pump: null, regulator: null }))))).toHaveLength(2)
  })
  it('answers “what if” without touching the build', () => {
    const c = contextOf(soundBuild())
    const before = JSON.stringify(c.build)
    const base = fuelDesign(c)!
    const asked = fuelDesign(c, { supplyV: 11, fuelC: 50, usePct: 150, clogged: 4, returnBoreMm: 4 })!
    expect(asked.solutions[3].pumpV).toBeLessThan(base.solutions[3].pumpV)
    expect(asked.solutions[3].wantedLph).toBeCloseTo(base.solutions[3].wantedLph * 1.5, 9)
    expect(returnFloor(asked)).toBeGreaterThan(returnFloor(base))
    expect(JSON.stringify(c.build)).toBe(before)
  })
  it('takes the measured volts at the pump over the wire’s own sum', () => {
    const c = contextOf(soundBuild({}, [madeReading('fuel.pump-volts', { supplyV: 13, atPumpV: 12, currentA: 8 })]))
    expect(designOf(c)!.circuit.wireOhm).toBeCloseTo(0.125, 9)
  })
})

describe('gates of the set-up', () => {
  const gates = (readings: ReturnType<typeof madeReading>[], patch: object = {}) => {
    const build = soundBuild(patch, readings)
    return fuelGates(contextOf(build), evaluate(build).stations.find((s) => s.id === 'fuel')!.findings)
  }
  const ready = [
    madeReading('fuel.arrows', { right: true }),
    madeReading('start.safety', { extinguisher: true, helper: true, stopWord: 'anchor' }),
  ]
  it('no line is opened before battery and pressure are recorded off', () => {
    expect(gates([])['open-lines'].every((g) => g.met)).toBe(false)
    const off = { batteryOff: true, pressureRelieved: true, engineCold: true, ventilated: true, extinguisher: true }
    expect(gates([madeReading('fuel.isolated', off)])['open-lines'].every((g) => g.met)).toBe(true)
  })
  it('pressure comes only with a laid-out circuit, no stop, arrows and a helper', () => {
    expect(gates(ready).pressurise.every((g) => g.met)).toBe(true)
    for (const missing of ready) expect(gates(ready.filter((r) => r !== missing)).pressurise.some((g) => !g.met)).toBe(true)
    expect(gates(ready, fuel({ safety: { stallCutOff: false } })).pressurise.find((g) => g.id === 'stops')!.met).toBe(false)
  })
  it('a wet joint does not shut the check that settles it', () => {
    const wet = madeReading('fuel.leak-check', { dry: false, where: 'rail' })
    expect(gates([...ready, wet]).pressurise.every((g) => g.met)).toBe(true)
  })
})
