import { type Context, readingsOf, type StoredReading } from '../kernel/index.ts'
import { type FuelChoices, type FuelElement, type JointType, type Place, type SectionId, sectionsOf } from './circuit.ts'

/** How each kind of joint is made and looked at (handbook 02). */
export const jointWays: Record<JointType, { label: string; made: string; check: string }> = {
  flare: { label: 'flare', made: 'dry, no sealant, two spanners', check: 'dry towel round the nut' },
  taper: {
    label: 'taper thread',
    made: 'fuel-rated sealant, no scraps of tape',
    check: 'dry towel at the thread, after the sealant has cured',
  },
  'o-ring': { label: 'O-ring boss', made: 'ring oiled, seat clean, to the sheet’s torque', check: 'dry towel under the boss' },
  'push-on': {
    label: 'push-on hose',
    made: 'hose to the bead, the clamp that belongs to it',
    check: 'tug by hand, dry towel under the clamp',
  },
  quick: { label: 'quick connector', made: 'until it clicks, clip in place', check: 'pull by hand, dry towel at the collar' },
}

export interface Joint {
  id: string
  section: SectionId
  label: string
  type: JointType
  place: Place
  /** ends that do not belong together */
  mismatch: [JointType, JointType] | null
}

export function elementLabel(e: FuelElement): string {
  switch (e.kind) {
    case 'line':
      return e.material === 'hard' ? 'hard line' : e.hose === 'braided' ? 'braided hose' : 'hose'
    case 'fitting':
      return `${e.count > 1 ? `${e.count} × ` : ''}${e.fitting}`
    case 'filter':
      return e.micron >= 50 ? 'strainer' : 'filter'
    case 'check-valve':
      return 'check valve'
  }
}
const endsOf = (e: FuelElement): JointType => e.ends ?? (e.kind === 'line' && e.material === 'hose' ? 'push-on' : 'flare')

/** Every joint of the circuit in the order the fuel meets them: one between each two things that are screwed or pushed together. */
export function jointsOf(fuel: FuelChoices): Joint[] {
  if (!fuel.layout) return []
  return sectionsOf(fuel.layout).flatMap(({ id: section, from, to }) => {
    const elements = fuel[section] ?? []
    return Array.from({ length: elements.length ? elements.length + 1 : 0 }, (_, i): Joint => {
      const before = elements[i - 1] as FuelElement | undefined
      const after = elements[i] as FuelElement | undefined
      const stated: [JointType, JointType] | null = before?.ends && after?.ends ? [before.ends, after.ends] : null
      const near = after ?? before!
      return {
        id: `${section}:${before?.id ?? from}>${after?.id ?? to}`,
        section,
        label: `${before ? elementLabel(before) : from} to ${after ? elementLabel(after) : to}`,
        type: before?.ends && !after?.ends ? before.ends : endsOf(near),
        place: near.place,
        mismatch: stated && stated[0] !== stated[1] ? stated : null,
      }
    })
  })
}

export interface LeakState {
  /** places last seen wet and not passed since */
  wet: string[]
  /** joints not yet seen dry */
  unseen: Joint[]
  passed: boolean
  lastAt: string | null
}

type Look = StoredReading<'fuel.joint'> | StoredReading<'fuel.leak-check'> | StoredReading<'fuel.recheck'>
const isLook = (r: StoredReading): r is Look => r.kind === 'fuel.joint' || r.kind === 'fuel.leak-check' || r.kind === 'fuel.recheck'

/**
 * Leak check by joints and as a whole, look after look in their order: what was wet stays wet until it is seen dry, a dry pass over all joints
 * settles what was wet before it, also when it has fallen since, and only proofs that stand make a joint dry.
 */
export function leakState(c: Context): LeakState {
  if (!seen.has(c)) seen.set(c, lookedThrough(c))
  return seen.get(c)!
}
const seen = new WeakMap<Context, LeakState>()
function lookedThrough(c: Context): LeakState {
  const joints = jointsOf(c.fuel)
  const dry = new Set<string>()
  const wet = new Map<string, string>()
  let elsewhere: string | null = null
  let whole = false
  let lastAt: string | null = null
  const counts = new Set(c.readings.map((r) => r.id))
  for (const look of c.build.readings.filter(isLook)) {
    const standing = c.standings.get(look.id)
    const proves = standing?.stands === true
    // what was mended and seen dry was dry then, whatever was done to the car after it
    const settles = proves || standing?.by === 'done-after'
    if (!settles && !counts.has(look.id)) continue
    lastAt = look.takenAt
    if (look.kind === 'fuel.joint') {
      const joint = joints.find((j) => j.id === look.value.jointId)
      if (!look.value.dry) {
        if (joint) wet.set(joint.id, joint.label)
        dry.delete(look.value.jointId)
        whole = false
      } else if (settles) {
        if (proves) dry.add(look.value.jointId)
        wet.delete(look.value.jointId)
      }
      if (joints.length && joints.every((j) => dry.has(j.id))) elsewhere = null
    } else if (!look.value.dry) {
      elsewhere = `${look.value.where ?? 'place not noted'}${look.kind === 'fuel.recheck' ? ' (at the re-check)' : ''}`
      whole = false
      dry.clear()
    } else if (settles && look.kind === 'fuel.leak-check') {
      whole = proves
      wet.clear()
      elsewhere = null
    }
  }
  const unseen = whole ? [] : joints.filter((j) => !dry.has(j.id))
  return {
    wet: [...wet.values(), ...(elsewhere === null ? [] : [elsewhere])],
    unseen,
    passed: wet.size === 0 && elsewhere === null && (whole || (joints.length > 0 && unseen.length === 0)),
    lastAt,
  }
}

/** Day of the first dry look again, hot or after the first week. */
export const latestRecheck = (c: Context, when: 'hot' | 'first-week'): string | undefined =>
  readingsOf(c.readings, 'fuel.recheck').find((r) => r.value.when === when && r.value.dry)?.takenAt
