import { at, finding, metres, mm, type Rule, say } from '../kernel/index.ts'
import { hasDistributor } from '../spark/index.ts'
import { type Hazard, wiringOf } from './car-plan.ts'
import { harnessOf, lostEdits, type Wire } from './harness.ts'
import { KEEP_MM, ROCK_MM, UNIT_FROM_COIL_MM } from './limits.ts'
import { begun, first, wireAt } from './wrong-wires.ts'

const near = (kind: Hazard['kind'], title: string, cure: string): Rule => ({
  id: `wiring.near-${kind.toLowerCase()}`,
  check: (c) => {
    const found = first(c, (w) => !(kind === 'exhaust' && w.circuit.edit.sleeve) && w.run.near.some((n) => n.hazard.kind === kind))
    if (!found) return null
    const { hazard, distanceMm } = found.w.run.near.find((n) => n.hazard.kind === kind)!
    return finding(
      'warn',
      `${found.w.circuit.name} ${title}`,
      say`${mm(distanceMm, 0)} from the ${hazard.label}; ${mm(KEEP_MM[kind], 0)} is the least.${found.more}`,
      cure,
      at('wiring', 'route', found.w.circuit.id),
    )
  },
})
const straightMm = ({ run }: Wire): number => {
  const [a, b] = [run.points[0], run.points.at(-1)!]
  return Math.hypot(b.xMm - a.xMm, b.yMm - a.yMm)
}
/** What a measured wire has over the straight line and the engine's rocking, mm. */
const tautMm = (w: Wire): number => (w.measured ? 1000 * w.lengthM - straightMm(w) - ROCK_MM : Infinity)
export const routeRules: Rule[] = [
  {
    id: 'wiring.endless',
    check: (c) => {
      const [one] = begun(c) ? harnessOf(c).endless : []
      return one
        ? finding(
            'warn',
            `${one.name} leads nowhere`,
            'It begins and ends at the same place, so it is in no list and no drawing.',
            'Say where it ends.',
            at('wiring', 'circuits'),
          )
        : null
    },
  },
  near('highTension', 'runs along plug leads', 'Lead it another way, or across them at right angles.'),
  near('exhaust', 'runs beside the exhaust', 'Lead it another way, or in a heat sleeve.'),
  near('moving', 'runs beside what turns', 'Lead it another way and tie it every hand’s breadth.'),
  {
    id: 'wiring.strain',
    check: (c) => {
      const found = first(c, (w) => w.circuit.edit.tied === false || tautMm(w) < 0)
      if (!found) return null
      const { w, more } = found
      return finding(
        'warn',
        `${w.circuit.name} pulls at its plug`,
        w.circuit.edit.tied === false
          ? `Not held near its plugs: the engine’s rocking works at the terminals.${more}`
          : say`${metres(w.lengthM)} measured, ${mm(straightMm(w), 0)} straight from end to end: nothing is left for the engine to rock by ${mm(ROCK_MM, 0)}.${more}`,
        'A loop near the plug, and a tie within a hand’s breadth of both ends.',
        wireAt(w, w.circuit.edit.tied === false ? 'tied' : 'measuredM'),
      )
    },
  },
  {
    id: 'wiring.no-grommet',
    check: (c) => {
      if (!begun(c)) return null
      const panels = new Set(harnessOf(c).wires.flatMap((w) => w.run.panels))
      const bare = [...panels].filter((id) => wiringOf(c).grommets?.[id] === false)
      return bare.length
        ? finding(
            'stop',
            'A hole without a grommet',
            `${bare.join(', ').replaceAll('-', ' ')}: the edge cuts through the insulation.`,
            'A grommet of the hole’s size, and a tie on both sides.',
            at('wiring', 'route', bare[0]),
          )
        : null
    },
  },
  {
    id: 'wiring.unit-near-coil',
    check: (c) => {
      if (!begun(c)) return null
      const { places } = harnessOf(c)
      const [unit, coil] = [places.get('unit')!, places.get(hasDistributor(c) ? 'coil' : 'coils')!]
      const apart = Math.hypot(unit.xMm - coil.xMm, unit.yMm - coil.yMm)
      return apart < UNIT_FROM_COIL_MM && !unit.usual
        ? finding(
            'warn',
            'The unit stands near the coil',
            say`${mm(apart, 0)} apart; ${mm(UNIT_FROM_COIL_MM, 0)} is the least.`,
            'Move one of them.',
            at('wiring', 'route', 'unit'),
          )
        : null
    },
  },
  {
    id: 'wiring.colours-alike',
    check: (c) => {
      if (!begun(c)) return null
      const seen = new Map<string, string>()
      for (const { circuit, colour } of harnessOf(c).wires)
        for (const place of [circuit.from, circuit.to]) {
          const key = `${place} ${colour}`
          const other = seen.get(key)
          if (other)
            return finding(
              'warn',
              'Two wires alike in one connector',
              `${other} and ${circuit.name} are both ${colour} at ${place.replaceAll('-', ' ')}.`,
              'Another colour, or a marked sleeve.',
              at('wiring', 'circuits', `choices.wiring.circuits.${circuit.id}.colour`),
            )
          seen.set(key, circuit.name)
        }
      return null
    },
  },
  {
    id: 'wiring.lost-edits',
    check: (c) => {
      const lost = begun(c) ? lostEdits(c) : []
      return lost.length
        ? finding(
            'note',
            'Edits of circuits that are no longer there',
            `${lost.join(', ').replaceAll('-', ' ')}: the plan no longer asks for them; what was entered is kept.`,
            'Take them out, or enter them as circuits of your own.',
            at('wiring', 'circuits'),
          )
        : null
    },
  },
]
