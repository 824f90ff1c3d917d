import { type contextOf, controlsTiming, hasCamSignal, hasDistributor, sensorOf, USUAL_TAPE_MM } from '@vectum/core'
import { factField, pick, quantity as q, yesNo, type Field } from '../../quantity/field.ts'

type SparkContext = ReturnType<typeof contextOf>

/** Angles and times set in the unit. */
export const angleFields = (c: SparkContext): Field[] => [
  ...(controlsTiming(c) ? [q('choices.spark.referenceDeg', 'angle', 'crank degrees BTDC of the pulse')] : []),
  q('choices.spark.minAdvanceDeg', 'angle', 'cranking or idle'),
  q('choices.spark.maxAdvanceDeg', 'angle', 'light cruise'),
  ...(controlsTiming(c)
    ? [
        q('choices.spark.delayUs', 'timeUs', 'as in the unit'),
        q('choices.spark.latencyUs', 'timeUs', '300 µs if not known'),
        q('choices.spark.lightLatencyUs', 'timeUs', 'of the timing light; not known counts as an uncertainty of 40 µs'),
      ]
    : []),
]

/** What the chosen way wants to know of its parts. */
export const wayFields = (c: SparkContext): Field[] => [
  ...(c.spark.trigger === 'speed-signal' || c.spark.trigger === 'own-curve'
    ? [
        pick('choices.spark.signalFrom', [
          ['coil-negative', 'coil negative'],
          ['tach-output', 'a tach output'],
        ]),
      ]
    : []),
  ...(hasDistributor(c)
    ? [
        pick('choices.spark.gear', [
          ['cast-iron', 'cast iron'],
          ['melonised-steel', 'melonised steel'],
          ['bronze', 'bronze'],
          ['composite', 'composite'],
        ]),
        factField('cam.material'),
      ]
    : []),
  ...(controlsTiming(c) && !hasDistributor(c)
    ? [
        yesNo('choices.spark.camSignal'),
        pick('choices.spark.coils', [
          ['paired', 'one for each pair'],
          ['per-cylinder', 'one for each cylinder'],
        ]),
      ]
    : []),
  ...(c.spark.trigger === 'hall' ? [yesNo('choices.spark.camSignal', 'a distributor with two signals')] : []),
  ...(c.spark.trigger !== 'toothed-wheel' && hasCamSignal(c)
    ? [
        pick(
          'choices.spark.camSyncWindows',
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
          [
            ['magnetic', 'magnetic'],
            ['hall', 'Hall'],
            ['optical', 'optical'],
          ],
          `${sensorOf(c)} unless said`,
        ),
        ...(sensorOf(c) === 'magnetic'
          ? [q('choices.spark.lobeDeg', 'angle', 'on its own shaft; 3° until seen on the scope')]
          : [
              pick('choices.spark.output', [
                ['low', 'low'],
                ['high', 'high'],
              ]),
              pick('choices.spark.setOn', [
                ['arriving', 'arriving'],
                ['leaving', 'leaving'],
              ]),
              pick('choices.spark.edge', [
                ['falling', 'falling'],
                ['rising', 'rising'],
              ]),
              q('choices.spark.targetWidthDeg', 'angle', 'on its own shaft'),
            ]),
      ]

/** A toothed wheel, counted. */
export const wheelFields = [
  q('choices.spark.wheel.teeth', 'count', 'missing ones too'),
  q('choices.spark.wheel.missing', 'count'),
  q('choices.spark.wheel.toothAtTdc', 'count', 'number one up'),
  q('choices.spark.wheel.referenceTooth', 'count', 'as the unit’s sheet counts'),
  q('choices.spark.wheel.remainderDeg', 'angle'),
]
export const tapeField = q(
  'choices.spark.tapeThicknessMm',
  'length',
  `${USUAL_TAPE_MM} mm until measured: the tape lies on a larger circle`,
  2,
)
export const knockField = pick('choices.spark.knock.place', [
  ['block-middle', 'block, middle'],
  ['block-end', 'block, end'],
  ['head', 'head'],
  ['bracket', 'a bracket'],
])
