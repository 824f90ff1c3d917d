import { describe, expect, it } from 'vitest'
import { cautionsFor, contextOf, evaluate } from '../judge/judgement.ts'
import { soundBuild } from '../judge/made-up.fixture.ts'
import { stations } from '../judge/stations.ts'
import { cautions } from '../kernel/cautions.ts'
import { factsThatMatter, missingFacts, sharpeningFacts } from './needs.ts'
import { surveyNumbers } from './numbers.ts'
import { parseTyreSize, rollingCircumferenceM } from './tyre.ts'

const found = (facts: object) => evaluate(soundBuild({ facts })).stations.find((s) => s.id === 'survey')!.findings
const finding = (id: string, facts: object) => found(facts).find((f) => f.id === id)

describe('tyre sizes', () => {
  it.each([
    ['205/70R15', { kind: 'metric', widthMm: 205, aspectPct: 70, rimIn: 15 }],
    ['205/70 VR 15', { kind: 'metric', widthMm: 205, aspectPct: 70, rimIn: 15 }],
    ['p215/65r16', { kind: 'metric', widthMm: 215, aspectPct: 65, rimIn: 16 }],
    ['185R14', { kind: 'metric', widthMm: 185, aspectPct: 82, rimIn: 14 }],
    ['165/80R14 85T', { kind: 'metric', widthMm: 165, aspectPct: 80, rimIn: 14 }],
    ['6.40-13', { kind: 'bias-ply', widthIn: 6.4, rimIn: 13 }],
    ['5,60 x 15', { kind: 'bias-ply', widthIn: 5.6, rimIn: 15 }],
    ['fat ones', null],
    ['999/70R15', null],
    ['205/70R99', null],
  ])('%s', (text, size) => expect(parseTyreSize(text)).toEqual(size))
  it('the circumference entered wins, then the diameter measured, then the size', () => {
    expect(rollingCircumferenceM({ tyreCircumferenceM: 2, tyreDiameterMm: 640, tyreSize: '205/70R15' })).toBe(2)
    // 640 mm x 3.05
    expect(rollingCircumferenceM({ tyreDiameterMm: 640, tyreSize: '205/70R15' })).toBeCloseTo(1.952, 9)
    expect(rollingCircumferenceM({ tyreSize: '6.40-13' })).toBeNull()
    expect(rollingCircumferenceM({})).toBeNull()
  })
})

describe('survey findings', () => {
  it('a sound car has neither stop nor warn', () => expect(found({}).filter((f) => f.severity !== 'note')).toEqual([]))
  it.each<[string, object, string, 'stop' | 'warn' | 'note']>([
    ['a two-stroke', { engine: { cycle: 'two-stroke' } }, 'survey.two-stroke', 'stop'],
    ['compression 18 % apart', { health: { compressionKpa: [1000, 990, 820, 995, 1000, 990] } }, 'survey.health', 'warn'],
    ['leak-down over a fifth', { health: { leakDownPct: [8, 9, 24, 7, 8, 9] } }, 'survey.health', 'warn'],
    ['a loose distributor shaft', { health: { shaftPlayMm: 0.2 } }, 'survey.health', 'warn'],
    ['exhaust leaks', { exhaust: { leaks: true } }, 'survey.health', 'warn'],
    ['figures for four of six cylinders', { health: { compressionKpa: [1000, 990, 980, 995] } }, 'survey.cylinder-count', 'warn'],
    ['boost that nobody knows', { induction: { kind: 'draw-through' } }, 'survey.boost-unknown', 'warn'],
    ['a tyre size nobody can read', { gearing: { tyreSize: 'fat' } }, 'survey.tyre', 'warn'],
    ['size against circumference', { gearing: { tyreSize: '205/70R15', tyreCircumferenceM: 1.8 } }, 'survey.tyre', 'warn'],
    ['a bias-ply size alone', { gearing: { tyreSize: '6.40-13' } }, 'survey.tyre', 'note'],
    ['a sensor in one branch', { exhaust: { bung: 'one-branch' } }, 'survey.bung', 'note'],
    ['a conversion half done', { place: { startsFrom: 'half-finished' } }, 'survey.half-finished', 'note'],
  ])('finds %s', (_what, facts, id, severity) => expect(finding(id, facts)?.severity).toBe(severity))
  it('names the lowest cylinder', () =>
    expect(finding('survey.health', { health: { compressionKpa: [1000, 990, 820, 995, 1000, 990] } })!.because).toContain(
      'cylinder 3 is lowest',
    ))
})

describe('what still matters', () => {
  it('an empty survey lacks what nothing can stand in for; a sound one lacks none of it', () => {
    const empty = contextOf({ id: 'x', title: 'x', facts: {}, choices: {}, readings: [], tunes: [], logs: [] })
    expect(missingFacts(empty)).toHaveLength(factsThatMatter.filter((f) => f.needed).length)
    expect(missingFacts(contextOf(soundBuild()))).toEqual([])
  })
  it('bore and stroke stand in for the displacement, a barometer for the altitude', () => {
    const c = contextOf(soundBuild({ facts: { engine: { displacementCc: null, boreMm: 86, strokeMm: 91 }, place: { altitudeM: null } } }))
    expect(missingFacts(c).map((f) => f.path)).not.toContain('engine.displacementCc')
    expect(sharpeningFacts(c, 'fuel').map((f) => f.path)).not.toContain('place.altitudeM')
  })
  it('an engine on a stand is not asked for gears or exhaust', () => {
    const road = sharpeningFacts(contextOf(soundBuild())).map((f) => f.path)
    const stand = sharpeningFacts(contextOf(soundBuild({ facts: { place: { onStand: true } } }))).map((f) => f.path)
    expect(road).toContain('gearing.axleRatio')
    expect(stand.some((p) => p.startsWith('gearing.') || p.startsWith('exhaust.'))).toBe(false)
  })
  it('every fact that matters names a station of the line and says why', () => {
    const ids = stations.map((s) => s.id as string)
    for (const f of factsThatMatter) {
      expect(ids).toContain(f.station)
      expect(f.why.length).toBeGreaterThan(8)
    }
  })
})

describe('numbers of the survey', () => {
  it('overlap, idle MAP and tyre come with formula and source', () => {
    const numbers = surveyNumbers(
      contextOf(
        soundBuild({
          facts: { cam: { inletDurationDeg: 212, exhaustDurationDeg: 218, lobeSeparationDeg: 110 }, gearing: { tyreSize: '205/70R15' } },
        }),
      ),
    )
    const of = (id: string) => numbers.find((n) => n.id === id)!
    // (212 + 218) / 2 - 2 x 110
    expect(of('survey.overlap').value).toBe(-5)
    expect(of('survey.idle-map').value).toBe(47)
    expect(of('survey.tyre').value).toBeCloseTo(2.0374, 4)
    expect(numbers.every((n) => n.formula && n.source)).toBe(true)
  })
})

describe('cautions', () => {
  it('stand once each, and fuel carries dangers, orders and whose word goes first', () => {
    expect(new Set(cautions.map((c) => c.id)).size).toBe(cautions.length)
    expect(new Set(cautions.map((c) => c.text)).size).toBe(cautions.length)
    expect(new Set(cautionsFor('fuel').map((c) => c.kind))).toEqual(new Set(['danger', 'order', 'defer']))
  })
})
