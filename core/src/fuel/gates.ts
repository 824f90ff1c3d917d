import { type Context, type Finding, type Gate, latest, wordsOf } from '../kernel/index.ts'
import { unanswered } from './asks.ts'
import { missingForCircuit } from './design.ts'

/** Steps of the set-up that can hurt, each opened by recorded checks only. */
export type FuelStep = 'open-lines' | 'pressurise'

/** Stops that the check under pressure is there to find, or to settle: they do not shut it. */
const SETTLED_BY_CHECK = new Set(['fuel.leak', 'fuel.prime', 'fuel.proof', 'fuel.delivery'])

/** @param findings those of the Fuel station */
export function fuelGates(c: Context, findings: readonly Finding[]): Record<FuelStep, Gate[]> {
  const isolated = latest(c.readings, 'fuel.isolated')
  const arrows = latest(c.readings, 'fuel.arrows')
  const safety = latest(c.readings, 'start.safety')
  const missing = missingForCircuit(c)
  const open = unanswered(c)
  const stops = findings.filter((f) => f.severity === 'stop' && !SETTLED_BY_CHECK.has(f.id))
  const gate = (id: string, label: string, met: boolean, why: string): Gate => ({ id, label, met, why, station: 'fuel' })
  return {
    'open-lines': [
      gate(
        'isolated',
        'Battery earth off, pressure relieved',
        isolated !== null,
        isolated ? `recorded by ${isolated.who}` : 'do it, then record it',
      ),
    ],
    pressurise: [
      gate('circuit', 'The circuit is laid out', missing.length === 0, missing[0] ?? 'laid out'),
      gate('answered', 'Every question of safety is answered', open.length === 0, open[0] ? wordsOf(open[0].action) : 'answered'),
      gate('stops', 'No stop in the circuit', stops.length === 0, stops.map((s) => s.message).join('; ') || 'none left'),
      gate(
        'arrows',
        'Flow arrows looked at',
        arrows?.value.right === true,
        arrows ? (arrows.value.right ? 'right' : 'one points the wrong way') : 'look and record',
      ),
      gate(
        'safety',
        'Extinguisher at hand, helper with a stop word',
        safety !== null,
        safety ? `stop word "${safety.value.stopWord}"` : 'agree and record it',
      ),
    ],
  }
}
