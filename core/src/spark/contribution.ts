import { asSaying, type Context } from '../kernel/index.ts'
import { atLeast, firesCapacitive, type PairCheck, type PartNeed, type PlanTask, schoolOf, type UnitFunction } from '../plan/index.ts'
import { gearWanted } from './fitting.ts'
import { coilCount, coilsOf, hasCamSignal, hasDistributor, sensorOf } from './ways.ts'

const one = (id: PartNeed['price'], name: string, spec: string, used: string): PartNeed => ({
  id,
  price: id,
  name,
  spec: asSaying(spec),
  quantity: 1,
  used,
})

function distributorPart({ spark, facts }: Context): PartNeed | null {
  if (spark.trigger === 'locked-magnetic') return one('lock-plate', 'Lock-out plate', 'for the old distributor', 'distributor')
  if (spark.trigger === 'own-curve')
    return one('distributor', 'Distributor with its own curve', 'rotation and drive as the old one', 'engine')
  return spark.trigger !== 'speed-signal' && facts.ignition?.kind !== 'hall'
    ? one('distributor', 'Hall distributor, locked', 'rotation and drive as the old one', 'engine')
    : null
}

/** What stands between unit and coil, and the gear that the cam bears, where they must be bought. */
function beside(c: Context): PartNeed[] {
  const gear = gearWanted(c)
  const { coilDrive } = c.spark
  return [
    ...(gear ? [one('drive-gear', 'Drive gear of the distributor', gear, 'distributor')] : []),
    ...(firesCapacitive(c) && c.facts.ignition?.kind !== 'capacitive'
      ? [one('capacitive-box', 'Capacitive ignition box', 'with a tachometer output', 'bay, away from heat')]
      : []),
    ...(coilDrive === 'inductive-driver' ? [one('coil-driver', 'Coil driver', 'for the coil’s current, on a heat sink', 'bay')] : []),
  ]
}

/** Trigger and coils as the way chosen asks for them, and what goes with them. */
export const sparkParts = (c: Context): PartNeed[] => [...triggerParts(c), ...beside(c)]

function triggerParts(c: Context): PartNeed[] {
  const { plan, resolved } = c
  const coils = coilsOf(c)
  if (coils !== 'single')
    return [
      one('crank-wheel', 'Trigger wheel and crank sensor', 'with bracket', 'damper'),
      ...(hasCamSignal(c) ? [one('cam-sensor', 'Cam sync sensor', 'one pulse a cycle', 'distributor bore or cam')] : []),
      {
        id: 'coils',
        price: 'coil-per-cylinder',
        name: 'Coil',
        spec: asSaying(coils === 'paired' ? 'two towers, one for each pair' : 'one for each cylinder'),
        quantity: coilCount(coils, resolved.cylinders ?? 4),
        used: 'near the plugs',
      },
    ]
  if (!plan.timingControl) return []
  const distributor = distributorPart(c)
  return [...(distributor ? [distributor] : []), one('coil', 'Ignition coil', `${resolved.coilPrimaryOhm.toFixed(2)} ohm primary`, 'bay')]
}

const GEAR_LEAD_DAYS = 10
/** The damper's marks measured and marked, before the engine runs. */
const REFERENCE_HOURS = 1
const MARK_HOURS = 0.7

export function sparkTasks(c: Context): PlanTask[] {
  const { trigger } = c.spark
  const gear = gearWanted(c)
  const fetched: PlanTask[] = gear
    ? [
        {
          id: 'drive-gear',
          title: 'Drive gear of the distributor, ordered',
          station: 'spark',
          kind: 'wait',
          base: GEAR_LEAD_DAYS,
          after: [],
          before: ['trigger', 'first-start'],
          because: `the gear and the cam eat each other: ${gear}`,
        },
      ]
    : []
  const { damperMark } = c.facts.engine ?? {}
  const marked: PlanTask[] =
    damperMark === 'none' || damperMark === 'worn'
      ? [
          {
            id: 'damper-mark',
            title: 'True top centre found, damper marked',
            station: 'spark',
            kind: 'work',
            base: MARK_HOURS,
            after: ['removal'],
            before: ['reference-set', 'first-start'],
            because: damperMark === 'none' ? 'no mark on the damper' : 'a mark that may have moved',
          },
        ]
      : []
  // an unit that times the spark wants a trigger, chosen or not; one that does not wants none
  if (c.plan.timingControl === false ? trigger !== 'own-curve' : (!trigger && c.plan.timingControl !== true) || trigger === 'speed-signal')
    return [...fetched, ...marked]
  const wheel = trigger === 'crank-cam' || trigger === 'toothed-wheel'
  return [
    ...fetched,
    ...marked,
    ...(schoolOf(c, 'reference') === 'a'
      ? [
          {
            id: 'reference-set',
            title: 'Reference angle by geometry: top centre, marks, sensor',
            station: 'spark',
            kind: 'work' as const,
            base: REFERENCE_HOURS,
            after: ['trigger'],
            before: ['first-start'],
          },
        ]
      : []),
    {
      id: 'trigger',
      title: wheel
        ? 'Crank trigger and its signals'
        : trigger
          ? 'Distributor swap or lock-out'
          : 'Trigger: distributor locked, or a crank wheel',
      station: 'spark',
      kind: 'work',
      base: wheel ? 7 : 3,
      after: ['removal'],
      before: ['wiring', 'first-start'],
    },
  ]
}

/** What trigger and coils ask of a control unit. */
export function sparkUnitFunctions(c: Context): UnitFunction[] {
  const need: UnitFunction[] = []
  const coils = coilsOf(c)
  const outputs = coilCount(coils, c.resolved.cylinders ?? 4)
  if (coils !== 'single')
    need.push({
      id: 'coil-outputs',
      label: `${outputs} coil outputs`,
      why: coils === 'paired' ? 'paired coils' : 'a coil per cylinder',
      offered: (u) => atLeast(u.coilOutputs, outputs),
    })
  if (hasCamSignal(c)) need.push({ id: 'cam', label: 'Cam signal input', why: 'crank trigger with sync', offered: (u) => u.camInput })
  const sensor = sensorOf(c)
  const why = hasDistributor(c) ? 'the distributor chosen' : 'the crank sensor chosen'
  if (sensor === 'magnetic') need.push({ id: 'magnetic', label: 'Magnetic signal input', why, offered: (u) => u.magneticInput })
  else if (sensor) need.push({ id: 'hall', label: 'Hall signal input', why, offered: (u) => u.hallInput })
  return need
}

/** What of trigger, coil and unit must go together, by the candidate's sheet. */
export function sparkPairs(c: Context): PairCheck[] {
  const unit = c.plan.unit ?? {}
  const signals = sparkUnitFunctions(c).map((f): PairCheck => {
    const offered = f.offered(unit)
    return {
      id: `unit-${f.id}`,
      label: `Unit and ${f.label.charAt(0).toLowerCase()}${f.label.slice(1)}`,
      fit: offered === undefined ? 'open' : offered ? 'fits' : 'no',
      text: offered === undefined ? `${f.why}; its sheet has not been asked` : offered ? f.why : `${f.why}; the unit has none`,
    }
  })
  const { targetA, coilLimitA, coilDrive } = c.spark
  const current: PairCheck[] =
    c.plan.timingControl && coilDrive !== 'capacitive'
      ? [
          {
            id: 'coil-driver',
            label: 'Coil and what drives it',
            ...(targetA === undefined || coilLimitA === undefined
              ? { fit: 'open' as const, text: 'current wanted, or what coil and driver bear, is not told yet' }
              : targetA > coilLimitA
                ? { fit: 'no' as const, text: `${targetA} A wanted, ${coilLimitA} A borne` }
                : { fit: 'fits' as const, text: `${targetA} A wanted, ${coilLimitA} A borne` }),
          },
        ]
      : []
  return [...signals, ...current]
}
