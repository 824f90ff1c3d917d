import { type EntryTable, kPa, say, type Saying } from '../kernel/index.ts'
import type { FuelLayout } from './circuit.ts'
import { KEPT_PCT } from './limits.ts'

export interface BleedDownVerdict {
  cause: 'holds' | 'check-valve' | 'regulator' | 'injector' | 'unknown'
  keptPct: number
  because: Saying
  remedy: string
}

/**
 * What a falling pressure after key-off points to. Pinching a hose shuts one way out at a time: the way whose pinching stops the loss is
 * the one that leaks.
 */
export function bleedDown(r: EntryTable['fuel.bleed-down'], layout?: FuelLayout): BleedDownVerdict {
  const deadEnd = layout === 'returnless'
  const keptPct = r.at0Kpa > 0 ? (100 * r.at10Kpa) / r.at0Kpa : 0
  const seen = say`${kPa(r.at0Kpa)}, then ${kPa(r.at1Kpa)}, ${kPa(r.at5Kpa)} and ${kPa(r.at10Kpa)} after 1, 5 and 10 minutes: ${keptPct.toFixed(0)} % kept.`
  if (keptPct >= KEPT_PCT) return { cause: 'holds', keptPct, because: seen, remedy: 'Nothing to do.' }
  switch (r.pinch) {
    case 'feed-holds':
      return {
        cause: deadEnd ? 'regulator' : 'check-valve',
        keptPct,
        because: say`${seen} It stands with the feed pinched.`,
        remedy: deadEnd
          ? 'It leaks back at the tank: the regulator’s seat or the check valve, which both stand behind that pinch. Pinch between pump and regulator to tell them apart.'
          : 'The check valve at the pump leaks back: clean or replace it.',
      }
    case 'return-holds':
      return {
        cause: 'regulator',
        keptPct,
        because: say`${seen} It stands with the return pinched${deadEnd ? ', by the tank' : ''}.`,
        remedy: 'The regulator does not seal: clean its seat or replace it.',
      }
    case 'neither-holds':
      return {
        cause: 'injector',
        keptPct,
        because: say`${seen} It falls with ${deadEnd ? 'the feed' : 'feed and return'} pinched.`,
        remedy: 'An injector drips, or a joint leaks: look into the throttle with a light, then at every joint.',
      }
    default:
      return {
        cause: 'unknown',
        keptPct,
        because: seen,
        remedy: deadEnd
          ? 'Pinch the feed hose at the engine and see whether that stops the loss; record it again.'
          : 'Pinch the feed hose, then the return hose, and see which one stops the loss; record it again.',
      }
  }
}
