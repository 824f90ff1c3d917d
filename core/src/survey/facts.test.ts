import { describe, expect, it } from 'vitest'
import { handoverReport } from '../judge/report.ts'
import { wordsOf } from '../kernel/say.ts'
import { factSays } from './fact-words.ts'
import { allFacts, factAt, type FactPath, Facts } from './facts.ts'
import { resolveFacts } from './resolve.ts'

describe('the catalogue of facts', () => {
  it('has a label, a field and a schema for each, and says why for each that a station wants', () => {
    for (const f of allFacts) {
      expect(f.label.length).toBeGreaterThan(2)
      expect(f.schema.safeParse(undefined).success).toBe(false)
      if (f.wantedBy) expect(f.why!.length).toBeGreaterThan(8)
      if (f.needed) expect(f.wantedBy).toBe('survey')
    }
  })
  it.each<[string, object, boolean]>([
    ['compression at its bound', { engine: { compressionRatio: 16 } }, true],
    ['compression over it', { engine: { compressionRatio: 16.01 } }, false],
    ['cylinders not whole', { engine: { cylinders: 5.5 } }, false],
    ['an unknown fact', { engine: { colour: 'red' } }, false],
    ['nothing known', {}, true],
    ['a mark from 1 to 5', { baseline: { smell: 6 } }, false],
  ])('%s', (_what, facts, taken) => expect(Facts.safeParse(facts).success).toBe(taken))

  /** A value that the fact's own field could give. */
  const anyValue = (path: FactPath): unknown => {
    const { input, schema } = factAt(path)
    if (input.kind === 'choice') return input.options[0].value
    if (input.kind === 'text') return 'as said'
    if (input.kind === 'order') return [1, 2]
    for (const value of [1, 5, 8, 100, 300, 700, 1950, 2000]) {
      const one = input.kind === 'numbers' ? [value] : value
      if (schema.safeParse(one).success) return one
    }
    throw new Error(`no value for ${path}`)
  }
  it.each(allFacts.map((f) => f.path))('%s does something: it stands on the hand-over sheet under its label', (path) => {
    const [group, name] = path.split('.')
    const value = anyValue(path)
    const facts = { [group]: { [name]: value } }
    expect(Facts.safeParse(facts).success).toBe(true)
    const lines = handoverReport({ id: 'x', title: 'x', facts, choices: {}, readings: [], tunes: [], logs: [] }).flatMap((s) => s.lines)
    const words = wordsOf(factSays(path, value))
    expect(lines.some((l) => wordsOf(l.text).includes(words))).toBe(true)
  })
})

describe('one resolution of what was told', () => {
  const facts = { engine: { cylinders: 4, displacementCc: 2000 }, cam: { class: 'hot' as const } }
  it('takes the fact, else the person’s own figure, else the stated assumption', () => {
    // 41 kW x 2^0.57 = 60.9, half more with a hot cam; redline 6200 rpm (catalogue)
    expect(resolveFacts({ facts })).toMatchObject({ powerKw: 91, redlineRpm: 6200, compressionRatio: 8.5 })
    expect(resolveFacts({ facts: { ...facts, engine: { ...facts.engine, powerKw: 101 } } }).powerKw).toBe(101)
    const own = resolveFacts({ facts, choices: { plan: { overrides: { power: { value: 77, reason: 'dyno' } } } } })
    expect(own.powerKw).toBe(77)
    expect(own.assumptions.map((a) => a.path)).not.toContain('engine.powerKw')
  })
  it('names each assumption with its reason, in the reader’s units', () => {
    const vacuum = resolveFacts({ facts: { ...facts, place: { barometerKpa: 100 } } }).assumptions.find(
      (a) => a.path === 'cam.idleVacuumKpa',
    )!
    // hot: idle at 56 kPa
    expect(wordsOf(vacuum.value)).toBe('44 kPa')
    expect(wordsOf(vacuum.value, { system: 'inch', mixture: 'lambda', stoichAfr: 14.7 })).toBe('6.4 psi')
    expect(vacuum.reason).toBe('usual with a hot cam')
  })
  it('a crank trigger needs no rotor: none is assumed', () => {
    const paths = resolveFacts({ facts, choices: { spark: { trigger: 'crank-cam' } } }).assumptions.map((a) => a.path)
    expect(paths.some((p) => p.includes('rotor'))).toBe(false)
    expect(resolveFacts({ facts }).assumptions.some((a) => a.path === 'ignition.rotorRadiusMm')).toBe(true)
  })
})
