import type { Context } from '../kernel/index.ts'

/** A question on which practitioners differ: both schools, which is taken until the person says, and why (handbook 00). */
export interface Way {
  id: string
  question: string
  options: { value: string | boolean; key: 'a' | 'b' | 'c'; title: string; says: string }[]
  standard: (c: Context) => 'a' | 'b' | 'c'
  why: string
  /** a choice elsewhere that holds the answer; left out, it is kept with the plan */
  path?: string
}

export const ways: readonly Way[] = [
  {
    id: 'supply',
    question: 'Fuel supply',
    path: 'choices.fuel.layout',
    options: [
      { key: 'a', value: 'return', title: 'return line', says: 'steady pressure, cool fuel' },
      { key: 'b', value: 'returnless', title: 'returnless', says: 'no line back from the engine; hotter fuel at idle' },
      { key: 'c', value: 'lift-sump', title: 'lift and sump', says: 'no new line; the old pump fills a small pot' },
    ],
    standard: () => 'a',
    why: 'A return keeps the pressure steady and carries heat away.',
  },
  {
    id: 'pump-place',
    question: 'Pump',
    path: 'choices.fuel.pumpPlace',
    options: [
      { key: 'a', value: 'in-tank', title: 'in the tank', says: 'quiet, cool, wet' },
      { key: 'b', value: 'outside', title: 'outside, below the fuel', says: 'no tank work' },
    ],
    standard: () => 'b',
    why: 'The suction sum decides: outside is taken while its margin holds.',
  },
  {
    id: 'ignition',
    question: 'Ignition',
    path: 'choices.plan.timingControl',
    options: [
      { key: 'a', value: false, title: 'leave the old advance', says: 'the unit only takes a speed signal' },
      { key: 'b', value: true, title: 'the unit times the spark', says: 'lock the distributor, or a crank trigger' },
    ],
    standard: (c) => (c.facts.induction?.kind && c.facts.induction.kind !== 'natural' ? 'b' : 'a'),
    why: 'Boost and nitrous need it; otherwise it is weighed against its hours.',
  },
  {
    id: 'lines',
    question: 'Lines',
    options: [
      { key: 'a', value: 'a', title: 'hard line, flexible ends', says: 'lasts, seals, needs bending' },
      { key: 'b', value: 'b', title: 'braided hose throughout', says: 'quick; never in a closed space' },
    ],
    standard: () => 'a',
    why: 'Inside a closed space hard line is the rule in any case.',
  },
  {
    id: 'unit-place',
    question: 'Control unit',
    path: 'facts.place.unitPlace',
    options: [
      { key: 'a', value: 'cabin', title: 'in the cabin', says: 'dry and cool, longer loom' },
      { key: 'b', value: 'bay', title: 'in the engine bay', says: 'short loom, heat and interference' },
    ],
    standard: () => 'a',
    why: 'Heat and interference end more units than a long loom does.',
  },
  {
    id: 'coil-drive',
    question: 'Coil drive',
    path: 'choices.spark.coilDrive',
    options: [
      { key: 'a', value: 'built-in', title: 'inductive, by the unit', says: 'simple, cheap, long spark' },
      { key: 'b', value: 'inductive-driver', title: 'inductive, a driver beside it', says: 'for coils that a unit cannot carry' },
      { key: 'c', value: 'capacitive', title: 'capacitive box', says: 'high energy, more parts, more interference' },
    ],
    standard: (c) => (c.facts.ignition?.kind === 'capacitive' ? 'c' : 'a'),
    why: 'A long spark lights a lean idle better.',
  },
  {
    id: 'boss',
    question: 'Exhaust sensor held by',
    options: [
      { key: 'a', value: 'a', title: 'a boss welded in', says: 'tight for good; a welder is booked' },
      { key: 'b', value: 'b', title: 'a clamp-on seat', says: 'no welder; looked at again for leaks, which read lean' },
    ],
    standard: () => 'a',
    why: 'A leak before the sensor reads lean, and the unit answers it with fuel.',
  },
  {
    id: 'unit-ground',
    question: 'Ground of the unit',
    options: [
      { key: 'a', value: 'a', title: 'at the battery only', says: 'no starter or coil current through it' },
      { key: 'b', value: 'b', title: 'on the engine block', says: 'the same ground as the sensors; a strap to the body with it' },
    ],
    standard: () => 'a',
    why: 'One clean point, chosen once: two grounds make a loop through the sensors.',
  },
  {
    id: 'reference',
    question: 'Reference angle found by',
    options: [
      { key: 'a', value: 'a', title: 'geometry first', says: 'measured on the damper before it runs, then proved by light' },
      { key: 'b', value: 'b', title: 'running, and the light', says: 'set near, started at a fixed number, corrected by the light' },
    ],
    standard: () => 'a',
    why: 'A wrong guess kicks back or bangs; an hour at the damper avoids both.',
  },
  {
    id: 'correction',
    question: 'Mixture corrected by',
    path: 'choices.unit.learns',
    options: [
      { key: 'a', value: 'nobody', title: 'a person, from logs', says: 'tables change when you accept it' },
      { key: 'b', value: 'itself', title: 'the unit, learning', says: 'nothing to type; its learning must be proved' },
      { key: 'c', value: 'trim', title: 'its trim only', says: 'right while it runs, forgotten at key-off' },
    ],
    standard: () => 'a',
    why: 'What a unit does is on its sheet; ask it before it is bought.',
  },
  {
    id: 'spare-leads',
    question: 'Spare leads of the loom',
    options: [
      { key: 'a', value: 'a', title: 'kept, coiled and insulated', says: 'there when wanted' },
      { key: 'b', value: 'b', title: 'cut back at the plug', says: 'no aerial for interference' },
    ],
    standard: () => 'a',
    why: 'Cut back when interference is suspected.',
  },
  {
    id: 'closed-loop',
    question: 'Closed loop at idle',
    options: [
      { key: 'a', value: 'a', title: 'always', says: 'right for mild cams' },
      { key: 'b', value: 'b', title: 'off below a speed', says: 'long overlap or short exhausts read falsely lean' },
    ],
    standard: (c) => (c.resolved.camClass === 'hot' || c.resolved.camClass === 'wild' ? 'b' : 'a'),
    why: 'By the cam class, from words, numbers or the measured vacuum.',
  },
  {
    id: 'learning',
    question: 'Learning',
    options: [
      { key: 'a', value: 'a', title: 'on the road', says: 'ordinary use, public-road limits' },
      { key: 'b', value: 'b', title: 'on a dyno', says: 'steady states, cell by cell; a day is booked' },
    ],
    standard: () => 'a',
    why: 'High-load cells go to a dyno in any case.',
  },
  {
    id: 'first-timing',
    question: 'Timing at the first start',
    options: [
      { key: 'a', value: 'a', title: 'fixed low number, then the table', says: 'the light reads one number' },
      { key: 'b', value: 'b', title: 'the table at once', says: 'no setting to forget' },
    ],
    standard: () => 'a',
    why: 'A fixed number is checked with a light before anything else moves.',
  },
]

/** What is taken for a way: the person's choice, or the standard. */
export function wayTaken(c: Context, way: Way): { key: 'a' | 'b' | 'c'; chosen: boolean } {
  if (way.path) {
    const value = way.path.split('.').reduce<unknown>((at, k) => (at as Record<string, unknown> | undefined)?.[k], c.build)
    const option = way.options.find((o) => o.value === value)
    return option ? { key: option.key, chosen: true } : { key: way.standard(c), chosen: false }
  }
  const own = c.plan.ways?.[way.id]
  return own ? { key: own, chosen: true } : { key: way.standard(c), chosen: false }
}

const byId = new Map(ways.map((w) => [w.id, w]))
/** The school taken on a question, by its id. */
export const schoolOf = (c: Context, id: string): 'a' | 'b' | 'c' => wayTaken(c, byId.get(id)!).key

/** A capacitive box fires the coil: as chosen, else as the car has it. */
export const firesCapacitive = (c: Pick<Context, 'spark' | 'facts'>): boolean =>
  c.spark.coilDrive ? c.spark.coilDrive === 'capacitive' : c.facts.ignition?.kind === 'capacitive'
