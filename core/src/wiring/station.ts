import { at, finding, type JudgedContext, proved, latest, type Requirement, type Rule, station } from '../kernel/index.ts'
import { wiringOf } from './car-plan.ts'
import { WiringChoices } from './choices.ts'
import { pumpFeedOf, wiringParts, wiringTasks } from './contribution.ts'
import { wiringEntries } from './entries.ts'
import { wiringRules } from './findings.ts'
import { groundProved, keyedWire, openConnectors } from './gates.ts'

/** A car that ran before its wiring was on record is warned, not shut. */
const unproved: Rule = {
  id: 'wiring.unproved',
  where: at('wiring', 'checks'),
  check: (c) => {
    if (!c.build.readings.some((r) => r.kind === 'start.ran')) return null
    const open = [
      ...(openConnectors(c).length ? ['connectors'] : []),
      ...(keyedWire(c) ? [] : ['keyed supply']),
      ...(groundProved(c, 'unit') && groundProved(c, 'engine') ? [] : ['grounds']),
    ]
    return open.length
      ? finding(
          'warn',
          'It runs on wiring nobody proved',
          `Not on record as it is now: ${open.join(', ')}.`,
          'Measure them when the car is next in: each takes minutes.',
        )
      : null
  },
}

function requirements(c: JudgedContext): Requirement[] {
  const open = openConnectors(c)
  const check = (kind: string) => at('wiring', 'checks', kind)
  const isolated = latest(c.readings, 'wiring.isolated') !== null
  return [
    {
      id: 'isolated',
      met: isolated,
      action: 'Take the earthed battery terminal off, before anything else',
      where: check('wiring.isolated'),
    },
    {
      id: 'laid',
      met: wiringOf(c).laid === true,
      action: 'Lay the routes on the plan, look at them on the car, and say that they stand',
      where: at('wiring', 'route'),
    },
    {
      id: 'connectors',
      proof: ['wiring.connector'],
      met: open.length === 0,
      action: open.length ? `Seat, latch and tug: ${open[0]}${open.length > 1 ? `, and ${open.length - 1} more` : ''}` : '',
      where: check('wiring.connector'),
    },
    {
      id: 'insulation',
      proof: ['wiring.insulation'],
      met: proved(c, 'wiring.insulation') !== null,
      action: 'Measure every circuit against ground before its fuse goes in',
      where: check('wiring.insulation'),
    },
    {
      id: 'power-on',
      proof: ['wiring.power-on'],
      met: proved(c, 'wiring.power-on') !== null,
      action: 'Fuses in; the earthed terminal on, last of all',
      where: check('wiring.power-on'),
    },
    {
      id: 'keyed',
      proof: ['wiring.keyed'],
      met: keyedWire(c) !== null,
      action: 'Find a keyed supply that holds while cranking, by meter and lamp',
      where: check('wiring.keyed'),
    },
    {
      id: 'ground-unit',
      proof: ['wiring.ground-drop'],
      met: groundProved(c, 'unit'),
      action: 'Measure the drop from the unit’s ground to the battery, loads on',
      where: check('wiring.ground-drop'),
    },
    {
      id: 'ground-engine',
      proof: ['wiring.ground-drop'],
      met: groundProved(c, 'engine'),
      action: 'Measure the drop from the engine to the battery while cranking',
      where: check('wiring.ground-drop'),
    },
    {
      id: 'crank-volts',
      proof: ['wiring.crank-volts'],
      met: proved(c, 'wiring.crank-volts') !== null,
      action: 'Measure the volts at the unit while cranking',
      where: check('wiring.crank-volts'),
    },
    {
      id: 'parked-draw',
      proof: ['wiring.parked-draw'],
      met: proved(c, 'wiring.parked-draw') !== null,
      action: 'Measure what it draws with the key off',
      where: check('wiring.parked-draw'),
    },
    ...(wiringOf(c).bus
      ? [
          {
            id: 'bus',
            proof: ['wiring.bus'],
            met: proved(c, 'wiring.bus') !== null,
            action: 'Measure across the bus, power off',
            where: check('wiring.bus'),
          },
        ]
      : []),
  ]
}

export const wiring = station({
  id: 'wiring',
  number: 5,
  title: 'Wiring',
  question: 'Does every circuit get its volts, on a wire and a fuse that fit?',
  key: 'w',
  after: ['plan'],
  choices: { wiring: WiringChoices },
  entries: wiringEntries,
  rules: [...wiringRules, unproved],
  requirements,
  cautions: ['earth-first', 'law'],
  contributes: {
    tasks: wiringTasks,
    parts: wiringParts,
    pumpFeed: pumpFeedOf,
  },
})
