import { describe, expect, it } from 'vitest'
import { demoBuild } from '../bench/demo-build.fixture.ts'
import { computeBaseTune } from './base-tune.ts'
import { fuelBasis, knownAt, type KnownFuel, knownNow } from './known.ts'
import { TuneDocument } from './tune.ts'

const b = demoBuild('3-staffetta.json')
const base = computeBaseTune(b.facts, b.choices)
const n = base.tables.ve.length
const known = {
  ve: base.tables.ve,
  basis: fuelBasis(base),
  leftPct: new Array<number>(n).fill(2),
  standardErrorPct: new Array<number>(n).fill(0.5),
}

describe('what is known of a tune', () => {
  it('is kept with it, and is nothing for one that no log was learned into', () => {
    expect(TuneDocument.safeParse({ ...base, known }).success).toBe(true)
    expect(knownNow(base)).toBeNull()
    const now = knownNow({ ...base, known })!
    expect([Math.min(...now.leftPct), Math.max(...now.leftPct)].map((v) => v.toFixed(6))).toEqual(['2.000000', '2.000000'])
    expect(now.standardErrorPct).toEqual(known.standardErrorPct)
  })
  it('a cell made 5 % richer by hand wants 2 % more of 5 % less: 1.02 / 1.05 - 1 = -2.857 %', () => {
    const ve = base.tables.ve.map((v, c) => (c === 7 ? v * 1.05 : v))
    const { leftPct } = knownNow({ ...base, tables: { ...base.tables, ve }, known })!
    expect(leftPct[7]).toBeCloseTo(-2.857, 3)
    expect(leftPct[8]).toBeCloseTo(2, 9)
  })
  it.each([
    ['injectorCcMin', base.parameters.injectorCcMin + 1],
    ['stoichAfr', base.parameters.stoichAfr + 0.1],
    ['deadTimeMs', base.parameters.deadTimeMs.map(([v, ms]) => [v, ms + 0.1])],
  ])('is nothing any more when %s changes', (name, value) =>
    expect(knownNow({ ...base, parameters: { ...base.parameters, [name]: value } as never, known })).toBeNull(),
  )
  it('stays when what is changed meters no fuel', () =>
    expect(knownNow({ ...base, parameters: { ...base.parameters, revLimitRpm: 5000 }, known })).not.toBeNull())
  it('is nothing any more when VE stands at other breakpoints, be they as many', () => {
    const axes = { ...base.axes, rpm: base.axes.rpm.map((v, i) => (i === 3 ? v + 50 : v)) }
    expect(knownNow({ ...base, axes, known })).toBeNull()
  })
  it('needs the table by throttle too where one gives the fuel', () => {
    const runner = computeBaseTune(b.facts, { ...b.choices, plan: { ...b.choices.plan, route: 'individual-runner' } }).runner!
    expect(knownNow({ ...base, runner, known })).toBeNull()
    const both = {
      ...known,
      basis: fuelBasis({ ...base, runner }),
      runner: { ve: runner.ve, leftPct: runner.ve.map(() => 4), standardErrorPct: runner.ve.map(() => 1) },
    }
    expect(knownNow({ ...base, runner, known: both })!.runner!.leftPct[0]).toBeCloseTo(4, 9)
  })
})

it('between two tables it is shared as the fuel is: half way from 3 to 12 % of throttle, 2 and 6 make 4', () => {
  const at: KnownFuel = {
    axes: { rpm: [1000, 2000], mapKpa: [40, 80] },
    leftPct: [2, 2, 2, 2],
    standardErrorPct: [1, 1, 1, 1],
    runner: { throttlePct: [0, 100], blendFromPct: 3, blendToPct: 12, leftPct: [6, 6, 6, 6], standardErrorPct: [3, 3, 3, 3] },
  }
  const left = (throttlePct: number) => knownAt(at, { rpm: 1500, mapKpa: 60, throttlePct })
  expect([left(3), left(7.5), left(12), left(NaN)].map((l) => l.leftPct)).toEqual([2, 4, 6, 2])
  expect(left(7.5).standardErrorPct).toBeCloseTo(2, 9)
})
