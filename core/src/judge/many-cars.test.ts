import { describe, expect, it } from 'vitest'
import type { Route } from '../air/index.ts'
import { startingCircuit } from '../fuel/circuit.ts'
import { genericPumps } from '../fuel/pump.ts'
import type { BuildData } from '../kernel/build.ts'
import { planSizes, recommend } from '../plan/index.ts'
import { injectorsFor } from '../plan/sizes.ts'
import { planTasks } from '../plan/tasks.ts'
import { Facts } from '../survey/index.ts'
import { contextOf, evaluate } from './judgement.ts'

/** What a practitioner would say of each car, written before it was run. Made-up cars, stations 1 to 3. */
interface Car {
  what: string
  facts: object
  choices?: object
  /** what should be recommended, where one answer is right */
  route?: Route | Route[]
  timing?: boolean
  /** findings that must be there, and how bad */
  says?: Record<string, 'stop' | 'warn' | 'note'>
  /** findings that would be wrong here */
  silent?: string[]
}
const v8 = { cylinders: 8, layout: 'vee', firingOrder: [1, 2, 7, 8, 4, 5, 6, 3] }
const four = { cylinders: 4, layout: 'inline', firingOrder: [1, 3, 4, 2] }
const six = { cylinders: 6, layout: 'inline', firingOrder: [1, 5, 3, 6, 2, 4] }
const twelveVolts = { polarity: 'negative-earth', charging: 'alternator', chargingRatedA: 70, restV: 12.6, crankingV: 10.4, fan: 'belt' }
const usual = { ignition: { kind: 'points', leads: 'resistive', plugs: 'resistor' }, electrics: twelveVolts }
const circuit = (reference: string, more: object = {}) => ({
  fuel: {
    ...startingCircuit('return'),
    regulator: { ...startingCircuit('return').regulator!, reference },
    pump: { curves: genericPumps[2].spec.curves },
    pumpPlace: 'outside',
    heights: { fuelM: 0.5, pumpM: 0.35, railM: 0.85 },
    ...more,
  },
})

const cars: Car[] = [
  {
    what: 'a plain six for the road',
    facts: { ...usual, engine: { ...six, displacementCc: 3200, compressionRatio: 8.2 }, place: { use: 'road', flange: 'two-barrel' } },
    route: 'throttle-body',
    timing: false,
    silent: ['survey.power-size', 'survey.cylinder-size', 'plan.mixture-spread', 'plan.air-power'],
  },
  {
    what: '400 kW from seven litres at 10.8 to 1',
    facts: {
      ...usual,
      engine: { ...v8, displacementCc: 7000, compressionRatio: 10.8, powerKw: 400 },
      cam: { class: 'hot' },
      place: { use: 'road', flange: 'square-four' },
    },
    route: 'multi-port',
    timing: true,
  },
  {
    what: 'twin side-draughts on a four',
    facts: {
      ...usual,
      engine: { ...four, displacementCc: 1600, compressionRatio: 9 },
      cam: { class: 'mild' },
      fuel: { carburettors: 2 },
      place: { use: 'road', flange: 'side-draught' },
    },
    route: ['multi-port', 'individual-runner'],
  },
  {
    what: 'a twelve',
    facts: {
      ...usual,
      engine: {
        cylinders: 12,
        layout: 'vee',
        displacementCc: 5300,
        compressionRatio: 9,
        firingOrder: [1, 12, 5, 8, 3, 10, 6, 7, 2, 11, 4, 9],
      },
      place: { use: 'road', flange: 'other' },
    },
    route: ['multi-port', 'individual-runner'],
    silent: ['survey.cylinder-size'],
  },
  {
    what: 'a single of half a litre',
    facts: {
      ...usual,
      engine: { cylinders: 1, layout: 'inline', displacementCc: 500, firingOrder: [1], compressionRatio: 8 },
      place: { use: 'road', flange: 'single' },
    },
    silent: ['plan.mixture-spread', 'survey.power-size'],
  },
  {
    what: 'a flat twin of 600 cc',
    facts: {
      ...usual,
      engine: { cylinders: 2, layout: 'flat', displacementCc: 600, firingOrder: [1, 2], compressionRatio: 7.8 },
      place: { use: 'road', flange: 'two-barrel' },
    },
    route: 'throttle-body',
    silent: ['survey.power-size'],
  },
  {
    what: 'a three of 900 cc',
    facts: {
      ...usual,
      engine: { cylinders: 3, layout: 'inline', displacementCc: 900, firingOrder: [1, 3, 2], compressionRatio: 8 },
      place: { use: 'road', flange: 'two-barrel' },
    },
    route: 'throttle-body',
  },
  {
    what: 'a four whose inlets share two ports',
    facts: {
      ...usual,
      engine: { ...four, displacementCc: 1300, siamesedInlets: true, compressionRatio: 8.5 },
      place: { use: 'road', flange: 'two-barrel' },
    },
    route: 'throttle-body',
    choices: { plan: { route: 'multi-port', injectors: 4 } },
    says: { 'plan.siamesed': 'warn' },
  },
  {
    what: 'six volts',
    facts: {
      ...usual,
      engine: { ...four, displacementCc: 1200 },
      electrics: { polarity: 'negative-earth', charging: 'dynamo', restV: 6.3, crankingV: 5.1 },
    },
    says: { 'survey.six-volt': 'stop', 'survey.dynamo': 'stop' },
    silent: ['survey.battery'],
  },
  {
    what: 'a boat',
    facts: { ...usual, engine: { ...v8, displacementCc: 5000 }, place: { use: 'boat' } },
    says: { 'survey.marine': 'stop' },
  },
  {
    what: 'a kit on a stand',
    facts: { ...usual, engine: { ...four, displacementCc: 2000 }, place: { onStand: true, flange: 'two-barrel' } },
    route: 'throttle-body',
  },
  {
    what: 'blown through a body with its port open',
    facts: {
      ...usual,
      engine: { ...four, displacementCc: 2000, compressionRatio: 8 },
      induction: { kind: 'blow-through', boostKpa: 70, drive: 'exhaust' },
      place: { use: 'road', flange: 'two-barrel' },
    },
    timing: true,
    choices: { plan: { route: 'throttle-body', timingControl: false }, ...circuit('open') },
    says: { 'fuel.reference': 'stop', 'plan.timing-needed': 'stop', 'plan.mixture-spread': 'warn' },
  },
  {
    what: 'a body before a belt-driven blower',
    facts: {
      ...usual,
      engine: { ...v8, displacementCc: 5000, compressionRatio: 8 },
      induction: { kind: 'draw-through', boostKpa: 50, drive: 'belt' },
      place: { use: 'road', flange: 'square-four' },
    },
    timing: true,
    choices: { plan: { route: 'throttle-body', timingControl: true }, ...circuit('open') },
    silent: ['fuel.reference', 'survey.boost-place'],
  },
  {
    what: 'ports under 100 kPa with the regulator open to air',
    facts: { ...usual, engine: { ...six, displacementCc: 3180 }, induction: { kind: 'blow-through', boostKpa: 100 } },
    timing: true,
    choices: { plan: { route: 'multi-port', injectors: 6 }, ...circuit('open') },
    says: { 'fuel.reference': 'stop' },
  },
  {
    what: 'nitrous on the old advance',
    facts: { ...usual, engine: { ...v8, displacementCc: 5700 }, induction: { kind: 'natural', nitrous: true } },
    timing: true,
    choices: { plan: { route: 'throttle-body', timingControl: false } },
    says: { 'plan.timing-needed': 'stop', 'survey.nitrous': 'warn' },
  },
  {
    what: 'positive earth, a dynamo, points and solid leads',
    facts: {
      engine: { ...four, displacementCc: 1500 },
      ignition: { kind: 'points', leads: 'solid-core', plugs: 'plain' },
      electrics: { polarity: 'positive-earth', charging: 'dynamo', restV: 12.5 },
    },
    says: { 'survey.positive-earth': 'stop', 'survey.dynamo': 'stop' },
    silent: ['survey.six-volt'],
  },
  {
    what: 'the weather service’s barometer in the mountains',
    facts: { ...usual, engine: { ...four, displacementCc: 1600 }, place: { altitudeM: 2500, barometerKpa: 101.3 } },
    says: { 'survey.barometer': 'warn' },
  },
  {
    what: '9 kW from five litres',
    facts: { ...usual, engine: { ...v8, displacementCc: 5000, powerKw: 9 } },
    says: { 'survey.power-size': 'warn' },
  },
  {
    what: '500 kW from 1.3 litres at 16 to 1 on 80 octane',
    facts: { ...usual, engine: { ...four, displacementCc: 1300, powerKw: 500, compressionRatio: 16 }, fuel: { octaneRon: 80 } },
    says: { 'survey.power-size': 'warn', 'survey.octane': 'warn' },
  },
  {
    what: 'a wild four for the track on two side-draughts',
    facts: {
      ...usual,
      engine: { ...four, displacementCc: 2000, compressionRatio: 11, redlineRpm: 7500 },
      cam: { class: 'wild' },
      fuel: { carburettors: 2 },
      place: { use: 'track', flange: 'side-draught' },
    },
    choices: { plan: { brakeBooster: false } },
    route: 'individual-runner',
    timing: true,
  },
  {
    what: 'a five of 2.2 litres on the strip',
    facts: {
      ...usual,
      engine: { cylinders: 5, layout: 'inline', displacementCc: 2200, firingOrder: [1, 2, 4, 5, 3], compressionRatio: 10 },
      cam: { class: 'hot' },
      place: { use: 'strip', flange: 'two-barrel' },
    },
    route: ['multi-port', 'individual-runner'],
    timing: true,
  },
  {
    what: 'half a conversion with a low regulator and the filter in the boot',
    facts: {
      ...usual,
      engine: { ...six, displacementCc: 2800 },
      fuel: { reuseRegulator: true, reuseRegulatorKpa: 40, tankPlace: 'boot' },
      place: { startsFrom: 'half-finished', flange: 'two-barrel' },
    },
    choices: {
      plan: { route: 'throttle-body' },
      ...circuit('open', {
        feed: [
          ...startingCircuit('return').feed!,
          { id: 'boot-filter', kind: 'filter', micron: 10, dropKpa: 8, atLph: 200, body: 'plastic', place: 'boot' },
        ],
      }),
    },
    says: { 'fuel.low-regulator': 'stop', 'fuel.joints-inside': 'stop', 'fuel.tank-inside': 'note', 'survey.half-finished': 'note' },
  },
]

const buildOf = ({ what, facts, choices = {} }: Car): BuildData =>
  ({ id: what, title: what, facts: Facts.parse(facts), choices, readings: [], tunes: [], logs: [] }) as BuildData

describe.each(cars)('$what', (car) => {
  const build = buildOf(car)
  const early = evaluate(build).stations.slice(0, 3)
  const findings = early.flatMap((s) => s.findings)
  it('is judged as a practitioner would', () => {
    for (const [id, severity] of Object.entries(car.says ?? {}))
      expect([id, findings.find((f) => f.id === id)?.severity]).toEqual([id, severity])
    for (const id of car.silent ?? []) expect(findings.map((f) => f.id)).not.toContain(id)
    if (!car.says) expect(findings.filter((f) => f.severity === 'stop').map((f) => f.id)).toEqual([])
  })
  it('gets the route that suits it', () => {
    const { best } = recommend(contextOf(build))
    if (car.route) expect([car.route].flat()).toContain(best?.route)
    if (car.timing !== undefined) expect(best?.timingControl).toBe(car.timing)
  })
  it('has sizes that agree with each other', () => {
    const c = contextOf(build)
    const sizes = new Map(planSizes(c).map((s) => [s.sizeId, s]))
    const route = c.plan.route ?? 'throttle-body'
    const injectors = c.plan.injectors ?? injectorsFor(route, c.resolved.cylinders)
    // fuel of all injectors at 85 % duty, 0.745 kg/L; the mixture of full power lies between 11 and 13 to 1
    const fuelGps = ((sizes.get('injector')!.value! * injectors * 0.85) / 60) * 0.745
    const afr = sizes.get('air')!.value! / fuelGps
    expect(afr).toBeGreaterThan(11)
    expect(afr).toBeLessThan(13)
    for (const s of sizes.values()) expect(Number.isFinite(s.value ?? 0)).toBe(true)
  })
})

it('there are twenty of them or more, of one to twelve cylinders', () => {
  expect(cars.length).toBeGreaterThanOrEqual(20)
  const counts = new Set(cars.map((c) => (c.facts as { engine: { cylinders: number } }).engine.cylinders))
  expect([...counts].sort((a, b) => a - b)).toEqual([1, 2, 3, 4, 5, 6, 8, 12])
})
it('the kit on a stand has no road tasks', () => {
  const tasks = planTasks(contextOf(buildOf(cars.find((c) => c.what === 'a kit on a stand')!))).map((t) => t.id)
  expect(tasks).not.toContain('learning')
})
