import { finding, latest, type Rule, sinceLast } from '../kernel/index.ts'
import { dryCrankRules } from './dry-crank.ts'
import { flagRules } from './fault-flags.ts'
import { floodedSince } from './gates.ts'
import { cylinderRules, injectorRules } from './injectors.ts'
import { throttleRules } from './throttle.ts'

export const startRules: Rule[] = [
  ...dryCrankRules,
  ...flagRules,
  ...injectorRules,
  ...cylinderRules,
  ...throttleRules,
  {
    id: 'start.flooded',
    check: (c) => {
      const since = floodedSince(c)
      const inOil =
        latest(
          sinceLast(c.readings, (r) => r.kind === 'start.flooded'),
          'start.flood-cleared',
        )?.value.oilClean === false
      return since
        ? finding(
            'stop',
            'The engine is flooded',
            `Recorded ${since.slice(0, 10)}. A cylinder full of liquid bends rods.${inOil ? ' Fuel was found in the oil.' : ''}`,
            inOil
              ? 'Change the oil and filter, then check again and record it.'
              : 'Pump off, plugs out, look at the oil for fuel, turn it by hand. Record it before the starter.',
          )
        : null
    },
  },
]
