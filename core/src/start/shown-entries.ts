import { z } from 'zod'
import { choiceField, degC, entry, kPa, quantityField, say, tick, yesNoField } from '../kernel/index.ts'

const pct = z.number().min(-10).max(120)
const volts = z.number().min(0).max(20)
const temperatureC = z.number().min(-50).max(160)
const cranks = z.number().min(0).max(1000)

/** What a person reads off the unit's display, or tells from beside the engine, where no logger does: the app's verdicts are worked out from it. */
const heard = z.enum(['nothing', 'inlet', 'exhaust', 'kick']).optional()
const plugs = z.enum(['wet', 'dry']).optional()
const besideFields = {
  heard: choiceField('Heard', {
    nothing: 'nothing heard',
    inlet: 'spits at the inlet',
    exhaust: 'bangs in the exhaust',
    kick: 'kicks back',
  }),
  plugs: choiceField('Plugs', { wet: 'plugs wet', dry: 'plugs dry' }),
}

export const shownEntries = {
  'start.key-on-shown': entry({
    title: 'Display with the key on',
    proof: null,
    schema: z.strictObject({
      batteryV: volts,
      mapKpa: z.number().min(10).max(400),
      coolantC: temperatureC,
      intakeAirC: temperatureC,
      throttleShutPct: pct,
      throttleOpenPct: pct,
      pressedTwice: z.literal(true).describe('slowly all the way, twice: the same ends both times, and the number never jumped or dropped'),
      lambda: z.number().min(0.4).max(20).describe('of free air, sensor hot'),
      flagShown: z.boolean(),
    }),
    says: (v) =>
      say`Display: ${v.batteryV.toFixed(1)} V, ${kPa(v.mapKpa)}, coolant ${degC(v.coolantC)}, air ${degC(v.intakeAirC)}, throttle ${v.throttleShutPct.toFixed(1)} to ${v.throttleOpenPct.toFixed(0)} %, lambda ${v.lambda.toFixed(2)}${v.flagShown ? ', a FLAG is shown' : ''}`,
    fields: {
      batteryV: quantityField('Battery', 'voltage'),
      mapKpa: quantityField('Manifold pressure', 'pressure'),
      coolantC: quantityField('Coolant', 'temperature'),
      intakeAirC: quantityField('Intake air', 'temperature'),
      throttleShutPct: quantityField('Throttle, foot off', 'percent'),
      throttleOpenPct: quantityField('Throttle, to the floor', 'percent'),
      lambda: quantityField('Mixture, free air', 'lambda', 'sensor hot'),
      pressedTwice: tick('Pressed slowly all the way twice: same ends, the number never jumped or dropped'),
    },
    answers: [
      { label: 'No fault is shown', value: { flagShown: false } },
      { label: 'A fault is shown', value: { flagShown: true } },
    ],
    tool: 'display of the unit',
  }),
  'start.crank-light': entry({
    title: 'Light while cranking',
    proof: null,
    schema: z.strictObject({
      observedDeg: z.number().min(-90).max(120).describe('mean of about ten flashes, crank degrees BTDC on the damper'),
      commandedDeg: z.number().min(-20).max(60),
    }),
    says: (v) => `Light while cranking: ${v.observedDeg.toFixed(1)}° seen, ${v.commandedDeg.toFixed(1)}° commanded`,
    fields: {
      observedDeg: quantityField('Mean of ten flashes', 'angle', 'on the damper, before top centre'),
      commandedDeg: quantityField('Commanded', 'angle', 'as the display shows it'),
    },
    tool: 'timing light',
  }),
  'start.crank-shown': entry({
    title: 'Display while cranking',
    proof: null,
    schema: z.strictObject({
      fuelled: z.boolean(),
      rpm: cranks,
      seconds: z.number().min(0).max(60),
      steady: z.boolean().describe('the speed neither dropped to nothing nor jumped'),
      displayStayedOn: z.boolean(),
      batteryV: volts.optional().describe('lowest'),
      pressureKpa: z.number().min(0).max(1500).optional(),
      oilKpa: z.number().min(0).max(1500).optional(),
      ranS: z.number().min(0).max(600).optional().describe('it caught and ran so long'),
      heard,
      plugs,
    }),
    says: (v) =>
      say`Display while cranking ${v.fuelled ? 'with' : 'without'} fuel: ${v.rpm.toFixed(0)} rpm for ${v.seconds.toFixed(0)} s, ${v.steady ? 'steady' : 'UNSTEADY'}${v.displayStayedOn ? '' : ', it WENT OUT'}${v.ranS === undefined ? '' : `, caught for ${v.ranS.toFixed(0)} s`}`,
    fields: {
      rpm: quantityField('Speed shown', 'rpm'),
      seconds: quantityField('Cranked for', 'timeS', undefined, 0),
      steady: yesNoField('The speed', 'steady', 'dropped out or jumped'),
      displayStayedOn: yesNoField('The display', 'stayed on', 'went out'),
      batteryV: quantityField('Battery, lowest', 'voltage'),
      pressureKpa: quantityField('Fuel pressure', 'pressure'),
      oilKpa: quantityField('Oil pressure', 'pressure'),
      ranS: quantityField('It caught and ran for', 'timeS', 'empty when it never caught'),
      ...besideFields,
    },
    tool: 'display of the unit',
  }),
  'start.crank-heard': entry({
    title: 'Heard and seen beside the engine',
    proof: null,
    schema: z.strictObject({ heard, plugs }),
    says: (v) =>
      `Beside the engine: ${[v.heard && `heard ${v.heard}`, v.plugs && `plugs ${v.plugs}`].filter(Boolean).join(', ') || 'nothing told'}`,
    fields: besideFields,
  }),
  'start.run-shown': entry({
    title: 'Display while it runs',
    proof: null,
    schema: z.strictObject({
      secondsToFire: z.number().min(0).max(60),
      watchedS: z.number().min(0).max(3600).describe('how long it was watched, s'),
      rpmLow: z.number().min(0).max(5000),
      rpmHigh: z.number().min(0).max(5000),
      coolantC: temperatureC,
      lambda: z.number().min(0.4).max(20),
    }),
    says: (v) =>
      say`Display while it ran: ${v.rpmLow.toFixed(0)} to ${v.rpmHigh.toFixed(0)} rpm over ${v.watchedS.toFixed(0)} s, lambda ${v.lambda.toFixed(2)}, coolant ${degC(v.coolantC)}`,
    fields: {
      secondsToFire: quantityField('Fired after', 'timeS'),
      watchedS: quantityField('Watched for', 'timeS', 'with the foot off', 0),
      rpmLow: quantityField('Lowest speed', 'rpm'),
      rpmHigh: quantityField('Highest speed', 'rpm'),
      lambda: quantityField('Mixture', 'lambda'),
      coolantC: quantityField('Coolant', 'temperature'),
    },
    tool: 'display of the unit',
  }),
} as const
