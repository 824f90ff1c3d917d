import { expect, it } from 'vitest'
import type { BuildData } from '../kernel/build.ts'
import { mergePatch, patchFor } from '../kernel/index.ts'
import { partsList, planSizes, reusable, toolsOf } from '../plan/index.ts'
import { planTasks } from '../plan/tasks.ts'
import { allFacts } from '../survey/index.ts'
import { computeBaseTune } from '../tune/base-tune.ts'
import { contextOf, evaluate } from './judgement.ts'
import { madeReading, soundBuild } from './made-up.fixture.ts'

/** Every fact that is asked changes something: a finding, a size, a part, a task, a tool, a verdict on what stays, or the tune. */
const answer = (build: BuildData): string => {
  const c = contextOf(build)
  let tune: unknown
  try {
    tune = computeBaseTune(build.facts, build.choices)
  } catch (refused) {
    tune = String(refused)
  }
  const judged = evaluate(build).stations.map((s) => [s.state, s.findings, s.numbers])
  return JSON.stringify([judged, planSizes(c), planTasks(c), partsList(c), reusable(c), toolsOf(c), tune])
}
const ran = madeReading('start.ran', { secondsToFire: 1, idleRpm: 700, coolantC: 80, tuneId: '6d0f4a52-0c1e-4f7a-9d3b-1f62a0c80009' })
/** Cars of every kind that a fact may matter on. */
const bases = [
  soundBuild(),
  soundBuild(
    {
      facts: { engine: { powerKw: null }, baseline: { idleRpm: 700 } },
      choices: { spark: { trigger: 'locked-magnetic', gear: 'bronze' } },
    },
    [ran],
  ),
  soundBuild({
    facts: {
      engine: { powerKw: null, boreMm: 86, strokeMm: 91.3, donor: true },
      induction: { kind: 'blow-through', boostKpa: 50, nitrous: true, nitrousKw: 40 },
      cam: { idleVacuumKpa: null, class: null, inletDurationDeg: 210, exhaustDurationDeg: 210, lobeSeparationDeg: 110 },
      electrics: { charging: 'dynamo' },
      intake: { complaint: 'stumbles' },
    },
    choices: { plan: { route: 'multi-port', injectors: 6, electronicThrottle: true, unit: { spareOutputs: 1 } } },
  }),
  soundBuild({
    facts: { fuel: { lineBoreMm: 8, lineMaterial: 'steel', reuseRegulator: true, reuseRegulatorKpa: 300, mechanicalPumpKpa: 25 } },
    choices: { fuel: { layout: 'lift-sump' } },
  }),
]
/** Facts that name the car or its people, and are printed; and those that other rooms work with, each with the test that shows it. */
const ELSEWHERE: Record<string, string> = {
  'car.make': 'names the car',
  'car.model': 'names the car',
  'car.year': 'names the car',
  'car.body': 'names the car',
  'car.owner': 'names who receives it',
  'car.class': 'drive/road-load.test.ts: mass and drag until they are known',
  'engine.layout': 'survey/survey.test.ts: the usual firing orders',
  'engine.rotation': 'spark: the dial turns with it',
  'ignition.rotation': 'spark/spark.test.ts: terminals of the cap',
  'ignition.curveShaft': 'spark/signal-and-curve.test.ts: figures of the distributor count double',
  'ignition.mechanicalAdvanceDeg': 'spark/old-curve: the curve that the engine had',
  'ignition.mechanicalStartRpm': 'spark/old-curve',
  'ignition.mechanicalFullRpm': 'spark/old-curve',
  'ignition.vacuumAdvanceDeg': 'spark/old-curve',
  'ignition.vacuumFullKpa': 'spark/old-curve',
  'ignition.vacuumSource': 'spark/old-curve',
  'exhaust.kind': 'bench/car.ts: how the gas reaches the sensor',
  'exhaust.catalyst': 'tune/lint.ts: the mixture it bears',
  'gearing.gearRatios': 'drive: road speed of a cell',
  'gearing.axleRatio': 'drive: road speed of a cell',
  'gearing.massKg': 'drive: road load',
  'gearing.frontalM2': 'drive: road load',
  'gearing.dragCoefficient': 'drive: road load',
  'baseline.coldStartS': 'handover/after.test.ts: before and after',
  'baseline.hotRestartS': 'handover/after.test.ts',
  'baseline.fuelUseLPer100km': 'handover/after.test.ts',
  'baseline.pullAway': 'handover/after.test.ts',
  'baseline.partThrottle': 'handover/after.test.ts',
  'baseline.acceleration': 'handover/after.test.ts',
  'baseline.restart': 'handover/after.test.ts',
  'baseline.smell': 'handover/after.test.ts',
  'baseline.idleRpm': 'handover/after.test.ts',
}
const tried = {
  text: ['as said', '205/70R15'],
  quantity: [1, 5, 12, 30, 80, 110, 200, 900, 1965, 3000],
  numbers: [
    [1000, 500],
    [3, 2, 1],
    [90, 150],
  ],
  order: [
    [1, 3, 4, 2],
    [1, 5, 3, 6, 2, 4],
  ],
}

it('every fact that is asked changes something', () => {
  const silent = allFacts.filter(({ path, input, schema }) => {
    const values: readonly unknown[] = input.kind === 'choice' ? input.options.map((o) => o.value) : tried[input.kind]
    const fit = [null, ...values.filter((v) => schema.safeParse(v).success)]
    return bases.every((base) => new Set(fit.map((v) => answer(mergePatch(base, patchFor(`facts.${path}`, v)) as BuildData))).size === 1)
  })
  expect(silent.map((f) => f.path).filter((path) => !(path in ELSEWHERE))).toEqual([])
})
it('a fact that names its reader exists', () => {
  const paths = new Set<string>(allFacts.map((f) => f.path))
  expect(Object.keys(ELSEWHERE).filter((path) => !paths.has(path))).toEqual([])
})
