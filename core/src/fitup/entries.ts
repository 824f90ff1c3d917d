import { z } from 'zod'
import {
  type Basis,
  type Before,
  choiceField,
  type Context,
  degC,
  entry,
  type EntryValues,
  mm,
  quantityField,
  type Said,
  say,
  textField,
  tick,
  type Told,
  yesNoField,
} from '../kernel/index.ts'
import { jointTorque } from './bolts.ts'
import { boxIds, boxWords, jointIds, jointWords } from './choices.ts'
import {
  FLAT_MM,
  FULL_DEG,
  JUMP_PCT,
  LIFT_MM,
  LIMP_PCT,
  LIMP_S,
  NOISE_PCT,
  PASS_SHARES,
  RAIL_FLOAT_MM,
  SENSOR_DEG,
  SHAFTS_DEG,
  SPIKES_PER_MIN,
  SPRINGS,
  TORQUE_AGREES,
  TRACKS_PCT,
  UNIT_MOST_C,
} from './limits.ts'

const name = z.string().trim().min(1).max(60)
const BODY = 'fitup.body-off'
const HOSE = 'fitup.hose-off'
const LINK = 'fitup.linkage-off'
const told = (t: Told) => t.choices?.fitup ?? {}
const nothing = (): Basis => ({})
/** Of a throttle with a motor nothing is proved before key and brake were seen to shut it. */
const keyFirst = (_: Context, __: unknown, before: readonly Before[]): Said | null =>
  before.some((b) => b.kind === 'fitup.brake-key' && Object.values(b.value as object).every((is) => is === true))
    ? null
    : 'key and brake come first: they were not seen to shut it before this'

export const trackWords = { pedal: 'pedal', plate: 'plate' } as const

export const fitupEntries = {
  'fitup.photos': entry({
    title: 'Photographed, every hose marked with its port',
    proof: null,
    schema: z.strictObject({ hoses: z.int().min(0).max(40) }),
    says: (v) => `Photographed; ${v.hoses} hoses marked with their ports`,
    fields: { hoses: quantityField('Hoses marked', 'count', 'each with the port it comes from, before anything is pulled off', 0) },
  }),
  'fitup.ports-covered': entry({
    title: 'Carburettor off, ports covered, face cleaned',
    proof: null,
    schema: z.strictObject({
      covered: z.literal(true),
      gapMm: z.number().min(0).max(5).describe('largest feeler under a straightedge, mm'),
    }),
    says: (v) => say`Ports covered; face out of flat by ${mm(v.gapMm, 2)}`,
    fields: {
      covered: tick('A lint-free cloth in every port; it is counted again when it comes out'),
      gapMm: quantityField('Gap under a straightedge', 'length', 'along, across and both diagonals: the largest feeler that goes in', 2),
    },
    tool: 'straightedge, feeler gauges',
  }),
  [BODY]: entry({
    title: 'Throttle body or manifold taken off again',
    proof: null,
    schema: z.strictObject({ what: name }),
    says: (v) => `Taken off again: ${v.what}`,
    fields: { what: textField('What') },
  }),
  [HOSE]: entry({
    title: 'Vacuum hose moved or taken off',
    proof: null,
    schema: z.strictObject({ what: name }),
    says: (v) => `Vacuum hose moved: ${v.what}`,
    fields: { what: textField('Which') },
  }),
  [LINK]: entry({
    title: 'Linkage opened or set otherwise',
    proof: null,
    schema: z.strictObject({ what: name }),
    says: (v) => `Linkage opened: ${v.what}`,
    fields: { what: textField('What') },
  }),
  'fitup.torqued': entry({
    title: 'Joint drawn down',
    proof: {
      subject: (v) => v.joint,
      passes: (v) => v.inOrder && v.passes >= PASS_SHARES.length && v.gasket !== 'other',
      parts: ['choices.fitup.joints'],
      basis: (t, v) => ({ joint: told(t).joints?.[v.joint] }),
      limits: (c: Context, v): Said | null => {
        const wanted = jointTorque((c.build.choices.fitup?.joints ?? {})[v.joint] ?? {})
        return !wanted || Math.abs(v.torqueNm - wanted.torqueNm) <= TORQUE_AGREES * wanted.torqueNm
          ? null
          : `drawn to ${v.torqueNm.toFixed(0)} Nm, ${wanted.torqueNm.toFixed(0)} Nm is wanted`
      },
      voidedBy: [BODY],
    },
    schema: z.strictObject({
      joint: z.enum(jointIds),
      torqueNm: z.number().min(1).max(250).describe('last pass, Nm'),
      passes: z.int().min(1).max(6),
      inOrder: z.boolean(),
      gasket: z.enum(['one-dry', 'other']).optional(),
    }),
    says: (v) =>
      `${jointWords[v.joint]}: ${v.passes} passes to ${v.torqueNm.toFixed(0)} Nm${v.inOrder ? ', in order' : ', NOT in order'}${v.gasket === 'other' ? ', gasket not single and dry' : ''}`,
    fields: {
      joint: choiceField('Joint', jointWords),
      torqueNm: quantityField('Last pass', 'torque', undefined, 1),
      passes: quantityField('Passes', 'count', 'by hand first, then these', 0),
      inOrder: yesNoField('In the order drawn'),
      gasket: choiceField('Gasket', { 'one-dry': 'one, dry', other: 'other' }),
    },
    tool: 'torque wrench',
  }),
  'fitup.ports': entry({
    title: 'Vacuum hoses as on the map',
    proof: {
      passes: (v) => v.asMap && v.capped && v.checkValve !== false,
      parts: ['choices.fitup.vacuum'],
      basis: (t) => {
        const { ports = {}, joined = {} } = told(t).vacuum ?? {}
        return { joined, ports: Object.entries(ports).map(([id, p]) => [id, p.kind, p.capped === true]) }
      },
      voidedBy: [BODY, HOSE],
    },
    schema: z.strictObject({
      asMap: z.boolean(),
      capped: z.boolean(),
      checkValve: z.boolean().optional().describe('the booster’s holds when blown against'),
    }),
    says: (v) =>
      `Vacuum hoses ${v.asMap ? 'as on the map' : 'NOT as on the map'}, unused ports ${v.capped ? 'capped' : 'OPEN'}${v.checkValve === false ? ', booster’s check valve does NOT hold' : ''}`,
    fields: {
      asMap: yesNoField('Each hose traced by hand to its port'),
      capped: yesNoField('Every unused port capped and clamped'),
      checkValve: yesNoField('Booster’s check valve holds'),
    },
  }),
  'fitup.linkage': entry({
    title: 'Pedal to plate, by a second person at the plate',
    proof: {
      passes: (v) => v.closes && v.fullDeg >= FULL_DEG && v.springs >= SPRINGS && v.binds !== true,
      parts: ['choices.fitup.linkage'],
      basis: (t) => ({ linkage: told(t).linkage }),
      voidedBy: [BODY, LINK],
    },
    schema: z.strictObject({
      fullDeg: z.number().min(0).max(95).describe('plate with the pedal on the carpet, deg'),
      closes: z.boolean().describe('shuts by itself from anywhere'),
      springs: z.int().min(0).max(4).describe('that each shut it alone'),
      binds: z.boolean().optional(),
    }),
    says: (v) =>
      say`Plate at ${v.fullDeg.toFixed(0)}° with the pedal down${v.closes ? ', shuts by itself' : ', does NOT shut by itself'}, ${String(v.springs)} springs${v.binds ? ', it BINDS' : ''}`,
    fields: {
      fullDeg: quantityField('Plate, pedal on the carpet', 'angle', 'engine off; 90 stands in line with the air', 0),
      closes: yesNoField('Shuts by itself from anywhere', 'yes', 'no'),
      springs: quantityField('Springs that each shut it alone', 'count', 'take one off, try, put it on; then the other', 0),
      binds: yesNoField('It binds somewhere'),
    },
    tool: 'protractor, second person',
  }),
  'fitup.tip-in': entry({
    title: 'Jump at tip-in',
    proof: { passes: (v) => v.jumpPct <= JUMP_PCT, parts: [], basis: nothing, voidedBy: [LINK] },
    schema: z.strictObject({
      jumpPct: z.number().min(0).max(100).describe('least throttle that the foot can hold over shut, %'),
      forceN: z.number().min(0).max(300).optional().describe('at the pedal, N'),
    }),
    says: (v) => `Tip-in jumps by ${v.jumpPct.toFixed(1)} %`,
    fields: {
      jumpPct: quantityField('Least that the foot can hold', 'percent', 'on the throttle sensor, over shut'),
      forceN: quantityField('Force at the pedal', 'force'),
    },
  }),
  'fitup.kick-down': entry({
    title: 'Kick-down or throttle-valve cable set',
    proof: {
      passes: (v) => v.fullAtFull && v.noSlack,
      parts: ['choices.fitup.linkage'],
      basis: (t) => ({ linkage: told(t).linkage }),
      voidedBy: [BODY, LINK],
    },
    schema: z.strictObject({ fullAtFull: z.boolean(), noSlack: z.boolean(), pressureChecked: z.boolean().optional() }),
    says: (v) =>
      `Gearbox cable: ${v.fullAtFull ? 'full at full throttle' : 'NOT full at full throttle'}, ${v.noSlack ? 'no slack shut' : 'SLACK when shut'}`,
    fields: {
      fullAtFull: yesNoField('Drawn all the way at full throttle'),
      noSlack: yesNoField('No slack when shut'),
      pressureChecked: yesNoField('Line pressure read by a gauge'),
    },
  }),
  'fitup.shafts': entry({
    title: 'Shafts together',
    proof: {
      passes: (v) => v.shutDeg <= SHAFTS_DEG && v.fullDeg <= SHAFTS_DEG,
      parts: ['choices.fitup.linkage'],
      basis: (t) => ({ staged: told(t).linkage?.staged, shafts: told(t).linkage?.shafts }),
      voidedBy: [BODY, LINK],
    },
    schema: z.strictObject({
      shutDeg: z.number().min(0).max(30).describe('apart when shut, deg'),
      fullDeg: z.number().min(0).max(60).describe('apart at full throttle, deg'),
    }),
    says: (v) => `Shafts ${v.shutDeg.toFixed(1)}° apart shut, ${v.fullDeg.toFixed(1)}° at full throttle`,
    fields: { shutDeg: quantityField('Apart when shut', 'angle'), fullDeg: quantityField('Apart at full throttle', 'angle') },
  }),
  'fitup.bonnet': entry({
    title: 'Clay under the bonnet',
    proof: {
      passes: (v) => v.gapMm >= LIFT_MM,
      parts: ['choices.fitup.stack', 'choices.fitup.tiltDeg', 'choices.fitup.liftMm'],
      basis: (t) => ({ stack: told(t).stack, tiltDeg: told(t).tiltDeg, liftMm: told(t).liftMm }),
      limits: (c: Context, v): Said | null => {
        const liftMm = c.build.choices.fitup?.liftMm ?? LIFT_MM
        return v.gapMm >= liftMm ? null : say`${mm(v.gapMm)} left, the engine lifts ${mm(liftMm)}`
      },
      voidedBy: [BODY],
    },
    schema: z.strictObject({ gapMm: z.number().min(0).max(200).describe('thinnest of the clay after the bonnet was shut on it, mm') }),
    says: (v) => say`${mm(v.gapMm)} of clay left under the bonnet`,
    fields: { gapMm: quantityField('Thinnest of the clay', 'length', 'bonnet let down by hand, never slammed') },
    tool: 'modelling clay',
  }),
  'fitup.sensor': entry({
    title: 'Exhaust sensor in its seat',
    proof: {
      passes: (v) => v.upDeg >= SENSOR_DEG.drains && v.tight && v.plugged,
      parts: ['choices.fitup.sensor'],
      basis: (t) => ({ sensor: told(t).sensor }),
      voidedBy: ['fitup.exhaust-off'],
    },
    schema: z.strictObject({
      upDeg: z.number().min(-90).max(90).describe('axis above horizontal, deg'),
      tight: z.boolean().describe('seat and joints before it tight by smoke or soap'),
      plugged: z.boolean().describe('plugged until the sensor has power'),
    }),
    says: (v) =>
      `Exhaust sensor ${v.upDeg.toFixed(0)}° above level, seat ${v.tight ? 'tight' : 'LEAKS'}${v.plugged ? ', plugged until powered' : ''}`,
    fields: {
      upDeg: quantityField('Above level', 'angle', 'level gauge on the sensor’s hexagon', 0),
      tight: yesNoField('Seat, and every joint before it, tight'),
      plugged: yesNoField('Plugged until it has power, or powered already'),
    },
    tool: 'angle gauge, smoke or soap',
  }),
  'fitup.exhaust-off': entry({
    title: 'Exhaust taken down',
    proof: null,
    schema: z.strictObject({ what: name }),
    says: (v) => `Exhaust taken down: ${v.what}`,
    fields: { what: textField('What') },
  }),
  'fitup.coolant-sensor': entry({
    title: 'Coolant sensor in the flow',
    proof: { passes: (v) => v.wet && v.engineSide, parts: [], basis: nothing, voidedBy: [BODY] },
    schema: z.strictObject({ wet: z.boolean(), engineSide: z.boolean().describe('on the engine’s side of the thermostat') }),
    says: (v) =>
      `Coolant sensor ${v.wet ? 'wet' : 'in a DRY pocket'}, ${v.engineSide ? 'engine side of the thermostat' : 'PAST the thermostat'}`,
    fields: { wet: yesNoField('Its tip stands in flowing coolant'), engineSide: yesNoField('On the engine’s side of the thermostat') },
  }),
  'fitup.air-sensor': entry({
    title: 'Air temperature sensor away from heat',
    proof: { passes: (v) => v.cool, parts: [], basis: nothing },
    schema: z.strictObject({ cool: z.boolean() }),
    says: (v) => `Air sensor ${v.cool ? 'in the stream, away from heat' : 'beside HEAT'}`,
    fields: { cool: yesNoField('In the air stream, away from metal that heats it') },
  }),
  'fitup.box': entry({
    title: 'Box placed',
    proof: {
      subject: (v) => v.box,
      passes: (v) => v.dry && v.plugsDown && (v.box !== 'unit' || (v.rubber && (v.hottestC ?? 0) <= UNIT_MOST_C)),
      parts: ['choices.fitup.boxes'],
      basis: (t, v) => ({ box: told(t).boxes?.[v.box] }),
    },
    schema: z.strictObject({
      box: z.enum(boxIds),
      dry: z.boolean(),
      plugsDown: z.boolean(),
      rubber: z.boolean(),
      hottestC: z.number().min(-20).max(150).optional().describe('hottest seen there, degC'),
    }),
    says: (v) =>
      say`${boxWords[v.box]}: ${v.dry ? 'dry' : 'WET'}, plugs ${v.plugsDown ? 'down' : 'NOT down'}, ${v.rubber ? 'on rubber' : 'on bare metal'}${v.hottestC === undefined ? '' : say`, up to ${degC(v.hottestC)}`}`,
    fields: {
      box: choiceField('Box', boxWords),
      dry: yesNoField('Dry in rain and wash'),
      plugsDown: yesNoField('Plugs down, a drip loop in the leads'),
      rubber: yesNoField('On rubber feet'),
      hottestC: quantityField('Hottest there', 'temperature', 'after a hot stop, bonnet shut'),
    },
  }),
  'fitup.dry-fit': entry({
    title: 'Manifold tried dry',
    proof: {
      passes: (v) =>
        v.gapMm <= FLAT_MM &&
        v.boltsStart &&
        v.oRings !== false &&
        v.railFloatMm >= RAIL_FLOAT_MM.least &&
        v.railFloatMm <= RAIL_FLOAT_MM.most,
      parts: ['choices.plan.route'],
      basis: (t) => ({ route: t.choices?.plan?.route }),
    },
    schema: z.strictObject({
      gapMm: z.number().min(0).max(10).describe('largest feeler at any port, mm'),
      boltsStart: z.boolean().describe('every bolt starts by hand'),
      railFloatMm: z.number().min(0).max(10).describe('end float of the rail, mm'),
      oRings: z.boolean().optional().describe('o-rings oiled, clips on'),
    }),
    says: (v) =>
      say`Dry fit: ${mm(v.gapMm, 2)} at the worst port, bolts ${v.boltsStart ? 'start by hand' : 'do NOT start by hand'}, rail floats ${mm(v.railFloatMm, 2)}`,
    fields: {
      gapMm: quantityField('Gap at the worst port', 'length', 'bolts by hand, no gasket', 2),
      boltsStart: yesNoField('Every bolt starts by hand'),
      railFloatMm: quantityField('End float of the rail', 'length', 'neither loose nor squeezed', 2),
      oRings: yesNoField('O-rings oiled, clips on'),
    },
    tool: 'feeler gauges',
  }),
  'fitup.coolant-bled': entry({
    title: 'Coolant filled and bled',
    proof: { passes: (v) => v.held, parts: [], basis: nothing, voidedBy: [BODY] },
    schema: z.strictObject({
      litres: z.number().min(0).max(60).optional().describe('L'),
      held: z.boolean().describe('level held overnight'),
    }),
    says: (v) => `Coolant bled, level ${v.held ? 'held' : 'FELL'}`,
    fields: { litres: quantityField('Filled', 'volume', undefined, 1), held: yesNoField('Level held') },
  }),
  'fitup.balance': entry({
    title: 'Air through each throttle',
    proof: null,
    schema: z.strictObject({
      at: z.enum(['idle', 'part']),
      flowsKgH: z.array(z.number().min(0).max(400)).min(2).max(12).describe('throttle by throttle, kg/h'),
      turned: z.array(z.number().min(-5).max(5)).max(12).describe('turns of each screw since the look before'),
    }),
    says: (v) => `Air at ${v.at === 'idle' ? 'idle' : 'part throttle'}: ${v.flowsKgH.map((f) => f.toFixed(1)).join(', ')} kg/h`,
    tool: 'airflow gauge',
  }),
  'fitup.brake-key': entry({
    title: 'Key and brake shut the plate',
    proof: {
      passes: (v) => v.keyShuts && v.brakeShuts,
      parts: ['choices.plan.electronicThrottle'],
      basis: (t) => ({ electronic: t.choices?.plan?.electronicThrottle }),
      voidedBy: [LINK],
    },
    schema: z.strictObject({
      keyShuts: z.boolean().describe('key off with the pedal down: the plate shuts'),
      brakeShuts: z.boolean().describe('brake with the pedal down: the plate goes back'),
    }),
    says: (v) =>
      `Electronic throttle: key ${v.keyShuts ? 'shuts it' : 'does NOT shut it'}, brake ${v.brakeShuts ? 'overrides' : 'does NOT override'}`,
    fields: {
      keyShuts: yesNoField('Key off, pedal down: the plate shuts', 'it shuts', 'it does not'),
      brakeShuts: yesNoField('Brake, pedal down: the plate goes back', 'it goes back', 'it does not'),
    },
  }),
  'fitup.tracks': entry({
    title: 'Two tracks, swept from end to end',
    proof: {
      subject: (v) => v.which,
      passes: (v) => v.sound !== false && v.apartPct <= TRACKS_PCT && v.noisePct <= NOISE_PCT && v.spikesPerMin <= SPIKES_PER_MIN,
      parts: ['choices.plan.electronicThrottle'],
      basis: (t) => ({ electronic: t.choices?.plan?.electronicThrottle }),
      limits: keyFirst,
      voidedBy: [LINK],
    },
    schema: z.strictObject({
      which: z.enum(['pedal', 'plate']),
      apartPct: z.number().min(0).max(100).describe('widest between the tracks, %'),
      noisePct: z.number().min(0).max(100).describe('rms, %'),
      spikesPerMin: z.number().min(0).max(10_000),
      sound: z.boolean().optional().describe('both live'),
    }),
    says: (v) =>
      `Tracks of the ${v.which}: ${v.apartPct.toFixed(1)} % apart, noise ${v.noisePct.toFixed(2)} % rms, ${v.spikesPerMin.toFixed(1)} spikes a minute${v.sound === false ? ', one is DEAD' : ''}`,
    fields: {
      which: choiceField('Of', trackWords),
      apartPct: quantityField('Widest apart', 'percent', 'each over its own ends'),
      noisePct: quantityField('Noise, rms', 'percent', undefined, 2),
      spikesPerMin: quantityField('Spikes a minute', 'number'),
      sound: yesNoField('Both live'),
    },
    tool: 'recorder or scope on both tracks',
  }),
  'fitup.limp': entry({
    title: 'Pedal unplugged: limp',
    proof: {
      passes: (v) => v.platePct <= LIMP_PCT && v.afterS <= LIMP_S,
      parts: ['choices.fitup.pedal'],
      basis: (t) => ({ defaultPct: told(t).pedal?.defaultPct }),
      limits: keyFirst,
      voidedBy: [LINK],
    },
    schema: z.strictObject({
      platePct: z.number().min(0).max(100).describe('plate with the pedal unplugged, %'),
      afterS: z.number().min(0).max(30).describe('until it is there, s'),
    }),
    says: (v) => `Pedal unplugged: the plate stands at ${v.platePct.toFixed(0)} % after ${v.afterS.toFixed(1)} s`,
    fields: { platePct: quantityField('Plate stands at', 'percent', 'engine off, key on'), afterS: quantityField('After', 'timeS') },
  }),
  'fitup.last-look': entry({
    title: 'Last look before power',
    proof: { passes: (v) => v.fuel && v.wires && v.moving && v.cloths, parts: [], basis: nothing, voidedBy: [BODY, HOSE, LINK] },
    schema: z.strictObject({ fuel: z.boolean(), wires: z.boolean(), moving: z.boolean(), cloths: z.boolean() }),
    says: (v) =>
      `Last look: ${v.fuel && v.wires && v.moving && v.cloths ? 'fuel, wires, moving parts clear; every cloth out' : 'NOT clear'}`,
    fields: {
      fuel: yesNoField('No fuel line touches or rubs'),
      wires: yesNoField('Wires tied, away from heat'),
      moving: yesNoField('Fan, belts and levers turn free'),
      cloths: yesNoField('Every cloth counted out of the ports'),
    },
  }),
} as const
export type FitupEntryKind = keyof typeof fitupEntries

declare module '../kernel/told.ts' {
  interface EntryTable extends EntryValues<typeof fitupEntries> {}
}
