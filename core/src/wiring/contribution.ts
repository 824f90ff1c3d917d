import { amps, type JudgedContext, metres, mm2, type Said, say, sayAll } from '../kernel/index.ts'
import type { PartNeed, PlanTask } from '../plan/index.ts'
import { schoolOf } from '../plan/index.ts'
import { wiringOf } from './car-plan.ts'
import { harnessOf } from './harness.ts'
import { billOf } from './out.ts'

/** Hours of handbook 01: eight circuits, and each over them. */
const WIRING_HOURS = 6
const HOURS_PER_CIRCUIT = 0.4
const TIDY_HOURS = 4
const SPARE_HOURS = 0.5

/** Circuits over the usual eight: timing, the electronic throttle’s two, fan, lift pump, and what the person added. */
function extraCircuits(c: JudgedContext): number {
  const { plan, facts, fuel } = c
  const { own = {}, inputs = {}, outputs = {}, gauges = {} } = wiringOf(c)
  const asked = [
    plan.timingControl,
    plan.electronicThrottle,
    plan.electronicThrottle,
    facts.electrics?.fan === 'electric',
    fuel.liftPump?.kind === 'electric',
  ]
  return asked.filter(Boolean).length + [own, inputs, outputs, gauges].reduce((n, list) => n + Object.keys(list).length, 0)
}

export const wiringTasks = (c: JudgedContext): PlanTask[] => [
  {
    id: 'wiring',
    title: 'Wiring: circuits, grounds, relays',
    station: 'wiring',
    kind: 'work',
    base: WIRING_HOURS + HOURS_PER_CIRCUIT * extraCircuits(c),
    after: ['removal'],
  },
  ...(schoolOf(c, 'spare-leads') === 'b'
    ? [
        {
          id: 'leads-cut',
          title: 'Spare leads cut back at the plug',
          station: 'wiring',
          kind: 'work' as const,
          base: SPARE_HOURS,
          after: ['wiring'],
          before: ['first-start'],
          because: 'no aerial for interference',
        },
      ]
    : []),
  { id: 'tidy', title: 'Loom hidden, tidy', station: 'wiring', kind: 'work', base: TIDY_HOURS, after: ['first-start'] },
]

/** Wire, relays, fuses and terminals of the harness as it is laid. */
export function wiringParts(c: JudgedContext): PartNeed[] {
  const bill = billOf(harnessOf(c))
  const byArea = new Map<number, number>()
  for (const { areaMm2, lengthM } of bill.wire) byArea.set(areaMm2, (byArea.get(areaMm2) ?? 0) + lengthM)
  const areas: Said[] = [...byArea].map(([area, m]) => say`${mm2(area)} ${metres(m, 1)}`)
  const total = [...byArea.values()].reduce((sum, m) => sum + m, 0)
  const fuses: Said[] = bill.fuses.map(({ fuseA, count }) => say`${amps(fuseA, 1)} ×${count}`)
  return [
    ...(fuses.length
      ? [
          {
            id: 'fuses',
            price: 'fuse' as const,
            name: 'Fuses',
            spec: say`${sayAll(fuses, ', ')}`,
            quantity: bill.fuses.reduce((n, f) => n + f.count, 0),
            used: 'loom',
          },
        ]
      : []),
    {
      id: 'terminals',
      price: 'terminal',
      name: 'Terminals with seals',
      spec: say`for the wire at hand`,
      quantity: bill.terminals,
      used: 'plugs',
    },
    { id: 'eyelets', price: 'eyelet', name: 'Eyelets', spec: say`tinned, with sleeve`, quantity: bill.eyelets, used: 'grounds, battery' },
    { id: 'relay', price: 'relay', name: 'Relay with fuse and holder', spec: say`30 A`, quantity: bill.relays, used: 'pump, unit, coils' },
    {
      id: 'wire',
      price: 'wire',
      name: 'Wire',
      spec: say`thin-wall: ${sayAll(areas, ', ')}`,
      quantity: Math.ceil(total),
      unit: 'm',
      used: 'loom',
    },
  ]
}

/** The wire to the pump as it is laid or was measured; nothing while nobody has looked. */
export function pumpFeedOf(c: JudgedContext): { lengthM: number; areaMm2: number }[] {
  const { laid, circuits } = wiringOf(c)
  if (!laid && circuits?.pump?.measuredM === undefined && circuits?.pump?.areaMm2 === undefined) return []
  const wire = harnessOf(c).wires.find((w) => w.circuit.id === 'pump')
  return wire?.size ? [{ lengthM: wire.lengthM, areaMm2: wire.size.areaMm2 }] : []
}
