import { z } from 'zod'
import { zodErrors } from '../calc/wording.ts'
import { FiringOrder } from '../survey/facts.ts'

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
  'spark.stroke': z.strictObject({
    method: z.enum(['thumb', 'gauge', 'valves']),
    inStep: z.boolean().describe('on number one’s compression the rotor points at tower one, or the cam target stands at its sensor'),
  }),
  'spark.order': z.strictObject({ cylinders: FiringOrder.describe('cylinders in the order their leads or coils spark') }),
  'spark.polarity': z.strictObject({ right: z.boolean(), method: z.enum(['scope', 'lamp', 'meter']) }),
  'spark.air-gap': z.strictObject({
    leastMm: z.number().min(0).max(10).describe('least gap in a turn by hand, mm'),
    mostMm: z.number().min(0).max(10).describe('most gap in a turn by hand, mm'),
  }),
  'spark.fitted': z.strictObject({
    referenceDeg: z.number().min(0).max(360).describe('crank degrees BTDC at which the pick-up was set by hand'),
    alignDegBtdc: z.number().min(-60).max(120).optional().describe('crank degrees BTDC at which rotor and terminal were set in line'),
  }),
  'spark.moved': z.strictObject({
    what: z.enum(['distributor', 'sensor', 'cap']),
    laterDeg: z.number().min(-180).max(180).describe('crank degrees by which pulse or terminal now comes later'),
  }),
  'spark.phase-seen': z.strictObject({
    advanceDeg: z.number().min(-20).max(70).describe('at the crank while it was looked at, BTDC'),
    beforeTerminalDeg: z.number().min(-45).max(45).describe('rotor before the terminal (past it: minus), distributor degrees'),
  }),
  'spark.slack': z.strictObject({ crankDeg: z.number().min(0).max(60).describe('crank degrees turned back before the rotor follows') }),
  'spark.cam-lamp': z.strictObject({ crankDegBtdc: z.number().min(-360).max(720).describe('crank angle BTDC at which the lamp changes') }),
  'spark.coil-current': z.strictObject({
    batteryV: z.number().min(4).max(18),
    peakA: z.number().min(0).max(60).describe('peak by clamp, A'),
  }),
  'spark.lead': z.strictObject({
    cylinder: z.int().min(1).max(12),
    lengthMm: z.number().min(50).max(2500),
    ohm: z.number().min(0).max(1_000_000).describe('end to end, ohm'),
  }),
  'spark.scope': z.strictObject({
    rpm: z.number().min(0).max(15000),
    pulses: z.int().min(0),
    missing: z.int().min(0),
    extra: z.int().min(0),
    jitterDeg: z.number().min(0).max(90).nullable().describe('crank degrees rms'),
    polarity: z.enum(['right', 'reversed', 'unknown']),
    noiseV: z.number().min(0).max(500),
    peakV: z.number().min(0).max(500),
  }),
  'spark.fit': z.strictObject({
    referenceErrorDeg: z.number().min(-400).max(400),
    referenceErrorSeDeg: z.number().min(0),
    delayErrorUs: z.number().nullable(),
    readings: z.int().min(1),
    fix: z.enum(['turn-distributor', 'move-sensor', 'change-reference', 'change-delay']),
  }),
  'spark.done': z.strictObject({ step: z.string().regex(/^[a-z][a-z0-9-]{0,40}$/) }),
  'tach.step': z.strictObject({
    fromRpm: z.number().min(0).max(15000),
    toRpm: z.number().min(0).max(15000),
    points: z
      .array(z.strictObject({ timeS: z.number().min(0.01).max(30), shownRpm: z.number().min(0).max(20000) }))
      .min(2)
      .max(40),
  }),
  'spark.symptom': z.strictObject({ symptom: z.enum(['speed-spikes', 'resets', 'display-loss', 'pump-runs-on']), seen: z.boolean() }),
  'spark.interference': z.strictObject({
    suspect: z.enum(['solid-leads', 'plain-plugs', 'harness-route', 'long-leads', 'unit-ground', 'shield-ends', 'capacitor', 'alternator']),
    found: z.boolean(),
  }),
  'tach.reading': z.strictObject({ trueRpm: z.number().min(100).max(15000), shownRpm: z.number().min(0).max(20000) }),
  'spark.zero-mark': z.strictObject({
    method: z.enum(['piston-stop', 'piston-watched']),
    offsetDeg: z.number().min(-30).max(30).describe('what the mark must be corrected by, crank degrees'),
    dealt: z
      .enum(['stored', 're-marked'])
      .optional()
      .describe('stored: every light reading is corrected; re-marked: the mark is right now'),
  }),
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
  'tune.taking': z.strictObject({
    tuneId: z.uuid(),
    step: z.enum(['sent', 'stored', 'power-cycled', 'read-back']),
    differences: z.int().min(0).optional().describe('values that came back other than sent'),
    revLimitRpm: z.number().min(0).max(20000).optional().describe('as the unit told it'),
  }),
  'start.throttle': z.strictObject({
    shutPct: z.number().min(-10).max(120),
    openPct: z.number().min(-10).max(120),
    largestJumpPct: z.number().min(0).max(130),
    deadSpotsPct: z.array(z.number().min(0).max(100)).max(20),
    problems: z.array(z.string().max(200)).max(10),
  }),
  'start.injectors': z.strictObject({
    clicked: z.array(z.int().min(1).max(24)).max(24),
    silent: z.array(z.int().min(1).max(24)).max(24),
    spraySeen: z.boolean().optional().describe('on an open body, at key-on'),
    primes: z.int().min(0).max(1000).optional().describe('key-ons with fuel since it last ran or was cleared'),
  }),
  'start.flag': z.strictObject({
    flag: z.string().trim().min(1).max(40),
    clearedBy: z.string().trim().min(1).max(200).optional(),
  }),
  'start.safety': z.strictObject({ extinguisher: z.literal(true), helper: z.literal(true), stopWord: z.string().trim().min(1).max(40) }),
  'start.prepared': z.strictObject({
    batteryCharged: z.literal(true),
    connectorsDone: z.literal(true),
    chocked: z.literal(true).describe('wheels chocked, neutral or park, brake on'),
  }),
  'start.sanity': z.strictObject({
    passed: z.boolean(),
    checks: z
      .array(z.strictObject({ id: z.string().max(40), state: z.enum(['pass', 'fail', 'waiting']), seen: z.string().max(200) }))
      .max(40),
  }),
  'start.dry-crank': z.strictObject({
    rpm: z.number().min(0).max(1000).describe('median while cranking without fuel'),
    dropouts: z.int().min(0),
    spikes: z.int().min(0),
    lightDeg: z.number().min(-90).max(120).optional().describe('mean of about ten flashes, crank degrees BTDC'),
    commandedDeg: z.number().min(-20).max(60).optional(),
    oilKpa: z.number().min(0).max(1500).optional(),
  }),
  'start.attempt': z.strictObject({
    branch: z.string().regex(/^[a-z][a-z-]{1,30}$/),
    seconds: z.number().min(0).max(600),
    rpm: z.number().min(0).max(15000).describe('median while cranking'),
    pressureKpa: z.number().min(0).max(1500).optional(),
    batteryV: z.number().min(0).max(20).optional().describe('lowest while cranking, V'),
    heard: z.enum(['nothing', 'inlet', 'exhaust', 'kick']).optional(),
    plugs: z.enum(['wet', 'dry']).optional(),
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
