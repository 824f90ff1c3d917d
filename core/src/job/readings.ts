import { z } from 'zod'

/** What was measured or witnessed: append-only; a wrong one is superseded by a later one, never changed. One schema per kind. */
export const readingKinds = {
  'spark.timing-light': z.strictObject({
    rpm: z.number().min(50).max(15000),
    observedDeg: z.number().min(-60).max(120).describe('crank degrees BTDC on the damper'),
    commandedDeg: z.number().min(-60).max(90),
    referenceDeg: z.number().min(0).max(360).describe('reference angle set in the unit while it was read'),
    delayUs: z.number().min(0).max(2000).describe('delay set in the unit while it was read'),
  }),
  'spark.zero-mark': z.strictObject({ method: z.enum(['piston-stop', 'piston-watched']), offsetDeg: z.number().min(-30).max(30) }),
  'spark.lock-out': z.strictObject({ moves: z.boolean().describe('hand-twist test: true when the rotor still moves against its shaft') }),
  'fuel.pressure': z.strictObject({ pressureKpa: z.number().min(0).max(1500), engineRunning: z.boolean() }),
  'fuel.leak-check': z.strictObject({ dry: z.boolean(), where: z.string().trim().max(200).optional() }),
  'start.safety': z.strictObject({ extinguisher: z.literal(true), helper: z.literal(true), stopWord: z.string().trim().min(1).max(40) }),
  'start.sanity': z.strictObject({
    passed: z.boolean(),
    checks: z
      .array(z.strictObject({ id: z.string().max(40), state: z.enum(['pass', 'fail', 'waiting']), seen: z.string().max(200) }))
      .max(40),
  }),
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
