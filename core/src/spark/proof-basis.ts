import type { Basis, Proof, Told } from '../kernel/index.ts'

/** What the proofs of the ignition were taken on: how it is triggered, and what carries the sparks. */
const IGNITION = ['choices.spark.trigger', 'choices.spark.sensor', 'choices.spark.wheel', 'choices.spark.camSignal'] as const
const LEADS = ['choices.spark.trigger', 'choices.spark.coils', 'facts.engine.firingOrder'] as const

const triggerBasis = ({ choices = {} }: Told): Basis => {
  const { trigger, sensor, camSignal, wheel } = choices.spark ?? {}
  return { trigger, sensor, camSignal, teeth: wheel?.teeth, missing: wheel?.missing }
}
const leadsBasis = ({ facts, choices = {} }: Told): Basis => ({
  trigger: choices.spark?.trigger,
  coils: choices.spark?.coils,
  firingOrder: facts.engine?.firingOrder,
})

/** A proof that hangs on the way of triggering. */
export const onTrigger = { parts: IGNITION, basis: triggerBasis } satisfies Partial<Proof<unknown>>
/** A proof that hangs on leads and coils. */
export const onLeads = { parts: LEADS, basis: leadsBasis } satisfies Partial<Proof<unknown>>
/** A proof of the whole ignition: trigger, leads, coils and the angle that the unit counts from. */
export const onIgnition = {
  parts: [...IGNITION, ...LEADS, 'choices.spark.coilDrive', 'choices.spark.referenceDeg'],
  basis: (told: Told): Basis => ({
    ...triggerBasis(told),
    ...leadsBasis(told),
    coilDrive: told.choices?.spark?.coilDrive,
    referenceDeg: told.choices?.spark?.referenceDeg,
  }),
} satisfies Partial<Proof<unknown>>
