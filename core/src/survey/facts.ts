import { z } from 'zod'
import type { CamClass } from '../air/index.ts'
import { type PowerFrom, upperPowerKw, usualPower } from './usual-power.ts'
import { type FactSpec, factsSchema, mark, number, numbers, oneOf, own, type PathIn, whole, words, yesNo } from '../kernel/index.ts'

export const FiringOrder = z
  .array(z.int('each cylinder of the firing order must be a whole number').min(1).max(12))
  .min(1)
  .max(12)
  .superRefine((order, context) => {
    const twice = order.find((cylinder, i) => order.indexOf(cylinder) !== i)
    if (twice !== undefined)
      context.addIssue({
        code: 'custom',
        message: `firing order names cylinder ${twice} twice; each cylinder from 1 to ${order.length} must come once`,
      })
  })

/** What an assumption may follow from. */
export interface AssumeFrom extends PowerFrom {}
const REDLINE: Record<CamClass, number> = { stock: 5000, mild: 5500, hot: 6200, wild: 6800 }
const IDLE_MAP: Record<CamClass, number> = { stock: 36, mild: 45, hot: 56, wild: 66 }
/** Whole kilowatts as people say them; a small engine keeps its tenths, since nothing can be sized by zero. */
const wholeFromTen = (kw: number): number => (kw < 10 ? Math.round(10 * kw) / 10 : Math.round(kw))
const withCam = ({ camClass }: AssumeFrom): string => `usual with a ${camClass} cam`

const camWords = { stock: 'stock', mild: 'mild', hot: 'hot', wild: 'wild' } as const
const turns = { clockwise: 'clockwise', anticlockwise: 'anticlockwise' } as const

/**
 * Every fact about the car as it stands, told once, in the order a person walks round it. Each may be missing ("not known"); units are metric
 * and stand in the name. Schema, field, need, assumption and line of the report all come from here.
 */
export const factCatalogue = {
  car: {
    make: words('Make'),
    model: words('Model'),
    year: whole(1900, 2030, 'Year'),
    body: words('Body'),
    class: oneOf(
      'Kind of car',
      { 'small-saloon': 'small saloon', saloon: 'saloon', 'large-saloon': 'large saloon', sports: 'sports', 'pick-up': 'pick-up' },
      { why: 'mass and drag are taken from it while they are not known' },
    ),
    owner: words('Owner'),
  },
  engine: {
    cylinders: whole(1, 12, 'Cylinders', {
      inWords: 'number of cylinders',
      why: 'every firing interval comes from it',
      wantedBy: 'survey',
      needed: true,
    }),
    layout: oneOf('Layout', { inline: 'in line', vee: 'vee', flat: 'flat' }),
    displacementCc: number(100, 15000, 'Displacement', 'displacement', {
      inWords: 'displacement (or bore and stroke)',
      why: 'air and fuel come from it; bore and stroke tell it too',
      wantedBy: 'survey',
      needed: true,
    }),
    boreMm: number(30, 200, 'Bore', 'length', { why: 'checked against the displacement', decimals: 2 }),
    strokeMm: number(20, 250, 'Stroke', 'length', { decimals: 2 }),
    firingOrder: own(
      FiringOrder,
      'Firing order',
      { kind: 'order' },
      { why: 'leads and coils follow it', wantedBy: 'survey', needed: true },
    ),
    powerKw: number(5, 1000, 'Power', 'power', {
      why: 'injectors and pump are sized by it',
      wantedBy: 'plan',
      decimals: 1,
      assumed: {
        value: (from: AssumeFrom) => wholeFromTen(usualPower(from).kw),
        because: (from: AssumeFrom) => {
          const { kw, spread } = usualPower(from)
          const over = 100 * (upperPowerKw(kw, spread) / kw - 1)
          const blown = from.boostKpa > 0 ? ', boost counted' : ''
          return `usual for the size with a ${from.camClass} cam${blown}, give or take ${(100 * spread).toFixed(0)} %; pump and injectors are sized for ${over.toFixed(0)} % more`
        },
      },
    }),
    powerSource: oneOf('Power known from', { dyno: 'dyno', maker: 'maker', estimate: 'estimate' }),
    compressionRatio: number(5, 16, 'Compression, to 1', 'number', {
      why: 'sets the spark guard',
      wantedBy: 'tune',
      assumed: { value: 8.5, because: 'usual for the time' },
    }),
    chamber: oneOf(
      'Combustion chamber',
      { 'old-open': 'old, open', wedge: 'wedge', 'modern-heart': 'modern, heart-shaped' },
      {
        why: 'sets full-load timing',
        wantedBy: 'tune',
        assumed: { value: 'wedge', because: 'the middle of the three for full-load timing' },
      },
    ),
    redlineRpm: number(1500, 12000, 'Redline', 'rpm', {
      why: 'the tables end there',
      wantedBy: 'tune',
      assumed: { value: ({ camClass }: AssumeFrom) => REDLINE[camClass], because: withCam },
    }),
    plugOneReach: yesNo('Plug one can be reached', { why: 'top centre is found through it' }),
    damperMark: oneOf(
      'Mark on the damper',
      { clear: 'clear', worn: 'worn, or its ring may have moved', none: 'none' },
      { why: 'a timing light reads it' },
    ),
    orderFrom: oneOf(
      'Firing order read off',
      { engine: 'this engine', papers: 'papers of the car' },
      { why: 'an engine of another car may fire otherwise' },
    ),
    donor: yesNo('Engine of another car'),
    donorFamily: words('Its family'),
    donorYear: whole(1900, 2030, 'Its year'),
    donorChanges: words('Changed on it', {}, 400),
    siamesedInlets: yesNo('Inlet ports shared by two cylinders'),
    oddFire: yesNo('Firings do not follow each other evenly'),
    firingIntervalsDeg: numbers(z.number().min(20).max(700), 12, 'Degrees from each firing to the next', 'number', '90 150 90 150 90 150', {
      why: 'of an engine that fires unevenly, in its firing order',
    }),
    rotation: oneOf('Crank turns, from the front', turns),
    cycle: oneOf('Cycle', { 'four-stroke': 'four-stroke', 'two-stroke': 'two-stroke' }),
  },
  induction: {
    kind: oneOf(
      'Induction',
      { natural: 'natural', 'draw-through': 'blown, body before it', 'blow-through': 'blown, body after it' },
      { why: 'boost needs timing control', wantedBy: 'plan' },
    ),
    boostKpa: number(0, 250, 'Highest boost', 'pressure', { why: 'over the barometer', decimals: 1 }),
    drive: oneOf('Blower driven by', { exhaust: 'the exhaust', belt: 'a belt' }, { why: 'a turbine lags, a belt does not' }),
    intercooler: yesNo('Intercooler', { why: 'uncooled boost knocks earlier' }),
    nitrous: yesNo('Nitrous'),
    nitrousKw: number(5, 400, 'Nitrous adds', 'power', { why: 'fuel must be there for it' }),
    nitrousFuel: oneOf(
      'Its fuel comes from',
      { injectors: 'the injectors', nozzles: 'nozzles of its own' },
      { why: 'the pump feeds both; the injectors only the first' },
    ),
  },
  health: {
    compressionKpa: numbers(z.number().min(0).max(2500), 12, 'Compression, cylinder by cylinder', 'pressure', '1080 1060 1095 1070', {
      why: 'on a gauge; injection does not cure a tired engine',
    }),
    leakDownPct: numbers(z.number().min(0).max(100), 12, 'Leak-down, cylinder by cylinder', 'percent', '8 9 12 8'),
    valveLashSet: yesNo('Valves set'),
    shaftPlayMm: number(0, 5, 'Distributor shaft play', 'length', { why: 'sideways', decimals: 2 }),
    capAndLeadsSound: yesNo('Cap and leads sound'),
    vacuumLeaks: yesNo('Vacuum leaks'),
  },
  cam: {
    idleVacuumKpa: number(0, 85, 'Warm idle vacuum, measured', 'pressure', {
      why: 'below the barometer; wins over words and numbers',
      wantedBy: 'plan',
      decimals: 1,
      assumed: {
        value: ({ camClass, barometerKpa }: AssumeFrom) => Math.round(barometerKpa - IDLE_MAP[camClass]),
        because: withCam,
      },
    }),
    class: oneOf('Cam, in words', camWords, {
      assumed: { value: 'stock', because: 'no cam data and no idle vacuum; a stock cam is most common' },
    }),
    inletDurationDeg: number(150, 320, 'Inlet duration at 1.27 mm', 'angle', { why: 'crank degrees' }),
    exhaustDurationDeg: number(150, 320, 'Exhaust duration at 1.27 mm', 'angle', { why: 'crank degrees' }),
    lobeSeparationDeg: number(90, 125, 'Lobe separation', 'angle', { why: 'cam degrees' }),
    material: oneOf(
      'Cam of',
      { 'cast-iron': 'cast iron', 'roller-steel': 'steel, rollers', billet: 'billet steel' },
      { why: 'the distributor’s gear must go with it' },
    ),
  },
  ignition: {
    kind: oneOf(
      'Ignition now',
      {
        points: 'points',
        'electronic-inductive': 'electronic, inductive',
        magnetic: 'magnetic pick-up',
        hall: 'Hall',
        capacitive: 'capacitive discharge',
        'crank-trigger': 'crank trigger',
      },
      { why: 'decides how the unit can get its speed signal', wantedBy: 'survey', needed: true },
    ),
    leads: oneOf(
      'Plug leads',
      { resistive: 'resistive', 'solid-core': 'solid core' },
      { why: 'solid-core leads upset a control unit', wantedBy: 'survey', needed: true },
    ),
    plugs: oneOf('Plugs', { resistor: 'resistor type', plain: 'plain' }),
    plugHeat: oneOf('Heat range, against the maker’s', { colder: 'colder', 'as-maker': 'as the maker’s', hotter: 'hotter' }),
    oldPlugs: oneOf('The old ones looked', { tan: 'tan', sooty: 'sooty', white: 'white', oily: 'oily' }),
    rotation: oneOf('Rotor turns, from above', turns, { why: 'advance goes against it', wantedBy: 'spark' }),
    coilPrimaryOhm: number(0.1, 10, 'Coil primary', 'resistance', {
      why: 'dwell comes from it',
      wantedBy: 'spark',
      assumed: { value: 0.75, because: 'usual for an electronic coil; measure it' },
    }),
    coilInductanceMh: number(0.5, 30, 'Coil inductance', 'inductance', {
      assumed: { value: 4.5, because: 'usual for an oil-filled coil' },
    }),
    ballastResistor: yesNo('Ballast resistor', { why: 'left in the feed it starves an electronic coil' }),
    damperDiameterMm: number(60, 400, 'Damper diameter', 'length', { why: 'timing marks are laid out on its rim', wantedBy: 'spark' }),
    advanceLocked: yesNo('Advance locked'),
    curveShaft: oneOf(
      'Curve read at the',
      { crank: 'crank', distributor: 'distributor' },
      { why: 'distributor degrees and speeds count double', assumed: { value: 'crank', because: 'a light on the damper reads there' } },
    ),
    mechanicalAdvanceDeg: number(0, 60, 'Mechanical advance, all', 'angle', { why: 'of the shaft it was read at' }),
    mechanicalStartRpm: number(200, 8000, 'Begins at', 'rpm'),
    mechanicalFullRpm: number(500, 12000, 'All in at', 'rpm'),
    vacuumAdvanceDeg: number(0, 40, 'Vacuum can, all', 'angle', { why: 'of the shaft it was read at' }),
    vacuumFullKpa: number(0, 90, 'Can all in at', 'pressure', { why: 'vacuum', decimals: 1 }),
    vacuumSource: oneOf('Can fed from', { none: 'no can', ported: 'ported', manifold: 'manifold' }),
    rotorRadiusMm: number(8, 60, 'Rotor radius', 'length', { assumed: { value: 25, because: 'usual size; measure the rotor' } }),
    rotorTipWidthMm: number(0.5, 40, 'Rotor tip width', 'length', { assumed: { value: 6, because: 'usual size; measure the rotor' } }),
    terminalWidthMm: number(0.5, 30, 'Cap terminal width', 'length', { assumed: { value: 5, because: 'usual size; measure the cap' } }),
  },
  electrics: {
    polarity: oneOf(
      'Earthed pole',
      { 'negative-earth': 'negative earth', 'positive-earth': 'positive earth' },
      { why: 'electronics need negative earth', wantedBy: 'survey', needed: true },
    ),
    charging: oneOf('Charging', { alternator: 'alternator', dynamo: 'dynamo' }),
    chargingRatedA: number(0, 300, 'Charging, rated', 'current', { why: 'the new loads are added to it', wantedBy: 'plan' }),
    chargingIdleA: number(0, 300, 'Charging at idle', 'current'),
    restV: number(4, 15, 'Battery at rest', 'voltage'),
    crankingV: number(3, 14, 'Battery while cranking', 'voltage', { why: 'units reset near 8 V', wantedBy: 'start' }),
    batteryPlace: oneOf('Battery in', { bay: 'engine bay', boot: 'boot', cabin: 'cabin' }),
    fan: oneOf('Fan', { belt: 'on the belt', electric: 'electric' }),
  },
  exhaust: {
    bung: oneOf(
      'Sensor boss',
      { none: 'none', 'after-merge': 'after the merge', 'one-branch': 'one branch', 'far-back': 'far back' },
      { why: 'a welder is booked for it', wantedBy: 'plan' },
    ),
    kind: oneOf('Exhaust', { manifold: 'cast manifold', headers: 'headers' }),
    mergeMm: number(50, 4000, 'Head to merge', 'length', { why: 'the sensor’s lag grows with it' }),
    leaks: yesNo('Exhaust leaks'),
    catalyst: yesNo('Catalyst'),
  },
  gearing: {
    gearRatios: numbers(z.number().min(0.4).max(8), 8, 'Gear ratios, first to top', 'number', '3.10 1.90 1.35 1.00', {
      why: 'the drive plan turns cells into road speeds',
      wantedBy: 'learn',
    }),
    axleRatio: number(1.5, 9, 'Axle ratio', 'number', { why: 'the drive plan turns cells into road speeds', wantedBy: 'learn' }),
    tyreSize: words('Tyre size', { why: 'like 205/70R15 or 6.40-13' }, 24),
    tyreDiameterMm: number(350, 1200, 'Tyre diameter, measured', 'length', { why: 'bias-ply sizes do not tell it', decimals: 0 }),
    tyreCircumferenceM: number(1, 3.5, 'Tyre, rolling circumference', 'distance', { why: 'wins over size and diameter' }),
    gearbox: oneOf('Gearbox', { manual: 'manual', automatic: 'automatic' }),
    kickDown: oneOf('Kick-down', { none: 'none', cable: 'cable', 'throttle-valve': 'throttle-valve cable', electric: 'electric' }),
    massKg: number(200, 6000, 'Mass', 'mass'),
    frontalM2: number(0.5, 6, 'Frontal area', 'frontalArea'),
    dragCoefficient: number(0.15, 1.5, 'Drag coefficient', 'number'),
  },
  fuel: {
    kind: oneOf('Fuel', { petrol: 'petrol', e10: 'E10', e85: 'E85' }, { assumed: { value: 'petrol', because: 'most common' } }),
    octaneRon: number(80, 115, 'Octane, RON', 'count', { assumed: { value: 95, because: 'pump petrol' } }),
    tankL: number(5, 300, 'Tank', 'volume', { why: 'it warms by what the return brings', wantedBy: 'fuel' }),
    tankPlace: oneOf('Tank in', { 'rear-under': 'under the rear', boot: 'boot', front: 'front', cabin: 'cabin' }),
    tankVented: yesNo('Tank vented', { why: 'a closed tank starves the pump', wantedBy: 'fuel' }),
    tankBaffled: yesNo('Tank baffled', { why: 'the pick-up runs dry in bends without', wantedBy: 'fuel' }),
    canister: yesNo('Evaporative canister'),
    mechanicalPump: yesNo('Mechanical pump there', { why: 'it must not stay in a pressure line', wantedBy: 'fuel' }),
    mechanicalPumpKpa: number(0, 100, 'It gives', 'pressure'),
    lineBoreMm: number(2, 20, 'Line, inner bore', 'length'),
    lineMaterial: oneOf('Line of', { steel: 'steel', copper: 'copper', plastic: 'plastic', rubber: 'rubber' }),
    carburettors: whole(1, 12, 'Carburettors', { why: 'more of them stand for more power, and for a body each' }),
    returnLine: yesNo('Return line there'),
    reuseRegulator: yesNo('Earlier regulator to be kept'),
    reuseRegulatorKpa: number(0, 700, 'It holds', 'pressure'),
  },
  place: {
    use: oneOf(
      'Used on',
      { road: 'road', 'off-road': 'rough ground', track: 'track', strip: 'drag strip', boat: 'water (boat)' },
      { why: 'what a route must be good at follows it' },
    ),
    onStand: yesNo('Engine on a stand', { why: 'no gearing, no road' }),
    startsFrom: oneOf('Starts from', {
      carburettor: 'carburettor',
      'earlier-injection': 'earlier injection',
      'half-finished': 'half done',
    }),
    flange: oneOf(
      'Carburettor flange',
      {
        'square-four': 'square four-bolt',
        'spread-four': 'spread four-bolt',
        'two-barrel': 'two-barrel',
        single: 'single',
        'side-draught': 'side-draught',
        other: 'other',
      },
      { why: 'decides which throttle body bolts on', wantedBy: 'plan' },
    ),
    bonnetMm: number(0, 600, 'Free height over it', 'length', { why: 'body, adapter and air cleaner must fit under the bonnet' }),
    unitPlace: oneOf('Control unit can live in', { cabin: 'cabin', bay: 'engine bay' }),
    altitudeM: number(-400, 4500, 'Altitude', 'distance', {
      why: 'standard air is taken from it; the pump inlet has less air over it',
      wantedBy: 'fuel',
      decimals: 0,
      assumed: { value: 100, because: 'no place entered; most workshops are low' },
    }),
    barometerKpa: number(55, 108, 'Barometer here, today', 'pressure', { why: 'at the workshop, not reduced to sea level', decimals: 1 }),
  },
  intake: {
    complaint: words('Complaint', {}, 400),
    testDrive: words('Seen on the test drive', {}, 400),
    approvedBy: words('Work approved by'),
    deferred: words('Put off to later', {}, 400),
  },
  baseline: {
    idleRpm: number(200, 3000, 'Warm idle', 'rpm', { why: 'so that “better” is measured' }),
    coldStartS: number(0, 300, 'Cold start takes', 'timeS'),
    hotRestartS: number(0, 300, 'Hot restart, after 20 minutes', 'timeS'),
    fuelUseLPer100km: number(2, 80, 'Fuel use', 'litresPer100'),
    dynoKw: number(5, 1000, 'Power on the dyno', 'power', { decimals: 1 }),
    faults: words('Faults felt', { why: 'stumble at x rpm, surge, pings' }, 400),
    pullAway: mark('Pull-away'),
    partThrottle: mark('Part throttle'),
    acceleration: mark('Acceleration'),
    restart: mark('Restart'),
    smell: mark('Smell'),
  },
} as const

export type FactPath = PathIn<typeof factCatalogue>
export const Facts = factsSchema(factCatalogue)
export type Facts = z.infer<typeof Facts>

declare module '../kernel/told.ts' {
  interface FactTable extends Facts {}
}

/** Every fact with its path, in the order of the catalogue. */
export const allFacts: readonly (FactSpec & { path: FactPath })[] = Object.entries(factCatalogue).flatMap(([group, facts]) =>
  Object.entries(facts).map(([name, spec]) => ({ ...(spec as FactSpec), path: `${group}.${name}` as FactPath })),
)
const byPath = new Map(allFacts.map((f) => [f.path as string, f]))
export const factAt = (path: FactPath): FactSpec & { path: FactPath } => byPath.get(path)!
export const findFact = (path: string): (FactSpec & { path: FactPath }) | undefined => byPath.get(path)
