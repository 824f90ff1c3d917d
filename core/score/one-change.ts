import { randomUUID } from 'node:crypto'
import { contextOf } from '../src/judge/index.ts'
import { type BuildData, Random, type StoredReading, type TuneSummary } from '../src/kernel/index.ts'
import { benchDrive, everydayDrive } from '../src/bench/index.ts'
import { lastTest, learnReading, learnSetup, reversalShown, solveWithSetup } from '../src/learn/index.ts'
import { type TuneDocument, type TuneParameters, tuneDifferences } from '../src/tune/index.ts'
import { buildOf } from './cars.ts'
import { drivenCars } from './driven.ts'
import { shareOf } from './interval.ts'
import { learned } from './steps.ts'

/** What is changed between two logs: each by so little that nobody feels it, or by so much that the mixture goes. */
const changes: readonly {
  id: string
  of: (p: TuneParameters, size: number) => Partial<TuneParameters>
  little: number
  much: [number, number]
}[] = [
  {
    id: 'parameters.injectorCcMin',
    of: (p, pct) => ({ injectorCcMin: Math.round(10 * p.injectorCcMin * (1 + pct / 100)) / 10 }),
    little: 0.4,
    much: [5, 12],
  },
  {
    id: 'parameters.deadTimeMs',
    of: (p, ms) => ({ deadTimeMs: p.deadTimeMs.map(([volts, at]): [number, number] => [volts, Math.round(1000 * (at + ms)) / 1000]) }),
    little: 0.01,
    much: [0.3, 0.6],
  },
  { id: 'parameters.stoichAfr', of: (p, pct) => ({ stoichAfr: p.stoichAfr * (1 + pct / 100) }), little: 0.3, much: [5, 12] },
  { id: 'parameters.chargeHeatShare', of: (p, by) => ({ chargeHeatShare: p.chargeHeatShare + by }), little: 0.01, much: [0.25, 0.4] },
]

/** 'elsewhere': the two logs were driven at other places */
type Moved = 'same' | 'better' | 'worse' | 'elsewhere' | 'not told'
export interface OneChangeOutcome {
  car: string
  /** two small changes alone: what is said of them */
  harmless: Moved
  /** a large one and a small one together */
  moved: Moved
  /** the large one, and the small one, put back alone */
  large: string
  small: string
}
const MINUTES = 15

/** A version that is right, then one with a large and a small change; each put back alone, as the reversal test asks. A car that was learned is driven. */
export function scoreOneChange(k: number, seed: number): OneChangeOutcome {
  const car = drivenCars[k]
  const random = new Random(seed * 41 + k)
  const right = learned(car, seed)
  const build = buildOf({ ...car, choices: { ...car.choices, unit: { learns: 'nobody' } } }, seed)
  const [first, second] = [Math.floor(random.next() * changes.length), Math.floor(random.next() * (changes.length - 1))]
  const [big, tiny] = [changes[first], changes.filter((_, i) => i !== first)[second]]
  const sign = random.next() < 0.5 ? -1 : 1
  const size = sign * (big.much[0] + random.next() * (big.much[1] - big.much[0]))
  const little = random.next() < 0.5 ? -tiny.little : tiny.little
  const version = (parts: Partial<TuneParameters>): TuneDocument => ({ ...right, parameters: { ...right.parameters, ...parts } })
  const [large, small] = [big.of(right.parameters, size), tiny.of(right.parameters, little)]
  let number = 0
  let drives = 0
  const made = (document: TuneDocument, of: { id: string; document: TuneDocument } | null) => {
    const summary: TuneSummary = {
      ...{ id: randomUUID(), number: ++number, name: 'scored', status: 'ready', origin: 'edited', parentId: of?.id ?? null },
      ...{
        createdAt: '',
        inCarSince: null,
        problems: [],
        changed: of ? tuneDifferences(of.document, document).map((d) => d.id) : undefined,
      },
    }
    return { ...summary, document }
  }
  type Made = ReturnType<typeof made>
  const solved = (tune: Made): StoredReading => {
    const drive = benchDrive(build, tune.document, everydayDrive(MINUTES, seed * 53 + drives++))
    const value = learnReading(solveWithSetup(drive, learnSetup(build, tune.document)), randomUUID(), tune.id)
    return { ...entry, id: randomUUID(), kind: 'learn.result', value } as unknown as StoredReading
  }
  const seen = (tunes: readonly Made[], readings: readonly StoredReading[]) =>
    contextOf({ ...build, tunes: [...tunes], readings: [...readings] } as BuildData)
  const a = made(right, null)
  const ofA = solved(a)
  // the small one, and as little of what the large one moves
  const quiet = made(version({ ...small, ...big.of(right.parameters, sign * big.little) }), a)
  const harmless = lastTest(seen([a, quiet], [ofA, solved(quiet)]))?.moved ?? 'not told'
  const b = made(version({ ...large, ...small }), a)
  const ofB = solved(b)
  const moved = lastTest(seen([a, b], [ofA, ofB]))?.moved ?? 'not told'
  const back = (what: string, document: TuneDocument): string => {
    const c = made(document, b)
    const reversal = {
      ...{ ...entry, id: randomUUID(), kind: 'learn.reversal' },
      value: { tuneId: c.id, ofTuneId: b.id, toTuneId: a.id, what },
    } as unknown as StoredReading
    return reversalShown(seen([a, b, c], [ofA, ofB, reversal, solved(c)]))?.says ?? 'not told'
  }
  return { car: car.name, harmless, moved, large: back(big.id, version(small)), small: back(tiny.id, version(large)) }
}
const entry = { instrument: null, who: 'score', takenAt: '2026-01-01T00:00:00.000Z', conditions: null, supersedes: null, source: 'app' }

/** The table of how often it is right, in Markdown. */
export function oneChangeTable(all: readonly OneChangeOutcome[]): string {
  const line = (name: string, list: readonly OneChangeOutcome[]) => {
    const worse = list.filter((o) => o.moved === 'worse')
    const share = (of: readonly OneChangeOutcome[], is: (o: OneChangeOutcome) => boolean) => shareOf(of.filter(is).length, of.length)
    return [
      name,
      share(list, (o) => o.harmless !== 'same'),
      share(list, (o) => o.moved === 'worse'),
      share(worse, (o) => o.large === 'cause'),
      share(worse, (o) => o.large === 'not-cause'),
      share(worse, (o) => o.small === 'not-cause'),
      share(worse, (o) => o.small === 'cause'),
    ]
  }
  const head = [
    'car',
    'two changes nobody feels: called a move',
    'a large one with a small one: called worse',
    'the large one put back: called the cause',
    'called not the cause',
    'the small one put back: called not the cause',
    'called the cause',
  ]
  const rows = [
    ...drivenCars.map((car) =>
      line(
        car.name,
        all.filter((o) => o.car === car.name),
      ),
    ),
    line('**all**', all),
  ]
  return [
    '### Which of two changes it was',
    '',
    `| ${head.join(' | ')} |`,
    `| ${head.map(() => '---').join(' | ')} |`,
    ...rows.map((r) => `| ${r.join(' | ')} |`),
  ].join('\n')
}
