import type { Context } from '../job/context.ts'
import { finding, type Rule } from '../job/context.ts'
import { readingsOf } from '../job/readings.ts'

/** What a flag of the unit's own checks means and where to look. A flag of another device is shown by its own words. */
export const faultFlagKinds: Record<string, { title: string; means: string; look: string }> = {
  'throttle-range': {
    title: 'throttle sensor out of range',
    means: 'Its wire gives less than 0.2 V or more than 4.8 V.',
    look: 'Plug, the three wires, the sensor’s track; then shut and open volts at Base tune.',
  },
  'map-range': {
    title: 'manifold pressure out of range',
    means: 'The sensor stands at its end: open wire, short, or a pressure beyond it.',
    look: 'Plug and wires; with boost a sensor of a larger range.',
  },
  'coolant-range': {
    title: 'coolant sensor out of range',
    means: 'Colder than -38 °C or hotter than 135 °C: open or shorted.',
    look: 'Ohms at its plug against the curve at Base tune.',
  },
  'air-range': {
    title: 'intake air sensor out of range',
    means: 'Colder than -38 °C or hotter than 100 °C: open or shorted.',
    look: 'Ohms at its plug against the curve at Base tune.',
  },
  'supply-range': {
    title: 'supply out of range',
    means: 'Under 5.5 V or over 16 V at the unit.',
    look: 'Battery, its posts, the unit’s feed and ground; then the charging.',
  },
}
export const flagTitle = (flag: string): string => faultFlagKinds[flag]?.title ?? flag

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
  for (const r of readingsOf(c.readings, 'start.flag').sort((a, b) => a.takenAt.localeCompare(b.takenAt))) {
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
    station: 'start',
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
