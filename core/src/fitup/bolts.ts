import { boltTorque } from './bolt-torque.ts'
import type { BoltJoint } from './choices.ts'
import { ENGAGEMENT, OF_LUG, OF_PROOF, PASS_SHARES } from './limits.ts'

export interface BoltAt {
  xMm: number
  yMm: number
}
/** Where the bolts of a joint sit, from its middle: told one by one, on a circle, in a row, or along two sides of a rectangle. */
export function boltsOf({ pattern, bolts, widthMm = 0, lengthMm = 0, diameterMm = 0, at }: BoltJoint): BoltAt[] {
  if (at?.length) return at
  const n = bolts ?? 0
  const spread = (i: number, of: number): number => (of === 1 ? 0 : -lengthMm / 2 + (lengthMm * i) / (of - 1))
  if (pattern === 'circle')
    return Array.from({ length: n }, (_, i) => {
      const angle = (2 * Math.PI * i) / n - Math.PI / 2
      return { xMm: (diameterMm / 2) * Math.cos(angle), yMm: (diameterMm / 2) * Math.sin(angle) }
    })
  if (pattern === 'row') return Array.from({ length: n }, (_, i) => ({ xMm: spread(i, n), yMm: 0 }))
  const side = Math.ceil(n / 2)
  return Array.from({ length: n }, (_, i) => {
    const first = i < side
    return { xMm: spread(first ? i : i - side, first ? side : n - side), yMm: first ? -widthMm / 2 : widthMm / 2 }
  })
}

/** Bolts whose distance from the middle differs by less than this share of the largest are one ring. */
const RING = 0.08
const apart = (a: BoltAt, b: BoltAt): number => Math.hypot(a.xMm - b.xMm, a.yMm - b.yMm)

/**
 * The order in which a flange is drawn down: from the middle out, ring by ring, each bolt the farthest from the one before it, so that the flange
 * goes down level.
 * @returns indices of `bolts`
 */
export function boltOrder(bolts: readonly BoltAt[]): number[] {
  const middle = { xMm: mean(bolts.map((b) => b.xMm)), yMm: mean(bolts.map((b) => b.yMm)) }
  const far = bolts.map((b) => apart(b, middle))
  const most = Math.max(...far)
  const ringOf = (i: number): number => Math.round(far[i] / (RING * most || 1))
  const left = bolts.map((_, i) => i)
  const order: number[] = []
  while (left.length) {
    const inner = Math.min(...left.map(ringOf))
    // neighbours of the innermost count as its ring, so that a rounded distance parts no pair
    const ring = left.filter((i) => ringOf(i) <= inner + 1)
    const [last, before] = [order.at(-1), order.at(-2)]
    const next =
      last === undefined
        ? ring[0]
        : ring.reduce((best, i) => {
            const gain = apart(bolts[i], bolts[last]) - apart(bolts[best], bolts[last])
            if (Math.abs(gain) > 1e-6) return gain > 0 ? i : best
            return before !== undefined && apart(bolts[i], bolts[before]) > apart(bolts[best], bolts[before]) + 1e-6 ? i : best
          })
    order.push(next)
    left.splice(left.indexOf(next), 1)
  }
  return order
}
const mean = (list: readonly number[]): number => list.reduce((sum, v) => sum + v, 0) / (list.length || 1)

/** Coarse pitch of ISO metric threads, mm. Source: ISO 261. */
const PITCH_MM: Readonly<Record<number, number>> = { 5: 0.8, 6: 1, 7: 1, 8: 1.25, 10: 1.5, 12: 1.75, 14: 2 }
export const threadsMm = Object.keys(PITCH_MM).map(Number)
/** Proof stress by class, MPa. Source: ISO 898-1, table 3. */
const PROOF_MPA = { '5.8': 380, '8.8': 580, '10.9': 830 } as const
/** Nut factor by what is on the thread. Source: Shigley, table 8-15, rounded. */
const NUT_FACTOR = { dry: 0.2, oiled: 0.15, paste: 0.12 } as const
/** Shear strength of the lug and pressure that it bears under a head, MPa; castings at the low end of their ranges. */
const LUG = {
  'light-alloy': { shear: 120, bearing: 230 },
  'cast-iron': { shear: 180, bearing: 500 },
  steel: { shear: 240, bearing: 480 },
} as const
/** Share of the circumference that a nut thread's root shears over. Source: Norton, Machine Design, table 15-5 (ISO). */
const ROOT_SHARE = 0.88
/** Head or washer over the thread's diameter: outside, and the hole under it. */
const HEAD = 1.45
const WASHER = 2
const HOLE = 1.1

export interface JointTorque {
  torqueNm: number
  clampN: number
  /** sheet, or what ends the clamp load */
  by: 'sheet' | 'bolt' | 'thread' | 'lug'
  /** what each of the three bears, N */
  bears: { bolt: number; thread: number | null; lug: number }
  passesNm: number[]
  /** what bolt and thread hold at all, before any share is kept back, N */
  holdsN: number
}
/**
 * Torque of a joint: by its sheet, else the clamp load that bolt, thread and lug bear, turned into a torque by what is on the thread.
 * @returns null while thread or class is not told and no sheet is
 * @source tensile stress area ISO 898-1; Shigley, section 8-8; Norton, section 15.5
 */
export function jointTorque(j: BoltJoint): JointTorque | null {
  const { threadMm, sheetNm } = j
  const bears = threadMm === undefined ? null : clampLimits(j, threadMm)
  if (sheetNm !== undefined)
    return {
      torqueNm: sheetNm,
      clampN: threadMm === undefined ? NaN : (1000 * sheetNm) / (NUT_FACTOR[j.lubrication ?? 'dry'] * threadMm),
      by: 'sheet',
      bears: bears ?? { bolt: NaN, thread: null, lug: NaN },
      passesNm: PASS_SHARES.map((s) => s * sheetNm),
      holdsN: bears ? holdsN(bears) : NaN,
    }
  if (threadMm === undefined || !bears) return null
  const limits = [
    ['bolt', bears.bolt],
    ['lug', bears.lug],
    ...(bears.thread === null ? [] : ([['thread', bears.thread]] as const)),
  ] as const
  const [by, clampN] = limits.reduce((least, one) => (one[1] < least[1] ? one : least))
  const { torqueNm } = boltTorque.run({ threadMm, clampN, nutFactor: NUT_FACTOR[j.lubrication ?? 'dry'] })
  return { torqueNm, clampN, by, bears, passesNm: PASS_SHARES.map((s) => s * torqueNm), holdsN: holdsN(bears) }
}
const holdsN = ({ bolt, thread }: JointTorque['bears']): number => Math.min(bolt / OF_PROOF, thread === null ? Infinity : thread / OF_LUG)
function clampLimits(j: BoltJoint, threadMm: number): JointTorque['bears'] {
  const { class: strength = '8.8', lug = 'light-alloy', engagementMm, washer } = j
  const stressMm2 = (Math.PI / 4) * (threadMm - 0.9382 * PITCH_MM[threadMm]) ** 2
  const outside = (washer ? WASHER : HEAD) * threadMm
  const underMm2 = (Math.PI / 4) * (outside ** 2 - (HOLE * threadMm) ** 2)
  return {
    bolt: OF_PROOF * PROOF_MPA[strength] * stressMm2,
    thread: engagementMm === undefined ? null : OF_LUG * LUG[lug].shear * Math.PI * threadMm * ROOT_SHARE * engagementMm,
    lug: LUG[lug].bearing * underMm2,
  }
}
/** Thread that must stand in the lug, mm. */
export const engagementMm = (j: Pick<BoltJoint, 'threadMm' | 'lug'>): number | null =>
  j.threadMm === undefined ? null : ENGAGEMENT[j.lug ?? 'light-alloy'] * j.threadMm
