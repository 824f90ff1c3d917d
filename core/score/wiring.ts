import { benchReading } from '../src/bench/read.ts'
import { benchFaults, type FaultId } from '../src/bench/faults.ts'
import { keyedCandidates, type KeyedCandidate, type WiringInstrument } from '../src/bench/wiring.ts'
import { evaluate } from '../src/judge/judgement.ts'
import { madeReading } from '../src/judge/made-up.fixture.ts'
import { type BuildData, Random } from '../src/kernel/index.ts'
import { keyedVerdict } from '../src/wiring/keyed.ts'
import { scoreCars } from './cars.ts'
import { shareOf } from './interval.ts'

/** A fault of the loom, the reading that shows it, and what must be found of it. Its size is drawn between the two, evenly on a logarithm. */
interface Case {
  fault: FaultId
  kind: WiringInstrument
  at?: object
  finding: string
  size?: readonly [low: number, high: number]
}
const cases: readonly Case[] = [
  // 2.5 A through the unit’s ground: 0.1 V wants 0.04 ohm, of which 0.006 are there
  { fault: 'weak-ground', kind: 'wiring.ground-drop', at: { ground: 'unit' }, finding: 'wiring.ground-drop', size: [0.045, 0.1] },
  // 170 A through the strap: 0.3 V wants 0.0018 ohm
  { fault: 'engine-strap', kind: 'wiring.ground-drop', at: { ground: 'engine' }, finding: 'wiring.ground-drop', size: [0.003, 0.03] },
  { fault: 'feed-corroded', kind: 'wiring.crank-volts', finding: 'wiring.crank-volts', size: [0.2, 0.6] },
  { fault: 'lead-chafed', kind: 'wiring.insulation', finding: 'wiring.short', size: [0.1, 500] },
  { fault: 'unit-plug-loose', kind: 'wiring.connector', at: { place: 'unit' }, finding: 'wiring.failed' },
  { fault: 'bus-not-ended', kind: 'wiring.bus', finding: 'wiring.failed' },
  { fault: 'parked-draw', kind: 'wiring.parked-draw', finding: 'wiring.parked-draw', size: [0.06, 3] },
  { fault: 'keyed-resistor', kind: 'wiring.keyed', at: { candidate: 'switch' }, finding: 'wiring.keyed', size: [0.5, 6] },
  { fault: 'keyed-dead-on-crank', kind: 'wiring.keyed', at: { candidate: 'switch' }, finding: 'wiring.keyed' },
]
const logBetween = (rng: Random, [low, high]: readonly [number, number]): number => low * (high / low) ** rng.next()

function carAt(seed: number, fault: { id: FaultId; size?: number } | null): BuildData {
  const rng = new Random(seed)
  const car = scoreCars[Math.floor(rng.next() * scoreCars.length)]
  return {
    id: `wiring-${seed}`,
    title: car.name,
    facts: { ...car.facts, electrics: { ...car.facts.electrics, polarity: 'negative-earth' } },
    choices: { ...car.choices, wiring: { bus: { ends: 2 } }, bench: { faults: fault ? [fault] : [] } },
    readings: [],
    tunes: [],
    logs: [],
  }
}
/** Whether what is read of a car is found. */
function isFound(build: BuildData, { kind, at, finding }: Case): boolean {
  const { value } = benchReading(build, kind, at)
  const station = evaluate({ ...build, readings: [madeReading(kind, value as never)] }).stations.find((s) => s.id === 'wiring')!
  return station.findings.some((f) => f.id === finding)
}

/** Rows of a table: of each fault how often its own reading finds it, and how often that reading finds something on a sound car. */
export function scoreWiring(trials: number, firstSeed: number): { name: string; found: number; falsely: number }[] {
  return cases.map((c) => {
    const seeds = Array.from({ length: trials }, (_, k) => firstSeed + k)
    const sized = (seed: number) => ({ id: c.fault, ...(c.size ? { size: logBetween(new Random(seed * 7 + 1), c.size) } : {}) })
    return {
      name: benchFaults[c.fault].title,
      found: seeds.filter((seed) => isFound(carAt(seed, sized(seed)), c)).length,
      falsely: seeds.filter((seed) => isFound(carAt(seed, null), c)).length,
    }
  })
}
const kinds: readonly (readonly [KeyedCandidate, FaultId | null, boolean, string])[] = [
  ['switch', null, false, 'good'],
  ['accessory', null, false, 'accessory'],
  ['lamps', null, false, 'not-keyed'],
  ['coil', null, true, 'resistor-fed'],
  ['switch', 'keyed-dead-on-crank', false, 'dead-on-crank'],
  ['switch', 'keyed-resistor', false, 'resistor-fed'],
]
/** How often a wire for the keyed supply is told for what it is. */
export function scoreKeyed(trials: number, firstSeed: number): { name: string; right: number }[] {
  return kinds.map(([candidate, fault, ballast, kind]) => ({
    name: `${keyedCandidates[candidate]}${ballast ? ', behind a ballast' : ''}${fault ? `: ${benchFaults[fault].title.toLowerCase()}` : ''}`,
    right: Array.from({ length: trials }, (_, k) => {
      const seed = firstSeed + k
      // under 2 V lost it is a poor joint by the rule: a resistor that takes more is asked for here
      const size = logBetween(new Random(seed * 7 + 1), [1.6, 6])
      const build = carAt(seed, fault ? { id: fault, ...(fault === 'keyed-resistor' ? { size } : {}) } : null)
      const told = { ...build, facts: { ...build.facts, ignition: { ...build.facts.ignition, ballastResistor: ballast } } }
      return keyedVerdict(benchReading(told, 'wiring.keyed', { candidate }).value as never).kind === kind
    }).filter(Boolean).length,
  }))
}

/** The tables of docs/wiring.md. */
export function wiringTable(trials: number, firstSeed: number): string {
  return [
    '### What a meter finds in the loom',
    '',
    `${trials} trials each, seeds from ${firstSeed}, on the made-up cars of the scores; sizes drawn anew from where the handbook’s limit is passed. Found by its own reading, and found by that reading on a sound car.`,
    '',
    '| fault | found | found on a sound car |',
    '| --- | --- | --- |',
    ...scoreWiring(trials, firstSeed).map((s) => `| ${s.name} | ${shareOf(s.found, trials)} | ${shareOf(s.falsely, trials)} |`),
    '',
    '| wire for the keyed supply | told for what it is |',
    '| --- | --- |',
    ...scoreKeyed(trials, firstSeed).map((s) => `| ${s.name} | ${shareOf(s.right, trials)} |`),
  ].join('\n')
}
