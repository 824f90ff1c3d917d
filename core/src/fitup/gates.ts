import { type Gate, type JudgedContext, proved, readingsOf, whyFallen } from '../kernel/index.ts'
import type { trackWords } from './entries.ts'
import { type FitupEntryKind } from './entries.ts'
import { hasPedalMotor } from './fitup-of.ts'

export const tracksProved = (c: JudgedContext, which: keyof typeof trackWords): boolean =>
  proved(c, 'fitup.tracks', (r) => r.value.which === which) !== null
/** Kinds that must stand before the throttle is believed: key and brake first where a motor moves it. */
export function throttleProofs(c: JudgedContext): { kind: FitupEntryKind; met: boolean; words: string }[] {
  if (!hasPedalMotor(c)) return [{ kind: 'fitup.linkage', met: proved(c, 'fitup.linkage') !== null, words: 'pedal to plate' }]
  return [
    { kind: 'fitup.brake-key', met: proved(c, 'fitup.brake-key') !== null, words: 'key and brake' },
    { kind: 'fitup.tracks', met: tracksProved(c, 'pedal'), words: 'tracks of the pedal' },
    { kind: 'fitup.tracks', met: tracksProved(c, 'plate'), words: 'tracks of the plate' },
    { kind: 'fitup.limp', met: proved(c, 'fitup.limp') !== null, words: 'limp' },
  ]
}
/** Whether the engine ran and nothing is known against this since: what was opened or failed is no longer what ran. */
const ranOnIt = (c: JudgedContext, kinds: readonly FitupEntryKind[]): boolean =>
  c.build.readings.some((r) => r.kind === 'start.ran') &&
  whyFallen(c, kinds) === null &&
  !kinds.some((kind) => readingsOf(c.readings, kind).some((r) => c.standings.get(r.id)?.stands === null))

/** What First start wants of Fit-up before the engine is cranked with fuel: a throttle that shuts, hoses where they belong. */
export function fitupGates(c: JudgedContext): Gate[] {
  const gate = (id: string, label: string, kinds: readonly FitupEntryKind[], open: string | null): Gate => {
    const ran = open !== null && ranOnIt(c, kinds)
    const again = whyFallen(c, kinds) === null ? '' : 'again: '
    return {
      id,
      label,
      met: open === null || ran,
      why: open === null ? 'recorded' : ran ? 'not recorded, but it has run' : `${again}${open}`,
      station: 'fitup',
    }
  }
  const throttle = throttleProofs(c)
  const open = throttle.filter((p) => !p.met)
  return [
    gate(
      'throttle-shuts',
      hasPedalMotor(c) ? 'Key and brake shut the throttle, its tracks agree' : 'Pedal to plate: opens fully, shuts by itself',
      [...new Set(throttle.map((p) => p.kind))],
      open.length ? `not on record: ${open.map((p) => p.words).join(', ')}` : null,
    ),
    gate(
      'vacuum-hoses',
      'Vacuum hoses on their ports, unused ones capped',
      ['fitup.ports'],
      proved(c, 'fitup.ports') ? null : 'trace each hose by hand to its port',
    ),
  ]
}
