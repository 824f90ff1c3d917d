import { z } from 'zod'

export const IdleVerdictCode = z.enum([
  'good',
  'high-valve-shut',
  'low-valve-wide',
  'off-target-high',
  'off-target-low',
  'adaptation-at-limit',
  'throttle-sticks',
  'hunting-valve',
  'hunting-mixture',
  'rich',
  'lean',
  'misfire',
  'loop-fooled',
  'not-enough-data',
])
export type IdleVerdictCode = z.infer<typeof IdleVerdictCode>

/** What may be behind a verdict, each with the test that would tell. */
export const IdleCauseId = z.enum([
  'screw-open',
  'screw-shut',
  'vacuum-leak',
  'plate-sticks',
  'throttle-zero',
  'valve-stuck',
  'controller-gain',
  'valve-slow',
  'loop-gain',
  'dead-cylinder',
  'mixture-lean',
  'mixture-rich',
  'exhaust-leak',
  'overlap',
  'timing-late',
  'target-unlike',
])
export type IdleCauseId = z.infer<typeof IdleCauseId>
export const idleCauseWords: Record<IdleCauseId, string> = {
  'screw-open': 'the screw stands too far open',
  'screw-shut': 'the screw stands too far shut',
  'vacuum-leak': 'air leaks in behind the throttle',
  'plate-sticks': 'the throttle does not come back to its stop',
  'throttle-zero': 'the zero of the throttle is stale',
  'valve-stuck': 'the idle valve does not move',
  'controller-gain': 'the valve is moved too hard',
  'valve-slow': 'the idle valve is slow',
  'loop-gain': 'the correction is too fast',
  'dead-cylinder': 'a cylinder misses',
  'mixture-lean': 'the mixture is lean',
  'mixture-rich': 'the mixture is rich',
  'exhaust-leak': 'the exhaust leaks before the sensor',
  overlap: 'overlap of the cam sends air to the sensor',
  'timing-late': 'the spark is late',
  'target-unlike': 'the unit holds another target',
}
const IdleCause = z.object({
  cause: IdleCauseId,
  likelihood: z.number().min(0).max(1),
  evidence: z.string(),
  test: z.string().describe('what would tell it from the others'),
})
export type IdleCause = z.infer<typeof IdleCause>
const IdleSeen = z.object({
  fromS: z.number(),
  toS: z.number(),
  warm: z.boolean(),
  meanRpm: z.number(),
  rpmStdDev: z.number(),
  valveMeanPct: z.number().nullable(),
  mapMeanKpa: z.number().nullable(),
  lambdaMean: z.number().nullable(),
  coolantMeanC: z.number().nullable(),
})
export type IdleSeen = z.infer<typeof IdleSeen>

export const IdleVerdict = z.object({
  verdict: IdleVerdictCode,
  meanRpm: z.number().nullable(),
  rpmStdDev: z.number().nullable(),
  periodS: z.number().nullable().describe('dominant period of engine speed; null when there is none'),
  amplitudeRpm: z.number().nullable().describe('half of peak to peak of the dominant swing'),
  valveMeanPct: z.number().nullable(),
  lambdaMean: z.number().nullable(),
  correctionMeanPct: z.number().nullable(),
  seconds: z.number(),
  targetRpm: z.number().nullable().describe('what it was judged against; null: nobody said'),
  sureness: z.number().min(0).max(1),
  causes: z.array(IdleCause).describe('most likely first'),
  wants: z.array(z.string()).describe('what would make it surer'),
  notes: z.array(z.string()).describe('seen beside it'),
  idles: z.array(IdleSeen).describe('every idle found, one by one'),
  loop: z
    .object({ periodS: z.number(), rpmPerSPct: z.number(), delayS: z.number() })
    .nullable()
    .describe('the engine as its idle controller sees it, found from its hunting; null: it does not hunt with its valve'),
  next: z.string(),
})
export type IdleVerdict = z.infer<typeof IdleVerdict>

export interface IdleOptions {
  targetRpm?: number
  /** what the unit adds to the target with the fan on and in gear, rpm */
  offsetsRpm?: readonly number[]
  /** correction the loop may make, %; found from the log when left out */
  authorityPct?: number
  /** where the unit starts the valve when warm, and how far it may move it from there, % */
  reach?: { startPct: number; mostPct: number }
}
