import { z } from 'zod'
import { isStandardFuse } from '../electrics/index.ts'
import {
  amps,
  asSaying,
  type Basis,
  choiceField,
  entry,
  type EntryValues,
  quantityField,
  say,
  spaced,
  textField,
  type Told,
  volts,
  yesNoField,
} from '../kernel/index.ts'
import { isPlace } from './places.ts'
import { keyedVerdict } from './keyed.ts'
import {
  BUS_OHM,
  CRANKING_AT_UNIT_V,
  DROP_V,
  ENGINE_GROUND_V,
  FUSE_DROP_V,
  INSULATION_OHM,
  PARKED_A,
  RELAY_DROP_V,
  UNIT_GROUND_V,
} from './limits.ts'

const V = (what: string) => z.number().min(0).max(16).describe(`${what}, V`)
const name = z.string().trim().min(1).max(40)
/** What was measured is of the harness as it was then: opening it ends it. */
const OPENED = 'wiring.opened'
const HARNESS = ['choices.wiring.circuits', 'choices.wiring.own', 'choices.wiring.unitGround']
/** What is joined to what: pins, ends and circuits of the person's own. Lengths and colours may change, a check of the joints stands. */
const joined = (told: Told): Basis => {
  const { circuits = {}, own = {}, unitGround } = told.choices?.wiring ?? {}
  const moved = Object.entries(circuits).flatMap(([id, { from, to, pin, leftOut }]) =>
    from || to || pin || leftOut ? [[id, from ?? '', to ?? '', pin ?? '', leftOut ? 'out' : '']] : [],
  )
  return { unitGround, moved, own: Object.entries(own).map(([id, { from, to }]) => [id, from, to]) }
}
const grounds = {
  unit: 'unit to battery minus',
  engine: 'engine to battery minus',
  body: 'body to battery minus',
  sensor: 'sensor ground to unit',
} as const
export const groundLimitV = { unit: UNIT_GROUND_V, engine: ENGINE_GROUND_V, body: ENGINE_GROUND_V, sensor: DROP_V.sensorGround } as const

export const wiringEntries = {
  'wiring.isolated': entry({
    title: 'Earthed battery terminal off',
    proof: null,
    schema: z.strictObject({ earthedFirst: z.literal(true) }),
    says: () => 'Earthed terminal off first, and tied away from the post',
    answers: [{ label: 'It is off, earthed terminal first', value: { earthedFirst: true } }],
  }),
  'wiring.opened': entry({
    title: 'Harness opened or changed on the car',
    proof: null,
    schema: z.strictObject({ what: name }),
    says: (v) => `Harness opened: ${v.what}`,
    fields: { what: textField('What', 'connector, splice or wire') },
  }),
  'wiring.keyed': entry({
    title: 'Candidate for the keyed supply',
    proof: {
      passes: (v) => keyedVerdict(v).kind === 'good',
      parts: ['facts.ignition.ballastResistor', 'choices.wiring.circuits.keyed'],
      basis: (told) => ({ ballastResistor: told.facts.ignition?.ballastResistor, keyed: told.choices?.wiring?.circuits?.keyed?.from }),
      voidedBy: [OPENED],
    },
    schema: z.strictObject({
      wire: name.describe('colour and where it was found'),
      batteryV: z.number().min(5).max(16).describe('at rest, V'),
      offV: V('key off').optional(),
      onV: V('key on, nothing on it').optional(),
      lampV: V('key on, 21 W lamp on it').optional(),
      accessoryV: V('in accessory').optional(),
      crankingV: V('cranking, lamp on it').optional(),
      batteryCrankingV: V('battery while cranking').optional(),
      droppedOut: z.boolean().optional().describe('the lamp went out for a moment'),
    }),
    says: (v) => {
      const { title, because } = keyedVerdict(v)
      return say`Keyed supply, ${v.wire}: ${title}. ${asSaying(because)}`
    },
    fields: {
      wire: textField('Wire', 'colour, and where it was found'),
      batteryV: quantityField('Battery at rest', 'voltage'),
      offV: quantityField('Key off', 'voltage'),
      onV: quantityField('Key on, nothing on it', 'voltage'),
      lampV: quantityField('Key on, lamp on it', 'voltage', '21 W between it and ground'),
      accessoryV: quantityField('In accessory', 'voltage'),
      crankingV: quantityField('Cranking, lamp on it', 'voltage'),
      batteryCrankingV: quantityField('Battery while cranking', 'voltage'),
      droppedOut: yesNoField('Lamp went out for a moment'),
    },
    tool: 'multimeter, 21 W lamp',
  }),
  'wiring.ground-drop': entry({
    title: 'Drop over a ground',
    proof: {
      subject: (v) => v.which,
      passes: (v) => v.dropV <= groundLimitV[v.which],
      parts: HARNESS,
      basis: joined,
      voidedBy: [OPENED],
    },
    schema: z.strictObject({
      which: z.enum(Object.keys(grounds) as [keyof typeof grounds, ...(keyof typeof grounds)[]]),
      state: z.enum(['loads-on', 'cranking']),
      dropV: V('over it'),
      currentA: z.number().min(0.1).max(500).optional().describe('through it, by clamp, A'),
    }),
    says: (v) => say`Ground, ${grounds[v.which]}, ${spaced(v.state)}: ${volts(v.dropV, 3)}`,
    fields: {
      which: choiceField('Ground', grounds),
      state: choiceField('While', { 'loads-on': 'running, all loads on', cranking: 'cranking' }),
      dropV: quantityField('Drop', 'voltage', 'meter between the two, with current flowing', 3),
      currentA: quantityField('Current, by clamp', 'current'),
    },
    tool: 'multimeter',
  }),
  'wiring.crank-volts': entry({
    title: 'Volts at the unit while cranking',
    proof: {
      passes: (v) => v.atUnitV >= CRANKING_AT_UNIT_V,
      parts: HARNESS,
      basis: joined,
      voidedBy: [OPENED],
    },
    schema: z.strictObject({ atUnitV: V('between the unit’s supply and ground'), batteryV: V('at the battery').optional() }),
    says: (v) => say`${volts(v.atUnitV)} at the unit while cranking`,
    fields: {
      atUnitV: quantityField('At the unit', 'voltage', 'its supply pin against its ground pin'),
      batteryV: quantityField('At the battery', 'voltage'),
    },
    tool: 'multimeter, lowest kept',
  }),
  'wiring.parked-draw': entry({
    title: 'Draw with the key off',
    proof: { passes: (v) => v.drawA <= PARKED_A, parts: HARNESS, basis: joined, voidedBy: [OPENED] },
    schema: z.strictObject({ drawA: z.number().min(0).max(30).describe('after the unit has gone to sleep, A') }),
    says: (v) => say`Parked, it draws ${amps(v.drawA, 3)}`,
    fields: { drawA: quantityField('Draw', 'current', 'in series with the battery, doors shut, after ten minutes', 3) },
    tool: 'multimeter or clamp',
  }),
  'wiring.insulation': entry({
    title: 'No short before the fuses go in',
    proof: { passes: (v) => v.leastOhm >= INSULATION_OHM, parts: HARNESS, basis: joined, voidedBy: [OPENED] },
    schema: z.strictObject({
      leastOhm: z.number().min(0).max(1e8).describe('least of all fused circuits to ground, loads unplugged, ohm'),
      circuit: name.optional().describe('which one was the least'),
    }),
    says: (v) => `Least resistance to ground before the fuses: ${v.leastOhm} ohm${v.circuit ? `, ${v.circuit}` : ''}`,
    fields: {
      leastOhm: quantityField('Least of all', 'resistance', 'from each fuse’s load side to ground, loads unplugged', 0),
      circuit: textField('At', 'circuit'),
    },
    tool: 'multimeter',
  }),
  'wiring.relay': entry({
    title: 'Relay checked',
    proof: {
      subject: (v) => v.circuit,
      passes: (v) => v.clicks && v.dropV <= RELAY_DROP_V,
      parts: HARNESS,
      basis: joined,
      voidedBy: [OPENED],
    },
    schema: z.strictObject({ circuit: name, clicks: z.boolean(), dropV: V('over its contacts at its load') }),
    says: (v) => say`Relay of ${v.circuit}: ${v.clicks ? 'clicks' : 'does NOT click'}, ${volts(v.dropV)} over its contacts`,
    fields: { circuit: textField('Relay of'), clicks: yesNoField('Clicks'), dropV: quantityField('Over its contacts', 'voltage') },
    tool: 'multimeter',
  }),
  'wiring.fuse': entry({
    title: 'Fuse in its place',
    proof: {
      subject: (v) => v.circuit,
      passes: (v) => v.dropV === undefined || v.dropV <= FUSE_DROP_V,
      parts: HARNESS,
      basis: joined,
      voidedBy: [OPENED],
    },
    schema: z.strictObject({
      circuit: name,
      fittedA: z.number().refine(isStandardFuse, 'must be a standard fuse, A'),
      dropV: V('over fuse and holder').optional(),
    }),
    says: (v) => say`Fuse of ${v.circuit}: ${amps(v.fittedA)}`,
    fields: {
      circuit: textField('Fuse of'),
      fittedA: quantityField('Fitted', 'current'),
      dropV: quantityField('Over fuse and holder', 'voltage'),
    },
  }),
  'wiring.connector': entry({
    title: 'Connector seated, latched, tugged',
    proof: {
      subject: (v) => v.place,
      passes: (v) => v.seated && v.latched && v.tugged,
      parts: HARNESS,
      basis: joined,
      voidedBy: [OPENED],
    },
    schema: z.strictObject({
      place: z.string().refine(isPlace, 'must be a place of the harness'),
      seated: z.boolean(),
      latched: z.boolean(),
      tugged: z.boolean(),
    }),
    says: (v) => `Connector at ${spaced(v.place)}: ${v.seated && v.latched && v.tugged ? 'seated, latched, tugged' : 'NOT right'}`,
    fields: {
      seated: yesNoField('Every pin seated'),
      latched: yesNoField('Latched'),
      tugged: yesNoField('Held when each wire was tugged'),
    },
    answers: [
      { label: 'Seated, latched, tugged', value: { seated: true, latched: true, tugged: true } },
      { label: 'Something is not right', value: { seated: true, latched: true, tugged: false } },
    ],
  }),
  'wiring.splice': entry({
    title: 'Splice made',
    proof: { subject: (v) => v.where, passes: (v) => v.pulled && v.sleeve && !v.underBend, parts: [], basis: () => ({}), voidedBy: [] },
    schema: z.strictObject({
      where: name,
      how: z.enum(['sealed-crimp', 'solder-supported', 'connector']),
      sleeve: z.boolean().describe('sealed in a sleeve'),
      pulled: z.boolean().describe('held when it was pulled'),
      underBend: z.boolean().optional().describe('it lies where the loom bends'),
    }),
    says: (v) =>
      `Splice, ${v.where}: ${spaced(v.how)}${v.pulled ? '' : ', did NOT hold'}${v.sleeve ? '' : ', bare'}${v.underBend ? ', under a bend' : ''}`,
    fields: {
      where: textField('Where'),
      how: choiceField('How', { 'sealed-crimp': 'crimp, sealed', 'solder-supported': 'soldered, supported', connector: 'connector' }),
      sleeve: yesNoField('Sleeved and sealed'),
      pulled: yesNoField('Held when pulled'),
      underBend: yesNoField('Where the loom bends'),
    },
  }),
  'wiring.spare-lead': entry({
    title: 'Spare lead made safe',
    proof: { subject: (v) => v.lead, passes: (v) => v.insulated, parts: [], basis: () => ({}), voidedBy: [] },
    schema: z.strictObject({ lead: name, how: z.enum(['cut-back', 'coiled']), insulated: z.boolean(), labelled: z.boolean() }),
    says: (v) => `Spare lead ${v.lead}: ${spaced(v.how)}${v.insulated ? ', insulated' : ', bare END'}${v.labelled ? ', labelled' : ''}`,
    fields: {
      lead: textField('Lead', 'colour and what it was for'),
      how: choiceField('How', { 'cut-back': 'cut back at the plug', coiled: 'coiled there' }),
      insulated: yesNoField('End insulated'),
      labelled: yesNoField('Labelled'),
    },
  }),
  'wiring.bus': entry({
    title: 'Resistance across the bus',
    proof: {
      passes: (v) => v.ohm >= BUS_OHM.least && v.ohm <= BUS_OHM.most,
      parts: ['choices.wiring.bus'],
      basis: (told) => ({ bus: told.choices?.wiring?.bus }),
      voidedBy: [OPENED],
    },
    schema: z.strictObject({ ohm: z.number().min(0).max(1e6).describe('between its two wires, power off, ohm') }),
    says: (v) => `${v.ohm} ohm across the bus`,
    fields: { ohm: quantityField('Across it', 'resistance', 'power off: two ends of 120 Ω read 60', 0) },
    tool: 'multimeter',
  }),
  'wiring.power-on': entry({
    title: 'Earthed terminal on, last of all',
    proof: {
      parts: [],
      basis: () => ({}),
      limits: (_, __, before) => {
        const lastOff = before.findLastIndex((b) => b.kind === 'wiring.isolated')
        return before.slice(lastOff + 1).some((b) => b.kind === 'wiring.insulation')
          ? null
          : 'the circuits were not measured for shorts before it'
      },
      voidedBy: ['wiring.isolated'],
    },
    schema: z.strictObject({ earthedLast: z.literal(true) }),
    says: () => 'Earthed terminal on, last of all; no spark at the post',
    answers: [{ label: 'It is on, earthed terminal last', value: { earthedLast: true } }],
  }),
} as const

declare module '../kernel/told.ts' {
  interface EntryTable extends EntryValues<typeof wiringEntries> {}
}
