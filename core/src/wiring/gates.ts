import { type Context, type Gate, type JudgedContext, proved, readingsOf, whyFallen } from '../kernel/index.ts'
import { harnessOf } from './harness.ts'
import { keyedVerdict } from './keyed.ts'
import { plugsOf } from './out.ts'

/** Connectors of the harness that nobody has seated, latched and tugged as it is now. */
export const openConnectors = (c: JudgedContext): string[] =>
  plugsOf(harnessOf(c))
    .filter((k) => !proved(c, 'wiring.connector', (r) => r.value.place === k.place))
    .map((k) => k.label)

/** The wire that was proved a good keyed supply; null: none so far. */
export const keyedWire = (c: Context): string | null => {
  const good = readingsOf(c.readings, 'wiring.keyed').filter((r) => keyedVerdict(r.value).kind === 'good' && c.standings.get(r.id)?.stands)
  return good.at(-1)?.value.wire ?? null
}
export const groundProved = (c: Context, which: 'unit' | 'engine'): boolean =>
  proved(c, 'wiring.ground-drop', (r) => r.value.which === which) !== null

/** Whether the engine ran and nothing is known against this part of its wiring: what was opened or failed since is no longer what ran. */
const ranOnIt = (c: Context, kind: 'wiring.connector' | 'wiring.keyed' | 'wiring.ground-drop'): boolean =>
  c.build.readings.some((r) => r.kind === 'start.ran') &&
  whyFallen(c, [kind]) === null &&
  !readingsOf(c.readings, kind).some((r) => c.standings.get(r.id)?.stands === null)

/**
 * What First start wants of the wiring: connectors and keyed supply before the key, grounds before it is cranked with fuel. A car that ran before it
 * was on record is not shut out by it.
 */
export function wiringGates(c: JudgedContext): { key: Gate[]; crank: Gate[] } {
  const gate = (id: string, kind: Parameters<typeof ranOnIt>[1], label: string, met: boolean, why: string): Gate => {
    const ran = !met && ranOnIt(c, kind)
    return { id, label, met: met || ran, why: met ? 'recorded' : ran ? 'not recorded, but it has run' : why, station: 'wiring' }
  }
  const open = openConnectors(c)
  const grounds = (['unit', 'engine'] as const).filter((which) => !groundProved(c, which))
  const fallen = (kind: string): string => (whyFallen(c, [kind]) === null ? '' : 'again: ')
  return {
    key: [
      gate(
        'connectors',
        'wiring.connector',
        'Every connector seated, latched, tugged',
        open.length === 0,
        `${open.length} to do: ${open.slice(0, 3).join(', ')}${open.length > 3 ? ' …' : ''}`,
      ),
      gate(
        'keyed-supply',
        'wiring.keyed',
        'Keyed supply that holds while cranking',
        keyedWire(c) !== null,
        `${fallen('wiring.keyed')}try a wire with meter and lamp`,
      ),
    ],
    crank: [
      gate(
        'grounds',
        'wiring.ground-drop',
        'Drops over the grounds within their limits',
        grounds.length === 0,
        `${fallen('wiring.ground-drop')}measure ${grounds.join(' and ')}`,
      ),
    ],
  }
}
