import { circuitDefaults } from '@vectum/core'
import { factField, pick, quantity as q, yesNo, type Field } from '../../quantity/field.ts'

/** What is asked of the things on the drawing that are no elements of a line. */
const regulatorFields: Field[] = [
  q('choices.fuel.regulator.setKpa', 'pressure', 'over its port'),
  pick('choices.fuel.regulator.reference', [
    ['open', 'open to air'],
    ['manifold', 'to the manifold'],
    ['above-plates', 'above the plates'],
    ['capped', 'capped'],
  ]),
  pick(
    'choices.fuel.mapFrom',
    [
      ['plenum', 'the plenum'],
      ['one-runner', 'one runner'],
      ['ported', 'a ported source'],
    ],
    'apart from the regulator’s port',
  ),
  q('choices.fuel.regulator.minReturnLph', 'pumpFlow'),
  q('choices.fuel.regulator.openDropKpa', 'pressure'),
  q('choices.fuel.regulator.openAtLph', 'pumpFlow'),
]
const d = circuitDefaults
const tankFields: Field[] = [
  q('choices.fuel.heights.fuelM', 'distance', `${d.fuelM} m until measured`),
  q('choices.fuel.heights.pumpM', 'distance', `${d.pumpM} m until measured`),
  q('choices.fuel.heights.railM', 'distance', `${d.railM} m until measured`),
  q('choices.fuel.coolC', 'temperature', `${d.coolC} °C until said`),
  q('choices.fuel.hotC', 'temperature', `${d.hotC} °C until said`),
  q('choices.fuel.winterRvpKpa', 'pressure', `${d.winterRvpKpa} kPa until said`),
  q('choices.fuel.summerRvpKpa', 'pressure', `${d.summerRvpKpa} kPa until said`),
  q('choices.fuel.tankGaugeKpa', 'pressure', 'over the air', 1),
  factField('fuel.tankVented'),
  factField('fuel.tankBaffled'),
]
const sumpFields: Field[] = [
  q('choices.fuel.sump.volumeL', 'volume', undefined, 2),
  q('choices.fuel.sump.uncoveredS', 'timeS', `${d.uncoveredS} s until said`),
  q('choices.fuel.heights.sumpM', 'distance'),
  pick('choices.fuel.sump.vent', [
    ['to-tank', 'back to the tank'],
    ['outside', 'outside, as code asks'],
    ['none', 'none'],
  ]),
]
const pumpFields: Field[] = [
  pick('choices.fuel.pumpPlace', [
    ['in-tank', 'in the tank'],
    ['outside', 'outside'],
  ]),
  q('choices.fuel.wiring.lengthM', 'distance', `${d.wireLengthM} m until measured`),
  q('choices.fuel.wiring.areaMm2', 'wireArea', `${d.wireAreaMm2} mm² until measured`),
  yesNo('choices.fuel.wiring.returnThroughWire'),
]
/** What stops the pump, and what is closed for good. */
export const safetyFields: Field[] = [
  yesNo('choices.fuel.safety.stallCutOff', 'a reset must not leave fuel flowing'),
  yesNo('choices.fuel.safety.crashCutOff'),
  yesNo('choices.fuel.safety.relay'),
  yesNo('choices.fuel.safety.portsPlugged'),
  yesNo('choices.fuel.safety.mechanicalPumpRemoved'),
]

/** The panel of a thing, by its key on the drawing. */
export const panels: Readonly<Record<string, { title: string; fields: Field[] }>> = {
  regulator: { title: 'Regulator', fields: regulatorFields },
  tank: { title: 'Tank, heights and fuel', fields: tankFields },
  sump: { title: 'Sump', fields: sumpFields },
  pump: { title: 'Pump: place and wiring', fields: pumpFields },
}
