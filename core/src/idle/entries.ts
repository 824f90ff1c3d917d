import { z } from 'zod'
import { entry, type EntryValues, spaced } from '../kernel/index.ts'
import { onFuelling } from '../fuel/index.ts'
import { IdleVerdictCode } from './verdict.ts'

export const idleEntries = {
  'idle.verdict': entry({
    title: 'Idle judged',
    proof: { ...onFuelling, passes: (v) => v.verdict === 'good' },
    schema: z.strictObject({
      verdict: IdleVerdictCode,
      meanRpm: z.number().nullable(),
      rpmStdDev: z.number().nullable(),
      seconds: z.number().min(0),
      tuneId: z.uuid().nullable(),
    }),
    says: (v) =>
      `Idle: ${spaced(v.verdict)}${v.meanRpm === null ? '' : `, ${v.meanRpm.toFixed(0)} rpm`}, ${v.seconds.toFixed(0)} s of warm idle looked at`,
    writtenBy: 'app',
  }),
} as const

declare module '../kernel/told.ts' {
  interface EntryTable extends EntryValues<typeof idleEntries> {}
}
