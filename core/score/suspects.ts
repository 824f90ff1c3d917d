import { readFileSync } from 'node:fs'
import { join } from 'node:path'
import { type IgnitionFaultId } from '../src/bench/faults.ts'
import { readIgnition } from '../src/bench/instruments.ts'
import { contextOf } from '../src/judge/judgement.ts'
import { madeReading } from '../src/judge/made-up.fixture.ts'
import { type BuildData, Random } from '../src/kernel/index.ts'
import { currentTiming } from '../src/spark/timing.ts'
import { shareOf } from './interval.ts'

const between = (rng: Random, low: number, high: number): number => low + (high - low) * rng.next()
const SPEEDS = [900, 900, 1800, 2700, 3500, 3500]

/** A car of the demo with lobe, target and hand drawn anew, set up by eye, its edge or polarity never looked at, and six light readings. */
function lit(car: BuildData, sensor: 'magnetic' | 'square', fault: IgnitionFaultId | null, seed: number): string[] | null {
  const rng = new Random(seed)
  const spark =
    sensor === 'magnetic'
      ? { trigger: 'locked-magnetic' as const, referenceDeg: 56, lobeDeg: between(rng, 2, 9) }
      : {
          trigger: 'hall' as const,
          referenceDeg: 60,
          output: 'low' as const,
          setOn: 'arriving' as const,
          targetWidthDeg: between(rng, 6, 20),
        }
  const build: BuildData = {
    ...car,
    id: `suspects-${seed}`,
    choices: { ...car.choices, spark: { ...car.choices.spark, ...spark }, bench: { faults: fault ? [{ id: fault }] : [] } },
    readings: [],
  }
  build.readings.push(madeReading('spark.fitted', { referenceDeg: spark.referenceDeg }))
  for (const rpm of SPEEDS)
    build.readings.push(madeReading('spark.timing-light', readIgnition(build, 'spark.timing-light', { rpm, commandedDeg: 15 })))
  const verdict = currentTiming(contextOf(build))
  return verdict && !verdict.mistake ? verdict.suspects : null
}

/** The table of docs/spark.md: how often edge or polarity is suspected from light readings alone. */
export function suspectsTable(trials: number, firstSeed: number): string {
  const car = (file: string): BuildData => {
    const { facts, choices } = JSON.parse(readFileSync(join('demo/cars', file), 'utf8'))
    return { id: file, title: file, facts, choices, readings: [], tunes: [], logs: [] }
  }
  const row = (name: string, build: BuildData, sensor: 'magnetic' | 'square', fault: IgnitionFaultId | null) => {
    const seen = Array.from({ length: trials }, (_, k) => lit(build, sensor, fault, firstSeed + k))
    const judged = seen.filter((s) => s !== null)
    return `| ${name} | ${shareOf(judged.filter((s) => s.length > 0).length, trials)} | ${shareOf(trials - judged.length, trials)} |`
  }
  const [six, eight] = [car('1-lowland.json'), car('2-rampart.json')]
  return [
    '### Edge and polarity by the light',
    '',
    `${trials} trials each, seeds from ${firstSeed}: cars set up by eye whose edge or polarity nobody looked at, six light readings each.`,
    '',
    '| car | suspected | readings called a mistake instead |',
    '| --- | --- | --- |',
    row('pick-up, sound', six, 'magnetic', null),
    row('pick-up, set wrong for another reason', six, 'magnetic', 'reference-off'),
    row('pick-up, its wires changed over', six, 'magnetic', 'polarity-reversed'),
    row('square output, sound', eight, 'square', null),
    row('square output, set wrong for another reason', eight, 'square', 'reference-off'),
    row('square output, the other way round', eight, 'square', 'edge-wrong'),
  ].join('\n')
}
