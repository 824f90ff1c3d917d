import { describe, expect, it } from 'vitest'
import { startingCircuit } from '../fuel/circuit.ts'
import { layoutChanges, lineChanges } from '../fuel/index.ts'
import { contextOf, evaluate } from '../judge/judgement.ts'
import { madeReading, severityOf, soundBuild } from '../judge/made-up.fixture.ts'
import { startGates } from '../start/gates.ts'
import { adapterOf } from '../tach/tachometer.ts'
import { computeBaseTune } from '../tune/base-tune.ts'
import { isFitted, partsList } from './parts.ts'
import { reusable } from './reuse.ts'
import { planTasks } from './tasks.ts'
import { toolsOf } from './tools.ts'
import { schoolOf, ways } from './ways.ts'

const context = (patch: object = {}) => contextOf(soundBuild(patch))
const ids = (patch: object) => partsList(context(patch)).map((p) => p.id)
const tasks = (patch: object) => planTasks(context(patch)).map((t) => t.id)
const way = (id: string, key: string) => ({ choices: { plan: { ways: { [id]: key } } } })
const noBoss = { exhaust: { bung: 'none' } }

describe('each school of a question changes parts, tasks or checks', () => {
  it('a clamp-on seat needs no welder, and is looked at again', () => {
    const weld = { facts: noBoss }
    const clamp = { facts: noBoss, ...way('boss', 'b') }
    expect([ids(weld).includes('o2-bung'), tasks(weld).includes('sensor-boss')]).toEqual([true, true])
    expect(ids(clamp)).toContain('o2-clamp')
    expect(ids(clamp)).not.toContain('o2-bung')
    expect(tasks(clamp)).toEqual(expect.arrayContaining(['sensor-clamp', 'sensor-clamp-check']))
    expect(tasks(clamp)).not.toContain('sensor-boss')
    const order = tasks(clamp)
    expect(order.indexOf('sensor-clamp-check')).toBeLessThan(order.indexOf('proving'))
  })
  it('learning on a dyno books a day before the drives', () => {
    const order = tasks(way('learning', 'b'))
    expect(order.indexOf('dyno-day')).toBeGreaterThan(order.indexOf('idle'))
    expect(order.indexOf('dyno-day')).toBeLessThan(order.indexOf('learning'))
    expect(tasks({})).not.toContain('dyno-day')
  })
  it('spare leads kept want caps, cut back an half hour', () => {
    expect([ids({}).includes('lead-caps'), tasks({}).includes('leads-cut')]).toEqual([true, false])
    expect([ids(way('spare-leads', 'b')).includes('lead-caps'), tasks(way('spare-leads', 'b')).includes('leads-cut')]).toEqual([
      false,
      true,
    ])
  })
  it('the ground of the unit is a wire to the battery, or to the block with a strap', () => {
    const ground = (patch: object) => partsList(context(patch)).find((p) => p.id === 'ground-wire')!
    expect([ground({}).quantity, ground({ facts: { electrics: { batteryPlace: 'boot' } } }).quantity]).toEqual([1.5, 5])
    expect(ground(way('unit-ground', 'b')).spec).toContain('strap')
    expect(ground({ facts: { electrics: { batteryPlace: 'boot' } }, ...way('unit-ground', 'b') }).quantity).toBe(1.5)
  })
  it('geometry first takes an hour at the damper; the other school none', () => {
    expect(tasks({})).toContain('reference-set')
    expect(tasks(way('reference', 'b'))).not.toContain('reference-set')
  })
  it('closed loop at idle goes into the tune: always from 0 rpm, off below 1,200 at least; by the cam until chosen', () => {
    const floor = (patch: object) => {
      const { facts, choices } = soundBuild(patch)
      return computeBaseTune(facts, choices).parameters.loopFloorRpm
    }
    const hot = { facts: { cam: { idleVacuumKpa: 45 } } }
    expect([floor({}), floor(way('closed-loop', 'b')), floor(hot), floor({ ...hot, ...way('closed-loop', 'a') })]).toEqual([
      0, 1200, 1200, 0,
    ])
  })
  it('braided hose where no circuit is laid out, in a new circuit, and laid over one that is there; closed spaces stay hard', () => {
    const bare = { choices: { fuel: null } }
    expect(ids(bare)).toContain('line-hard-80')
    expect(ids({ choices: { fuel: null, plan: { ways: { lines: 'b' } } } })).toContain('line-braided')
    const fresh = Object.fromEntries(layoutChanges({}, 'return', undefined, true)) as Record<string, { hose?: string }[]>
    expect(fresh['choices.fuel.feed'].some((e) => e.hose === 'braided')).toBe(true)
    const inside = { ...startingCircuit('return'), feed: [{ ...startingCircuit('return').feed![2], place: 'boot' as const }] }
    const laid = Object.fromEntries(lineChanges(inside, true))
    expect(laid['choices.fuel.feed']).toBeUndefined()
    expect(JSON.stringify(laid['choices.fuel.return'])).toContain('braided')
    // and back again: what was hard is hard, injection hose stays what it is
    const there = { ...inside, return: laid['choices.fuel.return'] as typeof inside.return }
    expect(Object.fromEntries(lineChanges(there, false))['choices.fuel.return']).toEqual(inside.return)
    expect(lineChanges({}, true)).toEqual([])
  })
  it('the drive of the coil is asked once: box and driver are parts, and the tachometer follows', () => {
    const box = { choices: { spark: { coilDrive: 'capacitive' } } }
    expect(ids(box)).toContain('capacitive-box')
    expect(ids({ choices: { spark: { coilDrive: 'inductive-driver' } } })).toContain('coil-driver')
    expect(ids({})).not.toContain('capacitive-box')
    expect(ids({ facts: { ignition: { kind: 'capacitive' } } })).not.toContain('capacitive-box')
    const loop = { choices: { tach: { level: 'square-12v', wants: 'current-loop' } } }
    expect(adapterOf(context(loop))!.stop).toBe(false)
    expect(adapterOf(context({ choices: { ...loop.choices, ...box.choices } }))!.stop).toBe(true)
    expect(schoolOf(context(box), 'coil-drive')).toBe('c')
  })
  it('who corrects the mixture is the unit’s own question, not a second one', () => {
    expect(ways.find((w) => w.id === 'correction')!.path).toBe('choices.unit.learns')
    expect(schoolOf(context({ choices: { unit: { learns: 'itself' } } }), 'correction')).toBe('b')
  })
  it('a fixed number at the first start, once chosen, is set and recorded before the crank; by table it says how to read', () => {
    const gate = (patch: object, readings: ReturnType<typeof madeReading>[] = []) =>
      startGates(contextOf(soundBuild(patch, readings)), []).crank.find((g) => g.id === 'fixed-timing')
    expect(gate({})).toBeUndefined()
    expect(gate(way('first-timing', 'a'))!.met).toBe(false)
    expect(gate(way('first-timing', 'a'), [madeReading('unit.temporary', { what: 'fixed-timing', stands: true, value: 10 })])!.met).toBe(
      true,
    )
    expect(severityOf('start.table-timing', way('first-timing', 'b'))).toBe('note')
    expect(severityOf('start.table-timing', way('first-timing', 'a'))).toBeNull()
  })
})

describe('an ordinary old car', () => {
  const old = { facts: { ignition: { kind: 'points', leads: 'solid-core', plugs: 'plain' } } }
  it('is no stop at Survey: its leads are parts and a task', () => {
    const survey = evaluate(soundBuild(old)).stations[0]
    expect(survey.findings.filter((f) => f.severity === 'stop')).toEqual([])
    expect(ids(old)).toEqual(expect.arrayContaining(['leads', 'plugs']))
    expect(tasks(old)).toContain('leads-plugs')
  })
  it('keeps First start shut until the leads are fitted', () => {
    const gate = (patch: object) => startGates(context(patch), []).crank.find((g) => g.id === 'leads')
    expect(gate(old)!.met).toBe(false)
    expect(gate({ facts: { ignition: { leads: 'resistive' } } })).toBeUndefined()
    const fitted = { ...old, choices: { plan: { parts: { leads: { status: 'fitted' } } } } }
    expect(gate(fitted)).toBeUndefined()
    expect(isFitted(context({ choices: { plan: { parts: { leads: { status: 'have' } } } } }), 'leads')).toBe(false)
  })
})

describe('parts that were never listed', () => {
  it.each([
    ['idle valve, springs, cleaner, fasteners', {}, ['idle-valve', 'return-springs', 'air-cleaner', 'fasteners'], ['flange-adapter']],
    [
      'an electronic throttle has neither valve nor springs',
      { choices: { plan: { electronicThrottle: true } } },
      ['etb-body'],
      ['idle-valve', 'return-springs'],
    ],
    ['an adapter for a flange that does not fit', { facts: { place: { flange: 'single' } } }, ['flange-adapter'], []],
  ] as const)('%s', (_what, patch, there, absent) => {
    const listed = ids(patch)
    for (const id of there) expect(listed).toContain(id)
    for (const id of absent) expect(listed).not.toContain(id)
  })
  it('a sleeve for lines within 200 mm of the exhaust, by their length', () => {
    const line = (exhaustMm: number) => ({
      choices: {
        fuel: { feed: [{ id: 'l', kind: 'line', material: 'hard', boreMm: 8, lengthM: 1.2, place: 'under', exhaustMm, shielded: true }] },
      },
    })
    expect(partsList(context(line(199))).find((p) => p.id === 'heat-sleeve')!.quantity).toBe(1.2)
    expect(ids(line(200))).not.toContain('heat-sleeve')
  })
  it('a wrong gear is a stop, a part, and a wait', () => {
    const wrong = { facts: { cam: { material: 'roller-steel' } }, choices: { spark: { gear: 'cast-iron' } } }
    expect(severityOf('spark.gear', wrong)).toBe('stop')
    expect(partsList(context(wrong)).find((p) => p.id === 'drive-gear')!.spec).toContain('melonised')
    expect(tasks(wrong)).toContain('drive-gear')
    expect(tasks({ facts: { cam: { material: 'cast-iron' } }, choices: { spark: { gear: 'cast-iron' } } })).not.toContain('drive-gear')
  })
})

describe('what can stay', () => {
  const verdict = (id: string, patch: object) => reusable(context(patch)).find((r) => r.id === id)!.verdict
  it.each<[string, object, string]>([
    ['tank', { facts: { fuel: { tankVented: true, tankBaffled: true } } }, 'stays'],
    ['tank', { facts: { fuel: { tankVented: false } } }, 'work'],
    ['tank', { facts: { fuel: { tankVented: null } } }, 'ask'],
    ['old-line', { facts: { fuel: { lineMaterial: 'copper', lineBoreMm: 8 } } }, 'no'],
    ['old-line', { facts: { fuel: { lineMaterial: 'steel', lineBoreMm: 4.6 } } }, 'work'],
    ['old-line', { facts: { fuel: { lineMaterial: 'steel', lineBoreMm: 3 } } }, 'no'],
    ['return-line', { facts: { fuel: { returnLine: false } } }, 'no'],
    ['return-line', { facts: { fuel: { returnLine: true } } }, 'work'],
    ['mechanical-pump', {}, 'no'],
    ['mechanical-pump', { choices: { fuel: { layout: 'lift-sump' } } }, 'stays'],
    ['regulator', { facts: { fuel: { reuseRegulator: true, reuseRegulatorKpa: 299 } } }, 'no'],
    ['regulator', { facts: { fuel: { reuseRegulator: true, reuseRegulatorKpa: 300 } } }, 'work'],
    ['distributor', { facts: { health: { shaftPlayMm: 0.11 } } }, 'no'],
    ['distributor', { choices: { plan: { timingControl: false } } }, 'stays'],
    ['coil', { facts: { ignition: { ballastResistor: true } } }, 'work'],
    ['leads', { facts: { ignition: { leads: 'solid-core' } } }, 'no'],
    ['leads', {}, 'stays'],
    // 30 A of car and unit and 7 A of pump at four fifths: 47 A
    ['alternator', { facts: { electrics: { chargingRatedA: 45 } } }, 'no'],
    ['alternator', { facts: { electrics: { chargingRatedA: 50 } } }, 'stays'],
    ['alternator', { facts: { electrics: { charging: 'dynamo' } } }, 'no'],
    ['boss', {}, 'stays'],
    ['boss', { facts: noBoss }, 'no'],
    ['sensors', { facts: { place: { startsFrom: 'earlier-injection' } } }, 'work'],
  ])('%s with %j: %s', (id, patch, expected) => expect(verdict(id, patch)).toBe(expected))
})

describe('what must go together', () => {
  const set = (patch: object, supply = 'separate') => ({
    ...patch,
    choices: {
      ...(patch as { choices?: object }).choices,
      plan: { ...((patch as { choices?: { plan?: object } }).choices?.plan ?? {}), supply },
    },
  })
  const pair = (id: string, patch: object) =>
    context(patch)
      .contributed('pairs')
      .find((p) => p.id === id)?.fit
  it('a pump whose curve ends under the set pressure is a stop, separate or in a set', () => {
    const high = { choices: { fuel: { regulator: { setKpa: 660 } } } }
    expect(pair('pump-regulator', high)).toBe('no')
    expect(pair('pump-regulator', {})).toBe('fits')
    expect(severityOf('plan.pairs', set(high))).toBe('stop')
    expect(severityOf('plan.pairs', set(high, 'matched-set'))).toBe('stop')
    expect(severityOf('plan.pairs', high)).toBeNull()
  })
  it('injectors over a third above their rating are asked about', () => {
    const at = (setKpa: number) => ({ choices: { fuel: { regulator: { setKpa } }, plan: { fuelPressureKpa: setKpa } } })
    expect([pair('injector-pressure', at(405)), pair('injector-pressure', at(406))]).toEqual(['fits', 'work'])
  })
  it('a unit without the signal that the trigger gives does not go with it', () => {
    expect(pair('unit-hall', {})).toBe('open')
    expect(pair('unit-hall', { choices: { plan: { unit: { hallInput: false } } } })).toBe('no')
    expect(severityOf('plan.pairs', set({ choices: { plan: { unit: { hallInput: true } } } }))).toBe('note')
  })
  it('spare outputs are counted: pump relay, idle valve, fan', () => {
    const unit = (spareOutputs: number) => ({ facts: { electrics: { fan: 'electric' } }, choices: { plan: { unit: { spareOutputs } } } })
    expect(severityOf('plan.unit', unit(2))).toBe('stop')
    expect(severityOf('plan.unit', unit(3))).toBeNull()
  })
})

describe('tools', () => {
  const names = (patch: object) => toolsOf(context(patch)).map((t) => t.id)
  it('one list, by the ways chosen and by what can be reached', () => {
    expect(names({})).toEqual(expect.arrayContaining(['extinguisher', 'piston-stop', 'flare-tool', 'scope']))
    expect(names({ facts: { engine: { plugOneReach: false } } })).toContain('piston-stop-mate')
    expect(names({ facts: { engine: { plugOneReach: false } } })).not.toContain('piston-stop')
    expect(names(way('lines', 'b'))).not.toContain('flare-tool')
    expect(names({ choices: { plan: { timingControl: false } } })).not.toContain('scope')
    expect(names({ choices: { plan: { route: null } } })).toEqual([])
  })
  it('keeps what was said of each, and names what is not at hand', () => {
    const said = { choices: { plan: { tools: { extinguisher: 'have', scope: 'borrow' } } } }
    expect(toolsOf(context(said)).find((t) => t.id === 'scope')!.status).toBe('borrow')
    const found = evaluate(soundBuild(said))
      .stations.find((s) => s.id === 'plan')!
      .findings.find((f) => f.id === 'plan.tools')!
    expect(found.because).toContain('Scope')
    expect(found.because).not.toContain('Extinguisher')
  })
  it('a damper without a mark is a task before the reference, and a warning at Spark', () => {
    const bare = { facts: { engine: { damperMark: 'none' } } }
    const order = tasks(bare)
    expect(order.indexOf('damper-mark')).toBeLessThan(order.indexOf('reference-set'))
    expect(severityOf('spark.mark', bare)).toBe('warn')
    expect(severityOf('spark.mark', { facts: { engine: { damperMark: 'clear' } } })).toBeNull()
  })
})

describe('the rest of what Survey asks', () => {
  it.each([
    ['survey.donor', { engine: { donor: true } }, 'warn'],
    ['survey.donor', { engine: { donor: true, orderFrom: 'engine' } }, null],
    ['survey.donor', { engine: { donor: true, orderFrom: 'papers' } }, 'warn'],
    ['survey.merge', { exhaust: { mergeMm: 1000 } }, null],
    ['survey.merge', { exhaust: { mergeMm: 1001 } }, 'note'],
    ['plan.deferred', { intake: { deferred: 'water pump' } }, 'note'],
    ['plan.approval', { intake: { complaint: 'stumbles' } }, 'note'],
    ['plan.approval', { intake: { complaint: 'stumbles', approvedBy: 'the owner' } }, null],
    ['plan.baseline', {}, 'note'],
    ['plan.baseline', { baseline: { idleRpm: 700 } }, null],
    ['spark.ballast', { ignition: { ballastResistor: true } }, 'warn'],
    ['spark.ballast', { ignition: { ballastResistor: false } }, null],
  ])('%s with %j', (id, facts, severity) => expect(severityOf(id, { facts })).toBe(severity))
  it('a ballast does not matter to a box, nor to a spark that the unit does not time', () => {
    const ballast = { facts: { ignition: { ballastResistor: true } } }
    expect(severityOf('spark.ballast', { ...ballast, choices: { spark: { coilDrive: 'capacitive' } } })).toBeNull()
    expect(severityOf('spark.ballast', { ...ballast, choices: { spark: { trigger: 'speed-signal' } } })).toBeNull()
  })
  it('power from a dyno stands in for the papers', () => {
    const c = context({ facts: { engine: { powerKw: null }, baseline: { dynoKw: 88 } } })
    expect([c.resolved.powerKw, c.resolved.powerSpread]).toEqual([88, 0])
  })
  it('cylinders that are not alike lower the spark of all by two degrees', () => {
    const spark = (facts: object) => {
      const { facts: told, choices } = soundBuild({ facts })
      return Math.max(...computeBaseTune(told, choices).tables.spark.slice(-8))
    }
    const worn = { health: { compressionKpa: [1000, 1000, 1000, 1000, 1000, 840] } }
    expect(spark({}) - spark(worn)).toBeCloseTo(2, 1)
    expect(spark({ health: { leakDownPct: [5, 5, 5, 5, 5, 21] } })).toBe(spark(worn))
    expect(spark({ health: { compressionKpa: [1000, 1000, 1000, 1000, 1000, 860] } })).toBe(spark({}))
  })
})
