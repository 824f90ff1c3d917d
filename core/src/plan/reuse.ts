import { type JudgedContext, kPa, mm, type Said, say } from '../kernel/index.ts'
import { planSizes, type Size } from './sizes.ts'

/** Whether a part of the car as it stands serves the conversion. */
export interface Reuse {
  id: string
  label: string
  verdict: 'stays' | 'work' | 'no' | 'ask'
  why: Said
}
type Told = Omit<Reuse, 'id' | 'label'>
const told = (verdict: Reuse['verdict'], why: Said): Told => ({ verdict, why })
/** Distributor shafts looser than this scatter the spark, mm (as at Survey). */
const SHAFT_PLAY_MM = 0.1

interface Asked {
  c: JudgedContext
  size: (id: Size['sizeId']) => number | null
}
/** Layouts with a pot of their own, which a bare tank serves. */
const withPot = ({ fuel }: JudgedContext): boolean => fuel.layout === 'lift-sump' || fuel.layout === 'surge-tank'

function tank({ c }: Asked): Told {
  const { tankVented, tankBaffled } = c.facts.fuel ?? {}
  if (tankVented === undefined) return told('ask', 'whether it is vented is not known')
  const jobs = [
    ...(tankVented ? [] : ['a vent with a roll-over valve']),
    ...(tankBaffled === false && !withPot(c) ? ['a pot or baffle'] : []),
  ]
  return jobs.length ? told('work', `with ${jobs.join(' and ')}; clean inside, and rinsed`) : told('stays', 'clean inside, and rinsed')
}
function oldLine({ c, size }: Asked): Told {
  const { lineBoreMm, lineMaterial } = c.facts.fuel ?? {}
  if (!lineMaterial || lineBoreMm === undefined) return told('ask', 'bore and material are not known')
  if (lineMaterial !== 'steel') return told('no', `${lineMaterial} is not for injection pressure; it may serve as a vent`)
  const feed = size('feed-bore')
  const back = size('return-bore')
  if (feed !== null && lineBoreMm >= feed)
    return told('work', say`${mm(lineBoreMm)} of ${mm(feed)} wanted as feed: proof-tested and flushed`)
  if (back !== null && lineBoreMm >= back) return told('work', say`too thin as feed, ${mm(lineBoreMm)} of ${mm(back)} wanted as return`)
  return told('no', say`${mm(lineBoreMm)} is too thin for feed and return`)
}
function returnLine({ c, size }: Asked): Told {
  const there = c.facts.fuel?.returnLine
  if (there === undefined) return told('ask', 'whether one is there is not known')
  if (!there) return told('no', c.fuel.layout === 'return' ? 'none there: a new line' : 'none there, and none needed with this layout')
  const wanted = size('return-bore')
  return told(
    'work',
    wanted === null ? 'measure its bore: the circuit is not worked out yet' : say`measure its bore: ${mm(wanted)} or more is wanted`,
  )
}
function mechanicalPump({ c }: Asked): Told {
  const { mechanicalPump: there, mechanicalPumpKpa } = c.facts.fuel ?? {}
  if (there === undefined) return told('ask', 'whether one is there is not known')
  if (!there) return told('no', 'none there')
  return withPot(c)
    ? told('stays', say`fills the pot${mechanicalPumpKpa === undefined ? '' : say`, at ${kPa(mechanicalPumpKpa)}`}; its diaphragm sound`)
    : told('no', 'cannot give injection pressure: out, and its hole blanked')
}
function regulator({ c }: Asked): Told {
  const { reuseRegulator, reuseRegulatorKpa } = c.facts.fuel ?? {}
  const wanted = c.fuel.regulator?.setKpa ?? c.plan.fuelPressureKpa
  if (reuseRegulator !== true) return told('no', 'a carburettor’s holds a few kPa')
  if (reuseRegulatorKpa === undefined || wanted === undefined) return told('ask', 'what it holds, or what is wanted, is not known')
  return reuseRegulatorKpa < wanted
    ? told('no', say`holds ${kPa(reuseRegulatorKpa)}, ${kPa(wanted)} are wanted`)
    : told('work', say`holds ${kPa(reuseRegulatorKpa)}: its diaphragm’s age, and where its port goes`)
}
function distributor({ c }: Asked): Told {
  const { facts, plan, spark } = c
  if ((facts.health?.shaftPlayMm ?? 0) > SHAFT_PLAY_MM)
    return told('no', say`${mm(facts.health!.shaftPlayMm!, 2)} of play: the spark scatters`)
  if (plan.timingControl === undefined) return told('ask', 'whether the unit times the spark is not decided')
  if (!plan.timingControl) return told('stays', 'the old advance stays')
  if (spark.trigger === 'locked-magnetic') return told('work', 'its weights and plate fixed')
  if (facts.ignition?.kind === 'hall') return told('work', 'its advance locked')
  return told('no', 'the unit times the spark: a trigger takes its place, the drive may stay')
}
function coil({ c }: Asked): Told {
  const { facts, plan } = c
  if (!plan.timingControl) return told('stays', 'fired as before')
  if (c.spark.coils) return told('no', 'coils of their own take its place')
  if (facts.ignition?.ballastResistor) return told('work', 'only without its ballast, if it is made for that: measure its primary')
  return facts.ignition?.coilPrimaryOhm === undefined
    ? told('ask', 'measure its primary')
    : told('stays', 'by its primary; the Coil room judges its charging')
}
function leads({ c }: Asked): Told {
  const { leads: kind, plugs } = c.facts.ignition ?? {}
  if (!kind) return told('ask', 'resistive or solid core is not known')
  if (kind === 'solid-core') return told('no', 'solid core resets a control unit')
  return plugs === 'plain' ? told('work', 'the leads stay; resistor plugs with them') : told('stays', 'resistive')
}
function alternator({ c, size }: Asked): Told {
  const { charging, chargingRatedA } = c.facts.electrics ?? {}
  const wanted = size('alternator')
  if (!charging) return told('ask', 'what charges is not known')
  if (charging === 'dynamo') return told('no', 'a dynamo gives little at idle')
  if (chargingRatedA === undefined || wanted === null) return told('ask', 'its rating is not known')
  return chargingRatedA < wanted
    ? told('no', `${chargingRatedA} A rated, ${wanted.toFixed(0)} A wanted`)
    : told('stays', `${chargingRatedA} A rated, ${wanted.toFixed(0)} A wanted`)
}
function boss({ c }: Asked): Told {
  const where = c.facts.exhaust?.bung
  if (!where) return told('ask', 'whether a boss is there is not known')
  if (where === 'after-merge') return told('stays', 'right where it is')
  return told(
    'no',
    where === 'none' ? 'none there' : where === 'one-branch' ? 'one branch would speak for all' : 'too far back: cool gas and leaks',
  )
}
function earlierSensors({ c }: Asked): Told {
  const from = c.facts.place?.startsFrom
  return from === 'earlier-injection' || from === 'half-finished'
    ? told('work', 'each by its resistance at two temperatures, against the table of the new unit')
    : told('no', 'a carburetted engine has none that serve')
}

const asked: readonly { id: string; label: string; judge: (a: Asked) => Told }[] = [
  { id: 'tank', label: 'Tank', judge: tank },
  { id: 'old-line', label: 'Old fuel line', judge: oldLine },
  { id: 'return-line', label: 'Return line', judge: returnLine },
  { id: 'mechanical-pump', label: 'Mechanical pump', judge: mechanicalPump },
  { id: 'regulator', label: 'Regulator', judge: regulator },
  { id: 'distributor', label: 'Distributor', judge: distributor },
  { id: 'coil', label: 'Coil', judge: coil },
  { id: 'leads', label: 'Leads and plugs', judge: leads },
  { id: 'alternator', label: 'Alternator', judge: alternator },
  { id: 'boss', label: 'Boss for the exhaust sensor', judge: boss },
  { id: 'sensors', label: 'Sensors of an earlier injection', judge: earlierSensors },
]
/** Every part of the car that could serve again, with the verdict and why. */
export function reusable(c: JudgedContext): Reuse[] {
  const sizes = new Map(planSizes(c).map((s) => [s.sizeId, s.value]))
  const at: Asked = { c, size: (id) => sizes.get(id) ?? null }
  return asked.map(({ id, label, judge }) => ({ id, label, ...judge(at) }))
}
