import { at, type Context, finding, latest, type Rule } from '../kernel/index.ts'
import { ZERO_TOLERANCE_DEG } from './limits.ts'
import { coilsOf, controlsTiming, hasCamSignal, hasDistributor, sensorOf } from './ways.ts'
import { zeroOffsetDeg } from './zero-mark.ts'

export interface Proof {
  id: 'zero-mark' | 'lock-out' | 'stroke' | 'order' | 'polarity'
  title: string
  state: 'open' | 'proved' | 'wrong'
  because: string
}

/** The zero mark last read; the correction that light readings still need; whether both sides of the stop were read. */
export function zeroMark(c: Context): { offsetDeg: number; correctionDeg: number; dealt: boolean; read: boolean } | null {
  const reading = latest(c.readings, 'spark.zero-mark')
  if (!reading) return null
  const { dealt, beforeDeg } = reading.value
  const offsetDeg = zeroOffsetDeg(reading.value)
  // of a mark made anew the offset alone was that of the old one
  const ofOldMark = dealt === 're-marked' && beforeDeg === undefined
  return {
    offsetDeg,
    correctionDeg: ofOldMark ? 0 : offsetDeg,
    dealt: dealt === 'stored' || ofOldMark || Math.abs(offsetDeg) <= ZERO_TOLERANCE_DEG,
    read: c.standings.get(reading.id)?.stands === true,
  }
}

/** Whether the order in which cylinders were seen to spark is the engine's own, from whichever cylinder it was begun. */
export function sameOrder(seen: readonly number[], firingOrder: readonly number[]): boolean {
  const at = seen.indexOf(firingOrder[0])
  return at >= 0 && seen.length === firingOrder.length && firingOrder.every((cylinder, i) => seen[(at + i) % seen.length] === cylinder)
}

/**
 * Proofs in the order in which each can imitate the next (handbook 03): zero mark, locked weights, stroke, firing order, polarity. Only with all
 * of them does a timing error mean reference or delay.
 */
export function proofsOf(c: Context): Proof[] {
  const times = controlsTiming(c)
  if (!times && !hasDistributor(c)) return []
  const list: Proof[] = []
  const add = (id: Proof['id'], title: string, right: boolean | null, because: string) =>
    list.push({ id, title, state: right === null ? 'open' : right ? 'proved' : 'wrong', because })
  const zero = zeroMark(c)
  add(
    'zero-mark',
    'Zero mark',
    zero === null || (zero.dealt && !zero.read) ? null : zero.dealt,
    zero === null || (zero.dealt && !zero.read)
      ? 'piston stop from both directions'
      : zero.dealt
        ? zero.correctionDeg === 0
          ? 'true as marked'
          : `readings corrected by ${zero.correctionDeg.toFixed(1)}°`
        : `off by ${zero.offsetDeg.toFixed(1)}°: store it or mark anew`,
  )
  if (c.spark.trigger === 'locked-magnetic') {
    const twist = latest(c.readings, 'spark.lock-out')
    add(
      'lock-out',
      'Advance locked',
      twist === null ? null : !twist.value.moves,
      twist === null ? 'hand-twist test' : twist.value.moves ? 'the rotor still moves' : 'nothing moves',
    )
  }
  if (hasDistributor(c) || hasCamSignal(c)) {
    const stroke = latest(c.readings, 'spark.stroke')
    add(
      'stroke',
      'Compression stroke',
      stroke === null ? null : stroke.value.inStep,
      stroke === null ? 'thumb or gauge at plug 1' : stroke.value.inStep ? `by ${stroke.value.method}` : 'a whole crank turn out',
    )
  }
  const order = latest(c.readings, 'spark.order')
  const firingOrder = c.facts.engine?.firingOrder
  add(
    'order',
    hasDistributor(c) ? 'Firing order at the leads' : 'Each coil on its cylinder',
    order === null || !firingOrder ? null : orderRight(c, order.value.cylinders, firingOrder),
    order === null ? 'follow each lead, or light on each lead in turn' : order.value.cylinders.join('-'),
  )
  if (times && sensorOf(c)) {
    const polarity = latest(c.readings, 'spark.polarity')
    add(
      'polarity',
      'Polarity of the sensor',
      polarity === null ? null : polarity.value.right,
      polarity === null ? 'scope or lamp' : `by ${polarity.value.method}`,
    )
  }
  return list
}

/** A pair that sparks together may be seen in either place: with paired coils an order is right when it is so pair by pair. */
function orderRight(c: Context, seen: readonly number[], firingOrder: readonly number[]): boolean {
  if (coilsOf(c) !== 'paired') return sameOrder(seen, firingOrder)
  const half = firingOrder.length / 2
  const pair = (cylinder: number) => firingOrder.indexOf(cylinder) % half
  const at = seen.map(pair)
  return seen.length === firingOrder.length && at.every((p, i) => p === (at[0] + i) % half)
}

/** The proofs still missing before a timing error may be put down to reference or delay. */
export const unproved = (c: Context): Proof[] => proofsOf(c).filter((p) => p.state !== 'proved')

export const timingProofRules: Rule[] = [
  {
    id: 'spark.zero-mark',
    where: at('spark', 'steps', 'zero'),
    check: (c) => {
      if (!controlsTiming(c) && !hasDistributor(c)) return null
      const zero = zeroMark(c)
      if (!zero || (zero.dealt && !zero.read))
        return finding(
          'warn',
          'The zero mark is not proven',
          zero ? 'An offset was told, without the two readings it comes from.' : 'A damper ring can slip; every light reading hangs on it.',
          'Prove it with a piston stop from both directions and record both readings.',
        )
      return zero.dealt
        ? null
        : finding(
            'stop',
            'The zero mark is wrong',
            `True top centre lies ${Math.abs(zero.offsetDeg).toFixed(1)}° ${zero.offsetDeg > 0 ? 'after' : 'before'} the mark: the ring has slipped or is another engine’s.`,
            'Mark true zero anew, or have the offset stored so that each light reading is corrected. A slipped ring is renewed.',
          )
    },
  },
  {
    id: 'spark.stroke',
    where: at('spark', 'steps', 'stroke'),
    check: (c) => {
      const stroke = latest(c.readings, 'spark.stroke')
      if (!stroke || stroke.value.inStep || (!hasDistributor(c) && !hasCamSignal(c))) return null
      return finding(
        'stop',
        hasDistributor(c) ? 'The distributor is 180° out' : 'The cam signal is on the wrong stroke',
        `By ${stroke.value.method} number one is on compression, and the ${hasDistributor(c) ? 'rotor points at the opposite tower' : 'cam target is not at its sensor'}: 180 distributor degrees, 360 at the crank.`,
        hasDistributor(c)
          ? 'Lift the distributor and turn its shaft half round, or move every lead half way round the cap.'
          : 'Turn the cam target half round, or the crank once more before it is set.',
      )
    },
  },
  {
    id: 'spark.order',
    where: at('spark', 'order'),
    check: (c) => {
      const order = latest(c.readings, 'spark.order')
      const firingOrder = c.facts.engine?.firingOrder
      if (!order || !firingOrder || !proofsOf(c).some((p) => p.id === 'order' && p.state === 'wrong')) return null
      const seen = order.value.cylinders
      const at = seen.indexOf(firingOrder[0])
      const fromOne = at < 0 ? seen : firingOrder.map((_, i) => seen[(at + i) % seen.length])
      const wrong = firingOrder.filter((cylinder, i) => fromOne[i] !== cylinder)
      return finding(
        'stop',
        wrong.length === 2 ? `Leads ${wrong[0]} and ${wrong[1]} are crossed` : 'The firing order at the leads is wrong',
        `Seen ${seen.join('-')}, the engine fires ${firingOrder.join('-')}.`,
        wrong.length === 2
          ? 'Change the two over, then follow them again.'
          : 'Lay the leads out by the map at Order, then follow them again.',
      )
    },
  },
]
