import { z } from 'zod'
import { entry, type EntryValues, mm, quantityField, say, spaced } from '../kernel/index.ts'
import { FiringOrder } from '../survey/index.ts'
import { onLeads, onTrigger } from './proof-basis.ts'
import { zeroMarkWeakness, zeroOffsetDeg } from './zero-mark.ts'
import { suspectIds, symptomIds, symptomWords } from './interference-words.ts'

const rpm = z.number().min(50).max(15000)
const onDamper = z.number().min(-60).max(120)
const stopDeg = z.number().min(-30).max(90)

export const sparkEntries = {
  'spark.timing-light': entry({
    title: 'Timing light',
    // reference and delay stand in each reading, and what was moved since is looked at where they are fitted
    proof: { ...onTrigger, voidedBy: ['spark.damper'] },
    schema: z.strictObject({
      rpm,
      observedDeg: z
        .number()
        .min(-360)
        .max(360)
        .describe('crank degrees BTDC on the damper; another cylinder’s lead is far off, and is named'),
      commandedDeg: z.number().min(-60).max(90),
      referenceDeg: z.number().min(0).max(360).describe('reference angle set in the unit while it was read'),
      delayUs: z.number().min(0).max(2000).describe('delay set in the unit while it was read'),
    }),
    says: (v) => `Timing light: ${v.observedDeg}° at ${v.rpm} rpm, ${v.commandedDeg}° commanded`,
    fields: {
      rpm: quantityField('Speed', 'rpm'),
      observedDeg: quantityField('Seen on the damper', 'angle'),
      commandedDeg: quantityField('Commanded', 'angle'),
      referenceDeg: quantityField('Reference then', 'angle'),
      delayUs: quantityField('Delay then', 'timeUs'),
    },
    tool: 'timing light',
  }),
  'spark.signal': entry({
    title: 'Pick-up signal',
    proof: null,
    schema: z.strictObject({
      noiseV: z.number().min(0.001).max(100).describe('peak of the noise between pulses, V'),
      crankingV: z.number().min(0.001).max(200).describe('peak while cranking, V'),
    }),
    says: (v) => `Pick-up signal: ${v.crankingV} V cranking over ${v.noiseV} V noise`,
    fields: { noiseV: quantityField('Noise, peak', 'voltage'), crankingV: quantityField('Cranking, peak', 'voltage') },
    tool: 'scope',
  }),
  'spark.stroke': entry({
    title: 'Compression stroke of number one',
    proof: { ...onTrigger, passes: (v) => v.inStep },
    schema: z.strictObject({
      method: z.enum(['thumb', 'gauge', 'valves']),
      inStep: z.boolean().describe('on number one’s compression the rotor points at tower one, or the cam target stands at its sensor'),
    }),
    says: (v) => `Compression stroke by ${v.method}: ${v.inStep ? 'in step' : 'a whole crank turn OUT'}`,
    answers: [
      { label: 'In step', value: { method: 'thumb', inStep: true } },
      { label: 'A turn out', value: { method: 'thumb', inStep: false } },
    ],
  }),
  'spark.order': entry({
    title: 'Order in which the sparks come',
    proof: onLeads,
    schema: z.strictObject({ cylinders: FiringOrder.describe('cylinders in the order their leads or coils spark') }),
    says: (v) => `Sparks seen in the order ${v.cylinders.join('-')}`,
    fields: { cylinders: { label: 'Order seen', input: { kind: 'cylinders' } } },
  }),
  'spark.polarity': entry({
    title: 'Polarity of the sensor',
    proof: { ...onTrigger, passes: (v) => v.right },
    schema: z.strictObject({ right: z.boolean(), method: z.enum(['scope', 'lamp', 'meter']) }),
    says: (v) => `Polarity of the sensor by ${v.method}: ${v.right ? 'right' : 'WRONG way round'}`,
    answers: [
      { label: 'Right', value: { right: true, method: 'scope' } },
      { label: 'Wrong way round', value: { right: false, method: 'scope' } },
    ],
  }),
  'spark.air-gap': entry({
    title: 'Air gap of the pick-up',
    proof: null,
    schema: z.strictObject({
      leastMm: z.number().min(0).max(10).describe('least gap in a turn by hand, mm'),
      mostMm: z.number().min(0).max(10).describe('most gap in a turn by hand, mm'),
    }),
    says: (v) => say`Air gap ${mm(v.leastMm, 2)} to ${mm(v.mostMm, 2)} in a turn`,
    fields: { leastMm: quantityField('Least in a turn', 'length'), mostMm: quantityField('Most in a turn', 'length') },
    tool: 'feeler blades',
  }),
  'spark.fitted': entry({
    title: 'Pick-up set by hand',
    proof: onTrigger,
    schema: z.strictObject({
      referenceDeg: z.number().min(0).max(360).describe('crank degrees BTDC at which the pick-up was set by hand'),
      alignDegBtdc: onDamper.optional().describe('crank degrees BTDC at which rotor and terminal were set in line'),
    }),
    says: (v) => `Pick-up set at ${v.referenceDeg}° BTDC${v.alignDegBtdc === undefined ? '' : `, rotor in line at ${v.alignDegBtdc}°`}`,
    answers: [{ label: 'Set at the reference', value: {} }],
    tool: 'paper tape',
  }),
  'spark.moved': entry({
    title: 'Distributor, sensor or cap moved',
    proof: null,
    schema: z.strictObject({
      what: z.enum(['distributor', 'sensor', 'cap']),
      laterDeg: z.number().min(-180).max(180).describe('crank degrees by which pulse or terminal now comes later'),
    }),
    says: (v) => `${spaced(v.what)} moved: now ${Math.abs(v.laterDeg).toFixed(1)} crank degrees ${v.laterDeg < 0 ? 'earlier' : 'later'}`,
    fields: { laterDeg: quantityField('Comes later by', 'angle', 'crank degrees; earlier: minus') },
    answers: (['distributor', 'sensor', 'cap'] as const).map((what) => ({ label: `${what} moved`, value: { what } })),
  }),
  'spark.phase-seen': entry({
    title: 'Rotor seen under its terminal',
    proof: { ...onTrigger, voidedBy: ['spark.damper'] },
    schema: z.strictObject({
      advanceDeg: z.number().min(-20).max(70).describe('at the crank while it was looked at, BTDC'),
      beforeTerminalDeg: z.number().min(-45).max(45).describe('rotor before the terminal (past it: minus), distributor degrees'),
    }),
    says: (v) =>
      `Rotor seen ${Math.abs(v.beforeTerminalDeg)}° ${v.beforeTerminalDeg < 0 ? 'past' : 'before'} its terminal at ${v.advanceDeg}° BTDC`,
    fields: {
      advanceDeg: quantityField('Advance, on the marks', 'angle'),
      beforeTerminalDeg: quantityField('Rotor before terminal', 'angle'),
    },
    tool: 'timing light',
  }),
  'spark.slack': entry({
    title: 'Slack of the drive',
    proof: null,
    schema: z.strictObject({ crankDeg: z.number().min(0).max(60).describe('crank degrees turned back before the rotor follows') }),
    says: (v) => `Slack: ${v.crankDeg} crank degrees before the rotor follows`,
    fields: { crankDeg: quantityField('Crank turned back', 'angle') },
    tool: 'paper tape',
  }),
  'spark.cam-lamp': entry({
    title: 'Lamp of the cam sensor',
    proof: { ...onTrigger, voidedBy: ['spark.damper', 'spark.moved', 'spark.fitted'] },
    schema: z.strictObject({ crankDegBtdc: z.number().min(-360).max(720).describe('crank angle BTDC at which the lamp changes') }),
    says: (v) => `Lamp of the cam sensor changes at ${v.crankDegBtdc}° BTDC`,
    fields: { crankDegBtdc: quantityField('Lamp changes at', 'angle') },
  }),
  'spark.coil-current': entry({
    title: 'Peak current of the coil',
    proof: null,
    schema: z.strictObject({ batteryV: z.number().min(4).max(18), peakA: z.number().min(0).max(60).describe('peak by clamp, A') }),
    says: (v) => `Coil peaks at ${v.peakA} A, ${v.batteryV} V`,
    fields: { batteryV: quantityField('Battery', 'voltage'), peakA: quantityField('Peak by clamp', 'current') },
    tool: 'clamp meter',
  }),
  'spark.lead': entry({
    title: 'A plug lead',
    proof: null,
    schema: z.strictObject({
      cylinder: z.int().min(1).max(12),
      lengthMm: z.number().min(50).max(2500),
      ohm: z.number().min(0).max(1_000_000).describe('end to end, ohm'),
    }),
    says: (v) => say`Lead ${v.cylinder}: ${v.ohm} ohm over ${mm(v.lengthMm, 0)}`,
    fields: {
      cylinder: quantityField('Cylinder', 'count'),
      lengthMm: quantityField('Length', 'length', undefined, 0),
      ohm: quantityField('End to end', 'resistance', undefined, 0),
    },
    tool: 'multimeter',
  }),
  'spark.scope': entry({
    title: 'Scope',
    proof: null,
    schema: z.strictObject({
      rpm: z.number().min(0).max(15000),
      pulses: z.int().min(0),
      missing: z.int().min(0),
      extra: z.int().min(0),
      jitterDeg: z.number().min(0).max(90).nullable().describe('crank degrees rms'),
      polarity: z.enum(['right', 'reversed', 'unknown']),
      unsure: z.string().max(200).optional().describe('why the polarity is not told'),
      counted: z
        .strictObject({ places: z.int().min(1).max(400), missing: z.int().min(0).max(10) })
        .optional()
        .describe('places between two gaps of the record, where they are not those of the plan'),
      noiseV: z.number().min(0).max(500),
      peakV: z.number().min(0).max(500),
    }),
    says: (v) =>
      `Scope at ${v.rpm.toFixed(0)} rpm: ${v.pulses} pulses, ${v.missing} missing, ${v.extra} extra${v.jitterDeg === null ? '' : `, jitter ${v.jitterDeg.toFixed(2)}°`}, polarity ${v.polarity}`,
    writtenBy: 'app',
    tool: 'scope',
  }),
  'spark.fit': entry({
    title: 'Fit of the light readings',
    proof: null,
    schema: z.strictObject({
      referenceErrorDeg: z.number().min(-400).max(400),
      referenceErrorSeDeg: z.number().min(0),
      delayErrorUs: z.number().nullable(),
      readings: z.int().min(1),
      fix: z.enum(['turn-distributor', 'move-sensor', 'change-reference', 'change-delay']).optional().describe('of entries from before'),
    }),
    says: (v) =>
      `Timing fit of ${v.readings} readings: reference error ${v.referenceErrorDeg.toFixed(1)} ± ${v.referenceErrorSeDeg.toFixed(1)}°${v.delayErrorUs === null ? '' : `, delay error ${v.delayErrorUs.toFixed(0)} µs`}${v.fix ? `; put right by ${spaced(v.fix)}` : ''}`,
    writtenBy: 'app',
  }),
  'spark.done': entry({
    title: 'A step done',
    proof: null,
    schema: z.strictObject({ step: z.string().regex(/^[a-z][a-z0-9-]{0,40}$/) }),
    says: (v) => `Done: ${spaced(v.step)}`,
    answers: [{ label: 'Done', value: {} }],
  }),
  'spark.symptom': entry({
    title: 'A sign of interference',
    proof: null,
    schema: z.strictObject({ symptom: z.enum(symptomIds), seen: z.boolean() }),
    says: (v) => `${symptomWords[v.symptom]}: ${v.seen ? 'yes' : 'no longer'}`,
  }),
  'spark.interference': entry({
    title: 'A suspect of interference looked at',
    proof: null,
    schema: z.strictObject({ suspect: z.enum(suspectIds), found: z.boolean() }),
    says: (v) => `Interference, ${spaced(v.suspect)}: ${v.found ? 'found' : 'clear'}`,
    answers: [
      { label: 'Found', value: { found: true } },
      { label: 'Clear', value: { found: false } },
    ],
  }),
  'spark.zero-mark': entry({
    title: 'Zero mark by the piston',
    proof: { parts: [], basis: () => ({}), limits: (_, v) => zeroMarkWeakness(v), voidedBy: ['spark.damper'] },
    schema: z
      .strictObject({
        method: z.enum(['piston-stop', 'piston-watched']),
        beforeDeg: stopDeg
          .optional()
          .describe('read at the mark with the piston stopped, or seen at one height, on its way up, crank degrees before the mark'),
        afterDeg: stopDeg.optional().describe('read at the mark with the piston stopped from the other side, crank degrees after the mark'),
        offsetDeg: z.number().min(-30).max(30).optional().describe('what the mark must be corrected by; alone it proves nothing'),
        dealt: z
          .enum(['stored', 're-marked'])
          .optional()
          .describe('stored: every light reading is corrected; re-marked: the mark is right now, and was read again'),
      })
      .superRefine((v, ctx) => {
        const path = ['beforeDeg', 'afterDeg'].find((side) => v[side as 'beforeDeg'] === undefined)
        if (path && v.offsetDeg === undefined)
          ctx.addIssue({ code: 'custom', path: [path], message: 'must be given, in crank degrees: the stop is read from both sides' })
        else if (!path && Math.abs(zeroOffsetDeg(v)) > 30)
          ctx.addIssue({ code: 'custom', path: ['afterDeg'], message: 'makes an offset of more than 30°; read both sides again' })
      }),
    says: (v) =>
      `Zero mark by ${spaced(v.method)}: ${v.beforeDeg === undefined || v.afterDeg === undefined ? '' : `${v.beforeDeg}° before and ${v.afterDeg}° after, `}offset ${zeroOffsetDeg(v)}°${v.dealt === 'stored' ? ', stored' : v.dealt === 're-marked' ? ', marked anew' : ''}`,
    fields: {
      beforeDeg: quantityField('On its way up, at the mark', 'angle', 'degrees before the mark'),
      afterDeg: quantityField('On the other side, at the mark', 'angle', 'degrees after the mark'),
    },
    answers: [
      { label: 'Record zero mark', value: { method: 'piston-stop' } },
      { label: 'Piston watched at one height instead', value: { method: 'piston-watched' } },
      { label: 'Store it as a correction', value: { method: 'piston-stop', dealt: 'stored' } },
      { label: 'Marked anew and read again', value: { method: 'piston-stop', dealt: 're-marked' } },
    ],
    tool: 'piston stop',
  }),
  'spark.damper': entry({
    title: 'Damper or pointer changed',
    proof: null,
    schema: z.strictObject({ what: z.enum(['damper', 'pointer']) }),
    says: (v) => `${v.what === 'damper' ? 'Damper' : 'Timing pointer'} changed or moved`,
    answers: [
      { label: 'Damper changed', value: { what: 'damper' } },
      { label: 'Pointer changed', value: { what: 'pointer' } },
    ],
  }),
  'spark.lock-out': entry({
    title: 'Hand-twist test of the rotor',
    proof: { ...onTrigger, passes: (v) => !v.moves },
    schema: z.strictObject({ moves: z.boolean().describe('hand-twist test: true when the rotor still moves against its shaft') }),
    says: (v) => (v.moves ? 'Hand-twist test: the rotor still moves' : 'Hand-twist test: nothing moves'),
    answers: [
      { label: 'Nothing moves', value: { moves: false } },
      { label: 'It moves', value: { moves: true } },
    ],
  }),
} as const

declare module '../kernel/told.ts' {
  interface EntryTable extends EntryValues<typeof sparkEntries> {}
}
