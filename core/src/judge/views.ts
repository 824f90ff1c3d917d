import { z } from 'zod'
import { type BuildData, type ChoiceTable, type StoredReading, type TuneSummary } from '../kernel/index.ts'

/** Two judgements of the same data: the car as people and devices saw it, and the rehearsal, where the bench's entries count as well. */
export const views = ['car', 'rehearsal'] as const
export type View = (typeof views)[number]

type Part = Exclude<keyof ChoiceTable, 'rehearsal' | 'bench'>
/** What was turned while practising: choices that stand over the car's, field by field, and the tune that the bench's unit holds. */
export type Rehearsal = { [K in Part]?: ChoiceTable[K] } & { tuneId?: string; tuneSince?: string }
export const rehearsalSchema = (parts: Readonly<Record<string, z.ZodType>>): z.ZodType<Rehearsal> =>
  z.strictObject({
    ...Object.fromEntries(Object.entries(parts).map(([id, schema]) => [id, schema.optional()])),
    tuneId: z.uuid().optional(),
    tuneSince: z.iso.datetime().optional(),
  }) as unknown as z.ZodType<Rehearsal>

declare module '../kernel/told.ts' {
  interface ChoiceTable {
    /** of practising alone: the car's judgement never looks at it */
    rehearsal?: Rehearsal
  }
}

/** Choices as the rehearsal has them. */
export function rehearsedChoices(choices: ChoiceTable): ChoiceTable {
  const { tuneId: _id, tuneSince: _since, ...over } = choices.rehearsal ?? {}
  const parts = Object.entries(over).map(([part, fields]) => [part, { ...choices[part as Part], ...fields }])
  return parts.length ? { ...choices, ...(Object.fromEntries(parts) as ChoiceTable) } : choices
}
/** One field of a choice that the rehearsal has otherwise than the car. */
export interface RehearsedField {
  path: string
  rehearsed: unknown
  ofCar: unknown
}
/** What the rehearsal has otherwise than the car, field by field: what "take this into the car" would change. */
export function rehearsedFields({ choices }: Pick<BuildData, 'choices'>): RehearsedField[] {
  const { tuneId: _id, tuneSince: _since, ...over } = choices.rehearsal ?? {}
  return Object.entries(over).flatMap(([part, fields]) =>
    Object.entries(fields as object).map(([field, rehearsed]) => ({
      path: `choices.${part}.${field}`,
      rehearsed: rehearsed as unknown,
      ofCar: (choices[part as Part] as Record<string, unknown> | undefined)?.[field],
    })),
  )
}
/** Where a choice is kept that was turned while practising: whole fields stand over the car's, so that nothing of two lists is mixed. */
export function rehearsalPath(path: string): string | null {
  const [root, part, field] = path.split('.')
  return root === 'choices' && part !== 'bench' && part !== 'rehearsal' && field !== undefined ? `choices.rehearsal.${part}.${field}` : null
}

const withTune = (tunes: TuneSummary[], { tuneId, tuneSince }: Rehearsal): TuneSummary[] =>
  !tuneId || !tunes.some((t) => t.id === tuneId)
    ? tunes
    : tunes.map((t): TuneSummary => {
        if (t.id === tuneId) return { ...t, status: 'in-car', inCarSince: t.status === 'in-car' ? t.inCarSince : (tuneSince ?? null) }
        return t.status === 'in-car' ? { ...t, status: 'ready', inCarSince: null } : t
      })

/** Whether an entry rests on the bench: made by it, made while practising, or worked out from what it gave. One bench input makes it the rehearsal's only. */
export function isRehearsed(r: StoredReading, build: Pick<BuildData, 'logs' | 'readings'>): boolean {
  if (r.source === 'bench' || r.instrument?.startsWith('bench')) return true
  const logId = r.from?.logId ?? (r.kind === 'learn.result' ? r.value.logId : undefined)
  if (logId && build.logs.some((l) => l.id === logId && l.source === 'bench')) return true
  const named = r.from?.entryIds
  // an entry names only older ones, so this ends
  return !!named && build.readings.some((other) => other.id !== r.id && named.includes(other.id) && isRehearsed(other, build))
}

/** A build as one of the views sees it. Practising never clears a car, never takes a proof from it, and turns nothing on it. */
export function viewOf<B extends BuildData>(build: B, view: View): B {
  if (view === 'car') {
    const rehearsed = new Set(build.readings.filter((r) => isRehearsed(r, build)))
    return rehearsed.size ? { ...build, readings: build.readings.filter((r) => !rehearsed.has(r)) } : build
  }
  const { rehearsal } = build.choices
  return rehearsal ? { ...build, choices: rehearsedChoices(build.choices), tunes: withTune(build.tunes, rehearsal) } : build
}
