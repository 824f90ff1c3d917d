import type { Harness } from './harness.ts'

/** One piece of the harness on the bench: where it ends, how long it is, and how many wires lie in it. */
interface TreeRow {
  id: string
  label: string
  depth: number
  lengthMm: number
  wires: number
}

/**
 * The harness as a tree: from the fuses along the fullest bundles, each place reached once. What closes a ring lies in the piece it was reached by.
 * @returns depth-first, the fullest branch first
 */
export function harnessTree({ bundles, places, wayPoints }: Harness): TreeRow[] {
  const links = new Map<string, { to: string; lengthMm: number; wires: number }[]>()
  const link = (a: string, to: string, lengthMm: number, wires: number): void =>
    void (links.get(a) ?? links.set(a, []).get(a)!).push({ to, lengthMm, wires })
  for (const { from, to, lengthMm, circuits } of bundles) {
    link(from, to, lengthMm, circuits.length)
    link(to, from, lengthMm, circuits.length)
  }
  // the fullest bundles first (R. C. Prim, Bell System Technical Journal 36 (1957), for the heaviest tree)
  const branches = new Map<string, { to: string; lengthMm: number; wires: number }[]>()
  const reached = new Set<string>()
  const grow = (root: string): void => {
    reached.add(root)
    for (;;) {
      let best: { from: string; to: string; lengthMm: number; wires: number } | null = null
      for (const from of reached)
        for (const l of links.get(from) ?? []) if (!reached.has(l.to) && (best === null || l.wires > best.wires)) best = { from, ...l }
      if (!best) return
      reached.add(best.to)
      branches.set(best.from, [...(branches.get(best.from) ?? []), best])
    }
  }
  const rows: TreeRow[] = []
  const label = (id: string): string => places.get(id)?.label ?? wayPoints.get(id)!.id.replaceAll('-', ' ')
  const walk = (id: string, depth: number, lengthMm: number, wires: number): void => {
    rows.push({ id, label: label(id), depth, lengthMm, wires })
    for (const b of branches.get(id) ?? []) walk(b.to, depth + 1, b.lengthMm, b.wires)
  }
  for (const root of ['fuses', ...links.keys()])
    if (links.has(root) && !reached.has(root)) {
      grow(root)
      walk(root, 0, 0, 0)
    }
  return rows
}
