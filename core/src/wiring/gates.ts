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

/** Whether the engine ran before its wiring was on record: what ran has run, and it is warned instead. */
const ranBefore = (c: Context): boolean => c.build.readings.some((r) => r.kind === 'start.ran')

/**
 * What First start wants of the wiring: connectors and keyed supply before the key, grounds before it is cranked with fuel. A car that ran before is
 * not shut out by it.
 */
export function wiringGates(c: JudgedContext): { key: Gate[]; crank: Gate[] } {
  const ran = ranBefore(c)
  const gate = (id: string, label: string, met: boolean, why: string): Gate => ({
    id,
    label,
    met: met || ran,
    why: met ? 'recorded' : ran ? 'not recorded, but it has run' : why,
    station: 'wiring',
  })
  const open = openConnectors(c)
  const grounds = (['unit', 'engine'] as const).filter((which) => !groundProved(c, which))
  const fallen = (kind: string): string => (whyFallen(c, [kind]) === null ? '' : 'again: ')
  return {
    key: [
      gate(
        'connectors',
        'Every connector seated, latched, tugged',
        open.length === 0,
        `${open.length} to do: ${open.slice(0, 3).join(', ')}${open.length > 3 ? ' …' : ''}`,
      ),
      gate(
        'keyed-supply',
        'Keyed supply that holds while cranking',
        keyedWire(c) !== null,
        `${fallen('wiring.keyed')}try a wire with meter and lamp`,
      ),
    ],
    crank: [
      gate(
        'grounds',
        'Drops over the grounds within their limits',
        grounds.length === 0,
        `${fallen('wiring.ground-drop')}measure ${grounds.join(' and ')}`,
      ),
    ],
  }
}
