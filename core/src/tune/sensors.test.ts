import { describe, expect, it } from 'vitest'
import fc from 'fast-check'
import { demoBuild } from '../bench/demo-build.fixture.ts'
import { computeBaseTune } from './base-tune.ts'
import { mapTopKpa, SensorSet, steinhartHart, thermistorC, thermistorOhm, type ThermistorPoints, usualSensors } from './sensors.ts'
import { TuneDocument } from './tune.ts'

const points: ThermistorPoints = [
  [0, 32650],
  [25, 10000],
  [50, 3602],
]

describe('temperature sensors', () => {
  it('the curve goes through its three points, whatever their order', () => {
    for (const given of [points, [...points].reverse()])
      for (const [degC, ohm] of points) {
        const curve = steinhartHart(given)
        expect(thermistorC(curve, ohm)).toBeCloseTo(degC, 9)
        expect(thermistorOhm(curve, degC) / ohm).toBeCloseTo(1, 9)
      }
  })
  it('a common 10 kohm sensor: coefficients of the size the literature gives, 70 degC near 1,750 ohm', () => {
    const { a, b, c } = steinhartHart(points)
    expect(a).toBeGreaterThan(1e-3)
    expect(a).toBeLessThan(1.3e-3)
    expect(b).toBeCloseTo(2.35e-4, 5)
    expect(c).toBeGreaterThan(0)
    expect(thermistorOhm({ a, b, c }, 70)).toBeCloseTo(1752, -2)
  })
  it('there and back is the same temperature, over all an engine sees', () => {
    const curve = steinhartHart(usualSensors(101).coolantSensorOhm as ThermistorPoints)
    fc.assert(
      fc.property(fc.double({ min: -40, max: 130, noNaN: true }), (degC) => {
        expect(thermistorC(curve, thermistorOhm(curve, degC))).toBeCloseTo(degC, 6)
      }),
    )
  })
  it.each<[string, ThermistorPoints, RegExp]>([
    ['two points', points.slice(0, 2), /2 points; it wants three/],
    ['a resistance that rises', [points[0], points[1], [50, 20000]], /must fall as temperature rises/],
    ['one temperature twice', [points[0], points[1], [25, 9000]], /must fall/],
    ['no resistance', [points[0], points[1], [50, 0]], /must fall/],
  ])('refuses %s', (_, given, words) => expect(() => steinhartHart(given)).toThrow(words))
})

describe('sensors of a tune', () => {
  it('the next pressure sensor over what is needed: 110 kPa for a natural engine, 210 for 80 kPa of boost', () => {
    expect(mapTopKpa(usualSensors(101))).toBeCloseTo(110, 9)
    expect(mapTopKpa(usualSensors(181))).toBeCloseTo(210, 9)
  })
  it('numbers to volts and back; past its end a sensor tells no more', () => {
    const set = new SensorSet(usualSensors(101))
    for (const kpa of [20, 60, 101]) expect(set.mapKpa(set.mapV(kpa))).toBeCloseTo(kpa, 9)
    expect(set.mapKpa(set.mapV(180))).toBeLessThan(120)
    for (const pct of [0, 37, 100]) expect(set.throttlePct(set.throttleV(pct))).toBeCloseTo(pct, 9)
    expect(set.lambda(set.lambdaV(0.87))).toBeCloseTo(0.87, 9)
  })
  it('a tune written before sensors were in it reads as having the usual ones', () => {
    const b = demoBuild('1-lowland.json')
    const tune = computeBaseTune(b.facts, b.choices)
    const old = JSON.parse(JSON.stringify(tune))
    for (const key of ['coolantSensorOhm', 'mapKpaPerV', 'idleFanRpm', 'revSoftBelowRpm']) delete old.parameters[key]
    expect(TuneDocument.parse(old).parameters).toMatchObject({ mapKpaPerV: 25, idleFanRpm: 50, revSoftBelowRpm: 200 })
  })
  it('a sensor curve that rises is refused by name', () => {
    const b = demoBuild('1-lowland.json')
    const tune = computeBaseTune(b.facts, b.choices)
    const bad = {
      ...tune,
      parameters: {
        ...tune.parameters,
        airSensorOhm: [
          [0, 100],
          [20, 200],
          [80, 300],
        ],
      },
    }
    expect(TuneDocument.safeParse(bad).error?.issues[0]).toMatchObject({
      path: ['parameters', 'airSensorOhm'],
      message: expect.stringMatching(/fall in ohm/),
    })
  })
})
