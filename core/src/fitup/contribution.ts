import { type JudgedContext, litres, mm, say } from '../kernel/index.ts'
import { type PartNeed, type PlanTask, schoolOf } from '../plan/index.ts'
import { bonnetOf } from './car-sums.ts'
import { fitupOf, hasPedalMotor, individual, routeOf } from './fitup-of.ts'
import { reservoirOf, vacuumMap, wantsReservoir } from './vacuum.ts'

/** Hours and days of handbook 01. */
const ROUTE_HOURS = { 'throttle-body': 2, 'multi-port': 7, 'individual-runner': 10 } as const
const ROUTE_TASK = {
  'throttle-body': 'Throttle body on, linkage, air cleaner',
  'multi-port': 'Manifold, rail and throttle on',
  'individual-runner': 'Throttles on, linkage balanced',
} as const
const REMOVAL_HOURS = 1.5
const PEDAL_HOURS = 2.5
const CLAMP_HOURS = 0.7
const CLAMP_CHECK_HOURS = 0.3
const WELDER_LEAD_DAYS = 10

function bossTasks(c: JudgedContext): PlanTask[] {
  if (c.facts.exhaust?.bung === 'after-merge') return []
  if (schoolOf(c, 'boss') === 'a')
    return [
      {
        id: 'sensor-boss',
        title: 'Welder: boss for the exhaust sensor',
        station: 'fitup',
        kind: 'trade',
        base: 1,
        after: [],
        before: ['removal'],
        leadDays: WELDER_LEAD_DAYS,
      },
    ]
  return [
    {
      id: 'sensor-clamp',
      title: 'Clamp-on seat for the exhaust sensor',
      station: 'fitup',
      kind: 'work',
      base: CLAMP_HOURS,
      after: ['removal'],
      before: ['first-start'],
    },
    {
      id: 'sensor-clamp-check',
      title: 'Clamp-on seat: smoke or soap, and its bands again',
      station: 'fitup',
      kind: 'work',
      base: CLAMP_CHECK_HOURS,
      after: ['hot-leak-check'],
      before: ['proving'],
      because: 'a seat that is not welded settles, and a leak there reads lean',
    },
  ]
}
export function fitupTasks(c: JudgedContext): PlanTask[] {
  const route = routeOf(c)
  return [
    ...bossTasks(c),
    {
      id: 'removal',
      title: 'Battery off, fuel drained, carburettor and old parts off',
      station: 'fitup',
      kind: 'work',
      base: REMOVAL_HOURS,
      after: ['mock-up'],
    },
    { id: 'induction', title: ROUTE_TASK[route], station: 'fitup', kind: 'work', base: ROUTE_HOURS[route], after: ['removal'] },
    ...(hasPedalMotor(c)
      ? [
          {
            id: 'pedal',
            title: 'Pedal sensor and throttle motor',
            station: 'fitup',
            kind: 'work' as const,
            base: PEDAL_HOURS,
            after: ['induction'],
            before: ['wiring', 'first-start'],
            because: 'electronic throttle',
          },
        ]
      : []),
  ]
}

/** Caps, springs, cleaner and reservoir as the port map, the linkage and the stack want them. */
export function fitupParts(c: JudgedContext): PartNeed[] {
  const { freeMm, liftMm, rows } = bonnetOf(c)
  const under = rows.filter((r) => r.part === 'adapter' || r.part === 'spacer' || r.part === 'body').reduce((sum, r) => sum + r.heightMm, 0)
  const open = fitupOf(c).vacuum ? vacuumMap(c).ports.filter((p) => !p.used.length && p.kind !== 'clean').length : 0
  const reservoir = wantsReservoir(c) ? reservoirOf(c).wantedL : null
  return [
    {
      id: 'air-cleaner',
      price: 'air-cleaner',
      name: 'Air cleaner, or an adapter for the old one',
      spec:
        freeMm === null
          ? say`height by the free height under the bonnet, not measured yet`
          : say`${mm(freeMm, 0)} free over the flange, ${mm(Math.max(0, freeMm - liftMm - under), 0)} of it for the cleaner`,
      quantity: individual(c) ? Math.ceil((c.resolved.cylinders ?? 4) / 2) : 1,
      used: 'over the throttle',
    },
    ...(hasPedalMotor(c)
      ? []
      : [
          {
            id: 'return-springs',
            price: 'return-springs' as const,
            name: 'Return spring for the throttle',
            spec: say`two, each able to shut it alone`,
            quantity: 2,
            used: 'linkage',
          },
        ]),
    ...(open
      ? [
          {
            id: 'port-caps',
            price: 'port-cap' as const,
            name: 'Caps for vacuum ports',
            spec: say`with clamps`,
            quantity: open,
            used: 'throttle body',
          },
        ]
      : []),
    ...(wantsReservoir(c)
      ? [
          {
            id: 'vacuum-reservoir',
            price: 'vacuum-reservoir' as const,
            name: 'Vacuum reservoir',
            spec:
              reservoir === null ? say`the engine gives too little: a vacuum pump` : say`${litres(reservoir, 1)} or more, with check valve`,
            quantity: 1,
            used: 'brake booster',
          },
        ]
      : []),
  ]
}
