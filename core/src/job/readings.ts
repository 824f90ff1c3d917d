import { z } from 'zod'
import { zodErrors } from '../calc/wording.ts'

/** What was measured or witnessed: append-only; a wrong one is superseded by a later one, never changed. One schema per kind. */
export const readingKinds = {
  'spark.timing-light': z.strictObject({
    rpm: z.number().min(50).max(15000),
    observedDeg: z.number().min(-60).max(120).describe('crank degrees BTDC on the damper'),
    commandedDeg: z.number().min(-60).max(90),
    referenceDeg: z.number().min(0).max(360).describe('reference angle set in the unit while it was read'),
    delayUs: z.number().min(0).max(2000).describe('delay set in the unit while it was read'),
  }),
  'spark.signal': z.strictObject({
    noiseV: z.number().min(0.001).max(100).describe('peak of the noise between pulses, V'),
    crankingV: z.number().min(0.001).max(200).describe('peak while cranking, V'),
  }),
  'spark.symptom': z.strictObject({ symptom: z.enum(['speed-spikes', 'resets', 'display-loss', 'pump-runs-on']), seen: z.boolean() }),
  'spark.interference': z.strictObject({
    suspect: z.enum(['solid-leads', 'plain-plugs', 'harness-route', 'long-leads', 'unit-ground', 'shield-ends', 'capacitor', 'alternator']),
    found: z.boolean(),
  }),
  'tach.reading': z.strictObject({ trueRpm: z.number().min(100).max(15000), shownRpm: z.number().min(0).max(20000) }),
  'spark.zero-mark': z.strictObject({ method: z.enum(['piston-stop', 'piston-watched']), offsetDeg: z.number().min(-30).max(30) }),
  'spark.lock-out': z.strictObject({ moves: z.boolean().describe('hand-twist test: true when the rotor still moves against its shaft') }),
  'survey.old-timing': z.strictObject({
    rpm: z.number().min(50).max(15000),
    observedDeg: z.number().min(-60).max(120).describe('crank degrees BTDC, old ignition'),
    vacuumCan: z.boolean().describe('true with the vacuum can connected'),
  }),
  'fuel.isolated': z.strictObject({
    batteryOff: z.literal(true),
    pressureRelieved: z.literal(true),
    engineCold: z.literal(true),
    ventilated: z.literal(true),
    extinguisher: z.literal(true),
  }),
  'fuel.arrows': z.strictObject({ right: z.boolean().describe('flow arrows of pump, filter and check valve') }),
  'fuel.prime': z.strictObject({ cycles: z.int().min(1).max(20), pumpStops: z.boolean().describe('by itself after its few seconds') }),
  'fuel.joint': z.strictObject({ jointId: z.string().min(1).max(80), dry: z.boolean(), note: z.string().trim().max(200).optional() }),
  'fuel.proof': z.strictObject({ pressureKpa: z.number().min(0).max(1500), minutes: z.number().min(0).max(600), held: z.boolean() }),
  'fuel.pressure': z.strictObject({
    pressureKpa: z.number().min(0).max(1500),
    engineRunning: z.boolean(),
    referenceKpa: z.number().min(5).max(350).optional().describe('at the regulator port, absolute, kPa'),
  }),
  'fuel.bleed-down': z.strictObject({
    at0Kpa: z.number().min(0).max(1500),
    at1Kpa: z.number().min(0).max(1500).describe('after 1 minute, kPa'),
    at5Kpa: z.number().min(0).max(1500).describe('after 5 minutes, kPa'),
    at10Kpa: z.number().min(0).max(1500).describe('after 10 minutes, kPa'),
    pinch: z.enum(['not-tried', 'feed-holds', 'return-holds', 'neither-holds']).describe('which pinched hose stopped the loss'),
  }),
  'fuel.pump-draw': z.strictObject({
    currentA: z.number().min(0).max(60),
    voltageV: z.number().min(5).max(16).describe('at the pump, V'),
    pressureKpa: z.number().min(0).max(1500),
  }),
  'fuel.pump-volts': z.strictObject({
    supplyV: z.number().min(5).max(16).describe('at the battery, pump running, V'),
    atPumpV: z.number().min(3).max(16).describe('at the pump, V'),
    currentA: z.number().min(0.5).max(60).optional(),
  }),
  'fuel.recheck': z.strictObject({ when: z.enum(['hot', 'first-week']), dry: z.boolean(), where: z.string().trim().max(200).optional() }),
  'fuel.leak-check': z.strictObject({ dry: z.boolean(), where: z.string().trim().max(200).optional() }),
  'start.safety': z.strictObject({ extinguisher: z.literal(true), helper: z.literal(true), stopWord: z.string().trim().min(1).max(40) }),
  'start.sanity': z.strictObject({
    passed: z.boolean(),
    checks: z
      .array(z.strictObject({ id: z.string().max(40), state: z.enum(['pass', 'fail', 'waiting']), seen: z.string().max(200) }))
      .max(40),
  }),
  'start.flooded': z.strictObject({ note: z.string().trim().max(200).optional() }),
  'start.flood-cleared': z.strictObject({ pumpOff: z.literal(true), plugsOut: z.literal(true), oilClean: z.boolean() }),
  'start.ran': z.strictObject({
    secondsToFire: z.number().min(0).max(600),
    idleRpm: z.number().min(0).max(5000),
    coolantC: z.number().min(-50).max(160),
    tuneId: z.uuid(),
  }),
  'learn.result': z.strictObject({
    logId: z.uuid(),
    tuneId: z.uuid().nullable(),
    usedSeconds: z.number().min(0),
    provenTimePct: z.number().min(0).max(100).nullable(),
    errorRmsPct: z.number().min(0).nullable(),
    unsafeCells: z.int().min(0),
  }),
  'handover.signed': z.strictObject({ name: z.string().trim().min(1).max(80) }),
  note: z.strictObject({ text: z.string().trim().min(1).max(4000) }),
} as const

export type ReadingKind = keyof typeof readingKinds
const kinds = Object.keys(readingKinds) as [ReadingKind, ...ReadingKind[]]

export const Reading = z.strictObject({
  kind: z.enum(kinds),
  value: z.record(z.string(), z.unknown()),
  instrument: z.string().trim().max(80).optional(),
  who: z.string().trim().min(1).max(80).optional(),
  takenAt: z.iso.datetime().optional(),
  conditions: z.string().trim().max(400).optional(),
  supersedes: z.uuid().optional(),
})
export type ReadingInput = z.infer<typeof Reading>

export interface StoredReading<K extends ReadingKind = ReadingKind> {
  id: string
  kind: K
  value: z.infer<(typeof readingKinds)[K]>
  instrument: string | null
  who: string
  takenAt: string
  conditions: string | null
  supersedes: string | null
}

/** Readings still in force, oldest first: those no later one supersedes. */
export function inForce(readings: readonly StoredReading[]): StoredReading[] {
  const superseded = new Set(readings.map((r) => r.supersedes).filter(Boolean))
  return readings.filter((r) => !superseded.has(r.id))
}

export function readingsOf<K extends ReadingKind>(readings: readonly StoredReading[], kind: K): StoredReading<K>[] {
  return readings.filter((r) => r.kind === kind) as unknown as StoredReading<K>[]
}

export function latest<K extends ReadingKind>(readings: readonly StoredReading[], kind: K): StoredReading<K> | null {
  let found: StoredReading<K> | null = null
  for (const r of readingsOf(readings, kind)) if (!found || r.takenAt >= found.takenAt) found = r
  return found
}

/** What is wrong with one field of a reading, in words with bound and unit; null when it can be taken. The same schema decides on the server. */
export function checkReading<K extends ReadingKind>(kind: K, field: string, value: unknown): string | null {
  const schema = (readingKinds[kind].shape as Record<string, z.ZodType | undefined>)[field]
  if (!schema || value === undefined) return null
  const parsed = z.strictObject({ [field]: schema }).safeParse({ [field]: value })
  return parsed.success ? null : (zodErrors(parsed.error)[0]?.message ?? 'cannot be taken')
}
