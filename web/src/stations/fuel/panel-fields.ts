import { circuitDefaults } from '@vectum/core'
import { pick, quantity as q, yesNo, type Field } from '../../quantity/field.ts'

/** What is asked of the things on the drawing that are no elements of a line. */
const regulatorFields: Field[] = [
  q('choices.fuel.regulator.setKpa', 'Set to', 'pressure', 'over its port'),
  pick('choices.fuel.regulator.reference', 'Its port', [
    ['open', 'open to air'],
    ['manifold', 'to the manifold'],
    ['above-plates', 'above the plates'],
    ['capped', 'capped'],
  ]),
  pick(
    'choices.fuel.mapFrom',
    'The unit reads MAP at',
    [
      ['plenum', 'the plenum'],
      ['one-runner', 'one runner'],
      ['ported', 'a ported source'],
    ],
    'apart from the regulator’s port',
  ),
  q('choices.fuel.regulator.minReturnLph', 'Return flow it needs', 'pumpFlow'),
  q('choices.fuel.regulator.openDropKpa', 'Wide open it takes', 'pressure'),
  q('choices.fuel.regulator.openAtLph', 'At a flow of', 'pumpFlow'),
]
const d = circuitDefaults
const tankFields: Field[] = [
  q('choices.fuel.heights.fuelM', 'Fuel level at a quarter, above ground', 'distance', `${d.fuelM} m until measured`),
  q('choices.fuel.heights.pumpM', 'Pump, above ground', 'distance', `${d.pumpM} m until measured`),
  q('choices.fuel.heights.railM', 'Injectors, above ground', 'distance', `${d.railM} m until measured`),
  q('choices.fuel.coolC', 'Fuel in ordinary use', 'temperature', `${d.coolC} °C until said`),
  q('choices.fuel.hotC', 'Fuel on the hottest day', 'temperature', `${d.hotC} °C until said`),
  q('choices.fuel.winterRvpKpa', 'Winter fuel, Reid pressure', 'pressure', `${d.winterRvpKpa} kPa until said`),
  q('choices.fuel.summerRvpKpa', 'Summer fuel, Reid pressure', 'pressure', `${d.summerRvpKpa} kPa until said`),
  q('choices.fuel.tankGaugeKpa', 'Pressure in the tank', 'pressure', 'over the air', 1),
  yesNo('facts.fuel.tankVented', 'Tank vented'),
  yesNo('facts.fuel.tankBaffled', 'Tank baffled'),
]
const sumpFields: Field[] = [
  q('choices.fuel.sump.volumeL', 'Usable volume', 'volume', undefined, 2),
  q('choices.fuel.sump.uncoveredS', 'Pick-up dry for', 'timeS', `${d.uncoveredS} s until said`),
  q('choices.fuel.heights.sumpM', 'Sump, above ground', 'distance'),
  pick('choices.fuel.sump.vent', 'Vent', [
    ['to-tank', 'back to the tank'],
    ['outside', 'outside, as code asks'],
    ['none', 'none'],
  ]),
]
const pumpFields: Field[] = [
  pick('choices.fuel.pumpPlace', 'Pump', [
    ['in-tank', 'in the tank'],
    ['outside', 'outside'],
  ]),
  q('choices.fuel.wiring.lengthM', 'Supply wire, one way', 'distance', `${d.wireLengthM} m until measured`),
  q('choices.fuel.wiring.areaMm2', 'Of copper', 'wireArea', `${d.wireAreaMm2} mm² until measured`),
  yesNo('choices.fuel.wiring.returnThroughWire', 'Earth by wire too'),
]
/** What stops the pump, and what is closed for good. */
export const safetyFields: Field[] = [
  yesNo('choices.fuel.safety.stallCutOff', 'Stops within 2 s of a stalled engine, without the unit', 'a reset must not leave fuel flowing'),
  yesNo('choices.fuel.safety.crashCutOff', 'Inertia or roll-over cut-off'),
  yesNo('choices.fuel.safety.relay', 'Pump on a relay from the battery'),
  yesNo('choices.fuel.safety.portsPlugged', 'Unused ports plugged, rated'),
  yesNo('choices.fuel.safety.mechanicalPumpRemoved', 'Mechanical pump out, blanked'),
]

/** The panel of a thing, by its key on the drawing. */
export const panels: Readonly<Record<string, { title: string; fields: Field[] }>> = {
  regulator: { title: 'Regulator', fields: regulatorFields },
  tank: { title: 'Tank, heights and fuel', fields: tankFields },
  sump: { title: 'Sump', fields: sumpFields },
  pump: { title: 'Pump: place and wiring', fields: pumpFields },
}
