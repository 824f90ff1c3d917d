import { benchFaults, type FaultId } from '../src/bench/faults.ts'
import { benchAirKgH, benchSweep } from '../src/bench/fitup.ts'
import { balanceOf, judgeTracks } from '../src/fitup/index.ts'
import { madeReading } from '../src/judge/made-up.fixture.ts'
import { type BuildData, Random, type StoredReading } from '../src/kernel/index.ts'
import { scoreCars } from './cars.ts'
import { shareOf } from './interval.ts'

/** A fault of two tracks, which sweep shows it, and the word that must be said of it. Its size is drawn between the two, evenly on a logarithm. */
const cases: readonly { fault: FaultId; which: 'pedal' | 'plate'; says: RegExp; size?: readonly [number, number] }[] = [
  // 30 mV on a span of 3.14 V is 1 % rms where it scratches: 0.5 is the most
  { fault: 'pedal-noisy', which: 'pedal', says: /noise|spikes/, size: [30, 300] },
  { fault: 'tracks-apart', which: 'pedal', says: /the tracks differ/, size: [5.5, 30] },
  { fault: 'track-supply', which: 'pedal', says: /falls to nothing/ },
  { fault: 'plate-stuck', which: 'plate', says: /neither track moves/ },
]
function carAt(seed: number, name: string, fault: { id: FaultId; size?: number } | null): BuildData {
  const rng = new Random(seed)
  const car = scoreCars[Math.floor(rng.next() * scoreCars.length)]
  return {
    id: `${name}-${seed}`,
    title: car.name,
    facts: car.facts,
    choices: { ...car.choices, bench: { faults: fault ? [fault] : [] } },
    readings: [],
    tunes: [],
    logs: [],
  }
}
const seedsFrom = (first: number, trials: number): number[] => Array.from({ length: trials }, (_, k) => first + k)

export function scoreTracks(trials: number, first: number): { name: string; found: number; falsely: number }[] {
  return cases.map(({ fault, which, says, size }) => {
    const sized = (seed: number) => {
      const [low, high] = size ?? [1, 1]
      return { id: fault, ...(size ? { size: low * (high / low) ** new Random(seed * 7 + 1).next() } : {}) }
    }
    const said = (build: BuildData): string => judgeTracks(benchSweep(build, which)).wrong.join('; ')
    return {
      name: benchFaults[fault].title,
      found: seedsFrom(first, trials).filter((seed) => says.test(said(carAt(seed, 'tracks', sized(seed))))).length,
      falsely: seedsFrom(first, trials).filter((seed) => said(carAt(seed, 'tracks', null)) !== '').length,
    }
  })
}

const MOST_PASSES = 8
/** In how many turnings of the screws the throttles of each bench car come to breathe alike; `MOST_PASSES` and over: they did not. */
export function scoreBalance(trials: number, first: number): number[] {
  return seedsFrom(first, trials).map((seed) => {
    const build = carAt(seed, 'balance', null)
    const looks: StoredReading[] = []
    let turned: number[] = []
    for (let pass = 0; pass < MOST_PASSES; pass++) {
      const flowsKgH = benchAirKgH({ ...build, readings: looks }, 'idle', turned)
      looks.push(madeReading('fitup.balance', { at: 'idle', flowsKgH, turned }))
      const balance = balanceOf(looks.map((r) => r.value as { flowsKgH: number[]; turned: number[] }))!
      if (balance.even) return pass
      turned = balance.turns
    }
    return MOST_PASSES
  })
}

/** The tables of docs/fitup.md. */
export function fitupTable(trials: number, first: number): string {
  const passes = scoreBalance(trials, first)
  const within = (n: number): string => shareOf(passes.filter((p) => p <= n).length, trials)
  return [
    '### What two tracks show',
    '',
    `${trials} sweeps each, seeds from ${first}; sizes drawn anew from where the handbook’s limit is passed. Told for what it is, and said to be wrong on a sound car.`,
    '',
    '| fault | told | said of a sound car |',
    '| --- | --- | --- |',
    ...scoreTracks(trials, first).map((s) => `| ${s.name} | ${shareOf(s.found, trials)} | ${shareOf(s.falsely, trials)} |`),
    '',
    `Throttles up to 18 % from each other at first, screws that differ by a fifth, a gauge that scatters by 1.2 %, ${trials} cars:`,
    '',
    '| turnings of the screws | alike within 5 % |',
    '| --- | --- |',
    ...[1, 2, 3, 4].map((n) => `| ${n} | ${within(n)} |`),
  ].join('\n')
}
