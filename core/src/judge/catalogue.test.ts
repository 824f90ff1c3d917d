import { expect, it, describe } from 'vitest'
import { catalogue, findCalculation } from './catalogue.ts'

/** Worked examples of the published catalogue, one for each entry; they hold to a relative 1e-4. */
const examples: [string, object, Record<string, number>][] = [
  ['air.standardAtmosphere', { altitudeM: 1200 }, { pressureKpa: 87.71557, temperatureC: 7.2 }],
  ['air.density', { pressureKpa: 98.2, temperatureC: 21 }, { densityKgM3: 1.16301 }],
  [
    'air.engineFlow',
    { displacementCc: 4180, rpm: 4600, vePct: 83, pressureKpa: 98, temperatureC: 25 },
    { massGps: 152.28764, volumeM3Min: 7.97962, volumeCfm: 281.79762 },
  ],
  ['air.correctionFactor', { standard: 'SAE J1349', dryPressureKpa: 97.1, temperatureC: 18 }, { factor: 1.00888 }],
  [
    'fuel.injectorSize',
    { powerKw: 150, bsfcGKwh: 300, injectors: 4, maxDutyPct: 82, fuelDensityKgL: 0.745 },
    { perInjectorGps: 3.81098, flowCcMin: 306.92421, flowLbH: 30.24635 },
  ],
  ['fuel.injectorFlowAtPressure', { ratedCcMin: 420, ratedKpa: 300, actualKpa: 350 }, { flowCcMin: 453.65185 }],
  ['fuel.pumpDemand', { powerKw: 150, bsfcGKwh: 300, fuelDensityKgL: 0.745, marginPct: 25 }, { flowLph: 75.50336 }],
  [
    'fuel.lineDrop',
    { flowLph: 160, boreMm: 8.7, lengthM: 4.2, lossK: 4.5, roughnessUm: 10, densityKgM3: 745, viscosityMm2S: 0.55 },
    { velocityMS: 0.74763, reynolds: 11826.21196, frictionFactor: 0.03114, dropKpa: 4.0675 },
  ],
  ['fuel.surgeReserve', { volumeL: 1.4, liftLph: 30, useLph: 48 }, { seconds: 280 }],
  [
    'wiring.network',
    {
      groundNode: 'gnd',
      elements: [
        { id: 'battery', from: 'gnd', to: 'post', volt: 13.8, ohm: 0.008 },
        { id: 'feed', from: 'post', to: 'pump', ohm: 0.045 },
        { id: 'strap', from: 'body', to: 'gnd', ohm: 0.012 },
        { id: 'load', from: 'pump', to: 'body', amp: 9.5 },
        { id: 'unit', from: 'post', to: 'body', ohm: 11.0 },
      ],
    },
    {
      'nodes.body': 0.12882,
      'nodes.post': 13.71412,
      'nodes.pump': 13.28662,
      'nodes.gnd': 0,
      'elements.battery': 10.73503,
      'elements.feed': 9.5,
      'elements.strap': 10.73503,
      'elements.load': 9.5,
      'elements.unit': 1.23503,
    },
  ],
  ['fitup.plateOpenArea', { boreMm: 48, shutDeg: 6, openDeg: 24 }, { areaMm2: 147.33865, sharePct: 8.14225 }],
  ['fitup.boltTorque', { threadMm: 8, clampN: 16500, nutFactor: 0.18 }, { torqueNm: 23.76 }],
  ['spark.firingInterval', { cylinders: 6 }, { intervalDeg: 120 }],
  [
    'spark.referenceWindow',
    { referenceDeg: 52, maxAdvanceDeg: 42, minAdvanceDeg: 5, cylinders: 6, maxRpm: 5200 },
    { leadDeg: 10, leadUs: 320.51282, roomDeg: 73 },
  ],
  ['spark.camSyncPosition', { referenceDeg: 52, cylinders: 6, windows: 1.5 }, { positionDegBtdc: 232, marginDeg: 60 }],
  [
    'spark.rotorPhase',
    { alignDegBtdc: 24, minAdvanceDeg: 6, maxAdvanceDeg: 40, cylinders: 6, rotorRadiusMm: 25, tipWidthMm: 6, terminalWidthMm: 5 },
    { bestAlignDegBtdc: 23, offsetAtMinDistDeg: -9, offsetAtMaxDistDeg: 8, overlapDistDeg: 3.60507, crossFireMarginDistDeg: 38.39493 },
  ],
  ['spark.damperArc', { damperDiameterMm: 172, angleDeg: 52 }, { arcMm: 78.05112, chordMm: 75.39984 }],
  ['spark.delayRetard', { rpm: 3600, delayUs: 85 }, { retardDeg: 1.836 }],
  [
    'spark.fitTiming',
    {
      commandedDeg: 17,
      readings: [
        { rpm: 850, observedDeg: 19.1 },
        { rpm: 1900, observedDeg: 18.3 },
        { rpm: 3100, observedDeg: 17.4 },
      ],
    },
    { referenceErrorDeg: 2.73974, delayErrorUs: 125.90401 },
  ],
  [
    'spark.dwell',
    { batteryV: 13.8, inductanceMh: 4.5, resistanceOhm: 0.75, targetA: 6.5, rpm: 5000, sparksPerRev: 3, burnMs: 1.2 },
    { dwellMs: 2.61487, energyMj: 95.0625, availableMs: 2.8, dutyPct: 65.37184 },
  ],
  ['tach.frequency', { rpm: 2400, pulsesPerRev: 3 }, { frequencyHz: 120 }],
  ['wiring.gauge', { gaugeAwg: 12 }, { diameterMm: 2.05253, areaMm2: 3.30877, ohmPerM: 0.00521 }],
  [
    'wiring.voltageDrop',
    { currentA: 14, lengthM: 5.2, areaMm2: 3.31, temperatureC: 50, returnThroughWire: false },
    { dropV: 0.42388, lossW: 5.93433 },
  ],
  ['tune.lambda', { afr: 12.9, stoichAfr: 14.7 }, { lambda: 0.87755 }],
  // 15 x 25.4 + 2 x 0.70 x 205 = 668 mm; x 3.05
  ['survey.tyreCircumference', { widthMm: 205, aspectPct: 70, rimIn: 15 }, { diameterMm: 668, circumferenceM: 2.0374 }],
  [
    'learn.roadLoad',
    {
      massKg: 1290,
      speedKmh: 90,
      gradePct: 1.5,
      frontalM2: 2.0,
      dragCoefficient: 0.44,
      rollingCoefficient: 0.014,
      densityKgM3: 1.19,
    },
    { forceN: 694.07551, powerKw: 17.35189 },
  ],
  ['learn.roadSpeed', { rpm: 2200, gearRatio: 1.0, axleRatio: 3.31, tyreCircumferenceM: 2.02 }, { speedKmh: 80.55589 }],
]

/** Numbers of an answer by their path. */
const flat = (of: Record<string, unknown>, before = ''): Record<string, number> =>
  Object.assign(
    {},
    ...Object.entries(of).map(([key, value]) =>
      value !== null && typeof value === 'object' ? flat(value as Record<string, unknown>, `${before}${key}.`) : { [before + key]: value },
    ),
  ) as Record<string, number>

describe('the calculation catalogue', () => {
  it.each(examples)('%s gives its worked example', (id, input, expected) => {
    const calculation = findCalculation(id)!
    const output = flat(calculation.output.parse(calculation.run(calculation.input.parse(input))) as Record<string, unknown>)
    for (const [name, value] of Object.entries(expected)) {
      // the catalogue prints its examples rounded to five decimals
      const slack = Math.max(Math.abs(value) * 1e-4, 5.1e-6)
      expect(Math.abs(output[name] - value), `${name} = ${output[name]}`).toBeLessThanOrEqual(slack)
    }
  })

  it('has an example for every entry and every id once', () => {
    expect(new Set(catalogue.map((c) => c.id)).size).toBe(catalogue.length)
    expect(examples.map((e) => e[0]).sort()).toEqual(catalogue.map((c) => c.id).sort())
  })

  it.each(catalogue.map((c) => [c.id, c] as const))('%s refuses text, null, and a key it does not know', (_id, calculation) => {
    const good = examples.find((e) => e[0] === calculation.id)![1] as Record<string, unknown>
    const firstKey = Object.keys(good)[0]
    expect(calculation.input.safeParse({ ...good, [firstKey]: null }).success).toBe(false)
    expect(calculation.input.safeParse({ ...good, [firstKey]: 'seven' }).success).toBe(false)
    expect(calculation.input.safeParse({ ...good, unknownKey: 1 }).success).toBe(false)
  })

  it('answers null, not NaN or Infinity, where there is no answer', () => {
    expect(findCalculation('fuel.surgeReserve')!.run({ volumeL: 1, liftLph: 50, useLph: 50 })).toEqual({ seconds: null })
    const weak = findCalculation('spark.dwell')!.run({
      batteryV: 6,
      inductanceMh: 4,
      resistanceOhm: 1.5,
      targetA: 4,
      rpm: 900,
      sparksPerRev: 2,
      burnMs: 1,
    }) as { dwellMs: null }
    expect(weak.dwellMs).toBeNull()
  })
})
