import { describe, expect, it } from 'vitest'
import { contextOf, evaluate } from '../judge/judgement.ts'
import { madeReading, soundBuild } from '../judge/made-up.fixture.ts'
import type { BuildData, EntryKind, StoredReading, TuneSummary } from '../kernel/index.ts'
import { idleMoves, idlePoints, warmDays } from './history.ts'
import { idleChanges, valveBandPct } from './options.ts'

const TUNE = '6d0f4a52-0c1e-4f7a-9d3b-1f62a0c80001'
const NEXT = '6d0f4a52-0c1e-4f7a-9d3b-1f62a0c80002'
const figures = {
  idleHotRpm: 800,
  idleValveHotPct: 8,
  idleAdaptMostPct: 60,
  idleGainPct: 1.2,
  idleIntegralPctS: 2.4,
  idleDampingPct: 0,
  veIdlePct: 50,
}
const tune = (id: string, number: number, more: Partial<TuneSummary> = {}): TuneSummary => ({
  id,
  number,
  name: `v${number}`,
  status: 'in-car',
  origin: 'computed',
  parentId: null,
  createdAt: '2026-11-01T00:00:00.000Z',
  inCarSince: '2026-11-01T00:00:00.000Z',
  problems: [],
  figures,
  ...more,
})
let order = 0
const made = (kind: EntryKind, value: object, day = '2026-11-10'): StoredReading =>
  ({
    ...madeReading(kind, value),
    takenAt: `${day}T10:00:00.000Z`,
    receivedAt: `${day}T10:00:00.000Z`,
    seq: ++order,
  }) as unknown as StoredReading
const verdict = (value: object = {}, day?: string) =>
  made('idle.verdict', { verdict: 'good', meanRpm: 800, rpmStdDev: 9, seconds: 60, tuneId: TUNE, valveMeanPct: 8, ...value }, day)
const build = (readings: StoredReading[], more: { choices?: object; tunes?: TuneSummary[] } = {}): BuildData => ({
  ...soundBuild(more.choices ? { choices: more.choices } : {}),
  tunes: more.tunes ?? [tune(TUNE, 1)],
  readings,
})
const station = (b: BuildData) => evaluate(b).stations.find((s) => s.id === 'idle')!
const unmet = (b: BuildData) =>
  station(b)
    .requirements.filter((r) => !r.met)
    .map((r) => r.id)
const findings = (b: BuildData) => station(b).findings.map((f) => f.id)
const zero = () => made('idle.zero', { closedPct: 0 })
const tight = () => made('idle.leak-test', { method: 'smoke', tight: true })

describe('Idle as a station', () => {
  it('is cleared by zero, leak test, and a good idle bare and loaded', () => {
    expect(unmet(build([]))).toEqual(['zero', 'leak-test', 'idle-good', 'idle-loads'])
    expect(unmet(build([zero(), tight(), verdict(), verdict({ regime: 'loads' })]))).toEqual([])
  })
  it('wants three warm days and a battery off of a unit that adapts its idle', () => {
    const learns = { choices: { unit: { idleLearns: 'valve' } } }
    const one = [zero(), tight(), verdict({}, '2026-11-10'), verdict({ regime: 'loads' })]
    expect(unmet(build(one, learns))).toEqual(['idle-days', 'battery-off'])
    const three = [
      ...one,
      verdict({ meanRpm: 815 }, '2026-11-11'),
      verdict({ valveMeanPct: 9.5 }, '2026-11-12'),
      made('idle.battery-off', { back: true }),
    ]
    expect(unmet(build(three, learns))).toEqual([])
  })
  it.each([
    ['30 rpm apart', { meanRpm: 830 }, true],
    ['31 rpm apart', { meanRpm: 831 }, false],
    ['2 % of valve apart', { valveMeanPct: 10 }, true],
    ['2.1 % of valve apart', { valveMeanPct: 10.1 }, false],
  ])('three days %s', (_what, third, agree) => {
    const days = [verdict({}, '2026-11-10'), verdict({}, '2026-11-11'), verdict(third, '2026-11-12')]
    expect(warmDays(days).agree).toBe(agree)
    expect(findings(build(days, { choices: { unit: { idleLearns: 'valve' } } })).includes('idle.days-apart')).toBe(!agree)
  })
  it('the zero is to be learned again after each turn, and the idle judged again', () => {
    const b = build([zero(), tight(), verdict(), verdict({ regime: 'loads' }), made('idle.screw', { turns: 0.25 })])
    expect(unmet(b)).toEqual(['zero', 'idle-good', 'idle-loads'])
    expect(findings(b)).toContain('idle.zero-stale')
  })
  it('a version that changes nothing of the idle leaves it judged; one that does, does not', () => {
    const clear = [zero(), tight(), verdict(), verdict({ regime: 'loads' })]
    const after = (more: object) =>
      unmet(build(clear, { tunes: [tune(TUNE, 1, { status: 'retired' }), tune(NEXT, 2, { figures: { ...figures, ...more } })] }))
    expect(after({ revLimitRpm: 5000 })).toEqual([])
    // 3 % of VE at the idle is the same, more is not
    expect(after({ veIdlePct: 51.4 })).toEqual([])
    expect(after({ veIdlePct: 52 })).toEqual(['idle-good', 'idle-loads'])
    expect(idleChanges(tune(TUNE, 1), tune(NEXT, 2, { figures: { ...figures, idleGainPct: 3 } }))).toEqual(['idleGainPct'])
  })
  it('a move that made it worse is said first, with its way back', () => {
    const worse = build([
      made('idle.point', { rpm: 800, valvePct: 20, mapKpa: 40 }),
      made('idle.screw', { turns: -0.25 }),
      made('idle.point', { rpm: 800, valvePct: 30, mapKpa: 40 }),
    ])
    expect(findings(worse)[0]).toBe('idle.worse')
    const [first] = station(worse).findings
    expect(first.remedy).toMatch(/0\.25 turns open/)
    expect(first.where).toMatchObject({ station: 'idle', part: 'air', offer: 0.25 })
    const better = build([
      made('idle.point', { rpm: 800, valvePct: 30, mapKpa: 40 }),
      made('idle.screw', { turns: 0.25 }),
      made('idle.point', { rpm: 800, valvePct: 20, mapKpa: 40 }),
    ])
    expect(findings(better)).not.toContain('idle.worse')
    expect(idleMoves(contextOf(better)).map((m) => m.better)).toEqual([true])
  })
  it('turns add up from look to look, and blocked looks are no looks at the idle', () => {
    const looks = [
      made('idle.point', { rpm: 800, valvePct: 20, mapKpa: 40 }),
      made('idle.screw', { turns: 0.25 }),
      made('idle.screw', { turns: 0.5 }),
      made('idle.point', { rpm: 680, valvePct: 20, mapKpa: 40, valve: 'blocked' }),
    ]
    expect(idlePoints(looks)).toMatchObject([{ turns: 0 }, { turns: 0.75, blocked: true }])
    expect(idleMoves(contextOf(build(looks)))).toMatchObject([{ after: null }, { after: null }])
  })
  it('a hot controller is named by its phase margin: under 30°', () => {
    const hunting = (figure: object) =>
      findings(
        build([verdict({ verdict: 'hunting-valve', loop: { periodS: 1.5, rpmPerSPct: 20, delayS: 0.25 } })], {
          tunes: [tune(TUNE, 1, { figures: { ...figures, idleIntegralPctS: 0, ...figure } })],
        }),
      ).includes('idle.gain')
    // 90° - w 0.25 s = 30° at w = 4.19 rad/s = 20 Kp/100: Kp = 20.9 %
    expect(hunting({ idleGainPct: 20.7 })).toBe(false)
    expect(hunting({ idleGainPct: 21.2 })).toBe(true)
  })
  it('a hose that leaks refutes the leak test, until it was clamped again', () => {
    const hose = (afterRpm: number) => made('idle.hose', { hose: 'Booster', beforeRpm: 800, afterRpm })
    const leaking = build([tight(), hose(700)])
    expect(findings(leaking)).toContain('idle.hose-leaks')
    expect(unmet(leaking)).toContain('leak-test')
    expect(findings(build([hose(700), hose(800), tight()]))).not.toContain('idle.hose-leaks')
  })
  it.each([
    ['a zero of 0.5 %', made('idle.zero', { closedPct: 0.5 }), 'zero', true],
    ['a zero of 0.55 %', made('idle.zero', { closedPct: 0.55 }), 'zero', false],
    ['a zero of -0.55 %', made('idle.zero', { closedPct: -0.55 }), 'zero', false],
  ])('%s', (_what, entry, id, met) => expect(unmet(build([entry])).includes(id)).toBe(!met))
  it.each([
    ['29 rpm', { beforeRpm: 800, afterRpm: 829 }, false],
    ['31 rpm', { beforeRpm: 800, afterRpm: 769 }, true],
    ['0.9 kPa', { beforeRpm: 800, afterRpm: 800, beforeKpa: 40, afterKpa: 40.9 }, false],
    ['1.1 kPa', { beforeRpm: 800, afterRpm: 800, beforeKpa: 40, afterKpa: 38.9 }, true],
  ])('a hose that changes it by %s', (_what, value, leaks) =>
    expect(findings(build([made('idle.hose', { hose: 'Booster', ...value })])).includes('idle.hose-leaks')).toBe(leaks),
  )
  it('a gear may take 100 rpm', () => {
    const drop = (dropRpm: number) => findings(build([made('idle.load', { load: 'gear', dropRpm, backS: 1 })])).includes('idle.drop')
    expect(drop(100)).toBe(false)
    expect(drop(103)).toBe(true)
  })
  it('a load that drops it too far is named with the move', () => {
    const drop = (dropRpm: number) => findings(build([made('idle.load', { load: 'fan', dropRpm, backS: 1 })])).includes('idle.drop')
    expect(drop(75)).toBe(false)
    expect(drop(76)).toBe(true)
  })
  it('a valve belongs about where the tune starts it, and never under 3 %', () => {
    expect(valveBandPct({})).toEqual([3, 10])
    expect(valveBandPct({ reach: { startPct: 18, mostPct: 60 } })).toEqual([14.5, 21.5])
    expect(valveBandPct({ reach: { startPct: 4, mostPct: 60 } })).toEqual([3, 10])
  })
  it('Learn waits for a good idle', () => {
    const learn = (b: BuildData) =>
      evaluate(b)
        .stations.find((s) => s.id === 'learn')!
        .requirements.find((r) => r.id === 'idle-good')!.met
    expect(learn(build([]))).toBe(false)
    expect(learn(build([verdict()]))).toBe(true)
  })
})
