import { type Context, latest, readingsOf } from '../kernel/index.ts'
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

/** Leak check by joints and as a whole: a dry pass over all joints at pressure settles earlier wet ones; a wet one opens it again. */
export function leakState(c: Context): LeakState {
  const whole = latest(c.readings, 'fuel.leak-check')
  const again = latest(c.readings, 'fuel.recheck')
  const joints = jointsOf(c.fuel)
  const byJoint = new Map<string, { dry: boolean; at: string }>()
  for (const r of readingsOf(c.readings, 'fuel.joint')) {
    const before = byJoint.get(r.value.jointId)
    if (!before || r.takenAt >= before.at) byJoint.set(r.value.jointId, { dry: r.value.dry, at: r.takenAt })
  }
  const allDryAt =
    joints.length && joints.every((j) => byJoint.get(j.id)?.dry)
      ? joints
          .map((j) => byJoint.get(j.id)!.at)
          .sort()
          .at(-1)!
      : null
  const dryPassAt = whole?.value.dry ? whole.takenAt : ''
  const wet = joints.filter((j) => byJoint.get(j.id)?.dry === false && byJoint.get(j.id)!.at > dryPassAt).map((j) => j.label)
  if (whole && !whole.value.dry && !(allDryAt && allDryAt > whole.takenAt)) wet.push(whole.value.where ?? 'place not noted')
  if (again && !again.value.dry && again.takenAt > dryPassAt && !(allDryAt && allDryAt > again.takenAt))
    wet.push(`${again.value.where ?? 'place not noted'} (at the re-check)`)
  const seenWhole = whole?.value.dry === true
  return {
    wet,
    unseen: seenWhole ? [] : joints.filter((j) => !byJoint.get(j.id)?.dry),
    passed: wet.length === 0 && (seenWhole || allDryAt !== null),
    lastAt: [whole?.takenAt, again?.takenAt, ...[...byJoint.values()].map((v) => v.at)].filter(Boolean).sort().at(-1) ?? null,
  }
}

/** Day of the first dry look again, hot or after the first week. */
export const latestRecheck = (c: Context, when: 'hot' | 'first-week'): string | undefined =>
  readingsOf(c.readings, 'fuel.recheck').find((r) => r.value.when === when && r.value.dry)?.takenAt
