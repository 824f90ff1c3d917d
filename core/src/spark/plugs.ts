import { at, finding, kPa, mm, type Rule, say } from '../kernel/index.ts'
import { neededKv } from './coil.ts'
import { COLDER_FROM_KPA } from './limits.ts'

const oldPlugSigns = {
  sooty: [
    'The old plugs were sooty',
    'It ran rich, or the plugs were too cold.',
    'Mixture comes from the tune now; keep the maker’s heat range until new ones have been read.',
  ],
  white: [
    'The old plugs were burnt white',
    'It ran lean or too early, or the plugs were too hot.',
    'Look for the air leak or the advance that did it before full load.',
  ],
  oily: [
    'The old plugs were oily',
    'Oil past rings or guides: no ignition mends it.',
    'Measure compression and leak-down first; oil fouls the mixture sensor too.',
  ],
} as const

export const plugRules: Rule[] = [
  {
    id: 'spark.old-plugs',
    where: at('spark', 'coil', 'facts.ignition.oldPlugs'),
    check: ({ facts }) => {
      const seen = facts.ignition?.oldPlugs
      if (!seen || seen === 'tan') return null
      const [message, because, remedy] = oldPlugSigns[seen]
      return finding(seen === 'sooty' ? 'note' : 'warn', message, because, remedy)
    },
  },
  {
    id: 'spark.plug-heat',
    where: at('spark', 'coil', 'facts.ignition.plugHeat'),
    check: (c) => {
      const { plugHeat } = c.facts.ignition ?? {}
      const boostKpa = c.facts.induction?.boostKpa ?? 0
      if (plugHeat === 'hotter')
        return finding(
          'warn',
          'Plugs hotter than the maker’s',
          'A hot plug lights the charge before the spark does.',
          'Fit the maker’s heat range, or colder under boost.',
        )
      return plugHeat === 'as-maker' && boostKpa > COLDER_FROM_KPA
        ? finding(
            'warn',
            'Plugs for an engine without this boost',
            say`${kPa(boostKpa)} of boost; the gap of ${mm(neededKv(c).gapMm)} wants about ${neededKv(c).kv.toFixed(0)} kV there.`,
            'One heat range colder, and a smaller gap.',
          )
        : null
    },
  },
]
