import type { z } from 'zod'
import { type BuildData, type EntryKind, mergePatch, type StoredReading, type Unreadable } from '../kernel/index.ts'
import { pathWords } from './change-words.ts'
import { Choices, entryKinds, ToldFacts } from './judgement.ts'

/** Version of the documents that are written now. Whoever changes a shape raises it, and writes an upcaster from the one before. */
export const STORED_VERSION = 2

type Kind = 'facts' | 'choices' | 'entry'
type Upcaster = (document: unknown) => unknown
const same: Upcaster = (document) => document

/** Version 2 asks for the drive of the coil once: what was answered among the ways of the plan stands with the spark. */
const coilDriveOnce: Upcaster = (document) => {
  const { plan, spark } = (document ?? {}) as { plan?: { ways?: Record<string, unknown> }; spark?: { coilDrive?: unknown } }
  const way = plan?.ways?.['coil-drive']
  if (way === undefined) return document
  return mergePatch(document, {
    plan: { ways: { 'coil-drive': null } },
    ...(way === 'b' && spark?.coilDrive === undefined ? { spark: { coilDrive: 'capacitive' } } : {}),
  })
}

/** `upcasters[kind][n]` leads a document of version n + 1 to n + 2; version 1 is the first that carries a number. */
const upcasters: Record<Kind, readonly Upcaster[]> = { facts: [same], choices: [coilDriveOnce], entry: [same] }
export const upcast = (kind: Kind, version: number, document: unknown, steps = upcasters): unknown =>
  steps[kind].slice(version - 1).reduce((led, up) => up(led), document)

const MOST_LEFT_OUT = 50
const words = (issue: z.core.$ZodIssue): string => (issue.code === 'unrecognized_keys' ? 'is not known here' : issue.message)

/** A document with what its schema does not take left out, and named: one value nobody can read must not hide all others. */
function readable<T>(schema: z.ZodType<T>, kind: 'facts' | 'choices', document: unknown): { value: T; unreadable: Unreadable[] } {
  const unreadable: Unreadable[] = []
  let rest = document
  for (let tries = 0; tries < MOST_LEFT_OUT; tries++) {
    const parsed = schema.safeParse(rest)
    if (parsed.success) return { value: parsed.data, unreadable }
    const [issue] = parsed.error.issues
    const path = [...issue.path, ...(issue.code === 'unrecognized_keys' ? issue.keys.slice(0, 1) : [])]
    // a list is left out whole: what is one of its elements without the others?
    const list = path.findIndex((part) => typeof part === 'number')
    const keys = (list < 0 ? path : path.slice(0, list)).map(String)
    if (keys.length === 0) break
    unreadable.push({ what: pathWords([kind, ...keys].join('.')), because: words(issue) })
    rest = mergePatch(
      rest,
      [...keys].reverse().reduce<unknown>((inner, key) => ({ [key]: inner }), null),
    )
  }
  return { value: {} as T, unreadable: [...unreadable, { what: kind, because: 'cannot be read at all' }] }
}
export const readFacts = (version: number, document: unknown): { value: BuildData['facts']; unreadable: Unreadable[] } =>
  readable(ToldFacts, 'facts', upcast('facts', version, document))
export const readChoices = (version: number, document: unknown): { value: BuildData['choices']; unreadable: Unreadable[] } =>
  readable(Choices, 'choices', upcast('choices', version, document))

/** An entry as it was stored, led to today's shape; what is wrong with it, where it cannot be read. */
export function readEntry(
  version: number,
  stored: Omit<StoredReading, 'kind' | 'value'> & { kind: string; value: unknown },
): StoredReading | Unreadable {
  const what = `${stored.kind} of ${stored.takenAt.slice(0, 10)}, ${stored.who}`
  const spec = stored.kind in entryKinds ? entryKinds[stored.kind as EntryKind] : null
  if (!spec) return { what, because: 'is of a kind that is not known here' }
  const parsed = spec.schema.safeParse(upcast('entry', version, stored.value))
  if (!parsed.success) return { what, because: parsed.error.issues.map((i) => `${i.path.join('.')}: ${words(i)}`).join('; ') }
  return { ...stored, value: parsed.data } as unknown as StoredReading
}
export const isUnreadable = (entry: StoredReading | Unreadable): entry is Unreadable => 'because' in entry
