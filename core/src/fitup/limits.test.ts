import { describe, expect, it } from 'vitest'
import type { StoredReading } from '../kernel/index.ts'
import { evaluate, contextOf } from '../judge/judgement.ts'
import { madeReading, soundBuild } from '../judge/made-up.fixture.ts'
import { bonnetStack } from './bonnet.ts'
import { boltOrder, boltsOf, engagementMm, jointTorque } from './bolts.ts'
import { boxJudged } from './boxes.ts'
import type { FitupChoices } from './choices.ts'
import { drains, gasC, sensorStretch } from './exhaust-sensor.ts'
import { reservoirL, vacuumMap } from './vacuum.ts'

type Patch = { facts?: object; choices?: object }
const build = (fitup: FitupChoices = {}, patch: Patch = {}, readings: StoredReading[] = []) =>
  soundBuild({ ...patch, choices: { ...patch.choices, fitup } }, readings)
const at = (fitup: FitupChoices = {}, patch: Patch = {}) => contextOf(build(fitup, patch))
const found = (id: string, fitup: FitupChoices = {}, patch: Patch = {}, readings: StoredReading[] = []) =>
  evaluate(build(fitup, patch, readings))
    .stations.find((s) => s.id === 'fitup')!
    .findings.find((f) => f.id === `fitup.${id}`)
const reading = (kind: string, value: object) => madeReading(kind as never, value)

describe('order of the bolts: from the middle out, crossing', () => {
  it('four at the corners cross', () => {
    const bolts = boltsOf({ pattern: 'rectangle', bolts: 4, lengthMm: 100, widthMm: 60 })
    expect(bolts.map((b) => [b.xMm, b.yMm])).toEqual([
      [-50, -30],
      [50, -30],
      [-50, 30],
      [50, 30],
    ])
    expect(boltOrder(bolts)).toEqual([0, 3, 2, 1])
  })
  it('six on a circle: each after the first is opposite, or as far as it can be', () => {
    const bolts = boltsOf({ pattern: 'circle', bolts: 6, diameterMm: 100 })
    const order = boltOrder(bolts)
    expect(order.slice(0, 2)).toEqual([0, 3])
    const step = (a: number, b: number) => Math.min(Math.abs(a - b), 6 - Math.abs(a - b))
    expect(order.slice(1).every((b, i) => step(b, order[i]) >= 2)).toBe(true)
    expect([...order].sort()).toEqual([0, 1, 2, 3, 4, 5])
  })
  it('eight in two rows begin with the four in the middle, and end at the ends', () => {
    const order = boltOrder(boltsOf({ pattern: 'rectangle', bolts: 8, lengthMm: 300, widthMm: 60 }))
    expect(new Set(order.slice(0, 4))).toEqual(new Set([1, 2, 5, 6]))
    expect(new Set(order.slice(4))).toEqual(new Set([0, 3, 4, 7]))
    // each pair lies across the middle from the one before it
    expect([order[0] + order[1], order[2] + order[3]]).toEqual([7, 7])
  })
  it('a row of five goes from the middle, side to side', () =>
    expect(boltOrder(boltsOf({ pattern: 'row', bolts: 5, lengthMm: 200 }))[0]).toBe(2))
  it('bolts that were moved are where they were moved to', () =>
    expect(
      boltsOf({
        pattern: 'circle',
        bolts: 2,
        diameterMm: 50,
        at: [
          { xMm: 1, yMm: 2 },
          { xMm: 3, yMm: 4 },
        ],
      }),
    ).toHaveLength(2))
})

describe('torque of a joint', () => {
  const m8 = { threadMm: 8 as const, class: '8.8' as const, lug: 'light-alloy' as const, washer: true }
  // M8: pi/4 (8 - 0.9382 x 1.25)^2 = 36.6 mm2 x 580 MPa x 0.75 = 15.92 kN
  it('by the bolt: 15.9 kN, 0.2 x 8 mm: 25.5 Nm dry, 19.1 oiled, 15.3 with paste', () => {
    expect(jointTorque(m8)!.clampN).toBeCloseTo(15_924, -1)
    expect(jointTorque(m8)!.torqueNm).toBeCloseTo(25.5, 1)
    expect(jointTorque({ ...m8, lubrication: 'oiled' })!.torqueNm).toBeCloseTo(19.1, 1)
    expect(jointTorque({ ...m8, lubrication: 'paste' })!.torqueNm).toBeCloseTo(15.3, 1)
    expect(jointTorque(m8)!.passesNm.map((v) => Number(v.toFixed(1)))).toEqual([8.5, 17, 25.5])
  })
  // 0.5 x 120 MPa x pi x 8 x 0.88 x 10 mm = 13.27 kN
  it('by ten millimetres of thread in light alloy: 13.3 kN, 21.2 Nm; in iron the bolt goes first', () => {
    expect(jointTorque({ ...m8, engagementMm: 10 })).toMatchObject({ by: 'thread' })
    expect(jointTorque({ ...m8, engagementMm: 10 })!.torqueNm).toBeCloseTo(21.2, 1)
    expect(jointTorque({ ...m8, engagementMm: 10, lug: 'cast-iron' })!.by).toBe('bolt')
  })
  // a head of 11.6 over a hole of 8.8: 44.9 mm2 x 230 MPa = 10.3 kN
  it('by a lug under a bare head: 10.3 kN, 16.5 Nm', () => {
    expect(jointTorque({ ...m8, washer: false })).toMatchObject({ by: 'lug' })
    expect(jointTorque({ ...m8, washer: false })!.torqueNm).toBeCloseTo(16.5, 1)
  })
  it('the sheet goes first; without thread and sheet nothing is made up', () => {
    expect(jointTorque({ ...m8, sheetNm: 18 })).toMatchObject({ torqueNm: 18, by: 'sheet' })
    expect(jointTorque({ pattern: 'row' })).toBeNull()
  })
  it.each([
    ['light-alloy', 12],
    ['cast-iron', 8],
    ['steel', 8],
  ] as const)('thread in %s: %d mm for M8', (lug, mm) => expect(engagementMm({ threadMm: 8, lug })).toBe(mm))
  it.each([
    [12, undefined],
    [11.9, 'stop'],
  ])('%d mm of thread in a light lug', (engagementMm, severity) =>
    expect(found('engagement', { joints: { throttle: { ...m8, engagementMm } } })?.severity).toBe(severity),
  )
  // 0.2 x 8 mm: 21.2 kN of proof is 33.97 Nm
  it.each([
    [33.5, undefined],
    [34.5, 'warn'],
  ])('a sheet of %d Nm against what the bolt bears', (sheetNm, severity) =>
    expect(found('sheet-torque', { joints: { throttle: { ...m8, sheetNm } } })?.severity).toBe(severity),
  )
  it.each([
    // 18 Nm by the sheet: 5 % is 0.9
    [18.9, true],
    [19.0, false],
    [17.1, true],
    [17.0, false],
  ])('drawn to %d Nm of 18', (torqueNm, stands) => {
    const r = reading('fitup.torqued', { joint: 'throttle', torqueNm, passes: 3, inOrder: true })
    const c = contextOf(build({ joints: { throttle: { sheetNm: 18 } } }, {}, [r]))
    expect(c.standings.get(r.id)!.stands === true).toBe(stands)
  })
})

describe('vacuum hoses', () => {
  const joined = { booster: 'rear-large', pcv: 'front-large', map: 'side-small', 'idle-valve': 'neck' }
  const vacuum = (more: object = {}, over: object = {}) => ({ vacuum: { joined: { ...joined, ...more }, ...over } })
  const problems = (f: FitupChoices, patch: Patch = {}) =>
    vacuumMap(at(f, patch)).problems.map((p) => `${p.severity} ${p.consumer ?? p.port}`)
  const ports = (more: object = {}) => ({
    'rear-large': { name: 'rear', kind: 'manifold' as const, boreMm: 10 },
    'front-large': { name: 'front', kind: 'manifold' as const, boreMm: 10 },
    'side-small': { name: 'side', kind: 'manifold' as const, boreMm: 4 },
    neck: { name: 'neck', kind: 'clean' as const, boreMm: 12 },
    ...more,
  })
  it('a sound map has nothing wrong', () => expect(problems(vacuum({}, { ports: ports() }))).toEqual([]))
  it('an open port is false air; capped it is well', () => {
    const spare = { name: 'spare', kind: 'manifold' as const, boreMm: 4 }
    expect(problems(vacuum({}, { ports: ports({ spare }) }))).toEqual(['warn spare'])
    expect(problems(vacuum({}, { ports: ports({ spare: { ...spare, capped: true } }) }))).toEqual([])
    expect(problems(vacuum({ pcv: 'spare' }, { ports: ports({ spare: { ...spare, boreMm: 9, capped: true } }) }))).toContain('warn pcv')
  })
  it('the booster on nothing, on ported vacuum, or sharing is a stop', () => {
    expect(problems(vacuum({ booster: 'none' }, { ports: ports() }))).toContain('stop booster')
    const edge = { name: 'edge', kind: 'ported' as const, boreMm: 9 }
    expect(problems(vacuum({ booster: 'edge' }, { ports: ports({ edge }) }))).toContain('stop booster')
    expect(problems(vacuum({ booster: 'front-large' }, { ports: ports() }))).toContain('stop booster')
  })
  it.each([
    [8, []],
    [7.9, ['warn booster']],
  ])('a booster’s port of %d mm', (boreMm, expected) =>
    expect(problems(vacuum({}, { ports: ports({ 'rear-large': { name: 'r', kind: 'manifold', boreMm } }) }))).toEqual(expected),
  )
  it.each([
    [3, []],
    [2.9, ['warn map']],
  ])('a pressure sensor’s port of %d mm', (boreMm, expected) =>
    expect(problems(vacuum({}, { ports: ports({ 'side-small': { name: 's', kind: 'manifold', boreMm } }) }))).toEqual(expected),
  )
  it('a can that had ported vacuum gets it again', () => {
    const patch = { facts: { ignition: { vacuumSource: 'ported' } }, choices: { spark: { trigger: 'speed-signal' } } }
    const edge = { name: 'edge', kind: 'ported' as const, boreMm: 4 }
    const two = { name: 'two', kind: 'manifold' as const, boreMm: 4 }
    expect(problems(vacuum({ 'advance-can': 'edge' }, { ports: ports({ edge }) }), patch)).toEqual([])
    expect(problems(vacuum({ 'advance-can': 'two' }, { ports: ports({ two }) }), patch)).toEqual(['warn advance-can'])
  })
  it('sensor and regulator on one port: a note, no fault', () => {
    const patch = { choices: { fuel: { regulator: { reference: 'manifold', setKpa: 300 } } } }
    expect(problems(vacuum({ regulator: 'side-small' }, { ports: ports() }), patch)).toEqual(['note map'])
  })
  it('one runner is no port for a sensor, unless it feeds a collector', () => {
    const runner = { name: 'one', kind: 'runner' as const, boreMm: 4 }
    expect(problems(vacuum({ map: 'one' }, { ports: ports({ one: runner, 'side-small': undefined }) }))).toContain('stop map')
    const { 'side-small': _, ...rest } = ports()
    expect(problems(vacuum({ map: 'one' }, { ports: { ...rest, one: runner }, collector: true }))).toEqual([])
  })
  it.each([
    [600, undefined],
    [610, 'note'],
  ])('a hose of %d mm', (mapHoseMm, severity) => expect(found('map-hose', { vacuum: { mapHoseMm } })?.severity).toBe(severity))
  it('a hose that does not drain', () => expect(found('map-hose', { vacuum: { mapDrains: false } })?.severity).toBe('warn'))
  // 60 kPa to 30 in three applications of 1.2 L: 1.2 / (2^(1/3) - 1) = 4.617
  it('a reservoir by Boyle: 4.6 L for three applications from 60 kPa to 30', () => {
    expect(reservoirL(1.2, 60)).toBeCloseTo(4.617, 3)
    expect([reservoirL(1.2, 30), reservoirL(1.2, 30.5)! > 100]).toEqual([null, true])
  })
  it('on individual runners a booster wants one; too little vacuum is a stop', () => {
    const ir = (idleVacuumKpa: number) => ({ facts: { cam: { idleVacuumKpa } }, choices: { plan: { route: 'individual-runner' } } })
    expect(found('reservoir', { vacuum: {} }, ir(60))?.severity).toBe('warn')
    expect(found('reservoir', { vacuum: { reservoirL: 4.7 } }, ir(60))).toBeUndefined()
    expect(found('reservoir', { vacuum: { reservoirL: 4.5 } }, ir(60))?.because).toContain('there are 4.5 L')
    expect(found('reservoir', { vacuum: { reservoirL: 9 } }, ir(29))?.severity).toBe('stop')
    expect(found('reservoir', { vacuum: {} })).toBeUndefined()
  })
})

describe('under the bonnet', () => {
  const stack = {
    body: { heightMm: 90, spreadMm: 3 },
    base: { heightMm: 5, spreadMm: 0 },
    element: { heightMm: 60, spreadMm: 4, leastMm: 40 },
    lid: { heightMm: 5, spreadMm: 0 },
    stud: { heightMm: 10, spreadMm: 0 },
    adapter: { heightMm: 10, spreadMm: 0 },
  }
  it('heights add up, spreads by their squares, a leaning cleaner stands higher', () => {
    const s = bonnetStack({ stack, liftMm: 20 }, 210, true)
    expect([s.sumMm, s.spreadMm, s.leftMm, s.worstMm]).toEqual([180, 5, 10, 5])
    // 300 mm across, leaning by 3 degrees: 150 x sin 3 = 7.85
    expect(bonnetStack({ stack, liftMm: 20, tiltDeg: 3, cleanerMm: 300 }, 210, true).tiltMm).toBeCloseTo(7.85, 2)
    expect(s.lower[0]).toEqual({ part: 'element', label: 'filter element', givesMm: 20 })
    expect(bonnetStack({}, null, true).leftMm).toBeNull()
  })
  it('twenty millimetres of lift unless told', () => expect(bonnetStack({ stack }, 210, true).liftMm).toBe(20))
  it.each([
    [206, undefined],
    [204, 'The bonnet may not shut'],
    [199, 'The bonnet does not shut'],
  ])('%d mm free for 180 with 20 of lift and 5 of spread', (bonnetMm, message) =>
    expect(found('bonnet', { stack }, { facts: { place: { bonnetMm } } })?.message).toBe(message),
  )
  it('names the part that gives enough', () =>
    expect(found('bonnet', { stack }, { facts: { place: { bonnetMm: 190 } } })?.remedy).toContain('filter element'))
  it('other necks', () => {
    expect(found('neck', { neckMm: 130, bodyNeckMm: 131 })).toBeUndefined()
    expect(found('neck', { neckMm: 130, bodyNeckMm: 132 })?.severity).toBe('note')
  })
})

describe('exhaust sensor', () => {
  const sensor = (more: object) => ({ sensor: { fromPortMm: 500, ...more } })
  const place = (more: object, mergeMm = 250) => found('sensor-place', sensor(more), { facts: { exhaust: { mergeMm } } })?.message
  it.each([
    [299, 'The exhaust sensor sits too near the port'],
    [301, undefined],
    [899, undefined],
    [901, 'The exhaust sensor sits far from the engine'],
  ])('%d mm from the port', (fromPortMm, message) => expect(place({ fromPortMm })).toBe(message))
  it.each([
    [449, 'The exhaust sensor sits near the open end'],
    [451, undefined],
  ])('%d mm from the open end', (toEndMm, message) => expect(place({ toEndMm })).toBe(message))
  it('before the merge it sees one branch', () => {
    expect(place({ fromPortMm: 500 }, 510)).toBe('The exhaust sensor sees one branch')
    expect(place({ fromPortMm: 500 }, 490)).toBeUndefined()
  })
  it.each([
    [10, 'yes', undefined],
    [9, 'hardly', 'warn'],
    [0, 'hardly', 'warn'],
    [-1, 'no', 'stop'],
  ])('%d degrees over level', (upDeg, says, severity) => {
    expect(drains(upDeg)).toBe(says)
    expect(found('sensor-angle', sensor({ upDeg }))?.severity).toBe(severity)
  })
  it('the stretch it may sit on: behind the merge, 300 to 900 mm, 450 from the end', () => {
    expect(sensorStretch(420, null)).toEqual({ fromMm: 420, toMm: 900 })
    expect(sensorStretch(null, 1000)).toEqual({ fromMm: 300, toMm: 550 })
    expect(sensorStretch(600, 1000)).toBeNull()
  })
  // 90 W/m2K x pi x 0.048 m x 0.5 m = 6.786 W/K over 40 g/s x 1.15: 60 + 760 exp(-0.1475) = 715.8
  it('gas cools along the pipe by its energy balance', () => {
    expect(gasC('full', 500, 40, 48)).toBeCloseTo(715.8, 0)
    expect(gasC('full', 0, 40)).toBe(820)
    expect(gasC('idle', 600, 3)).toBeLessThan(gasC('idle', 600, 6))
  })
  it('an unseen bank, until there are two sensors', () => {
    expect(found('bank-unseen', sensor({ sees: 'left' }))?.message).toBe('The right bank is not seen')
    expect(found('bank-unseen', sensor({ sees: 'left', sensors: 2 }))).toBeUndefined()
    expect(found('bank-unseen', sensor({ sees: 'all' }))).toBeUndefined()
  })
})

describe('boxes', () => {
  const unit = (place: object) => boxJudged(at({ boxes: { unit: place } }), 'unit').problems
  it.each([
    [{ hottestC: 70 }, 0],
    [{ hottestC: 71 }, 1],
    [{ plugs: 'down', dry: true, rubber: true }, 0],
    [{ plugs: 'up', dry: false, rubber: false, access: false }, 4],
    [{ holeMm: 30, plugMm: 31 }, 1],
    [{ holeMm: 31, plugMm: 30 }, 0],
  ])('%o: %d things', (place, count) => expect(unit(place)).toHaveLength(count))
  it('leads that do not reach are told by the way of the harness', () => {
    const { reachM } = boxJudged(at(), 'unit')
    expect(reachM).toBeGreaterThan(1)
    expect(unit({ leadsM: reachM! - 0.05 })[0]).toContain('is the way to the farthest')
    expect(unit({ leadsM: reachM! + 0.05 })).toEqual([])
    expect(found('box', { boxes: { unit: { plugs: 'up' } } })?.where).toEqual({ station: 'fitup', part: 'boxes', field: 'unit' })
  })
})

describe('readings on both sides of their limits', () => {
  const stands = (kind: string, value: object) => {
    const r = reading(kind, value)
    const before = reading('fitup.brake-key', { keyShuts: true, brakeShuts: true })
    return contextOf(build({}, {}, [before, r])).standings.get(r.id)!.stands === true
  }
  it.each([
    [0.1, undefined],
    [0.11, 'warn'],
  ])('a face out of flat by %d mm', (gapMm, severity) =>
    expect(found('face', {}, {}, [reading('fitup.ports-covered', { covered: true, gapMm })])?.severity).toBe(severity),
  )
  it.each([
    ['fitup.torqued', { joint: 'throttle', torqueNm: 20, inOrder: true }, 'passes', 3, 2],
    ['fitup.linkage', { closes: true, springs: 2 }, 'fullDeg', 85, 84],
    ['fitup.linkage', { closes: true, fullDeg: 88 }, 'springs', 2, 1],
    ['fitup.tip-in', {}, 'jumpPct', 3, 3.1],
    ['fitup.shafts', { shutDeg: 0 }, 'fullDeg', 1, 1.1],
    ['fitup.bonnet', {}, 'gapMm', 20, 19.5],
    ['fitup.sensor', { tight: true, plugged: true }, 'upDeg', 10, 9],
    ['fitup.box', { box: 'unit', dry: true, plugsDown: true, rubber: true }, 'hottestC', 70, 71],
    ['fitup.dry-fit', { boltsStart: true, railFloatMm: 0.7 }, 'gapMm', 0.1, 0.11],
    ['fitup.dry-fit', { boltsStart: true, gapMm: 0.05 }, 'railFloatMm', 0.3, 0.28],
    ['fitup.dry-fit', { boltsStart: true, gapMm: 0.05 }, 'railFloatMm', 1.5, 1.55],
    ['fitup.tracks', { which: 'pedal', noisePct: 0.1, spikesPerMin: 0 }, 'apartPct', 5, 5.1],
    ['fitup.tracks', { which: 'pedal', apartPct: 1, spikesPerMin: 0 }, 'noisePct', 0.5, 0.51],
    ['fitup.tracks', { which: 'pedal', apartPct: 1, noisePct: 0.1 }, 'spikesPerMin', 1, 1.1],
    ['fitup.limp', { afterS: 0.5 }, 'platePct', 15, 15.5],
    ['fitup.limp', { platePct: 8 }, 'afterS', 1, 1.1],
  ] as const)('%s %o, %s: %d passes, %d does not', (kind, rest, field, good, bad) => {
    expect(stands(kind, { ...rest, [field]: good })).toBe(true)
    expect(stands(kind, { ...rest, [field]: bad })).toBe(false)
  })
  it('gas so cold at idle that water stays is a note; a place of usual warmth is none', () => {
    expect(found('sensor-gas', { sensor: { fromPortMm: 500 } })).toBeUndefined()
    expect(found('sensor-gas', { sensor: { fromPortMm: 3900, pipeMm: 60 } })?.severity).toBe('note')
    // 145 degC at 3 m: 60 + 360 exp(-0.000481 x) is 122 degC at 3650 mm and 118 at 3800; water leaves over 120
    expect(found('sensor-gas', { sensor: { fromPortMm: 3650 } })).toBeUndefined()
    expect(found('sensor-gas', { sensor: { fromPortMm: 3800 } })?.severity).toBe('note')
  })
})

describe('what was told goes before the usual', () => {
  it('clay under the bonnet against the lift that was measured', () => {
    const r = reading('fitup.bonnet', { gapMm: 24 })
    const stands = (liftMm: number) => contextOf(build({ liftMm }, {}, [r])).standings.get(r.id)!.stands
    expect([stands(24), stands(25)]).toEqual([true, false])
  })
  it('a gasket that is not one and dry, o-rings that are dry, prove nothing', () => {
    const stands = (kind: string, value: object) => {
      const r = reading(kind, value)
      return contextOf(build({}, {}, [r])).standings.get(r.id)!.stands === true
    }
    const torqued = { joint: 'throttle', torqueNm: 20, passes: 3, inOrder: true }
    expect([stands('fitup.torqued', { ...torqued, gasket: 'one-dry' }), stands('fitup.torqued', { ...torqued, gasket: 'other' })]).toEqual([
      true,
      false,
    ])
    const fit = { gapMm: 0.05, boltsStart: true, railFloatMm: 0.7 }
    expect([stands('fitup.dry-fit', { ...fit, oRings: true }), stands('fitup.dry-fit', { ...fit, oRings: false })]).toEqual([true, false])
  })
  it.each([
    [15, undefined],
    [15.5, 'stop'],
  ])('a plate that stands at %d %% without current', (defaultPct, severity) =>
    expect(found('default-opening', { pedal: { defaultPct } }, { choices: { plan: { electronicThrottle: true } } })?.severity).toBe(
      severity,
    ),
  )
})

describe('what failed on the car', () => {
  it('a throttle that does not shut, or a track apart, holds what is dangerous', () => {
    const link = (closes: boolean) => reading('fitup.linkage', { fullDeg: 88, closes, springs: 2 })
    expect(found('failed', {}, {}, [link(false)])?.severity).toBe('stop')
    expect(found('failed', {}, {}, [link(false), link(true)])).toBeUndefined()
    expect(found('failed', {}, {}, [reading('fitup.bonnet', { gapMm: 5 })])?.severity).toBe('warn')
    // the worse of two is told first
    expect(found('failed', {}, {}, [reading('fitup.bonnet', { gapMm: 5 }), link(false)])?.message).toContain('Pedal to plate')
  })
  it('springs', () => {
    expect(found('springs', { linkage: { springs: 1 } })?.severity).toBe('stop')
    expect(found('springs', { linkage: { springs: 2 } })).toBeUndefined()
  })
  it('a gearbox cable is a stop until it is set where line pressure hangs on it', () => {
    const patch = (kickDown: string) => ({ facts: { gearing: { kickDown } } })
    expect(found('kick-down', {}, patch('throttle-valve'))?.severity).toBe('stop')
    expect(found('kick-down', {}, patch('cable'))?.severity).toBe('warn')
    expect(found('kick-down', {}, patch('none'))).toBeUndefined()
    const set = reading('fitup.kick-down', { fullAtFull: true, noSlack: true })
    expect(found('kick-down', {}, patch('throttle-valve'), [set])).toBeUndefined()
  })
})
