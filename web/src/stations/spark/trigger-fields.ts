import { type contextOf, controlsTiming, hasCamSignal, hasDistributor, sensorOf } from '@vectum/core'
import { pick, quantity as q, yesNo, type Field } from '../../quantity/field.ts'

type SparkContext = ReturnType<typeof contextOf>

/** Angles and times set in the unit. */
export const angleFields = (c: SparkContext): Field[] => [
  ...(controlsTiming(c) ? [q('choices.spark.referenceDeg', 'Reference angle', 'angle', 'crank degrees BTDC of the pulse')] : []),
  q('choices.spark.minAdvanceDeg', 'Least advance', 'angle', 'cranking or idle'),
  q('choices.spark.maxAdvanceDeg', 'Most advance', 'angle', 'light cruise'),
  ...(controlsTiming(c)
    ? [
        q('choices.spark.delayUs', 'Signal delay set', 'timeUs', 'as in the unit'),
        q('choices.spark.latencyUs', 'Unit latency', 'timeUs', '300 µs if not known'),
      ]
    : []),
]

/** What the chosen way wants to know of its parts. */
export const wayFields = (c: SparkContext): Field[] => [
  ...(c.spark.trigger === 'speed-signal' || c.spark.trigger === 'own-curve'
    ? [
        pick('choices.spark.signalFrom', 'Speed signal from', [
          ['coil-negative', 'coil negative'],
          ['tach-output', 'a tach output'],
        ]),
      ]
    : []),
  ...(hasDistributor(c)
    ? [
        pick('choices.spark.gear', 'Drive gear', [
          ['cast-iron', 'cast iron'],
          ['melonised-steel', 'melonised steel'],
          ['bronze', 'bronze'],
          ['composite', 'composite'],
        ]),
        pick('facts.cam.material', 'Cam', [
          ['cast-iron', 'cast iron'],
          ['roller-steel', 'roller, steel'],
          ['billet', 'billet, unknown'],
        ]),
      ]
    : []),
  ...(controlsTiming(c) && !hasDistributor(c)
    ? [
        yesNo('choices.spark.camSignal', 'Cam signal'),
        pick('choices.spark.coils', 'Coils', [
          ['paired', 'one for each pair'],
          ['per-cylinder', 'one for each cylinder'],
        ]),
      ]
    : []),
  ...(c.spark.trigger === 'hall'
    ? [yesNo('choices.spark.camSignal', 'Second signal, once a cycle', 'a distributor with two signals')]
    : []),
  ...(c.spark.trigger !== 'toothed-wheel' && hasCamSignal(c)
    ? [
        pick(
          'choices.spark.camSyncWindows',
          'Cam pulse ahead of the reference',
          [
            [0.5, '½ interval'],
            [1.5, '1½ intervals'],
          ],
          'as the unit’s sheet says',
        ),
      ]
    : []),
]

/** The sensor and its edge; none where the way has no sensor. */
export const sensorFields = (c: SparkContext): Field[] =>
  sensorOf(c) === null
    ? []
    : [
        pick(
          'choices.spark.sensor',
          'Sensor',
          [
            ['magnetic', 'magnetic'],
            ['hall', 'Hall'],
            ['optical', 'optical'],
          ],
          `${sensorOf(c)} unless said`,
        ),
        ...(sensorOf(c) === 'magnetic'
          ? [q('choices.spark.lobeDeg', 'Width of one lobe', 'angle', 'on its own shaft; 3° until seen on the scope')]
          : [
              pick('choices.spark.output', 'Output with the target there', [
                ['low', 'low'],
                ['high', 'high'],
              ]),
              pick('choices.spark.setOn', 'Set with the target', [
                ['arriving', 'arriving'],
                ['leaving', 'leaving'],
              ]),
              pick('choices.spark.edge', 'Edge told to the unit', [
                ['falling', 'falling'],
                ['rising', 'rising'],
              ]),
              q('choices.spark.targetWidthDeg', 'Width of the target', 'angle', 'on its own shaft'),
            ]),
      ]

/** A toothed wheel, counted. */
export const wheelFields = [
  q('choices.spark.wheel.teeth', 'Places round the wheel', 'count', 'missing ones too'),
  q('choices.spark.wheel.missing', 'Of them missing', 'count'),
  q('choices.spark.wheel.toothAtTdc', 'Tooth at the sensor, top centre', 'count', 'number one up'),
  q('choices.spark.wheel.referenceTooth', 'Reference tooth', 'count', 'as the unit’s sheet counts'),
  q('choices.spark.wheel.remainderDeg', 'Left within the tooth', 'angle'),
]
export const knockField = pick('choices.spark.knock.place', 'Knock sensor', [
  ['block-middle', 'block, middle'],
  ['block-end', 'block, end'],
  ['head', 'head'],
  ['bracket', 'a bracket'],
])
