import { z } from 'zod'
import {
  type Basis,
  choiceField,
  degC,
  entry,
  type EntryValues,
  type Told,
  kPa,
  say,
  spaced,
  textField,
  tick,
  yesNoField,
} from '../kernel/index.ts'
import { onFuelling } from '../fuel/index.ts'
import { onIgnition } from '../spark/index.ts'
import { flagTitle } from './flag-kinds.ts'
import { shownEntries } from './shown-entries.ts'

/** A run rests on what sparks and on what meters the fuel. */
const onEngine = {
  parts: [...onIgnition.parts, ...onFuelling.parts],
  basis: (told: Told): Basis => ({ ...onIgnition.basis(told), ...onFuelling.basis(told) }),
}
const pct = z.number().min(-10).max(120)
export const startEntries = {
  ...shownEntries,
  'start.throttle': entry({
    title: 'Throttle pressed twice',
    proof: null,
    schema: z.strictObject({
      shutPct: pct,
      openPct: pct,
      largestJumpPct: z.number().min(0).max(130),
      deadSpotsPct: z.array(z.number().min(0).max(100)).max(20),
      problems: z.array(z.string().max(200)).max(10),
    }),
    says: (v) =>
      `Throttle pressed twice: ${v.shutPct.toFixed(1)} to ${v.openPct.toFixed(0)} %${v.problems.length ? `; ${v.problems.join('; ')}` : ', smooth'}`,
    writtenBy: 'app',
  }),
  'start.injectors': entry({
    title: 'Injectors heard',
    proof: null,
    schema: z.strictObject({
      clicked: z.array(z.int().min(1).max(24)).max(24),
      silent: z.array(z.int().min(1).max(24)).max(24),
      spraySeen: z.boolean().optional().describe('on an open body, at key-on'),
      primes: z.int().min(0).max(1000).optional().describe('key-ons with fuel since it last ran or was cleared'),
    }),
    says: (v) =>
      `Injectors that click: ${v.clicked.join(', ') || 'none'}${v.silent.length ? `; SILENT: ${v.silent.join(', ')}` : ''}${v.spraySeen === undefined ? '' : v.spraySeen ? '; prime spray seen' : '; NO prime spray'}${v.primes === undefined ? '' : `; primed ${v.primes} times`}`,
    fields: { spraySeen: yesNoField('Prime spray seen') },
  }),
  'start.idle-valve': entry({
    title: 'Idle valve at key-on',
    proof: null,
    schema: z.strictObject({ moves: z.boolean().describe('heard or felt to step as the key goes on') }),
    says: (v) => (v.moves ? 'Idle valve heard to move at key-on' : 'Idle valve does NOT move at key-on'),
    answers: [
      { label: 'It moves', value: { moves: true } },
      { label: 'It does not move', value: { moves: false } },
    ],
  }),
  'start.cylinders': entry({
    title: 'Every cylinder works',
    proof: { passes: (v) => v.cool.length === 0, ...onEngine, voidedBy: ['spark.moved', 'spark.fitted'] },
    schema: z.strictObject({
      cool: z
        .array(z.int().min(1).max(12))
        .max(12)
        .describe('cylinders whose exhaust port stays cool, or that make no odds with their spark off'),
      how: z.enum(['ports', 'leads']).describe('infrared thermometer along the ports, or one lead off at a time'),
    }),
    says: (v) =>
      `${v.cool.length ? `Cylinder ${v.cool.join(', ')} does NOT work` : 'Every cylinder works'}, by ${v.how === 'ports' ? 'the heat of the exhaust ports' : 'one lead off at a time'}`,
    fields: { how: choiceField('Found by', { ports: 'heat of the exhaust ports', leads: 'one lead off at a time' }) },
    answers: [{ label: 'All work alike', value: { cool: [] } }],
    tool: 'infrared thermometer',
  }),
  'start.flag': entry({
    title: 'A flag of the unit',
    proof: null,
    schema: z.strictObject({ flag: z.string().trim().min(1).max(40), clearedBy: z.string().trim().min(1).max(200).optional() }),
    says: (v) => `Unit’s flag ${flagTitle(v.flag)}: ${v.clearedBy === undefined ? 'seen' : `cleared by ${v.clearedBy}`}`,
    fields: { clearedBy: textField('What cleared it') },
    answers: [{ label: 'Cleared', value: {} }],
  }),
  'start.safety': entry({
    title: 'Two people and a stop word',
    proof: null,
    schema: z.strictObject({ extinguisher: z.literal(true), helper: z.literal(true), stopWord: z.string().trim().min(1).max(40) }),
    says: (v) => `Extinguisher at hand, helper ready, stop word "${v.stopWord}"`,
    fields: { extinguisher: tick('Class B extinguisher within reach, pin seen'), stopWord: textField('Stop word') },
    answers: [{ label: 'Agreed, record it', value: { helper: true } }],
  }),
  'start.prepared': entry({
    title: 'Battery, connectors, chocks',
    proof: null,
    schema: z.strictObject({
      batteryCharged: z.literal(true),
      connectorsDone: z.literal(true),
      chocked: z.literal(true).describe('wheels chocked, neutral or park, brake on'),
    }),
    says: () => 'Battery charged, connector list done, wheels chocked and out of gear',
    fields: {
      batteryCharged: tick('Battery charged'),
      connectorsDone: tick('Every connector on the list done'),
      chocked: tick('Wheels chocked, neutral or park, brake on'),
    },
  }),
  'start.sanity': entry({
    title: 'Key-on checks',
    // the tune it was made on is looked at where it opens the fuel: by when that tune went into the car
    proof: { passes: (v) => v.passed, parts: [], basis: () => ({}), voidedBy: ['start.plug-opened'] },
    schema: z.strictObject({
      passed: z.boolean(),
      checks: z
        .array(z.strictObject({ id: z.string().max(40), state: z.enum(['pass', 'fail', 'waiting']), seen: z.string().max(200) }))
        .max(40),
    }),
    says: (v) => (v.passed ? 'Key-on checks passed' : 'Key-on checks did not pass'),
    writtenBy: 'app',
  }),
  'start.plug-opened': entry({
    title: 'A plug of the unit opened',
    proof: null,
    schema: z.strictObject({ what: z.string().trim().min(1).max(100).optional() }),
    says: (v) => `A plug of the unit was opened${v.what ? `: ${v.what}` : ''}`,
    fields: { what: textField('Which plug') },
    answers: [{ label: 'A plug was opened since', value: {} }],
  }),
  'start.dry-crank': entry({
    title: 'Cranked without fuel',
    proof: { ...onIgnition, voidedBy: ['spark.moved', 'spark.fitted'] },
    schema: z.strictObject({
      rpm: z.number().min(0).max(1000).describe('median while cranking without fuel'),
      dropouts: z.int().min(0),
      spikes: z.int().min(0),
      lightDeg: z.number().min(-90).max(120).optional().describe('mean of about ten flashes, crank degrees BTDC'),
      commandedDeg: z.number().min(-20).max(60).optional(),
      oilKpa: z.number().min(0).max(1500).optional(),
    }),
    says: (v) =>
      say`Cranked without fuel at ${v.rpm.toFixed(0)} rpm, ${v.dropouts} dropouts, ${v.spikes} spikes${v.lightDeg === undefined ? '' : `, light ${v.lightDeg.toFixed(1)}° of ${v.commandedDeg ?? '?'}° commanded`}${v.oilKpa === undefined ? '' : say`, oil ${kPa(v.oilKpa)}`}`,
    writtenBy: 'app',
  }),
  'start.attempt': entry({
    title: 'An attempt to start',
    proof: null,
    schema: z.strictObject({
      branch: z.string().regex(/^[a-z][a-z-]{1,30}$/),
      seconds: z.number().min(0).max(600),
      rpm: z.number().min(0).max(15000).describe('median while cranking'),
      pressureKpa: z.number().min(0).max(1500).optional(),
      batteryV: z.number().min(0).max(20).optional().describe('lowest while cranking, V'),
      heard: z.enum(['nothing', 'inlet', 'exhaust', 'kick']).optional(),
      plugs: z.enum(['wet', 'dry']).optional(),
    }),
    says: (v) =>
      say`Cranked ${v.seconds.toFixed(1)} s at ${v.rpm.toFixed(0)} rpm${v.pressureKpa === undefined ? '' : say`, ${kPa(v.pressureKpa)}`}${v.batteryV === undefined ? '' : `, ${v.batteryV.toFixed(1)} V lowest`}: ${spaced(v.branch)}${v.heard && v.heard !== 'nothing' ? `, heard: ${v.heard}` : ''}${v.plugs ? `, plugs ${v.plugs}` : ''}`,
    fields: {
      heard: choiceField('Heard', { nothing: 'nothing', inlet: 'bang in the inlet', exhaust: 'bang in the exhaust', kick: 'kick back' }),
      plugs: choiceField('Plugs', { wet: 'wet', dry: 'dry' }),
    },
    writtenBy: 'app',
  }),
  'start.flooded': entry({
    title: 'Flooded',
    proof: null,
    schema: z.strictObject({ note: z.string().trim().max(200).optional() }),
    says: (v) => `Flooded${v.note ? `: ${v.note}` : ''}`,
    fields: { note: textField('Seen') },
  }),
  'start.flood-cleared': entry({
    title: 'After flooding',
    proof: null,
    schema: z.strictObject({ pumpOff: z.literal(true), plugsOut: z.literal(true), oilClean: z.boolean() }),
    says: (v) => (v.oilClean ? 'After flooding: pump off, plugs out, no fuel in the oil' : 'After flooding: FUEL IN THE OIL'),
    fields: { pumpOff: tick('Pump off'), plugsOut: tick('Plugs out') },
    answers: [
      { label: 'No fuel in the oil', value: { oilClean: true } },
      { label: 'Fuel in the oil', value: { oilClean: false } },
    ],
  }),
  'start.ran': entry({
    title: 'The engine ran',
    proof: { ...onEngine, voidedBy: ['spark.moved', 'spark.fitted'], standsFromBefore: true },
    schema: z.strictObject({
      secondsToFire: z.number().min(0).max(600),
      idleRpm: z.number().min(0).max(5000),
      coolantC: z.number().min(-50).max(160),
      lambda: z.number().min(0.3).max(3).optional().describe('mean while it was watched'),
      tuneId: z.uuid(),
    }),
    says: (v) =>
      say`Engine fired after ${v.secondsToFire.toFixed(1)} s and idles at ${v.idleRpm.toFixed(0)} rpm${v.lambda === undefined ? '' : `, lambda ${v.lambda.toFixed(2)}`}, coolant ${degC(v.coolantC)}`,
    writtenBy: 'app',
  }),
} as const

declare module '../kernel/told.ts' {
  interface EntryTable extends EntryValues<typeof startEntries> {}
}
