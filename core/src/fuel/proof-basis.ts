import { type Basis, type Context, kPa, type Before, type Said, say, type Told } from '../kernel/index.ts'
import { PRESSURE_TOLERANCE } from '../injection/index.ts'
import { boostKpaOf } from '../survey/index.ts'
import type { FuelElement, SectionId } from './circuit.ts'
import { sectionsOf } from './circuit.ts'
import { jointsOf } from './joints.ts'
import { JOINT_PRESSURE_SHARE, PROOF_MINUTES, PROOF_OVER_WORKING } from './limits.ts'
import { type GaugeReading, pressureCheck } from './pressure-check.ts'

/** What a fuel proof was taken on, told by the circuit alone, and the values that make it one (evidence: proofs of the fuel system). */
export const LINES = [
  'choices.fuel.layout',
  ...['suction', 'delivery', 'feed', 'return', 'lift', 'overflow'].map((s) => `choices.fuel.${s}`),
] as const
export const PRESSURE = ['choices.fuel.regulator', 'choices.plan.fuelPressureKpa'] as const

const NO_SET_PRESSURE = 'no set pressure is planned to compare it with'
const setKpaOf = ({ choices = {} }: Told): number | undefined => choices.fuel?.regulator?.setKpa ?? choices.plan?.fuelPressureKpa
const material = (e: FuelElement | undefined): unknown =>
  e && {
    id: e.id,
    kind: e.kind,
    ends: e.ends,
    place: e.place,
    ...(e.kind === 'line' ? { material: e.material, hose: e.hose, boreMm: e.boreMm } : {}),
  }

interface MadeJoint {
  id: string
  place: string
  made: unknown
}
const gone = new WeakMap<object, MadeJoint[]>()
/** Every joint with what meets there; each circuit is gone through once, since every joint's own proof asks. */
function joints({ choices = {} }: Told): MadeJoint[] {
  if (!choices.fuel) return []
  const known = gone.get(choices.fuel) ?? allJoints(choices)
  gone.set(choices.fuel, known)
  return known
}
function allJoints(choices: NonNullable<Told['choices']>): MadeJoint[] {
  const fuel = choices.fuel ?? {}
  if (!fuel.layout) return []
  const sections: readonly SectionId[] = sectionsOf(fuel.layout).map((s) => s.id)
  const all = sections.flatMap((section) => {
    const elements = fuel[section] ?? []
    return elements.length ? [...elements, undefined].map((after, i) => [material(elements[i - 1]), material(after)]) : []
  })
  return jointsOf(fuel).map((j, i) => ({ id: j.id, place: j.place, made: [j.type, ...all[i]] }))
}
export const jointBasis = (told: Told, jointId: string): Basis => ({
  joint: joints(told).find((j) => j.id === jointId)?.made ?? null,
  setKpa: setKpaOf(told),
})
export const allJointsBasis = (told: Told): Basis => ({ joints: joints(told), setKpa: setKpaOf(told) })
export const closedJointsBasis = (told: Told): Basis => ({
  joints: joints(told).filter((j) => j.place === 'boot' || j.place === 'cabin'),
  setKpa: setKpaOf(told),
})
/** Dry at a pressure is dry at a lower one. */
export function coversLower({ setKpa: then, ...jointsThen }: Basis, { setKpa: now, ...jointsNow }: Basis): boolean {
  const lower = then === now || (typeof then === 'number' && typeof now === 'number' && now <= then)
  return lower && JSON.stringify(jointsThen) === JSON.stringify(jointsNow)
}
export const directedBasis = ({ choices = {} }: Told): Basis => ({
  parts: joints({ facts: {}, choices }).length
    ? sectionsOf(choices.fuel!.layout!).flatMap(({ id }) =>
        (choices.fuel![id] ?? []).filter((e) => e.kind !== 'line' && e.kind !== 'fitting').map((e) => e.id),
      )
    : [],
  pumpPlace: choices.fuel?.pumpPlace,
})
export const deliveryBasis = (told: Told): Basis => ({
  ...allJointsBasis(told),
  pump: told.choices?.fuel?.pump,
  pumpPlace: told.choices?.fuel?.pumpPlace,
  wiring: told.choices?.fuel?.wiring,
})
export const pressureBasis = ({ choices = {} }: Told): Basis => ({
  layout: choices.fuel?.layout,
  setKpa: choices.fuel?.regulator?.setKpa,
  reference: choices.fuel?.regulator?.reference,
  planKpa: choices.plan?.fuelPressureKpa,
})

/** A proof of the mixture: what meters the fuel, and where the mixture is read. */
export const onFuelling = {
  parts: [
    'choices.fuel.layout',
    ...PRESSURE,
    'choices.plan.injectorCcMin',
    'choices.plan.injectorRatedKpa',
    'choices.plan.injectors',
    'facts.exhaust.bung',
  ],
  basis: ({ facts, choices = {} }: Told): Basis => ({
    ...pressureBasis({ facts, choices }),
    injectors: choices.plan?.injectors,
    injectorCcMin: choices.plan?.injectorCcMin,
    injectorRatedKpa: choices.plan?.injectorRatedKpa,
    bung: facts.exhaust?.bung,
  }),
}

/** A joint is looked at under pressure: the rail was pressed since the lines were last open, and stood near its set pressure where it was read. */
export function pressedBefore(c: Context, _value: unknown, before: readonly Before[]): Said | null {
  const opened = before.findLastIndex((r) => r.kind === 'fuel.isolated')
  const since = before.slice(opened + 1)
  if (!since.some((r) => r.kind === 'fuel.prime' || r.kind === 'fuel.pressure'))
    return 'nothing had pressed the rail before it: prime, then look again'
  const gauge = since.map((r) => (r.kind === 'fuel.pressure' ? (r.value as GaugeReading) : null)).findLast((v) => v && !v.engineRunning)
  const setKpa = setKpaOf(c.build)
  return gauge && setKpa && Math.abs(gauge.pressureKpa / setKpa - 1) > JOINT_PRESSURE_SHARE
    ? say`the pressure stood at ${kPa(gauge.pressureKpa)} of ${kPa(setKpa)} when it was looked at`
    : null
}
/** @returns why a gauge reading does not prove the set pressure, with the bound */
export function pressureWithin(c: Context, value: GaugeReading): Said | null {
  const base = c.plan.fuelPressureKpa
  if (!base) return NO_SET_PRESSURE
  const { baseKpa, off } = pressureCheck(c, value)
  return off
    ? say`${kPa(value.pressureKpa)} makes ${kPa(baseKpa)} of ${kPa(base)}; within ${(100 * PRESSURE_TOLERANCE).toFixed(0)} % is wanted`
    : null
}
/** A delivery counts at the pressure that the pump works against: set pressure, or more. */
export function deliveredAtPressure(c: Context, { pressureKpa }: { pressureKpa: number }): Said | null {
  const setKpa = setKpaOf(c.build)
  if (!setKpa) return NO_SET_PRESSURE
  return pressureKpa < (1 - JOINT_PRESSURE_SHARE) * setKpa
    ? say`measured at ${kPa(pressureKpa)}; the pump works against ${kPa(setKpa)}, where it gives less`
    : null
}
/** Highest pressure over the air that the joints see: set, and boost on top where the regulator follows it. */
const highestKpa = (c: Context): number =>
  (setKpaOf(c.build) ?? 0) +
  (c.fuel.regulator?.reference === 'manifold' || c.fuel.regulator?.reference === 'above-plates' ? boostKpaOf(c.facts) : 0)
export function provedOver(c: Context, { pressureKpa, minutes }: { pressureKpa: number; minutes: number }): Said | null {
  if (!setKpaOf(c.build)) return NO_SET_PRESSURE
  const least = PROOF_OVER_WORKING * highestKpa(c)
  if (pressureKpa < least)
    return say`tested at ${kPa(pressureKpa)}; ${kPa(least)} or more is wanted, ${PROOF_OVER_WORKING} times the highest working pressure`
  return minutes < PROOF_MINUTES ? `held for ${minutes} min; ${PROOF_MINUTES} min or more is wanted` : null
}
