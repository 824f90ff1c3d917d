/** RFC 7396 merge patch: null takes a field away. */
export function mergePatch(target: unknown, patch: unknown): unknown {
  if (patch === null || typeof patch !== 'object' || Array.isArray(patch)) return patch
  const result: Record<string, unknown> =
    target !== null && typeof target === 'object' && !Array.isArray(target) ? { ...(target as Record<string, unknown>) } : {}
  for (const [key, value] of Object.entries(patch)) {
    if (key === '__proto__') continue
    if (value === null) delete result[key]
    else result[key] = mergePatch(result[key], value)
  }
  return result
}

/** Puts two patches together; a null in a patch is a wish to clear and must stay. */
export function mergePatches(a: unknown, b: unknown): unknown {
  if (b === null || typeof b !== 'object' || Array.isArray(b)) return b
  const result: Record<string, unknown> =
    a !== null && typeof a === 'object' && !Array.isArray(a) ? { ...(a as Record<string, unknown>) } : {}
  for (const [key, value] of Object.entries(b)) result[key] = mergePatches(result[key], value)
  return result
}

/** The merge patch that leads from one value to another: what is gone is null in it. */
export function patchBetween(before: unknown, after: unknown): unknown {
  const isObject = (v: unknown): v is Record<string, unknown> => v !== null && typeof v === 'object' && !Array.isArray(v)
  if (!isObject(before) || !isObject(after)) return after
  const gone = Object.keys(before).filter((key) => after[key] === undefined)
  return Object.fromEntries([
    ...Object.entries(after).map(([key, value]) => [key, patchBetween(before[key], value)]),
    ...gone.map((key) => [key, null]),
  ])
}

/** A value as text with the keys of its objects sorted: what a schema has read comes back in the schema's order. */
const inOrder = (value: unknown): string | undefined =>
  JSON.stringify(value, (_, inner: unknown) =>
    inner !== null && typeof inner === 'object' && !Array.isArray(inner)
      ? Object.fromEntries(Object.entries(inner).sort(([a], [b]) => (a < b ? -1 : 1)))
      : inner,
  )

export interface Change {
  path: string
  from: unknown
  to: unknown
}
export function changesBetween(before: unknown, after: unknown, path = ''): Change[] {
  const isObject = (v: unknown): v is Record<string, unknown> => v !== null && typeof v === 'object' && !Array.isArray(v)
  if (isObject(before) || isObject(after)) {
    const a = isObject(before) ? before : {}
    const b = isObject(after) ? after : {}
    return [...new Set([...Object.keys(a), ...Object.keys(b)])].flatMap((key) =>
      changesBetween(a[key], b[key], path ? `${path}.${key}` : key),
    )
  }
  return inOrder(before) === inOrder(after) ? [] : [{ path, from: before, to: after }]
}

/** A merge patch that sets one fact or choice, from a dotted path such as "facts.engine.boreMm"; undefined takes it away. */
export function patchFor(path: string, value: unknown): { facts?: Record<string, unknown>; choices?: Record<string, unknown> } {
  return path
    .split('.')
    .reverse()
    .reduce<unknown>((inner, key) => ({ [key]: inner }), value === undefined ? null : value) as {
    facts?: Record<string, unknown>
    choices?: Record<string, unknown>
  }
}

/** What stands at a dotted path of a build, such as "facts.engine.boreMm". */
export const valueAt = (of: unknown, path: string): unknown =>
  path.split('.').reduce<unknown>((at, key) => (at as Record<string, unknown> | null | undefined)?.[key], of)
