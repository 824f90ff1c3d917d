import { pick, quantity as q, words, yesNo, type Field } from '../../quantity/field.ts'

/** What is asked in each zone of the car. A group folds; its first fields are what the next stations want. */
export interface Group {
  id: string
  title: string
  fields: Field[]
}
export interface Zone {
  id: string
  title: string
  groups: Group[]
}

const rating = (path: string, label: string): Field =>
  pick(path, label, [
    [1, '1 bad'],
    [2, '2'],
    [3, '3'],
    [4, '4'],
    [5, '5 good'],
  ])

export const zones: Zone[] = [
  {
    id: 'engine',
    title: 'Engine',
    groups: [
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
          q('facts.engine.powerKw', 'Power', 'power', 'injectors and pump are sized by it', 1),
          pick('facts.engine.powerSource', 'Power known from', [
            ['dyno', 'dyno'],
            ['maker', 'maker'],
            ['estimate', 'estimate'],
          ]),
          q('facts.engine.compressionRatio', 'Compression, to 1', 'number', 'sets the spark guard'),
          pick('facts.engine.chamber', 'Combustion chamber', [
            ['old-open', 'old, open'],
            ['wedge', 'wedge'],
            ['modern-heart', 'modern, heart-shaped'],
          ]),
          q('facts.engine.redlineRpm', 'Redline', 'rpm'),
          yesNo('facts.engine.siamesedInlets', 'Inlet ports shared by two cylinders'),
          pick('facts.engine.rotation', 'Crank turns, from the front', [
            ['clockwise', 'clockwise'],
            ['anticlockwise', 'anticlockwise'],
          ]),
          pick('facts.engine.cycle', 'Cycle', [
            ['four-stroke', 'four-stroke'],
            ['two-stroke', 'two-stroke'],
          ]),
        ],
      },
      {
        id: 'induction',
        title: 'Induction',
        fields: [
          pick(
            'facts.induction.kind',
            'Induction',
            [
              ['natural', 'natural'],
              ['draw-through', 'blown, body before it'],
              ['blow-through', 'blown, body after it'],
            ],
            'boost needs timing control',
          ),
          q('facts.induction.boostKpa', 'Highest boost', 'pressure', 'over the barometer', 1),
          yesNo('facts.induction.nitrous', 'Nitrous'),
        ],
      },
      {
        id: 'health',
        title: 'Engine health',
        fields: [
          {
            kind: 'numbers',
            path: 'facts.health.compressionKpa',
            label: 'Compression, cylinder by cylinder',
            dimension: 'pressure',
            example: '1080 1060 1095 1070',
            why: 'injection does not cure a tired engine',
          },
          {
            kind: 'numbers',
            path: 'facts.health.leakDownPct',
            label: 'Leak-down, cylinder by cylinder',
            dimension: 'percent',
            example: '8 9 12 8',
          },
          yesNo('facts.health.valveLashSet', 'Valves set'),
          q('facts.health.shaftPlayMm', 'Distributor shaft play', 'length', undefined, 2),
          yesNo('facts.health.capAndLeadsSound', 'Cap and leads sound'),
          yesNo('facts.health.vacuumLeaks', 'Vacuum leaks'),
        ],
      },
    ],
  },
  {
    id: 'cam',
    title: 'Cam',
    groups: [
      {
        id: 'cam',
        title: 'Cam',
        fields: [
          q('facts.cam.idleVacuumKpa', 'Warm idle vacuum, measured', 'pressure', 'wins over words and numbers', 1),
          pick('facts.cam.class', 'Cam, in words', [
            ['stock', 'stock'],
            ['mild', 'mild'],
            ['hot', 'hot'],
            ['wild', 'wild'],
          ]),
          q('facts.cam.inletDurationDeg', 'Inlet duration at 1.27 mm', 'angle'),
          q('facts.cam.exhaustDurationDeg', 'Exhaust duration at 1.27 mm', 'angle'),
          q('facts.cam.lobeSeparationDeg', 'Lobe separation', 'angle'),
        ],
      },
    ],
  },
  {
    id: 'ignition',
    title: 'Ignition',
    groups: [
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
          pick('facts.ignition.rotation', 'Rotor turns, from above', [
            ['clockwise', 'clockwise'],
            ['anticlockwise', 'anticlockwise'],
          ]),
          q('facts.ignition.coilPrimaryOhm', 'Coil primary', 'resistance'),
          q('facts.ignition.coilInductanceMh', 'Coil inductance', 'inductance'),
          yesNo('facts.ignition.ballastResistor', 'Ballast resistor'),
          q('facts.ignition.damperDiameterMm', 'Damper diameter', 'length', 'for the marks along its rim'),
        ],
      },
      {
        id: 'curve',
        title: 'Old advance',
        fields: [
          yesNo('facts.ignition.advanceLocked', 'Advance locked'),
          q('facts.ignition.mechanicalAdvanceDeg', 'Mechanical advance, all', 'angle', 'crank degrees'),
          q('facts.ignition.mechanicalStartRpm', 'Begins at', 'rpm'),
          q('facts.ignition.mechanicalFullRpm', 'All in at', 'rpm'),
          q('facts.ignition.vacuumAdvanceDeg', 'Vacuum can, all', 'angle', 'crank degrees'),
          q('facts.ignition.vacuumFullKpa', 'Can all in at', 'pressure', 'vacuum', 1),
          pick('facts.ignition.vacuumSource', 'Can fed from', [
            ['none', 'no can'],
            ['ported', 'ported'],
            ['manifold', 'manifold'],
          ]),
        ],
      },
      {
        id: 'cap',
        title: 'Rotor and cap',
        fields: [
          q('facts.ignition.rotorRadiusMm', 'Rotor radius', 'length'),
          q('facts.ignition.rotorTipWidthMm', 'Rotor tip width', 'length'),
          q('facts.ignition.terminalWidthMm', 'Cap terminal width', 'length'),
        ],
      },
    ],
  },
  {
    id: 'electrics',
    title: 'Electrics',
    groups: [
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
          q('facts.electrics.chargingRatedA', 'Charging, rated', 'current'),
          q('facts.electrics.chargingIdleA', 'Charging at idle', 'current'),
          q('facts.electrics.restV', 'Battery at rest', 'voltage'),
          q('facts.electrics.crankingV', 'Battery while cranking', 'voltage'),
          pick('facts.electrics.batteryPlace', 'Battery in', [
            ['bay', 'engine bay'],
            ['boot', 'boot'],
            ['cabin', 'cabin'],
          ]),
          pick('facts.electrics.fan', 'Fan', [
            ['belt', 'on the belt'],
            ['electric', 'electric'],
          ]),
        ],
      },
    ],
  },
  {
    id: 'car',
    title: 'Car and place',
    groups: [
      {
        id: 'car',
        title: 'The car',
        fields: [
          words('facts.car.make', 'Make'),
          words('facts.car.model', 'Model'),
          q('facts.car.year', 'Year', 'count'),
          words('facts.car.body', 'Body'),
          words('facts.car.owner', 'Owner'),
          pick('facts.place.use', 'Used on', [
            ['road', 'road'],
            ['track', 'track'],
            ['boat', 'water (boat)'],
          ]),
          yesNo('facts.place.onStand', 'Engine on a stand', 'no gearing, no road'),
          pick('facts.place.startsFrom', 'Starts from', [
            ['carburettor', 'carburettor'],
            ['earlier-injection', 'earlier injection'],
            ['half-finished', 'half done'],
          ]),
        ],
      },
      {
        id: 'place',
        title: 'Places',
        fields: [
          pick('facts.place.flange', 'Carburettor flange', [
            ['square-four', 'square four-bolt'],
            ['spread-four', 'spread four-bolt'],
            ['two-barrel', 'two-barrel'],
            ['single', 'single'],
            ['side-draught', 'side-draught'],
            ['other', 'other'],
          ]),
          q('facts.place.bonnetMm', 'Free height over it', 'length'),
          pick('facts.place.unitPlace', 'Control unit can live in', [
            ['cabin', 'cabin'],
            ['bay', 'engine bay'],
          ]),
          q('facts.place.altitudeM', 'Altitude', 'distance', 'standard air is taken from it', 0),
          q('facts.place.barometerKpa', 'Barometer here, today', 'pressure', 'at the workshop, not reduced to sea level', 1),
        ],
      },
      {
        id: 'intake',
        title: 'Taken in with',
        fields: [
          words('facts.intake.complaint', 'Complaint'),
          words('facts.intake.testDrive', 'Seen on the test drive'),
          words('facts.intake.approvedBy', 'Work approved by'),
          words('facts.intake.deferred', 'Put off to later'),
        ],
      },
    ],
  },
  {
    id: 'exhaust',
    title: 'Exhaust',
    groups: [
      {
        id: 'exhaust',
        title: 'Exhaust',
        fields: [
          pick('facts.exhaust.bung', 'Sensor boss', [
            ['none', 'none'],
            ['after-merge', 'after the merge'],
            ['one-branch', 'one branch'],
            ['far-back', 'far back'],
          ]),
          pick('facts.exhaust.kind', 'Kind', [
            ['manifold', 'cast manifold'],
            ['headers', 'headers'],
          ]),
          q('facts.exhaust.mergeMm', 'Head to merge', 'length'),
          yesNo('facts.exhaust.leaks', 'Leaks'),
          yesNo('facts.exhaust.catalyst', 'Catalyst'),
        ],
      },
    ],
  },
  {
    id: 'gearing',
    title: 'Gearing',
    groups: [
      {
        id: 'gearing',
        title: 'Gearing and body',
        fields: [
          {
            kind: 'numbers',
            path: 'facts.gearing.gearRatios',
            label: 'Gear ratios, first to top',
            dimension: 'number',
            example: '3.10 1.90 1.35 1.00',
          },
          q('facts.gearing.axleRatio', 'Axle ratio', 'number'),
          words('facts.gearing.tyreSize', 'Tyre size', 'like 205/70R15 or 6.40-13'),
          q('facts.gearing.tyreDiameterMm', 'Tyre diameter, measured', 'length', 'bias-ply sizes do not tell it', 0),
          q('facts.gearing.tyreCircumferenceM', 'Tyre, rolling circumference', 'distance', 'wins over size and diameter'),
          pick('facts.gearing.gearbox', 'Gearbox', [
            ['manual', 'manual'],
            ['automatic', 'automatic'],
          ]),
          pick('facts.gearing.kickDown', 'Kick-down', [
            ['none', 'none'],
            ['cable', 'cable'],
            ['throttle-valve', 'throttle-valve cable'],
            ['electric', 'electric'],
          ]),
          q('facts.gearing.massKg', 'Mass', 'mass'),
          q('facts.gearing.frontalM2', 'Frontal area', 'frontalArea'),
          q('facts.gearing.dragCoefficient', 'Drag coefficient', 'number'),
        ],
      },
    ],
  },
  {
    id: 'fuel',
    title: 'Tank and fuel',
    groups: [
      {
        id: 'fuel',
        title: 'Fuel now',
        fields: [
          pick('facts.fuel.kind', 'Fuel', [
            ['petrol', 'petrol'],
            ['e10', 'E10'],
            ['e85', 'E85'],
          ]),
          q('facts.fuel.octaneRon', 'Octane, RON', 'count'),
          q('facts.fuel.tankL', 'Tank', 'volume'),
          yesNo('facts.fuel.tankVented', 'Tank vented'),
          yesNo('facts.fuel.tankBaffled', 'Tank baffled'),
          yesNo('facts.fuel.mechanicalPump', 'Mechanical pump there'),
          q('facts.fuel.mechanicalPumpKpa', 'It gives', 'pressure'),
          pick('facts.fuel.tankPlace', 'Tank in', [
            ['rear-under', 'under the rear'],
            ['boot', 'boot'],
            ['front', 'front'],
            ['cabin', 'cabin'],
          ]),
          q('facts.fuel.lineBoreMm', 'Line, inner bore', 'length'),
          pick('facts.fuel.lineMaterial', 'Line of', [
            ['steel', 'steel'],
            ['copper', 'copper'],
            ['plastic', 'plastic'],
            ['rubber', 'rubber'],
          ]),
          yesNo('facts.fuel.returnLine', 'Return line there'),
          yesNo('facts.fuel.canister', 'Evaporative canister'),
          yesNo('facts.fuel.reuseRegulator', 'Earlier regulator to be kept'),
          q('facts.fuel.reuseRegulatorKpa', 'It holds', 'pressure'),
        ],
      },
    ],
  },
  {
    id: 'baseline',
    title: 'As it drives now',
    groups: [
      {
        id: 'baseline',
        title: 'Baseline on the carburettor',
        fields: [
          q('facts.baseline.idleRpm', 'Warm idle', 'rpm', 'so that “better” is measured'),
          q('facts.baseline.coldStartS', 'Cold start takes', 'timeS'),
          q('facts.baseline.hotRestartS', 'Hot restart, after 20 minutes', 'timeS'),
          q('facts.baseline.fuelUseLPer100km', 'Fuel use', 'litresPer100'),
          q('facts.baseline.dynoKw', 'Power on the dyno', 'power', undefined, 1),
          words('facts.baseline.faults', 'Faults felt', 'stumble at x rpm, surge, pings'),
        ],
      },
      {
        id: 'ratings',
        title: 'The driver’s five marks',
        fields: [
          rating('facts.baseline.pullAway', 'Pull-away'),
          rating('facts.baseline.partThrottle', 'Part throttle'),
          rating('facts.baseline.acceleration', 'Acceleration'),
          rating('facts.baseline.restart', 'Restart'),
          rating('facts.baseline.smell', 'Smell'),
        ],
      },
    ],
  },
]

export const fieldsOf = (zone: Zone): Field[] => zone.groups.flatMap((g) => g.fields)
const byPath = new Map(zones.flatMap((z) => fieldsOf(z).map((f) => [f.path, { field: f, zone: z.id }] as const)))
/** The field that asks for a fact, and the zone it is in. */
export const fieldFor = (factPath: string): { field: Field; zone: string } | undefined => byPath.get(`facts.${factPath}`)
