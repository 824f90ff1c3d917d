import { describe, expect, it } from 'vitest'
import { type BuildData, type StoredReading, wordsOf } from '../kernel/index.ts'
import { contextOf, evaluate } from '../judge/judgement.ts'
import { madeReading, soundBuild } from '../judge/made-up.fixture.ts'
import { partsList } from '../plan/parts.ts'
import { planTasks } from '../plan/tasks.ts'
import { startGates } from '../start/gates.ts'
import { benchCards } from './cards.ts'
import { jointsFor } from './fitup-of.ts'

const reading = (kind: string, value: object): StoredReading => madeReading(kind as never, value)
const build = (plan: object = {}, fitup: object = {}, readings: StoredReading[] = [], facts: object = {}): BuildData =>
  soundBuild({ facts, choices: { plan, fitup } }, readings)
const ids = (b: BuildData) => benchCards(contextOf(b)).map((x) => x.id)
const linkage = (more: object = {}) => reading('fitup.linkage', { fullDeg: 88, closes: true, springs: 2, ...more })
const ports = () => reading('fitup.ports', { asMap: true, capped: true, checkValve: true })

describe('cards of a car in working order', () => {
  it('a throttle body: from the photographs to the last look', () => {
    expect(ids(build())).toEqual([
      'before',
      'removal',
      'bolts-throttle',
      'ports',
      'linkage',
      'bonnet',
      'sensor',
      'coolant-sensor',
      'air-sensor',
      'box-unit',
      'box-coil',
      'last-look',
    ])
  })
  it('a manifold is tried dry and drawn down before its throttle, and its coolant bled', () => {
    const list = ids(build({ route: 'multi-port' }))
    expect(list.slice(2, 5)).toEqual(['dry-fit', 'bolts-manifold', 'bolts-throttle'])
    expect(list).toContain('coolant-bled')
    expect(jointsFor(contextOf(build({}, { joints: { adapter: {} } })))).toEqual(['adapter', 'throttle'])
  })
  it('a motor on the plate: key and brake come before its tracks, and no linkage', () => {
    const list = ids(build({ electronicThrottle: true }))
    expect(list.filter((id) => /brake|tracks|limp/.test(id))).toEqual(['brake-key', 'tracks-pedal', 'tracks-plate', 'limp'])
    expect(list).not.toContain('linkage')
  })
  it('individual runners are balanced; a gearbox cable is set', () => {
    expect(ids(build({ route: 'individual-runner' }))).toContain('balance')
    expect(ids(build({}, {}, [], { gearing: { kickDown: 'throttle-valve' } }))).toContain('kick-down')
    expect(ids(build())).not.toContain('kick-down')
  })
  it('a card is done by its own record: another joint, another box does not do it', () => {
    const done = (id: string, ...readings: StoredReading[]) =>
      benchCards(contextOf(build({ route: 'multi-port' }, {}, readings))).find((x) => x.id === id)!.done
    const torqued = (joint: string) => reading('fitup.torqued', { joint, torqueNm: 20, passes: 3, inOrder: true })
    expect(done('bolts-manifold', torqued('throttle'))).toBe(false)
    expect(done('bolts-manifold', torqued('manifold'))).toBe(true)
    const box = reading('fitup.box', { box: 'coil', dry: true, plugsDown: true, rubber: true })
    expect([done('box-unit', box), done('box-coil', box)]).toEqual([false, true])
    expect(done('bonnet', reading('fitup.bonnet', { gapMm: 19 }))).toBe(false)
  })
  it('each card that asks for a caution prints it', () => {
    for (const card of benchCards(contextOf(build({ electronicThrottle: true }))))
      for (const text of card.cautions) expect(text.length).toBeGreaterThan(30)
  })
})

describe('what clears the station', () => {
  const all = () => [
    reading('fitup.photos', { hoses: 6 }),
    reading('fitup.ports-covered', { covered: true, gapMm: 0.05 }),
    reading('fitup.torqued', { joint: 'throttle', torqueNm: 20, passes: 3, inOrder: true }),
    ports(),
    linkage(),
    reading('fitup.bonnet', { gapMm: 25 }),
    reading('fitup.sensor', { upDeg: 15, tight: true, plugged: true }),
    reading('fitup.coolant-sensor', { wet: true, engineSide: true }),
    reading('fitup.air-sensor', { cool: true }),
    reading('fitup.box', { box: 'unit', dry: true, plugsDown: true, rubber: true }),
    reading('fitup.box', { box: 'coil', dry: true, plugsDown: true, rubber: true }),
    reading('fitup.last-look', { fuel: true, wires: true, moving: true, cloths: true }),
  ]
  const station = (b: BuildData) => evaluate(b).stations.find((s) => s.id === 'fitup')!
  const unmet = (b: BuildData) =>
    station(b)
      .requirements.filter((r) => !r.met)
      .map((r) => r.id)
  it('all of it, and nothing of it', () => {
    expect(unmet(build({}, {}, all()))).toEqual([])
    expect(station(build({}, {}, all())).state).toBe('cleared')
    expect(unmet(build())).toHaveLength(12)
  })
  it('a body that came off again takes what was proved on it, and says so', () => {
    const again = [...all(), reading('fitup.body-off', { what: 'throttle body' })]
    expect(unmet(build({}, {}, again))).toEqual(['torqued-throttle', 'ports', 'linkage', 'bonnet', 'coolant-sensor', 'last-look'])
    expect(station(build({}, {}, again)).requirements.find((r) => r.id === 'linkage')!.void).toContain('taken off again')
  })
  it('two shafts must be looked at together', () => {
    expect(unmet(build({}, { linkage: { shafts: 2 } }, all()))).toContain('shafts')
  })
})

describe('what First start waits for', () => {
  const gate = (b: BuildData, id: string) => startGates(contextOf(b), []).crank.find((g) => g.id === id)!
  const ran = () => reading('start.ran', { secondsToFire: 1, idleRpm: 700, coolantC: 80, tuneId: '6d0f4a52-0c1e-4f7a-9d3b-1f62a0c80009' })
  it('a throttle that shuts, and hoses on their ports', () => {
    expect([gate(build(), 'throttle-shuts').met, gate(build(), 'vacuum-hoses').met]).toEqual([false, false])
    const proved = build({}, {}, [linkage(), ports()])
    expect([gate(proved, 'throttle-shuts').met, gate(proved, 'vacuum-hoses').met]).toEqual([true, true])
    expect(gate(build({}, {}, [linkage({ springs: 1 }), ports()]), 'throttle-shuts').met).toBe(false)
  })
  it('a motor wants key and brake, both tracks and limp', () => {
    const tracks = (which: string) => reading('fitup.tracks', { which, apartPct: 1, noisePct: 0.2, spikesPerMin: 0 })
    const steps = [
      reading('fitup.brake-key', { keyShuts: true, brakeShuts: true }),
      tracks('pedal'),
      tracks('plate'),
      reading('fitup.limp', { platePct: 8, afterS: 0.4 }),
    ]
    const open = (n: number) => gate(build({ electronicThrottle: true }, {}, steps.slice(0, n)), 'throttle-shuts').why
    expect([0, 1, 2, 3].map(open)).toEqual([
      'not on record: key and brake, tracks of the pedal, tracks of the plate, limp',
      'not on record: tracks of the pedal, tracks of the plate, limp',
      'not on record: tracks of the plate, limp',
      'not on record: limp',
    ])
    expect(gate(build({ electronicThrottle: true }, {}, steps), 'throttle-shuts').met).toBe(true)
  })
  it('tracks swept before key and brake were seen prove nothing; a failure of those neither', () => {
    const tracks = reading('fitup.tracks', { which: 'pedal', apartPct: 1, noisePct: 0.2, spikesPerMin: 0 })
    const stands = (...before: StoredReading[]) =>
      contextOf(build({ electronicThrottle: true }, {}, [...before, tracks])).standings.get(tracks.id)!
    expect(stands().stands).toBe(false)
    expect(wordsOf(stands().because!)).toContain('key and brake come first')
    expect(stands(reading('fitup.brake-key', { keyShuts: true, brakeShuts: false })).stands).toBe(false)
    expect(stands(reading('fitup.brake-key', { keyShuts: true, brakeShuts: true })).stands).toBe(true)
  })
  it('a car that ran is warned, not shut, until something of it is opened or fails', () => {
    expect(gate(build({}, {}, [ran()]), 'throttle-shuts')).toMatchObject({ met: true, why: 'not recorded, but it has run' })
    const warned = evaluate(build({}, {}, [ran()]))
      .stations.find((s) => s.id === 'fitup')!
      .findings.map((f) => f.id)
    expect(warned).toContain('fitup.unproved')
    expect(gate(build({}, {}, [linkage(), ran(), reading('fitup.linkage-off', { what: 'cable' })]), 'throttle-shuts').met).toBe(false)
    expect(gate(build({}, {}, [ran(), linkage({ closes: false })]), 'throttle-shuts').met).toBe(false)
  })
})

describe('what it gives to the plan', () => {
  it('hours by the way of conversion, and two and a half for a pedal with a motor', () => {
    const hours = (plan: object) => Object.fromEntries(planTasks(contextOf(build(plan))).map((t) => [t.id, t.base]))
    expect([hours({}).induction, hours({ route: 'multi-port' }).induction, hours({ route: 'individual-runner' }).induction]).toEqual([
      2, 7, 10,
    ])
    expect([hours({}).removal, hours({ electronicThrottle: true }).pedal]).toEqual([1.5, 2.5])
  })
  it('springs unless a motor shuts it, caps for open ports, a reservoir of the size worked out', () => {
    const parts = (b: BuildData) => Object.fromEntries(partsList(contextOf(b)).map((p) => [p.id, p]))
    expect(parts(build())['return-springs'].quantity).toBe(2)
    expect(parts(build({ electronicThrottle: true }))['return-springs']).toBeUndefined()
    const joined = { vacuum: { joined: { booster: 'rear-large', pcv: 'front-large', map: 'side-small' } } }
    // of the usual six ports the second small one and the one at the edge stay open
    expect(parts(build({}, joined))['port-caps'].quantity).toBe(2)
    expect(parts(build())['port-caps']).toBeUndefined()
    // 52 kPa at idle: 1.2 / ((52/30)^(1/3) - 1) = 5.96
    expect(parts(build({ route: 'individual-runner' }))['vacuum-reservoir'].spec).toContain('6.0 L or more')
  })
})
