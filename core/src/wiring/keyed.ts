import { type Said, say, volts } from '../kernel/index.ts'
import { DEAD_V, POOR_JOINT_V, RESISTOR_V } from './limits.ts'

/** A candidate wire for the keyed supply, as measured against the battery's minus post. What was not measured is left out. */
export interface KeyedReading {
  wire: string
  batteryV: number
  /** key off, key on without and with a 21 W lamp, in accessory, cranking with the lamp */
  offV?: number
  onV?: number
  lampV?: number
  accessoryV?: number
  crankingV?: number
  batteryCrankingV?: number
  droppedOut?: boolean
}
type KeyedKind = 'good' | 'not-keyed' | 'dead' | 'dead-on-crank' | 'accessory' | 'resistor-fed' | 'poor-joint' | 'unknown'
export interface KeyedVerdict {
  kind: KeyedKind
  title: string
  because: Said
  /** the test that comes next; null: it is judged */
  next: string | null
}
const keyedWords: Record<KeyedKind, string> = {
  good: 'good',
  'not-keyed': 'live with the key off',
  dead: 'dead with the key on',
  'dead-on-crank': 'dead while cranking',
  accessory: 'an accessory wire',
  'resistor-fed': 'fed through a resistor',
  'poor-joint': 'a poor joint in it',
  unknown: 'not told yet',
}

/**
 * Where no wire that was tried is good: what may trigger a relay that takes the supply from the battery. A weak feed still pulls a relay, a dead
 * one does not.
 * @returns null while nothing was told, or a good one was found; `trigger` null: none of them
 */
export function relayInstead(tried: readonly KeyedReading[]): { trigger: string | null } | null {
  const kinds = tried.map((r) => keyedVerdict(r).kind)
  if (kinds.includes('good') || kinds.every((kind) => kind === 'unknown')) return null
  const weak = tried.filter((_, i) => kinds[i] === 'resistor-fed' || kinds[i] === 'poor-joint').at(-1)
  return { trigger: weak?.wire ?? null }
}

/**
 * What a candidate wire is. A resistor takes volts only under load; a poor joint takes few; an accessory wire is live without ignition and dead
 * while cranking.
 */
export function keyedVerdict(r: KeyedReading): KeyedVerdict {
  const is = (kind: KeyedKind, because: Said, next: string | null = null): KeyedVerdict => ({
    kind,
    title: keyedWords[kind],
    because,
    next,
  })
  const { batteryV, offV, onV, lampV, accessoryV, crankingV, batteryCrankingV } = r
  if (offV !== undefined && offV > DEAD_V) return is('not-keyed', say`${volts(offV)} on it with the key off.`)
  if (onV !== undefined && onV < DEAD_V) return is('dead', say`${volts(onV)} on it with the key on.`)
  const deadOnCrank = r.droppedOut === true || (crankingV !== undefined && crankingV < DEAD_V)
  if (deadOnCrank && accessoryV !== undefined)
    return accessoryV > DEAD_V
      ? is('accessory', say`Live in accessory with ${volts(accessoryV)}, gone while cranking.`)
      : is('dead-on-crank', 'It is gone while cranking, and dead in accessory.')
  if (deadOnCrank) return is('dead-on-crank', 'It is gone while cranking.', 'Turn the key to accessory: live there tells an accessory wire')
  if (lampV !== undefined) {
    const lostV = batteryV - lampV
    const without = onV ?? batteryV
    if (lostV > RESISTOR_V && batteryV - without < POOR_JOINT_V)
      return is('resistor-fed', say`${volts(without)} without load, ${volts(lampV)} with the lamp: ${volts(lostV)} are lost.`)
    if (lostV > POOR_JOINT_V) return is('poor-joint', say`${volts(lostV)} are lost under the lamp; ${volts(POOR_JOINT_V)} is the most.`)
  }
  if (crankingV !== undefined && batteryCrankingV !== undefined && batteryCrankingV - crankingV > POOR_JOINT_V)
    return is(
      'poor-joint',
      say`${volts(batteryCrankingV - crankingV)} under the battery while cranking; ${volts(POOR_JOINT_V)} is the most.`,
    )
  const open: [unknown, string][] = [
    [offV, 'Measure it with the key off'],
    [onV, 'Measure it with the key on, nothing on it'],
    [lampV, 'Hang a 21 W lamp on it, key on, and measure again: a resistor shows under load only'],
    [crankingV, 'Crank with the lamp on it, and read wire and battery at once'],
    [batteryCrankingV, 'Read the battery while cranking too'],
  ]
  const next = open.find(([value]) => value === undefined)
  if (next) return is('unknown', 'Nothing wrong so far; it has not been tried in every state.', next[1])
  return is(
    'good',
    say`${volts(lampV!)} under the lamp of ${volts(batteryV)}, ${volts(crankingV!)} of ${volts(batteryCrankingV!)} while cranking, dead with the key off.`,
  )
}
