import { Random } from '../src/kernel/index.ts'
import type { BuildData, ChoiceTable } from '../src/kernel/index.ts'
import type { Facts } from '../src/survey/index.ts'

/** A made-up car as the scores take it: what its papers say, and what was planned for it. */
export interface ScoreCar {
  name: string
  facts: Facts
  choices: ChoiceTable
}
interface Sketch {
  name: string
  cylinders: 4 | 6 | 8
  cc: number
  boreMm: number
  ratio: number
  redlineRpm: number
  /** undefined: nobody knows, and the catalogue assumes */
  powerKw?: number
  cam: 'stock' | 'mild' | 'hot' | 'wild'
  vacuumKpa?: number
  route: 'throttle-body' | 'multi-port' | 'individual-runner'
  injectors: number
  ccMin: number
  chamber?: 'old-open' | 'wedge' | 'modern-heart'
  octaneRon?: number
  fuel?: 'petrol' | 'e10' | 'e85'
  altitudeM?: number
  automatic?: boolean
  headers?: boolean
  blown?: { kpa: number; kind: 'draw-through' | 'blow-through'; drive: 'exhaust' | 'belt'; cooled?: boolean }
  trigger?: 'locked-magnetic' | 'toothed-wheel' | 'speed-signal'
}
const ORDERS = { 4: [1, 3, 4, 2], 6: [1, 5, 3, 6, 2, 4], 8: [1, 5, 4, 8, 6, 3, 7, 2] }
const PRESSURE_KPA = 300

function carOf(s: Sketch): ScoreCar {
  const trigger = s.trigger ?? (s.cylinders === 8 ? 'locked-magnetic' : 'toothed-wheel')
  const spark: ChoiceTable['spark'] =
    trigger === 'locked-magnetic'
      ? { trigger, referenceDeg: 54, minAdvanceDeg: 6, maxAdvanceDeg: 41, alignDegBtdc: 20, delayUs: 0 }
      : trigger === 'toothed-wheel'
        ? { trigger, wheel: { teeth: 36, missing: 1 }, referenceDeg: 84, delayUs: 0 }
        : { trigger }
  const { blown } = s
  return {
    name: s.name,
    facts: {
      engine: {
        cylinders: s.cylinders,
        layout: s.cylinders === 8 ? 'vee' : 'inline',
        displacementCc: s.cc,
        boreMm: s.boreMm,
        strokeMm: (s.cc * 1000) / s.cylinders / ((Math.PI / 4) * s.boreMm ** 2),
        compressionRatio: s.ratio,
        firingOrder: ORDERS[s.cylinders],
        chamber: s.chamber ?? 'wedge',
        redlineRpm: s.redlineRpm,
        ...(s.powerKw === undefined ? {} : { powerKw: s.powerKw }),
      },
      cam: { class: s.cam, ...(s.vacuumKpa === undefined ? {} : { idleVacuumKpa: s.vacuumKpa }) },
      fuel: { kind: s.fuel ?? 'petrol', octaneRon: s.octaneRon ?? 95 },
      place: { altitudeM: s.altitudeM ?? 100 },
      exhaust: { kind: s.headers ? 'headers' : 'manifold' },
      gearing: { gearbox: s.automatic ? 'automatic' : 'manual' },
      ignition: { rotation: 'clockwise', coilPrimaryOhm: 0.75, coilInductanceMh: 3.1 },
      induction: blown
        ? { kind: blown.kind, boostKpa: blown.kpa, drive: blown.drive, intercooler: blown.cooled === true }
        : { kind: 'natural' },
    },
    choices: {
      plan: {
        route: s.route,
        timingControl: true,
        injectors: s.injectors,
        injectorCcMin: s.ccMin,
        injectorRatedKpa: PRESSURE_KPA,
        fuelPressureKpa: PRESSURE_KPA,
      },
      spark,
    },
  }
}

/** Fourteen cars of every kind the tool is for; rules were developed on these. */
export const scoreCars: ScoreCar[] = (
  [
    {
      name: 'four 1.3 stock, body',
      cylinders: 4,
      cc: 1290,
      boreMm: 74,
      ratio: 8.8,
      redlineRpm: 5600,
      powerKw: 43,
      cam: 'stock',
      vacuumKpa: 64,
      route: 'throttle-body',
      injectors: 1,
      ccMin: 480,
    },
    {
      name: 'four 1.6 mild, ports',
      cylinders: 4,
      cc: 1600,
      boreMm: 80,
      ratio: 9.2,
      redlineRpm: 6200,
      powerKw: 66,
      cam: 'mild',
      vacuumKpa: 54,
      route: 'multi-port',
      injectors: 4,
      ccMin: 150,
      headers: true,
    },
    {
      name: 'four 2.0 hot, runners',
      cylinders: 4,
      cc: 1990,
      boreMm: 87,
      ratio: 10,
      redlineRpm: 6800,
      powerKw: 98,
      cam: 'hot',
      vacuumKpa: 43,
      route: 'individual-runner',
      injectors: 4,
      ccMin: 225,
      headers: true,
      octaneRon: 98,
      chamber: 'modern-heart',
    },
    {
      name: 'four 2.0 wild, runners',
      cylinders: 4,
      cc: 1980,
      boreMm: 88,
      ratio: 10.8,
      redlineRpm: 7600,
      powerKw: 112,
      cam: 'wild',
      vacuumKpa: 33,
      route: 'individual-runner',
      injectors: 4,
      ccMin: 280,
      headers: true,
      octaneRon: 98,
      chamber: 'modern-heart',
    },
    {
      name: 'six 2.4 stock, papers lost',
      cylinders: 6,
      cc: 2390,
      boreMm: 79,
      ratio: 8.4,
      redlineRpm: 5200,
      cam: 'stock',
      route: 'throttle-body',
      injectors: 2,
      ccMin: 360,
    },
    {
      name: 'six 3.2 mild, body',
      cylinders: 6,
      cc: 3180,
      boreMm: 86,
      ratio: 8.2,
      redlineRpm: 5200,
      powerKw: 96,
      cam: 'mild',
      vacuumKpa: 52,
      route: 'throttle-body',
      injectors: 2,
      ccMin: 520,
      trigger: 'locked-magnetic',
    },
    {
      name: 'six 2.8 mild, ports, high',
      cylinders: 6,
      cc: 2790,
      boreMm: 83,
      ratio: 9,
      redlineRpm: 6000,
      powerKw: 108,
      cam: 'mild',
      vacuumKpa: 39,
      route: 'multi-port',
      injectors: 6,
      ccMin: 165,
      altitudeM: 1400,
    },
    {
      name: 'eight 3.5 stock, automatic',
      cylinders: 8,
      cc: 3510,
      boreMm: 89,
      ratio: 8.6,
      redlineRpm: 5000,
      powerKw: 100,
      cam: 'stock',
      vacuumKpa: 62,
      route: 'throttle-body',
      injectors: 4,
      ccMin: 260,
      automatic: true,
    },
    {
      name: 'eight 5.7 hot, body',
      cylinders: 8,
      cc: 5740,
      boreMm: 101,
      ratio: 9.4,
      redlineRpm: 6000,
      powerKw: 215,
      cam: 'hot',
      vacuumKpa: 43,
      route: 'throttle-body',
      injectors: 4,
      ccMin: 560,
      headers: true,
    },
    {
      name: 'four 2.0 turbo, ports',
      cylinders: 4,
      cc: 1985,
      boreMm: 86,
      ratio: 7.8,
      redlineRpm: 6000,
      powerKw: 104,
      cam: 'stock',
      vacuumKpa: 62,
      route: 'multi-port',
      injectors: 4,
      ccMin: 360,
      blown: { kpa: 60, kind: 'blow-through', drive: 'exhaust', cooled: true },
    },
    {
      name: 'eight 4.9 belt-blown, body',
      cylinders: 8,
      cc: 4940,
      boreMm: 97,
      ratio: 8,
      redlineRpm: 5500,
      powerKw: 225,
      cam: 'mild',
      vacuumKpa: 52,
      route: 'throttle-body',
      injectors: 4,
      ccMin: 700,
      blown: { kpa: 40, kind: 'draw-through', drive: 'belt' },
    },
    {
      name: 'four 1.8 mild on E85',
      cylinders: 4,
      cc: 1790,
      boreMm: 81,
      ratio: 10.2,
      redlineRpm: 6200,
      powerKw: 76,
      cam: 'mild',
      vacuumKpa: 53,
      route: 'multi-port',
      injectors: 4,
      ccMin: 255,
      fuel: 'e85',
      octaneRon: 104,
    },
    {
      name: 'four 2.3 mild, body',
      cylinders: 4,
      cc: 2310,
      boreMm: 92,
      ratio: 9,
      redlineRpm: 5800,
      powerKw: 82,
      cam: 'mild',
      vacuumKpa: 52,
      route: 'throttle-body',
      injectors: 2,
      ccMin: 420,
      trigger: 'locked-magnetic',
    },
    {
      name: 'eight 4.2 mild, ports',
      cylinders: 8,
      cc: 4180,
      boreMm: 92,
      ratio: 9.2,
      redlineRpm: 5600,
      powerKw: 152,
      cam: 'mild',
      vacuumKpa: 51,
      route: 'multi-port',
      injectors: 8,
      ccMin: 190,
      chamber: 'old-open',
      octaneRon: 98,
    },
  ] satisfies Sketch[]
).map(carOf)

/** Two that no rule was developed on. */
export const unseenCars: ScoreCar[] = (
  [
    {
      name: 'four 1.5 stock, ports (unseen)',
      cylinders: 4,
      cc: 1490,
      boreMm: 76,
      ratio: 8.6,
      redlineRpm: 5800,
      powerKw: 50,
      cam: 'stock',
      vacuumKpa: 63,
      route: 'multi-port',
      injectors: 4,
      ccMin: 130,
    },
    {
      name: 'six 4.2 mild, body (unseen)',
      cylinders: 6,
      cc: 4235,
      boreMm: 92,
      ratio: 8,
      redlineRpm: 5000,
      powerKw: 128,
      cam: 'mild',
      vacuumKpa: 52,
      route: 'throttle-body',
      injectors: 2,
      ccMin: 640,
      trigger: 'locked-magnetic',
    },
  ] satisfies Sketch[]
).map(carOf)

/** A score car as a build with nothing recorded yet; its seed is in its id. */
export const buildOf = ({ name, facts, choices }: ScoreCar, seed: number): BuildData => ({
  id: `score-${seed}`,
  title: name,
  facts,
  choices,
  readings: [],
  tunes: [],
  logs: [],
})

/** One of the cars with everything on its papers drawn anew within what exists: size, power, compression, cam's vacuum, redline, height. */
export function variedCar(seed: number): ScoreCar {
  const random = new Random(seed)
  const times = (spread: number) => 1 + spread * (2 * random.next() - 1)
  const like = scoreCars[Math.floor(random.next() * scoreCars.length)]
  const { engine = {}, cam = {} } = like.facts
  const size = times(0.15)
  const output = times(0.08)
  const bore = Math.cbrt(size)
  return {
    name: `${like.name}, varied`,
    facts: {
      ...like.facts,
      engine: {
        ...engine,
        displacementCc: engine.displacementCc! * size,
        boreMm: engine.boreMm! * bore,
        strokeMm: engine.strokeMm! * bore,
        compressionRatio: engine.compressionRatio! * times(0.05),
        redlineRpm: Math.round((engine.redlineRpm! * times(0.05)) / 50) * 50,
        ...(engine.powerKw === undefined ? {} : { powerKw: engine.powerKw * size * output }),
      },
      cam: { ...cam, ...(cam.idleVacuumKpa === undefined ? {} : { idleVacuumKpa: cam.idleVacuumKpa + 3 * (2 * random.next() - 1) }) },
      place: { altitudeM: (like.facts.place?.altitudeM ?? 0) + Math.round(300 * random.next()) },
    },
    choices: {
      ...like.choices,
      plan: { ...like.choices.plan, injectorCcMin: Math.round(like.choices.plan!.injectorCcMin! * size * Math.max(1, output) * 1.1) },
    },
  }
}
