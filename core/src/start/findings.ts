import { at, finding, latest, type Rule, sinceLast } from '../kernel/index.ts'
import { dryCrankRules } from './dry-crank.ts'
import { flagRules } from './fault-flags.ts'
import { controlsTiming } from '../spark/index.ts'
import { floodedSince, hasRun } from './gates.ts'
import { cylinderRules, injectorRules } from './injectors.ts'
import { throttleRules } from './throttle.ts'

export const startRules: Rule[] = [
  {
    id: 'start.table-timing',
    where: at('start', 'light'),
    check: (c) =>
      c.plan.ways?.['first-timing'] === 'b' && controlsTiming(c) && !hasRun(c)
        ? finding(
            'note',
            'The first start is on the timing table',
            'The light reads a number that moves with speed and load: compare it with what the unit says at that moment, not with one number.',
            'Hold the speed steady at two speeds, and read unit and light together.',
          )
        : null,
  },
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
