import fc from 'fast-check'
import { expect, it } from 'vitest'
import { startingCircuit } from '../fuel/circuit.ts'
import { withBore } from '../fuel/design.ts'
import { genericPumps } from '../fuel/pump.ts'
import type { BuildData } from '../kernel/build.ts'
import { partsList } from '../plan/parts.ts'
import { judgeRoutes, recommend } from '../plan/routes.ts'
import { planSchedule } from '../plan/schedule.ts'
import { Facts } from '../survey/facts.ts'
import { Choices, contextOf, evaluate, rules } from './judgement.ts'
import { handoverReport } from './report.ts'

const maybe = <T>(arbitrary: fc.Arbitrary<T>) => fc.option(arbitrary, { nil: undefined })
const num = (min: number, max: number) => maybe(fc.double({ min, max, noNaN: true }))
const pick = <T extends string>(...values: T[]) => maybe(fc.constantFrom(...values))
const group = <T extends object>(shape: { [K in keyof T]: fc.Arbitrary<T[K]> }) => maybe(fc.record(shape))
const order = fc.integer({ min: 1, max: 12 }).chain((n) =>
  fc.shuffledSubarray(
    Array.from({ length: n }, (_, i) => i + 1),
    { minLength: n, maxLength: n },
  ),
)

/** Any survey a person could leave behind: every fact there or not, anywhere within its bounds. */
const facts = fc.record({
  engine: group({
    cylinders: maybe(fc.integer({ min: 1, max: 12 })),
    layout: pick('inline', 'vee', 'flat'),
    displacementCc: num(100, 15000),
    boreMm: num(30, 200),
    strokeMm: num(20, 250),
    compressionRatio: num(5, 16),
    firingOrder: maybe(order),
    chamber: pick('old-open', 'wedge', 'modern-heart'),
    redlineRpm: num(1500, 12000),
    powerKw: num(5, 1000),
    siamesedInlets: maybe(fc.boolean()),
  }),
  cam: group({
    class: pick('stock', 'mild', 'hot', 'wild'),
    inletDurationDeg: num(150, 320),
    exhaustDurationDeg: num(150, 320),
    lobeSeparationDeg: num(90, 125),
    idleVacuumKpa: num(0, 85),
  }),
  ignition: group({
    kind: pick('points', 'magnetic', 'hall', 'capacitive'),
    advanceLocked: maybe(fc.boolean()),
    rotation: pick('clockwise', 'anticlockwise'),
    leads: pick('resistive', 'solid-core'),
    coilPrimaryOhm: num(0.1, 10),
    coilInductanceMh: num(0.5, 30),
    rotorRadiusMm: num(8, 60),
    damperDiameterMm: num(60, 400),
  }),
  induction: group({ kind: pick('natural', 'draw-through', 'blow-through'), nitrous: maybe(fc.boolean()), boostKpa: num(0, 250) }),
  health: group({
    compressionKpa: maybe(fc.array(fc.double({ min: 0, max: 2500, noNaN: true }), { minLength: 1, maxLength: 12 })),
    leakDownPct: maybe(fc.array(fc.double({ min: 0, max: 100, noNaN: true }), { minLength: 1, maxLength: 12 })),
    shaftPlayMm: num(0, 5),
  }),
  fuel: group({
    kind: pick('petrol', 'e10', 'e85'),
    tankL: num(5, 300),
    tankVented: maybe(fc.boolean()),
    mechanicalPump: maybe(fc.boolean()),
  }),
  exhaust: group({ bung: pick('none', 'after-merge', 'one-branch', 'far-back'), leaks: maybe(fc.boolean()) }),
  gearing: group({ tyreSize: pick('205/70R15', '6.40-13', 'round'), tyreDiameterMm: num(350, 1200), kickDown: pick('none', 'cable') }),
  electrics: group({
    polarity: pick('negative-earth', 'positive-earth'),
    charging: pick('alternator', 'dynamo'),
    restV: num(4, 15),
    crankingV: num(3, 14),
  }),
  place: group({ use: pick('road', 'boat'), altitudeM: num(-400, 4500), barometerKpa: num(55, 108) }),
})
const choices = fc.record({
  plan: group({
    route: pick('throttle-body', 'multi-port', 'individual-runner'),
    injectors: maybe(fc.integer({ min: 1, max: 24 })),
    injectorCcMin: num(50, 3000),
    injectorRatedKpa: num(50, 700),
    fuelPressureKpa: num(50, 700),
  }),
  fuel: maybe(
    fc
      .record({
        layout: fc.constantFrom('return' as const, 'returnless' as const, 'lift-sump' as const, 'surge-tank' as const),
        pump: fc.constantFrom(...genericPumps.map((p) => p.spec)),
        lift: maybe(fc.constantFrom(...genericPumps.map((p) => ({ ...p.spec, kind: 'electric' as const })))),
        setKpa: fc.double({ min: 30, max: 700, noNaN: true }),
        reference: fc.constantFrom('open' as const, 'manifold' as const, 'above-plates' as const, 'capped' as const),
        boreMm: fc.double({ min: 2, max: 30, noNaN: true }),
        heights: group({ fuelM: num(0, 3), pumpM: num(0, 3), railM: num(0, 3), sumpM: num(0, 3) }),
        cut: maybe(fc.boolean()),
      })
      .map((f) => {
        const start = startingCircuit(f.layout)
        return {
          ...start,
          feed: withBore(start.feed!, f.boreMm),
          pump: f.pump,
          liftPump: f.lift,
          regulator: { ...start.regulator, setKpa: f.setKpa, reference: f.reference },
          heights: f.heights,
          safety: { stallCutOff: f.cut },
        }
      }),
  ),
  spark: group({
    trigger: pick('speed-signal', 'own-curve', 'locked-magnetic', 'hall', 'crank-cam', 'toothed-wheel'),
    sensor: pick('magnetic', 'hall', 'optical'),
    output: pick('low', 'high'),
    setOn: pick('arriving', 'leaving'),
    edge: pick('falling', 'rising'),
    targetWidthDeg: num(0.5, 120),
    wheel: group({
      teeth: maybe(fc.integer({ min: 4, max: 120 })),
      missing: maybe(fc.integer({ min: 0, max: 3 })),
      toothAtTdc: maybe(fc.integer({ min: 0, max: 119 })),
      referenceTooth: maybe(fc.integer({ min: 0, max: 119 })),
    }),
    camSignal: maybe(fc.boolean()),
    coils: pick('paired', 'per-cylinder'),
    coilDrive: pick('built-in', 'inductive-driver', 'capacitive'),
    plugGapMm: num(0.2, 2),
    targetA: num(1, 30),
    ownCurve: group({
      points: maybe(
        fc.array(fc.record({ rpm: fc.double({ min: 0, max: 9000, noNaN: true }), deg: fc.double({ min: -20, max: 70, noNaN: true }) }), {
          maxLength: 5,
        }),
      ),
    }),
    referenceDeg: num(0, 360),
    minAdvanceDeg: num(-20, 60),
    maxAdvanceDeg: num(0, 70),
    alignDegBtdc: num(-60, 120),
    camSyncWindows: maybe(fc.constantFrom(0.5 as const, 1.5 as const)),
    delayUs: num(0, 2000),
  }),
})
const clean = <T>(value: T): T => JSON.parse(JSON.stringify(value)) as T

/** Every number that is none, and every text that shows one: JSON would turn the numbers into null. */
function unsound(value: unknown): unknown[] {
  if (typeof value === 'number') return Number.isFinite(value) ? [] : [value]
  if (typeof value === 'string') return /NaN|Infinity|undefined/.test(value) ? [value] : []
  return value && typeof value === 'object' ? Object.values(value).flatMap(unsound) : []
}

it('any survey is judged: no crash, no NaN, every finding with its reason, every number with its source', () => {
  fc.assert(
    fc.property(facts, choices, (rawFacts, rawChoices) => {
      const build: BuildData = {
        id: 'x',
        title: 'x',
        facts: Facts.parse(clean(rawFacts)),
        choices: Choices.parse(clean(rawChoices)),
        readings: [],
        tunes: [],
        logs: [],
      }
      const { stations: reports, next } = evaluate(build)
      const c = contextOf(build)
      const broken = [reports, handoverReport(build), judgeRoutes(c), recommend(c), partsList(c), planSchedule(c, '2026-03-02')].flatMap(
        unsound,
      )
      expect(broken).toEqual([])
      for (const report of reports) {
        if (report.findings.some((f) => !f.message || f.because.length < 5 || f.remedy.length < 5)) return false
        if (report.numbers.some((n) => !n.formula || !n.source)) return false
        if ((report.state === 'blocked') !== report.findings.some((f) => f.severity === 'stop')) return false
      }
      return next.action.length > 3
    }),
    { numRuns: 100 },
  )
})

it('judgement is pure: the build is not touched, and the same build gives the same answer', () => {
  fc.assert(
    fc.property(facts, choices, (rawFacts, rawChoices) => {
      const build: BuildData = {
        id: 'x',
        title: 'x',
        facts: clean(rawFacts),
        choices: clean(rawChoices) as BuildData['choices'],
        readings: [],
        tunes: [],
        logs: [],
      }
      const before = JSON.stringify(build)
      const first = JSON.stringify(evaluate(build))
      return JSON.stringify(build) === before && JSON.stringify(evaluate(build)) === first
    }),
    { numRuns: 60 },
  )
})

it('every rule has its own id, beginning with a subject', () => {
  expect(new Set(rules.map((r) => r.id)).size).toBe(rules.length)
  for (const rule of rules) {
    expect(rule.id).toMatch(/^(survey|plan|fuel|spark|tach|wiring|fitup|unit|start|idle|learn|handover)\./)
  }
})
