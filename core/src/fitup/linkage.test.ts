import { describe, expect, it } from 'vitest'
import { contextOf, evaluate } from '../judge/judgement.ts'
import { madeReading, soundBuild } from '../judge/made-up.fixture.ts'
import type { LinkageChoices } from './choices.ts'
import { linkageOf, pedalCurveOf } from './fitup-of.ts'
import {
  airThrough,
  beyondShutDeg,
  type Drawing,
  drawnMm,
  fourBarRad,
  holeMm2,
  pedalCurve,
  plateDegAt,
  remedies,
  remedyChoices,
  secondDegAt,
  wholeLinkage,
} from './linkage.ts'

const RAD = Math.PI / 180
const engine: Drawing = { displacementCc: 1600, rpm: 1700, vePct: 80, barometerKpa: 101, airC: 20, idleMm2: 12 }
/** Pedal so long that its arm's end moves along a line: s = arm x travel / pad. */
const straight = (more: LinkageChoices = {}): LinkageChoices => ({
  pedal: { travelMm: 40, padMm: 400, armMm: 400 },
  plate: { boreMm: 44, shutDeg: 6, count: 1 },
  ...more,
})

describe('four-bar', () => {
  it('a parallelogram turns both levers alike', () => {
    const l = { groundMm: 160, crankMm: 40, couplerMm: 160, leverMm: 40 }
    for (const deg of [30, 65, 90, 120]) expect(fourBarRad(l, deg * RAD)! / RAD).toBeCloseTo(deg, 9)
  })
  // crank 50 straight up at the origin, pivots 120 apart: diagonal 130. lever 50, coupler 120: cos = (2500 + 16900 - 14400) / (2 x 50 x 130) = 0.38462
  it('by the law of cosines: 157.38 less 67.38 is 90 degrees', () =>
    expect(fourBarRad({ groundMm: 120, crankMm: 50, couplerMm: 120, leverMm: 50 }, 90 * RAD)! / RAD).toBeCloseTo(90, 6))
  it('a coupler too short for its pivots does not reach', () =>
    expect(fourBarRad({ groundMm: 200, crankMm: 30, couplerMm: 80, leverMm: 30 }, 90 * RAD)).toBeNull())
})

describe('pedal to plate', () => {
  it('a cable on a round lever: what is drawn over its radius', () => {
    const l = wholeLinkage(straight({ leverMm: 25 }))
    // half the pedal: 0.05 rad of 400 mm is drawn 20 mm, a little less along the guide's line: 0.8 rad is 45.8 deg
    expect(plateDegAt(l, 0.5)!).toBeCloseTo(6 + 20 / 25 / RAD, 0)
    expect(plateDegAt(l, 0)).toBe(6)
  })
  it('slack is taken up before anything moves', () => {
    const l = wholeLinkage(straight({ leverMm: 25, slackMm: 4 }))
    expect(plateDegAt(l, 0.09)).toBe(6)
    expect(plateDegAt(l, 0.2)!).toBeCloseTo(6 + (8 - 4) / 25 / RAD, 0)
  })
  it('a cam whose radius falls from 33 to 20 mm in a quarter turn: the arc drawn over it', () => {
    const l = wholeLinkage(straight({ cam: 'snail', leverMm: 33, endRadiusMm: 20 }))
    // a whole quarter turn draws (33 + 20) / 2 x pi/2 = 41.6 mm; 40 mm of the pedal stop just short of it
    const deg = plateDegAt(l, 1)!
    expect(deg).toBeGreaterThan(85)
    expect(deg).toBeLessThan(6 + 90)
    // near shut it turns as a lever of 33: 4 mm is 6.9 deg
    expect(plateDegAt(l, 0.1)!).toBeCloseTo(6 + 4 / 33 / RAD, 0)
  })
  it('a pin on a straight lever by its triangle', () => {
    const l = wholeLinkage(straight({ cam: 'lever', leverMm: 30, bracketMm: 90, startDeg: 42 }))
    // 132 deg: L = sqrt(8100 + 900 - 5400 cos 132) = 112.31; 20 mm less is 92.31: cos = (9000 - 8521) / 5400, 84.9 deg: turned by 47.1
    expect(plateDegAt(l, 0.5)!).toBeCloseTo(6 + 47.1, 0)
  })
  it('the plate stops square, and never goes back while the pedal goes down', () => {
    for (const cam of ['round', 'snail', 'lever'] as const) {
      const { points } = pedalCurve(wholeLinkage({ cam }), engine)
      points.forEach((p, i) => {
        expect(p.plateDeg!).toBeLessThanOrEqual(90)
        if (i) expect(p.plateDeg!).toBeGreaterThanOrEqual(points[i - 1].plateDeg!)
        if (i) expect(p.air).toBeGreaterThanOrEqual(points[i - 1].air)
      })
    }
  })
})

describe('air through the plates', () => {
  it('a small hole is choked: 0.8 x 40 mm2 x 101 kPa x 0.6847 / sqrt(287.05 x 293.15) = 7.63 g/s', () =>
    expect(airThrough(40, { ...engine, idleMm2: 0, rpm: 6000 }).gps).toBeCloseTo(7.63, 1))
  it('wide open the engine takes what it displaces at the barometer', () => {
    // 1.6 L x 0.8 x 1700/120 x 101 / (0.28705 x 293.15) = 21.76 g/s
    expect(airThrough(1e5, engine).gps).toBeCloseTo(21.76, 1)
    expect(airThrough(1e5, engine).mapKpa).toBeCloseTo(101, 1)
  })
  it('the hole for a manifold pressure is the same law the other way round', () => {
    const mm2 = holeMm2(engine, 40)
    expect(airThrough(mm2, { ...engine, idleMm2: 0 }).mapKpa).toBeCloseTo(40, 3)
  })
})

describe('a second shaft, and the gearbox’s cable', () => {
  const staged = (second: object) => wholeLinkage(straight({ leverMm: 24, staged: true, second: { boreMm: 44, ...second } }))
  it('stands shut until its share of the way, then goes evenly to full', () => {
    const l = staged({ fromPct: 40, fullDeg: 90 })
    // 48 is half of the way from 6 to 90: (0.5 - 0.4) / 0.6 of 84 is 14 beyond
    expect([secondDegAt(l, 30), secondDegAt(l, 48)]).toEqual([6, expect.closeTo(20, 9)])
    expect(secondDegAt(l, 90)).toBeCloseTo(90, 9)
    expect(secondDegAt(wholeLinkage(), 48)).toBeNull()
  })
  it('adds its air late: the first tenth gives less of the whole', () => {
    const one = pedalCurve(wholeLinkage(straight({ leverMm: 24 })), { ...engine, rpm: 4000 })
    expect(pedalCurve(staged({}), { ...engine, rpm: 4000 }).tipInAir).toBeLessThan(one.tipInAir)
  })
  it('an arm of 30 mm draws a chord of 40.1 mm over 84 degrees', () => expect(drawnMm(30, { shutDeg: 6 }, 90)).toBeCloseTo(40.15, 2))
})

describe('plates the other way round', () => {
  it('147.34 mm2 of a bore of 48 mm shut at 6 degrees are 24: 18 beyond; four bores share it', () => {
    expect(beyondShutDeg({ boreMm: 48, shutDeg: 6, count: 1 }, 147.33865)).toBeCloseTo(18, 4)
    expect(beyondShutDeg({ boreMm: 48, shutDeg: 6, count: 4 }, 4 * 147.33865)).toBeCloseTo(18, 4)
    expect(beyondShutDeg({ boreMm: 48, shutDeg: 6, count: 1 }, 0)).toBeCloseTo(0, 9)
  })
  it('more than the bore has is no angle', () => expect(beyondShutDeg({ boreMm: 20, shutDeg: 0, count: 1 }, 315)).toBeNull())
})

describe('what is judged of a pedal', () => {
  const build = (linkage: LinkageChoices, facts: object = {}) => soundBuild({ facts, choices: { fitup: { linkage } } })
  const found = (id: string, linkage: LinkageChoices, readings: object[] = []) =>
    evaluate({ ...build(linkage), readings: readings as never })
      .stations.find((s) => s.id === 'fitup')!
      .findings.find((f) => f.id === `fitup.${id}`)
  const fullDeg = (linkage: LinkageChoices) => pedalCurveOf(contextOf(build(linkage))).fullDeg!
  it('full throttle at 85 degrees with the pedal on the carpet', () => {
    const short = (carpetMm: number) => ({ ...straight({ leverMm: 28 }), carpetMm })
    // 40 mm over 28: 81.9 + 6 is 87.9 bare; 2 mm of carpet take 4.1
    expect(fullDeg(short(0))).toBeCloseTo(87.6, 0)
    expect(found('full-throttle', short(0))).toBeUndefined()
    expect(found('full-throttle', short(2))?.because).toContain('85° is the least')
  })
  it('a pedal that pulls on past the stop by more than a tenth', () => {
    expect(found('pedal-stop', straight({ leverMm: 26 }))).toBeUndefined()
    // over 22 mm the quarter turn less 6 deg is drawn in 32.3 of 40 mm
    expect(found('pedal-stop', straight({ leverMm: 22 }))?.because).toContain('of the pedal is left')
  })
  it('left over: 11 % is a finding, 9 % is none', () => {
    // 84 degrees over 23.9 mm are drawn at 35.0 of 40 mm, seen at 0.88; the carpet takes a part of the rest
    expect(found('pedal-stop', { ...straight({ leverMm: 23.9 }), carpetMm: 0.4 })).toBeDefined()
    expect(found('pedal-stop', { ...straight({ leverMm: 23.9 }), carpetMm: 1.2 })).toBeUndefined()
  })
  it('tip-in by hand: 8.6 degrees open 41 mm2 of 44, which choke at 10.2 g/s; idle takes 2.3, wide open 21.8', () => {
    // (10.17 - 2.29) / (21.76 - 2.29)
    expect(pedalCurve(wholeLinkage(), engine).tipInAir).toBeCloseTo(0.405, 2)
  })
  it('a second shaft short of full is told; one that reaches it is not', () => {
    const l = (fullDeg: number) => ({ ...straight({ leverMm: 24 }), staged: true, second: { boreMm: 44, fullDeg } })
    expect(found('second-short', l(84))?.because).toContain('85° is the least')
    expect(found('second-short', l(86))).toBeUndefined()
  })
  it('a gearbox cable within 1.5 mm of its sheet; past it the arm that would do', () => {
    const l = (wantedMm: number) => ({ ...straight({ leverMm: 24 }), gearboxCable: { armMm: 30, wantedMm } })
    expect([found('gearbox-cable', l(41.6)), found('gearbox-cable', l(38.7))]).toEqual([undefined, undefined])
    expect(found('gearbox-cable', l(41.8))?.remedy).toContain('31.2 mm')
    expect(found('gearbox-cable', l(38.5))?.severity).toBe('warn')
  })
  it('a rod too short locks, and the lever is named', () => {
    const f = found('locks', { kind: 'rod', rod: { groundMm: 160, inMm: 25, crankMm: 60, couplerMm: 120, leverMm: 30, startDeg: 60 } })
    expect(f?.severity).toBe('stop')
    expect(f?.where?.field).toBe('choices.fitup.linkage.rod.leverMm')
    expect(found('locks', { kind: 'rod' })).toBeUndefined()
  })
  it('a jump at tip-in: half of the air in the first tenth, with the better lever named', () => {
    // 72 mm give 0.46 on this engine, 77 give 0.52
    expect(found('tip-in', { plate: { boreMm: 72, shutDeg: 6, count: 1 } })).toBeUndefined()
    expect(found('tip-in', { plate: { boreMm: 77, shutDeg: 6, count: 1 } })).toBeDefined()
    const jumpy = { cam: 'lever' as const, leverMm: 30, startDeg: 75, plate: { boreMm: 50, shutDeg: 6, count: 2 } }
    expect(pedalCurveOf(contextOf(build(jumpy))).tipInAir).toBeGreaterThan(0.5)
    expect(found('tip-in', jumpy)?.remedy).toMatch(/%\.$/)
  })
  it('a jump that the geometry does not explain sticks', () => {
    const jump = (jumpPct: number) => [madeReading('fitup.tip-in' as never, { jumpPct })]
    expect(found('tip-in', {}, jump(3))).toBeUndefined()
    expect(found('tip-in', {}, jump(3.1))?.because).toContain('it sticks')
  })
  it('remedies: a longer lever softens the start and the pedal, a hole nearer the pivot too; both may cost full throttle', () => {
    const [now, spring, longer, hole, cam] = remedies(wholeLinkage(), engine)
    expect(spring).toMatchObject({ id: 'preload', tipInAir: now.tipInAir, force: null })
    expect(longer.tipInAir).toBeLessThan(now.tipInAir)
    // virtual work: a lever a quarter longer wants a fifth less force
    expect(longer.force!).toBeCloseTo(0.8, 2)
    expect(hole.force!).toBeCloseTo(0.8, 1)
    expect([longer.reachesFull, cam.reachesFull]).toEqual([false, true])
    expect(cam.tipInAir).toBeLessThan(now.tipInAir)
  })
  it('a remedy is told of the linkage by what differs alone, in halves of a millimetre', () => {
    const l = wholeLinkage()
    const of = (id: string) =>
      remedyChoices(
        l,
        remedies(l, engine).find((r) => r.id === id)!,
      )
    // 26 x 1.25 is 32.5; the arm of 170 over 1.25 is 136; 26 x 1.35 is 35.1 and 26 x 0.7 is 18.2
    expect(of('longer-lever')).toEqual({ leverMm: 32.5 })
    expect(of('lower-hole')).toEqual({ pedal: { armMm: 136, travelMm: 60 } })
    expect(of('cam')).toEqual({ cam: 'snail', leverMm: 35, endRadiusMm: 18 })
    expect(of('preload')).toEqual({})
    const rods = wholeLinkage({ kind: 'rod' })
    expect(
      remedyChoices(
        rods,
        remedies(rods, engine).find((r) => r.id === 'longer-lever')!,
      ),
    ).toEqual({ rod: { leverMm: 40 } })
  })
  it('plates are counted by the engine where every cylinder has one', () => {
    const c = contextOf(soundBuild({ choices: { plan: { route: 'individual-runner' }, fitup: {} } }))
    expect(linkageOf(c).plate.count).toBe(6)
  })
})
