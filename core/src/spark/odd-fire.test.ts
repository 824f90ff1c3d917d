import { describe, expect, it } from 'vitest'
import { contextOf, evaluate } from '../judge/judgement.ts'
import { soundBuild } from '../judge/made-up.fixture.ts'
import { oddAngles } from './fitting.ts'

const uneven = (engine: object, spark: object = { trigger: 'hall' }) =>
  soundBuild({ facts: { engine: { oddFire: true, ...engine } }, choices: { spark } })
const found = (build: ReturnType<typeof uneven>) => evaluate(build).stations.find((s) => s.id === 'spark')!.findings
const of = (build: ReturnType<typeof uneven>, id: string) => found(build).find((f) => f.id === id)

// a vee six on a crank of three throws: 90 and 150 degrees in turn, 720 in all
const six = { firingOrder: [1, 6, 5, 4, 3, 2], firingIntervalsDeg: [90, 150, 90, 150, 90, 150] }

describe('an engine that fires unevenly', () => {
  it('has each cylinder at its own angle of the two turns', () => {
    expect(oddAngles(contextOf(uneven(six)))).toEqual([
      { cylinder: 1, deg: 0 },
      { cylinder: 6, deg: 90 },
      { cylinder: 5, deg: 240 },
      { cylinder: 4, deg: 330 },
      { cylinder: 3, deg: 480 },
      { cylinder: 2, deg: 570 },
    ])
    expect(oddAngles(contextOf(uneven({})))).toBeNull()
  })
  it('is not timed from here, and its angles are told', () => {
    const stop = of(uneven(six), 'spark.odd-fire')!
    expect(stop.severity).toBe('stop')
    expect(stop.because).toContain('number 5 at 240°')
    expect(stop.remedy).toContain('give it these')
  })
  it('without its intervals the stop leads to where they are told', () => {
    const stop = of(uneven({}), 'spark.odd-fire')!
    expect(stop.severity).toBe('stop')
    expect(stop.where).toMatchObject({ field: 'facts.engine.firingIntervalsDeg' })
  })
  it('where the unit only listens it is a rough speed, and no stop', () =>
    expect(of(uneven(six, { trigger: 'speed-signal' }), 'spark.odd-fire')!.severity).toBe('warn'))
  it.each([
    ['720° in six', six.firingIntervalsDeg, false],
    ['721°', [90, 150, 90, 150, 90, 151], false],
    ['722°', [90, 150, 90, 150, 90, 152], true],
    ['five on six cylinders', [90, 150, 90, 150, 240], true],
  ])('intervals of %s', (_what, firingIntervalsDeg, wrong) =>
    expect(of(uneven({ ...six, firingIntervalsDeg }), 'spark.odd-intervals') !== undefined).toBe(wrong),
  )
})
