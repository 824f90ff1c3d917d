import { at, type Context, type Requirement } from '../kernel/index.ts'
import { hasSump } from './circuit.ts'

type Answer = boolean | undefined

/**
 * What nobody has answered yet though a wrong answer would be a stop: silence is not safe. Nobody is asked what cannot matter for this car; `no`
 * is an answer, and its own rule judges it.
 */
export function fuelAsks(c: Context): Requirement[] {
  if (!c.fuel.layout) return []
  const { safety = {} } = c.fuel
  const { tankVented, mechanicalPump } = c.facts.fuel ?? {}
  const ask = (id: string, answer: Answer, action: string, field: string): Requirement => ({
    id,
    met: answer !== undefined,
    action,
    where: field.startsWith('facts.') ? at('survey', undefined, field) : at('fuel', 'circuit', field),
  })
  const inPressureLine = !hasSump(c.fuel.layout) && mechanicalPump === true
  return [
    ask('stall-cut-off', safety.stallCutOff, 'Say how the pump stops when the engine does', 'choices.fuel.safety.stallCutOff'),
    ask('crash-cut-off', safety.crashCutOff, 'Say whether an inertia or roll-over cut-off is fitted', 'choices.fuel.safety.crashCutOff'),
    ask('pump-relay', safety.relay, 'Say whether the pump is fed by a relay from the battery', 'choices.fuel.safety.relay'),
    ask(
      'ports-plugged',
      safety.portsPlugged,
      'Say whether every unused port is plugged for the pressure',
      'choices.fuel.safety.portsPlugged',
    ),
    ask('tank-vented', tankVented, 'Say whether the tank is vented', 'facts.fuel.tankVented'),
    ...(hasSump(c.fuel.layout)
      ? []
      : [ask('mechanical-pump', mechanicalPump, 'Say whether a mechanical pump is there', 'facts.fuel.mechanicalPump')]),
    ...(inPressureLine
      ? [
          ask(
            'mechanical-pump-out',
            safety.mechanicalPumpRemoved,
            'Say whether the mechanical pump is out and blanked',
            'choices.fuel.safety.mechanicalPumpRemoved',
          ),
        ]
      : []),
  ]
}
/** Questions still open, which keep pump and key shut. */
export const unanswered = (c: Context): Requirement[] => fuelAsks(c).filter((r) => !r.met)
