import { z } from 'zod'
import { onFuelling } from '../fuel/index.ts'
import { entry, type EntryValues } from '../kernel/index.ts'

export const learnEntries = {
  'learn.result': entry({
    title: 'A log solved',
    proof: onFuelling,
    schema: z.strictObject({
      logId: z.uuid(),
      tuneId: z.uuid().nullable(),
      usedSeconds: z.number().min(0),
      provenTimePct: z.number().min(0).max(100).nullable(),
      errorRmsPct: z.number().min(0).nullable(),
      unsafeCells: z.int().min(0),
    }),
    says: (v) =>
      `Log solved: ${v.provenTimePct === null ? 'nothing' : `${v.provenTimePct.toFixed(0)} % of the time`} proven, ${v.unsafeCells} unsafe cells`,
    writtenBy: 'app',
  }),
  'learn.same-car': entry({
    title: 'The log is this car’s',
    proof: null,
    schema: z.strictObject({ logId: z.uuid() }),
    says: () => 'A log was said to be this car’s, whatever it shows',
  }),
} as const

declare module '../kernel/told.ts' {
  interface EntryTable extends EntryValues<typeof learnEntries> {}
}
