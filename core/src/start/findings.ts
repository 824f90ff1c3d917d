import { finding, latest, type Rule } from '../kernel/index.ts'
import { dryCrankRules } from './dry-crank.ts'
import { flagRules } from './fault-flags.ts'
import { floodedSince } from './gates.ts'
import { injectorRules } from './injectors.ts'
import { throttleRules } from './throttle.ts'

export const startRules: Rule[] = [
  ...dryCrankRules,
  ...flagRules,
  ...injectorRules,
  ...throttleRules,
  {
    id: 'start.flooded',
    check: (c) => {
      const since = floodedSince(c)
      const oil = latest(c.readings, 'start.flood-cleared')
      return since
        ? finding(
            'stop',
            'The engine is flooded',
            `Recorded ${since.slice(0, 10)}. A cylinder full of liquid bends rods.${oil && !oil.value.oilClean && oil.takenAt >= since ? ' Fuel was found in the oil.' : ''}`,
            oil && !oil.value.oilClean && oil.takenAt >= since
              ? 'Change the oil and filter, then check again and record it.'
              : 'Pump off, plugs out, look at the oil for fuel, turn it by hand. Record it before the starter.',
          )
        : null
    },
  },
]
