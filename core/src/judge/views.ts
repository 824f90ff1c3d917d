import type { BuildData, StoredReading } from '../kernel/index.ts'

/** Two judgements of the same data: the car as people and devices saw it, and the rehearsal, where the bench's entries count as well. */
export const views = ['car', 'rehearsal'] as const
export type View = (typeof views)[number]

/** Whether an entry rests on the bench: made by it, made while practising, or worked out from what it gave. One bench input makes it the rehearsal's only. */
export function isRehearsed(r: StoredReading, build: Pick<BuildData, 'logs'>): boolean {
  if (r.source === 'bench' || r.instrument?.startsWith('bench')) return true
  return r.kind === 'learn.result' && build.logs.some((l) => l.id === r.value.logId && l.source === 'bench')
}

/** A build as one of the views sees it. Practising never clears a car, and never takes a proof from it. */
export const viewOf = <B extends BuildData>(build: B, view: View): B =>
  view === 'rehearsal' || !build.readings.some((r) => isRehearsed(r, build))
    ? build
    : { ...build, readings: build.readings.filter((r) => !isRehearsed(r, build)) }
