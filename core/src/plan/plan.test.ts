import { describe, expect, it } from 'vitest'
import { comparePlans, effectOf } from '../judge/compare.ts'
import { Choices, contextOf, evaluate } from '../judge/judgement.ts'
import { madeReading, soundBuild } from '../judge/made-up.fixture.ts'
import type { BuildData } from '../kernel/build.ts'
import { mergePatch } from '../kernel/patch.ts'
import { sayAll, wordsOf } from '../kernel/say.ts'
import { partsFromCsv, partsToCsv } from './parts-csv.ts'
import { partsCost, partsList } from './parts.ts'
import { idlePulseMs } from './route-reasons.ts'
import { judgeRoute, judgeRoutes, recommend } from './routes.ts'
import { planSchedule } from './schedule.ts'
import { stockLine } from '../fuel/circuit.ts'
import { injectorsFor, injectorWanted, peakAir, planSizes, throttleFlowAt } from './sizes.ts'
import { planHours, planTasks } from './tasks.ts'
import { ways, wayTaken } from './ways.ts'

const context = (patch: object = {}, readings = [] as ReturnType<typeof madeReading>[]) => contextOf(soundBuild(patch, readings))
const plan = (patch: object) => ({ choices: { plan: patch } })
const found = (patch: object) => evaluate(soundBuild(patch)).stations.find((s) => s.id === 'plan')!.findings
const reason = (patch: object, route: 'throttle-body' | 'multi-port' | 'individual-runner', id: string, timingControl = true) =>
  judgeRoute(context(patch), { route, timingControl, electronicThrottle: false }).reasons.find((r) => r.id === id)!

describe('sizes', () => {
  const size = (id: string, patch: object = {}) => planSizes(context(patch)).find((s) => s.sizeId === id)!
  // by hand: 96 kW x 290 g/kWh / 0.745 kg/L / 1000 = 37.37 L/h, and a quarter more
  it('pump: 96 kW wants 46.7 L/h', () => expect(size('pump').value).toBeCloseTo(46.71, 1))
  // by hand: 37.37 L/h over 2 injectors at 85 %: 37370 / 60 / 2 / 0.85 cc/min
  it('injectors: two of 366 cc/min', () => expect(injectorWanted(context(), 2)!.flowCcMin).toBeCloseTo(366.4, 0))
  // all of the pump goes through it and back: 172 L/h at 3 m/s, sqrt(4 x 172 / 3.6e6 / (3 pi)) = 4.50 mm; 8 mm line has 6.0, 5/16 in 6.2
  it('feed: 4.5 mm for what goes round, bought as 8 mm or 5/16 in', () => {
    expect(size('feed-bore').value).toBeCloseTo(4.5, 1)
    expect(size('feed-bore').stock).toBe('8 mm or 5/16 in hard line')
  })
  // without a circuit only what the pump must give is known: 46.7 L/h at 3 m/s is 2.35 mm
  it('feed: 2.3 mm while no circuit says what goes round', () =>
    expect(size('feed-bore', { choices: { fuel: null } }).value).toBeCloseTo(2.35, 1))
  it('what is bought is never under what is computed', () => {
    for (const id of ['throttle', 'alternator'] as const) {
      const s = size(id)
      const bought = Number(/\d+/.exec(wordsOf(s.stock!))![0])
      expect(bought).toBeGreaterThanOrEqual(s.value!)
      expect(bought).toBeLessThan(s.value! + 5)
    }
    expect([6, 6.01, 6.21, 7.8, 8.1, 11].map(stockLine)).toEqual([
      '8 mm or 5/16 in hard line',
      '10 mm or 5/16 in hard line',
      '10 mm or 3/8 in hard line',
      '10 mm or 1/2 in hard line',
      '1/2 in hard line',
      null,
    ])
  })
  // by hand: 96 kW x 290 g/kWh = 7.733 g/s of fuel, x 0.87 x 14.7 = 98.9 g/s of air, 1.1568 kg/m3 at 99 kPa and 25 degC
  it('air and fuel agree: 98.9 g/s burn 7.73 g/s at 12.8 to 1', () => {
    expect(size('air').value).toBeCloseTo(98.9, 1)
    expect(peakAir(context(), 'throttle-body')!.volumeM3Min).toBeCloseTo(5.13, 2)
    for (const induction of [{ boostKpa: 100 }, { kind: 'natural' }, { nitrous: true, nitrousKw: 60 }]) {
      const c = context({ facts: { induction } })
      const { input } = injectorWanted(c, 4)!
      const air = planSizes(c).find((s) => s.sizeId === 'air')!.value!
      const afr = air / ((input.powerKw * input.bsfcGKwh) / 3600)
      expect(afr).toBeGreaterThan(11.2)
      expect(afr).toBeLessThan(12.9)
    }
  })
  // 160 kW x 365 g/kWh x 0.77 x 14.7 = 183.6 g/s; before the blower 1.1568 kg/m3, behind it 199 kPa at 126 degC: 1.7357 kg/m3
  it.each([
    ['draw-through', 9.52],
    ['blow-through', 6.35],
    [null, 9.52],
  ])('a %s body is sized by the air where it stands: %d m3/min', (kind, m3Min) =>
    expect(
      peakAir(context({ facts: { engine: { powerKw: 160 }, induction: { kind, boostKpa: 100 } } }), 'throttle-body')!.volumeM3Min,
    ).toBeCloseTo(m3Min, 2),
  )
  // by displacement: 3.18 L x 2236 /min x 78 % = 5.546 m3/min = 106.9 g/s; 1.0302 g/s of air a kW; a third and a bit each way
  it.each([
    [140, undefined],
    [141, 'warn'],
    [67.6, undefined],
    [67, 'warn'],
  ])('%d kW against the air of 3.18 litres: %s', (powerKw, severity) =>
    expect(found({ facts: { engine: { powerKw } } }).find((f) => f.id === 'plan.air-power')?.severity).toBe(severity),
  )
  it('a throttle twice the area passes twice the air; flow goes with the root of depression', () => {
    expect(throttleFlowAt(10, 5, 20)).toBeCloseTo(20, 9)
    const one = size('throttle', plan({ injectors: 1 }))
    const four = size('throttle', plan({ injectors: 4 }))
    expect(one.value! / four.value!).toBeCloseTo(2, 9)
  })
  it('an override stands in place with its reason and shows what was computed', () => {
    const own = size('pump', plan({ overrides: { pump: { value: 120, reason: 'it is in the drawer' } } }))
    expect(own).toMatchObject({ value: 120, reason: 'it is in the drawer' })
    expect(own.computed).toBeCloseTo(46.7, 1)
    expect(own.formula).toContain('it is in the drawer')
  })
  it('an override of the power goes into every sum that follows', () =>
    expect(size('pump', plan({ overrides: { power: { value: 192, reason: 'dyno next week' } } })).value).toBeCloseTo(2 * 46.71, 0))
  it('refuses an override without a reason', () =>
    expect(Choices.safeParse({ plan: { overrides: { pump: { value: 120, reason: '' } } } }).success).toBe(false))
})

describe('routes', () => {
  it('judges all three with reasons, and the numbers are there', () => {
    const judged = judgeRoutes(context())
    expect(judged.map((j) => j.route)).toEqual(['throttle-body', 'multi-port', 'individual-runner'])
    for (const j of judged) {
      expect(j.reasons.length).toBeGreaterThan(7)
      expect(j.cost).toBeGreaterThan(1000)
      expect(j.hours.low).toBeLessThan(j.hours.mid)
      expect(j.hours.mid).toBeLessThan(j.hours.high)
      expect(j.fit).toBe(j.reasons.some((r) => r.fit === 'no') ? 'no' : j.reasons.some((r) => r.fit === 'work') ? 'work' : 'fits')
    }
  })
  it('injectors too small or too large rule a route out', () => {
    expect(reason(plan({ injectorCcMin: 200 }), 'throttle-body', 'capacity').fit).toBe('no')
    // idle pulse less its dead time falls with the flow
    const c = context()
    const pulse = (cc: number) => idlePulseMs(c, 'throttle-body', 2, cc)! - 0.9
    expect(pulse(500) / pulse(1000)).toBeCloseTo(2, 9)
    expect(reason(plan({ injectorCcMin: 3000, fuelPressureKpa: 600 }), 'throttle-body', 'idle-pulse').fit).not.toBe('fits')
  })
  it('boost needs timing control; a hot engine only wants it', () => {
    const blown = { facts: { induction: { kind: 'blow-through', boostKpa: 50 } } }
    expect(reason(blown, 'throttle-body', 'timing', false).fit).toBe('no')
    expect(reason(blown, 'throttle-body', 'timing', true).fit).toBe('fits')
    expect(reason({ facts: { cam: { idleVacuumKpa: 40 } } }, 'multi-port', 'timing', false).fit).toBe('work')
  })
  it('shared ports want phased injection at the ports', () => {
    const shared = { facts: { engine: { siamesedInlets: true } } }
    // table and finding give one answer: work, with phased injection; not a stop
    expect(reason(shared, 'multi-port', 'spread').fit).toBe('work')
    expect(found({ ...shared, ...plan({ route: 'multi-port', injectors: 6 }) }).find((f) => f.id === 'plan.siamesed')!.severity).toBe(
      'warn',
    )
    expect(reason({ ...shared, ...plan({ phased: true }) }, 'multi-port', 'spread').fit).toBe('work')
    // what cannot be corrected has no tick: it is lived with
    expect(reason(shared, 'throttle-body', 'spread').fit).toBe('limit')
  })
  it('a throttle per cylinder wants load by throttle position and a reservoir', () => {
    expect(reason({}, 'individual-runner', 'load').fit).toBe('work')
    expect(reason(plan({ brakeBooster: false }), 'individual-runner', 'vacuum').fit).toBe('fits')
  })
  it('a throttle too small for the air is out', () =>
    expect(reason(plan({ throttleM3Min: 3, throttleRatedKpa: 5 }), 'throttle-body', 'airflow').fit).toBe('no'))
  it('recommends the cheapest that fits, and says what would change it', () => {
    const { best, reasons, wouldChange } = recommend(context())
    expect(best!.route).toBe('throttle-body')
    expect(reasons[0]).toMatch(/\d+-\d+ h/)
    expect(wordsOf(sayAll(wouldChange, ' '))).toMatch(/Multi-port: parts \+\d+, \+5 h; it would be taken if it were worth \d+ more/)
    const cheapest = [true, false].flatMap((t) => [true, false].flatMap((e) => judgeRoutes(context(), t, e))).filter((j) => j.fit !== 'no')
    expect(Math.min(...cheapest.map((j) => j.weighed))).toBe(best!.weighed)
  })
  it('takes another when that is ruled out, and none when nothing fits', () => {
    const blown = { facts: { induction: { kind: 'draw-through', boostKpa: 60 } } }
    expect(recommend(context(blown)).best!.timingControl).toBe(true)
    const none = recommend(
      context({
        ...blown,
        ...plan({ acceptWork: 0 }),
        facts: { ...blown.facts, place: { flange: 'single' }, engine: { compressionRatio: 10 } },
      }),
    )
    expect(none.best).toBeNull()
    expect(none.wouldChange.length).toBeGreaterThan(0)
  })
  it('the least is true and no worth is negative, whatever work is accepted', () => {
    for (const acceptWork of [0, 1, 2, 3, 9])
      for (const facts of [{}, { engine: { compressionRatio: 10.8, powerKw: 170 } }, { place: { flange: 'side-draught' } }]) {
        const c = context({ facts, ...plan({ acceptWork }) })
        const { best, wouldChange } = recommend(c)
        const may = [true, false]
          .flatMap((t) => [true, false].flatMap((e) => judgeRoutes(c, t, e)))
          .filter((j) => j.fit !== 'no' && j.reasons.filter((r) => r.fit === 'work').length <= acceptWork)
        expect(best?.weighed).toBe(may.length ? Math.min(...may.map((j) => j.weighed)) : undefined)
        expect(wordsOf(sayAll(wouldChange, ' '))).not.toMatch(/worth -/)
      }
  })
  it('what a route is good at weighs by the use of the car, and the weights move', () => {
    const aims = (patch: object, route: 0 | 1 | 2) => judgeRoutes(context(patch))[route].aims
    const of = (patch: object, route: 0 | 1 | 2, id: string) => aims(patch, route).find((a) => a.id === id)!
    // road: cold start matters 2; a body is 1 of 3 near: 2 x 2 steps x 2 h
    expect(of({}, 0, 'coldStart')).toMatchObject({ weight: 2, own: false, hours: 8 })
    expect(of({}, 1, 'coldStart').hours).toBe(0)
    expect(of({ facts: { place: { use: 'strip' } } }, 0, 'coldStart').hours).toBe(0)
    expect(of({ facts: { place: { use: 'strip' } } }, 0, 'power')).toMatchObject({ weight: 3, hours: 12 })
    expect(of(plan({ aims: { coldStart: 3 } }), 0, 'coldStart')).toMatchObject({ weight: 3, own: true, hours: 12 })
    // an engine near its limit forgives no uneven mixture: 1 + 2, three steps off
    expect(of({ facts: { engine: { compressionRatio: 9.5 } } }, 0, 'distribution')).toMatchObject({ weight: 3, hours: 18 })
    expect(of({ facts: { engine: { compressionRatio: 9.4 } } }, 0, 'distribution')).toMatchObject({ weight: 1, hours: 4 })
    // 3.18 L at 50 kW a litre is 159 kW
    expect(of({ facts: { engine: { powerKw: 158 } } }, 0, 'distribution').weight).toBe(1)
    expect(of({ facts: { engine: { powerKw: 159 } } }, 0, 'distribution').weight).toBe(3)
    expect(of({ facts: { engine: { cylinders: 1, firingOrder: [1] } } }, 0, 'distribution').hours).toBe(0)
  })
  it('a body that does not fit under the bonnet is work: 140 mm, and 25 more with an adapter', () => {
    const height = (place: object) => reason({ facts: { place } }, 'throttle-body', 'height').fit
    expect([height({ bonnetMm: 139 }), height({ bonnetMm: 140 })]).toEqual(['work', 'fits'])
    expect([height({ bonnetMm: 164, flange: 'single' }), height({ bonnetMm: 165, flange: 'single' })]).toEqual(['work', 'fits'])
  })
  it.each([
    [{ flange: 'side-draught' }, {}, 'no'],
    [{ flange: 'side-draught' }, { carburettors: 1 }, 'work'],
    [{ flange: 'two-barrel' }, { carburettors: 2 }, 'work'],
    [{ flange: 'two-barrel' }, { carburettors: 1 }, 'fits'],
  ])('one body for %j and %j: %s', (place, fuel, fit) => expect(reason({ facts: { place, fuel } }, 'throttle-body', 'fit').fit).toBe(fit))
  it('one body does not serve more than eight cylinders', () => {
    const of = (cylinders: number) => reason({ facts: { engine: { cylinders, firingOrder: null } } }, 'throttle-body', 'fit').fit
    expect([of(8), of(10)]).toEqual(['fits', 'no'])
  })
  it('one cylinder takes one injector, four-cylinder bodies two, eights four', () => {
    expect([1, 2, 4, 6, 8, 12].map((n) => injectorsFor('throttle-body', n))).toEqual([1, 2, 2, 2, 4, 4])
  })
  it('preferences weigh in the open: a period look counts hours against the rest', () => {
    const look = judgeRoutes(context(plan({ periodLook: 3 })))
    expect(look[1].preferenceHours).toBeGreaterThan(look[0].preferenceHours)
    expect(look[1].weighed - look[1].cost).toBeCloseTo(20 * (look[1].hours.mid + look[1].preferenceHours + look[1].aimHours), 6)
  })
})

describe('plan findings', () => {
  it('a sound plan has neither stop nor warn', () => expect(found({}).filter((f) => f.severity !== 'note')).toEqual([]))
  it.each<[string, object, string]>([
    ['injectors too small', plan({ injectorCcMin: 200 }), 'plan.injector-capacity'],
    ['injectors too large', plan({ injectorCcMin: 3000, fuelPressureKpa: 600 }), 'plan.injector-large'],
    ['two injectors at six ports', plan({ route: 'multi-port', injectors: 2 }), 'plan.injector-count'],
    ['a small throttle', plan({ throttleM3Min: 3, throttleRatedKpa: 5 }), 'plan.throttle-small'],
    ['nitrous on the old advance', { ...plan({ timingControl: false }), facts: { induction: { nitrous: true } } }, 'plan.timing-needed'],
    ['high compression under a throttle body', { facts: { engine: { compressionRatio: 10.5 } } }, 'plan.mixture-spread'],
    ['a brake booster on own runners', plan({ route: 'individual-runner', injectors: 6, injectorCcMin: 160 }), 'plan.runner-vacuum'],
    ['a small alternator', { facts: { electrics: { chargingRatedA: 30 } } }, 'plan.alternator'],
    ['a unit without a Hall input', plan({ unit: { hallInput: false } }), 'plan.unit'],
    ['a unit with too few outputs', plan({ unit: { injectorOutputs: 1 } }), 'plan.unit'],
  ])('finds %s', (_what, patch, id) => expect(found(patch).map((f) => f.id)).toContain(id))
  it('asks nothing of a unit that the sheet does not answer', () =>
    expect(found(plan({ unit: { name: 'unit A' } })).some((f) => f.id === 'plan.unit')).toBe(false))
})

describe('what a choice would do', () => {
  it('shows cost, hours and findings of multi-port before it is taken', () => {
    const build = soundBuild()
    const before = JSON.stringify(build)
    const effect = effectOf(build, plan({ route: 'multi-port' }))
    expect(effect.cost.after).toBeGreaterThan(effect.cost.before)
    expect(effect.hours.after.high).toBeGreaterThan(effect.hours.before.high)
    expect(effect.appears.map((f) => f.id)).toContain('fuel.reference')
    expect(JSON.stringify(build)).toBe(before)
  })
  it('taking it and going back shows the same findings the other way round', () => {
    const there = plan({ route: 'multi-port' })
    const other = mergePatch(soundBuild(), there) as BuildData
    const back = effectOf(other, plan({ route: 'throttle-body' }))
    expect(back.clears.map((f) => f.id).sort()).toEqual(
      effectOf(soundBuild(), there)
        .appears.map((f) => f.id)
        .sort(),
    )
  })
})

describe('two plans', () => {
  it('differ by what each asks for, and a plan differs from itself by nothing', () => {
    const tb = { route: 'throttle-body', timingControl: true, electronicThrottle: false } as const
    const mp = { route: 'multi-port', timingControl: true, electronicThrottle: false } as const
    const there = comparePlans(soundBuild(), tb, mp)
    const back = comparePlans(soundBuild(), mp, tb)
    expect(there.cost.after - there.cost.before).toBeCloseTo(back.cost.before - back.cost.after, 6)
    const none = comparePlans(soundBuild(), mp, mp)
    expect([none.cost.after - none.cost.before, none.appears.length, none.clears.length]).toEqual([0, 0, 0])
  })
})

describe('ways on which practitioners differ', () => {
  it('each has two schools, a standard and a reason', () => {
    for (const way of ways) {
      expect(way.options.length).toBeGreaterThan(1)
      expect(way.options.map((o) => o.key)).toContain(way.standard(context()))
      expect(way.why.length).toBeGreaterThan(10)
    }
  })
  it('closed loop at idle follows the cam until chosen', () => {
    const way = ways.find((w) => w.id === 'closed-loop')!
    expect(wayTaken(context(), way)).toEqual({ key: 'a', chosen: false })
    expect(wayTaken(context({ facts: { cam: { idleVacuumKpa: 30 } } }), way)).toEqual({ key: 'b', chosen: false })
    expect(wayTaken(context(plan({ ways: { 'closed-loop': 'b' } })), way)).toEqual({ key: 'b', chosen: true })
  })
})

describe('parts list', () => {
  it('lists what the choices ask for, each id once, and never a make', () => {
    const parts = partsList(context())
    expect(new Set(parts.map((p) => p.id)).size).toBe(parts.length)
    expect(parts.find((p) => p.id === 'injector')).toMatchObject({ quantity: 2, spec: '520 cc/min at 300 kPa' })
    // 3.6 m feed and 3.6 m return of 8 mm bore with a tenth in hand
    expect(parts.find((p) => p.id === 'line-hard-80')).toMatchObject({ unit: 'm', quantity: 8 })
    expect(partsList(context(plan({ route: 'multi-port', injectors: 6 }))).find((p) => p.id === 'rail')).toBeDefined()
  })
  it('costs prices times quantities, of the price book or the person’s own', () => {
    const before = partsCost(partsList(context())).total
    const dearer = partsCost(partsList(context(plan({ prices: { injector: 148 } })))).total
    expect(dearer - before).toBeCloseTo(200, 6)
    expect(partsCost(partsList(context(plan({ parts: { injector: { status: 'have' } } })))).toBuy).toBeCloseTo(before - 96, 6)
  })
  it('goes out as CSV and comes back exactly: nothing changed is no change', () => {
    const parts = partsList(context(plan({ parts: { pump: { note: 'from the shelf, "new"; 3 years old' } } })))
    expect(partsFromCsv(partsToCsv(parts), parts)).toEqual({})
  })
  it.each(['=1+1', '=1\n+2', '+2', '-3 of them', '@SUM(A1)'])(
    'a formula in a note (%j) goes out harmless and comes back itself',
    (note) => {
      const parts = partsList(context(plan({ parts: { pump: { note } } })))
      expect(partsToCsv(parts)).toContain(`'${note}`)
      expect(partsFromCsv(partsToCsv(parts), parts)).toEqual({})
    },
  )
  it('takes status, price and arrival, with decimal commas', () => {
    const parts = partsList(context())
    const csv = 'id;status;price;arrives\r\npump;ordered;"151,50";2026-12-05\r\n'
    expect(partsFromCsv(csv, parts)).toEqual({ pump: { status: 'ordered', price: 151.5, arrives: '2026-12-05' } })
  })
  it.each([
    ['name,price\npump,3', 'column "id"'],
    ['id,price\nturbine,3', '"turbine" is no part'],
    ['id,price\npump,many', 'line 2, price'],
    ['id,status\npump,lost', 'must be one of to-buy, ordered, have, fitted'],
    ['id,arrives\npump,soon', 'a date like'],
  ])('refuses %j and says where', (csv, words) => expect(() => partsFromCsv(csv, partsList(context()))).toThrow(words))
})

describe('tasks and schedule', () => {
  it('hours follow the handbook’s base and who does them', () => {
    const base = planHours(context(plan({ experience: 'before' }))).mid
    expect(planHours(context(plan({ experience: 'first' }))).mid).toBeCloseTo(1.8 * base, 6)
    expect(planHours(context(plan({ experience: 'shop' }))).mid).toBeCloseTo(0.7 * base, 6)
    // multi-port takes 7 h where the throttle body takes 2
    expect(planHours(context(plan({ route: 'multi-port', experience: 'before' }))).mid - base).toBeCloseTo(5, 6)
  })
  it('findings bring their own tasks: positive earth and a dynamo', () => {
    const ids = planTasks(context({ facts: { electrics: { polarity: 'positive-earth', charging: 'dynamo' } } })).map((t) => t.id)
    expect(ids).toEqual(expect.arrayContaining(['polarity', 'alternator']))
    expect(planTasks(context()).map((t) => t.id)).not.toContain('polarity')
  })
  it('outside trades are booked to finish before fitting begins', () => {
    const s = planSchedule(context({ facts: { exhaust: { bung: 'none' } } }), '2026-03-02')
    const of = (id: string) => s.tasks.find((t) => t.id === id)!
    expect(of('sensor-boss').start >= '2026-03-12').toBe(true)
    expect(of('removal').start > of('sensor-boss').end).toBe(true)
    for (const t of s.tasks) for (const before of t.after) expect(of(before).end <= t.start).toBe(true)
  })
  it('gives a span, and the end moves when a task slips', () => {
    const s = planSchedule(context(), '2026-03-02')
    expect(s.end.low <= s.end.mid && s.end.mid <= s.end.high).toBe(true)
    expect(s.hours.low).toBeLessThan(s.hours.high)
    const late = planSchedule(context(plan({ start: '2026-03-02', tasks: { wiring: { notBefore: '2026-05-01' } } })), '2026-03-02')
    expect(late.end.mid > s.end.mid).toBe(true)
    expect(late.tasks.find((t) => t.id === 'wiring')!.start >= '2026-05-01').toBe(true)
  })
  it('an engine on a stand gets no road tasks, and its proving waits for the idle', () => {
    const ids = planTasks(context({ facts: { place: { onStand: true } } })).map((t) => t.id)
    expect(ids.filter((id) => ['learning', 'first-week', 'week-leak-check'].includes(id))).toEqual([])
    expect(ids.indexOf('proving')).toBeGreaterThan(ids.indexOf('idle'))
    expect(planTasks(context()).map((t) => t.id)).toEqual(expect.arrayContaining(['learning', 'first-week', 'week-leak-check']))
  })
  it('a helper among the people gives hours; where there is none the schedule says so', () => {
    const one = planSchedule(context(plan({ people: [{ name: 'Ada', hours: [0, 2, 0, 2, 0, 5, 4] }] })), '2026-03-02')
    expect(one.assumed.join()).toContain('a helper from elsewhere for “First start and timing”')
    const people = [
      { name: 'Ada', hours: [0, 2, 0, 2, 0, 5, 4] },
      { name: 'Ben', hours: [0, 0, 0, 0, 0, 2, 0] },
    ]
    const two = planSchedule(context(plan({ people })), '2026-03-02')
    expect(two.assumed.join()).not.toContain('a helper')
    const days = two.tasks.find((t) => t.id === 'first-start')!.days
    // Ben is there on Saturdays for two hours
    for (const d of days) expect([new Date(`${d.date}T00:00:00Z`).getUTCDay(), d.hours <= 2]).toEqual([6, true])
  })
  it('the path that the schedule names holds the end: none of it may begin a week later', () => {
    const s = planSchedule(context(), '2026-03-02')
    const least = Math.min(...s.tasks.filter((t) => !t.done).map((t) => t.slackDays))
    for (const id of s.criticalPath) expect(s.tasks.find((t) => t.id === id)!.slackDays).toBe(least)
    expect(s.criticalPath.length).toBeGreaterThan(2)
    const next = s.tasks.find((t) => t.id === s.criticalPath[0])!
    const day = new Date(Date.parse(`${next.start}T00:00:00Z`) + (least + 1) * 86_400_000).toISOString().slice(0, 10)
    const slipped = planSchedule(context(plan({ start: '2026-03-02', tasks: { [next.id]: { notBefore: day } } })), '2026-03-02')
    expect(slipped.end.mid > s.end.mid).toBe(true)
  })
  it('what the logbook proves is done, and what it waited for, needs no tick', () => {
    const ran = madeReading('start.ran', { secondsToFire: 1, idleRpm: 700, coolantC: 80, tuneId: '6d0f4a52-0c1e-4f7a-9d3b-1f62a0c80009' })
    const tasks = planTasks(context({}, [ran]))
    expect(tasks.filter((t) => t.provenDone).map((t) => t.id)).toEqual(
      expect.arrayContaining(['mock-up', 'removal', 'wiring', 'first-start']),
    )
    expect(tasks.find((t) => t.id === 'idle')!.provenDone).toBeUndefined()
  })
  it('parts that arrive on a day hold the mock-up until then', () =>
    expect(
      planSchedule(context(plan({ parts: { pump: { status: 'ordered', arrives: '2026-04-10' } } })), '2026-03-02').tasks.find(
        (t) => t.id === 'mock-up',
      )!.start >= '2026-04-10',
    ).toBe(true))
})
