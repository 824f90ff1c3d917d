import type { Dimension } from '@vectum/core'

/** What is asked in each zone of the car, and why. Bounds live in the core's schemas, not here. */
export type Field = { path: string; label: string; why?: string } & (
  | { kind: 'quantity'; dimension: Dimension; decimals?: number }
  | { kind: 'choice'; options: { value: string | boolean; label: string }[] }
  | { kind: 'text' }
  | { kind: 'order' }
  | { kind: 'ratios' }
)
export interface Zone {
  id: string
  title: string
  /** paths that the survey needs from this zone are found by prefix */
  fields: Field[]
}

const yesNo = [
  { value: true, label: 'yes' },
  { value: false, label: 'no' },
]
const q = (path: string, label: string, dimension: Dimension, why?: string, decimals?: number): Field => ({
  kind: 'quantity',
  path,
  label,
  dimension,
  why,
  decimals,
})
const pick = (path: string, label: string, options: [string | boolean, string][], why?: string): Field => ({
  kind: 'choice',
  path,
  label,
  why,
  options: options.map(([value, text]) => ({ value, label: text })),
})

export const zones: Zone[] = [
  {
    id: 'engine',
    title: 'Engine',
    fields: [
      q('facts.engine.cylinders', 'Cylinders', 'count', 'every firing interval comes from it'),
      pick('facts.engine.layout', 'Layout', [
        ['inline', 'in line'],
        ['vee', 'vee'],
        ['flat', 'flat'],
      ]),
      q('facts.engine.displacementCc', 'Displacement', 'displacement', 'air and fuel come from it'),
      q('facts.engine.boreMm', 'Bore', 'length', 'checked against the displacement', 2),
      q('facts.engine.strokeMm', 'Stroke', 'length', undefined, 2),
      { kind: 'order', path: 'facts.engine.firingOrder', label: 'Firing order', why: 'leads and coils follow it' },
      q('facts.engine.compressionRatio', 'Compression, to 1', 'number', 'sets the spark guard'),
      pick('facts.engine.chamber', 'Combustion chamber', [
        ['old-open', 'old, open'],
        ['wedge', 'wedge'],
        ['modern-heart', 'modern, heart-shaped'],
      ]),
      q('facts.engine.redlineRpm', 'Redline', 'rpm'),
      q('facts.engine.powerKw', 'Power', 'power', 'injectors and pump are sized by it', 1),
      pick(
        'facts.engine.siamesedInlets',
        'Inlet ports shared by two cylinders',
        yesNo.map((o) => [o.value, o.label]),
      ),
    ],
  },
  {
    id: 'cam',
    title: 'Cam',
    fields: [
      pick('facts.cam.class', 'Cam, in words', [
        ['stock', 'stock'],
        ['mild', 'mild'],
        ['hot', 'hot'],
        ['wild', 'wild'],
      ]),
      q('facts.cam.idleVacuumKpa', 'Warm idle vacuum, measured', 'pressure', 'wins over words and numbers', 1),
      q('facts.cam.inletDurationDeg', 'Inlet duration at 1.27 mm', 'angle'),
      q('facts.cam.exhaustDurationDeg', 'Exhaust duration at 1.27 mm', 'angle'),
      q('facts.cam.lobeSeparationDeg', 'Lobe separation', 'angle'),
    ],
  },
  {
    id: 'ignition',
    title: 'Ignition',
    fields: [
      pick(
        'facts.ignition.kind',
        'Ignition now',
        [
          ['points', 'points'],
          ['electronic-inductive', 'electronic, inductive'],
          ['magnetic', 'magnetic pick-up'],
          ['hall', 'Hall'],
          ['capacitive', 'capacitive discharge'],
          ['crank-trigger', 'crank trigger'],
        ],
        'decides how the unit sees the crank',
      ),
      pick(
        'facts.ignition.advanceLocked',
        'Advance locked',
        yesNo.map((o) => [o.value, o.label]),
      ),
      pick('facts.ignition.rotation', 'Rotor turns, from above', [
        ['clockwise', 'clockwise'],
        ['anticlockwise', 'anticlockwise'],
      ]),
      pick(
        'facts.ignition.leads',
        'Plug leads',
        [
          ['resistive', 'resistive'],
          ['solid-core', 'solid core'],
        ],
        'solid core upsets a control unit',
      ),
      pick('facts.ignition.plugs', 'Plugs', [
        ['resistor', 'resistor type'],
        ['plain', 'plain'],
      ]),
      q('facts.ignition.coilPrimaryOhm', 'Coil primary', 'resistance'),
      q('facts.ignition.coilInductanceMh', 'Coil inductance', 'inductance'),
      pick(
        'facts.ignition.ballastResistor',
        'Ballast resistor',
        yesNo.map((o) => [o.value, o.label]),
      ),
      q('facts.ignition.rotorRadiusMm', 'Rotor radius', 'length'),
      q('facts.ignition.rotorTipWidthMm', 'Rotor tip width', 'length'),
      q('facts.ignition.terminalWidthMm', 'Cap terminal width', 'length'),
      q('facts.ignition.damperDiameterMm', 'Damper diameter', 'length', 'for the marks along its rim'),
    ],
  },
  {
    id: 'electrics',
    title: 'Electrics',
    fields: [
      pick(
        'facts.electrics.polarity',
        'Earthed pole',
        [
          ['negative-earth', 'negative earth'],
          ['positive-earth', 'positive earth'],
        ],
        'electronics need negative earth',
      ),
      pick('facts.electrics.charging', 'Charging', [
        ['alternator', 'alternator'],
        ['dynamo', 'dynamo'],
      ]),
      q('facts.electrics.chargingIdleA', 'Charging at idle', 'current'),
      q('facts.electrics.chargingRatedA', 'Charging, rated', 'current'),
      q('facts.electrics.restV', 'Battery at rest', 'voltage'),
      q('facts.electrics.crankingV', 'Battery while cranking', 'voltage'),
    ],
  },
  {
    id: 'car',
    title: 'Car and place',
    fields: [
      { kind: 'text', path: 'facts.car.make', label: 'Make' },
      { kind: 'text', path: 'facts.car.model', label: 'Model' },
      q('facts.car.year', 'Year', 'count'),
      { kind: 'text', path: 'facts.car.body', label: 'Body' },
      { kind: 'text', path: 'facts.car.owner', label: 'Owner' },
      pick('facts.place.use', 'Used on', [
        ['road', 'road'],
        ['track', 'track'],
        ['boat', 'water (boat)'],
      ]),
      q('facts.place.altitudeM', 'Altitude', 'distance', 'standard air is taken from it', 0),
      q('facts.place.barometerKpa', 'Barometer here, today', 'pressure', 'at the workshop, not reduced to sea level', 1),
    ],
  },
  {
    id: 'gearing',
    title: 'Gearing',
    fields: [
      pick('facts.gearing.gearbox', 'Gearbox', [
        ['manual', 'manual'],
        ['automatic', 'automatic'],
      ]),
      { kind: 'ratios', path: 'facts.gearing.gearRatios', label: 'Gear ratios, first to top' },
      q('facts.gearing.axleRatio', 'Axle ratio', 'number'),
      q('facts.gearing.tyreCircumferenceM', 'Tyre, rolling circumference', 'distance'),
      q('facts.gearing.massKg', 'Mass', 'mass'),
    ],
  },
  {
    id: 'fuel',
    title: 'Tank and fuel',
    fields: [
      pick('facts.fuel.kind', 'Fuel', [
        ['petrol', 'petrol'],
        ['e10', 'E10'],
        ['e85', 'E85'],
      ]),
      q('facts.fuel.octaneRon', 'Octane, RON', 'count'),
      q('facts.fuel.tankL', 'Tank', 'volume'),
      pick(
        'facts.fuel.tankVented',
        'Tank vented',
        yesNo.map((o) => [o.value, o.label]),
      ),
      pick(
        'facts.fuel.returnLine',
        'Return line there',
        yesNo.map((o) => [o.value, o.label]),
      ),
    ],
  },
  {
    id: 'plan',
    title: 'What it becomes',
    fields: [
      pick(
        'choices.plan.route',
        'Route',
        [
          ['throttle-body', 'throttle body'],
          ['multi-port', 'multi-port'],
          ['individual-runner', 'individual runner'],
        ],
        'injectors and tune follow it',
      ),
      q('choices.plan.injectors', 'Injectors', 'count'),
      q('choices.plan.injectorCcMin', 'Injector flow, each', 'injectorFlow'),
      q('choices.plan.injectorRatedKpa', 'Rated at', 'pressure', 'pressure difference on the sheet'),
      q('choices.plan.fuelPressureKpa', 'Fuel pressure', 'pressure', 'over the injector outlet'),
      q('choices.plan.maxDutyPct', 'Highest duty', 'percent'),
    ],
  },
]
