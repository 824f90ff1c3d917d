import { at, type Context, finding, readingsOf, type Rule } from '../kernel/index.ts'
import { faultFlagKinds, flagTitle } from './flag-kinds.ts'

export interface FlagEntry {
  flag: string
  firstAt: string
  lastAt: string
  times: number
  /** what was done about it, once it was */
  clearedBy: string | null
}

/** The register of the unit's flags: each with when it was seen and what cleared it; seen again after that it stands open again. */
export function flagRegister(c: Pick<Context, 'readings'>): FlagEntry[] {
  const entries = new Map<string, FlagEntry>()
  for (const r of readingsOf(c.readings, 'start.flag')) {
    const { flag, clearedBy } = r.value
    const had = entries.get(flag)
    if (clearedBy !== undefined) {
      if (had) had.clearedBy = clearedBy
      continue
    }
    entries.set(flag, {
      flag,
      firstAt: had?.firstAt ?? r.takenAt,
      lastAt: r.takenAt,
      times: (had?.times ?? 0) + 1,
      clearedBy: null,
    })
  }
  return [...entries.values()]
}
export const openFlags = (c: Pick<Context, 'readings'>): FlagEntry[] => flagRegister(c).filter((e) => e.clearedBy === null)

export const flagRules: Rule[] = [
  {
    id: 'start.flags',
    where: at('start', 'key'),
    check: (c) => {
      const open = openFlags(c)
      return open.length
        ? finding(
            'warn',
            open.length === 1 ? `The unit flags: ${flagTitle(open[0].flag)}` : `The unit flags ${open.length} faults`,
            open.map((e) => `${flagTitle(e.flag)}, seen ${e.times === 1 ? 'once' : `${e.times} times`}`).join('; '),
            `${faultFlagKinds[open[0].flag]?.look ?? 'Look it up in the maker’s sheet.'} Then write down at First start what cleared it.`,
          )
        : null
    },
  },
]
