import { z } from 'zod'
import {
  choiceField,
  entry,
  type EntryValues,
  kPa,
  litres,
  quantityField,
  type Said,
  say,
  textField,
  tick,
  yesNoField,
} from '../kernel/index.ts'
import {
  allJointsBasis,
  closedJointsBasis,
  coversLower,
  deliveredAtPressure,
  deliveryBasis,
  directedBasis,
  jointBasis,
  LINES,
  pressedBefore,
  PRESSURE,
  pressureBasis,
  pressureWithin,
  provedOver,
} from './proof-basis.ts'

const pressure = z.number().min(0).max(1500)
const wetOrDry = (dry: boolean, where?: string): string => (dry ? 'dry' : `WET${where ? ` at ${where}` : ''}`)
const dryAnswers = [
  { label: 'All dry', value: { dry: true } },
  { label: 'One is wet', value: { dry: false } },
]

export const fuelEntries = {
  'fuel.isolated': entry({
    title: 'Before a line is opened',
    proof: null,
    schema: z.strictObject({
      batteryOff: z.literal(true),
      pressureRelieved: z.literal(true),
      engineCold: z.literal(true),
      ventilated: z.literal(true),
      extinguisher: z.literal(true),
    }),
    says: () => 'Battery earth off, pressure relieved, engine cold, ventilated, extinguisher at hand',
    fields: {
      batteryOff: tick('Earthed battery terminal off'),
      pressureRelieved: tick('Pressure relieved'),
      engineCold: tick('Engine cold'),
      ventilated: tick('Doors open, no flame'),
      extinguisher: tick('Class B extinguisher at hand'),
    },
  }),
  'fuel.arrows': entry({
    title: 'Flow arrows of pump, filter, check valve',
    proof: { passes: (v) => v.right, parts: [...LINES, 'choices.fuel.pumpPlace'], basis: directedBasis },
    schema: z.strictObject({ right: z.boolean().describe('flow arrows of pump, filter and check valve') }),
    says: (v) => (v.right ? 'Flow arrows of pump, filter and check valve: right' : 'A flow arrow points the WRONG way'),
    answers: [
      { label: 'All the right way', value: { right: true } },
      { label: 'One is wrong', value: { right: false } },
    ],
  }),
  'fuel.prime': entry({
    title: 'Prime: key on, no start',
    proof: {
      passes: (v) => v.pumpStops,
      parts: ['choices.fuel.layout'],
      basis: ({ choices }) => ({ layout: choices?.fuel?.layout }),
      voidedBy: ['fuel.isolated'],
    },
    schema: z.strictObject({ cycles: z.int().min(1).max(20), pumpStops: z.boolean().describe('by itself after its few seconds') }),
    says: (v) => `Primed ${v.cycles} times; pump ${v.pumpStops ? 'stops by itself' : 'does NOT stop'}`,
    fields: { cycles: quantityField('Key-ons until it stood', 'count') },
    answers: [
      { label: 'Pump stops by itself', value: { pumpStops: true } },
      { label: 'Pump runs on', value: { pumpStops: false } },
    ],
  }),
  'fuel.joint': entry({
    title: 'One joint under pressure',
    proof: {
      passes: (v) => v.dry,
      parts: [...LINES, ...PRESSURE],
      covers: coversLower,
      limits: pressedBefore,
      subject: (v) => v.jointId,
      basis: (told, v) => jointBasis(told, v.jointId),
      voidedBy: ['fuel.isolated'],
      refutedBy: ['fuel.leak-check', 'fuel.recheck'],
    },
    schema: z.strictObject({ jointId: z.string().min(1).max(80), dry: z.boolean(), note: z.string().trim().max(200).optional() }),
    says: (v) => `Joint ${v.jointId}: ${v.dry ? 'dry' : `WET${v.note ? `, ${v.note}` : ''}`}`,
    fields: { note: textField('Seen there') },
    answers: [
      { label: 'Dry', value: { dry: true } },
      { label: 'Wet', value: { dry: false } },
    ],
    tool: 'light and dry towel',
  }),
  'fuel.proof': entry({
    title: 'Proof of joints in closed spaces',
    proof: {
      passes: (v) => v.held,
      parts: [...LINES, ...PRESSURE],
      basis: closedJointsBasis,
      covers: coversLower,
      limits: provedOver,
      voidedBy: ['fuel.isolated'],
    },
    schema: z.strictObject({ pressureKpa: pressure, minutes: z.number().min(0).max(600), held: z.boolean() }),
    says: (v) => say`Proof test ${kPa(v.pressureKpa)} for ${v.minutes} min: ${v.held ? 'held' : 'did NOT hold'}`,
    fields: {
      pressureKpa: quantityField('Tested at', 'pressure', 'above the working pressure'),
      minutes: quantityField('Minutes', 'count'),
    },
    answers: [
      { label: 'Held', value: { held: true } },
      { label: 'Did not hold', value: { held: false } },
    ],
    tool: 'hand pump and gauge',
  }),
  'fuel.pressure': entry({
    title: 'Pressure at the gauge',
    proof: {
      subject: (v) => String(v.engineRunning),
      parts: ['choices.fuel.layout', ...PRESSURE],
      basis: pressureBasis,
      limits: pressureWithin,
      voidedBy: ['fuel.isolated'],
    },
    schema: z.strictObject({
      pressureKpa: pressure,
      engineRunning: z.boolean(),
      referenceKpa: z.number().min(5).max(350).optional().describe('at the regulator port, absolute, kPa'),
    }),
    says: (v) => say`Fuel pressure ${kPa(v.pressureKpa)}${v.engineRunning ? ', engine running' : ''}`,
    fields: {
      pressureKpa: quantityField('Gauge reads', 'pressure'),
      engineRunning: yesNoField('Condition', 'at idle, port as it stays', 'engine off'),
      referenceKpa: quantityField('At the port, absolute', 'pressure', 'left empty: the survey’s idle'),
    },
    tool: 'fuel gauge',
  }),
  'fuel.bleed-down': entry({
    title: 'Bleed-down after key-off',
    proof: null,
    schema: z.strictObject({
      at0Kpa: pressure,
      at1Kpa: pressure.describe('after 1 minute, kPa'),
      at5Kpa: pressure.describe('after 5 minutes, kPa'),
      at10Kpa: pressure.describe('after 10 minutes, kPa'),
      pinch: z.enum(['not-tried', 'feed-holds', 'return-holds', 'neither-holds']).describe('which pinched hose stopped the loss'),
    }),
    says: (v) => say`Bleed-down ${kPa(v.at0Kpa)}, ${kPa(v.at1Kpa)}, ${kPa(v.at5Kpa)}, ${kPa(v.at10Kpa)} after 0, 1, 5, 10 min`,
    fields: {
      at0Kpa: quantityField('At once', 'pressure'),
      at1Kpa: quantityField('1 min', 'pressure'),
      at5Kpa: quantityField('5 min', 'pressure'),
      at10Kpa: quantityField('10 min', 'pressure'),
      pinch: choiceField('Pinch test', {
        'not-tried': 'not tried',
        'feed-holds': 'feed pinched: holds',
        'return-holds': 'return pinched: holds',
        'neither-holds': 'neither holds',
      }),
    },
    tool: 'fuel gauge',
  }),
  'fuel.pump-draw': entry({
    title: 'Pump draw',
    proof: null,
    schema: z.strictObject({
      currentA: z.number().min(0).max(60),
      voltageV: z.number().min(5).max(16).describe('at the pump, V'),
      pressureKpa: pressure,
    }),
    says: (v) => say`Pump draws ${v.currentA} A at ${kPa(v.pressureKpa)} and ${v.voltageV} V`,
    fields: {
      currentA: quantityField('Clamp meter', 'current'),
      voltageV: quantityField('At the pump', 'voltage'),
      pressureKpa: quantityField('Pressure then', 'pressure'),
    },
    tool: 'clamp meter',
  }),
  'fuel.delivery': entry({
    title: 'Delivery into a can',
    proof: {
      subject: (v) => (v.warm ? 'hot' : 'cold'),
      parts: [...LINES, ...PRESSURE, 'choices.fuel.pump', 'choices.fuel.pumpPlace', 'choices.fuel.wiring'],
      basis: deliveryBasis,
      limits: deliveredAtPressure,
      voidedBy: ['fuel.isolated'],
    },
    schema: z.strictObject({
      litres: z.number().min(0.05).max(30).describe('into the can, L'),
      seconds: z.number().min(10).max(600).describe('pump running, s'),
      pressureKpa: pressure.describe('at the gauge while it ran, kPa'),
      voltageV: z.number().min(5).max(16).describe('at the pump while it ran, V'),
      warm: z.boolean().describe('fuel and pump hot from driving'),
    }),
    says: (v) =>
      say`Delivery ${v.warm ? 'hot' : 'cold'}: ${litres(v.litres, 2)} in ${v.seconds} s at ${kPa(v.pressureKpa)} and ${v.voltageV} V`,
    fields: {
      litres: quantityField('Into the can', 'volume', 'approved can, fire extinguisher at hand'),
      seconds: quantityField('In', 'timeS'),
      pressureKpa: quantityField('Pressure while it ran', 'pressure', 'set by pinching the return, or by the regulator'),
      voltageV: quantityField('At the pump', 'voltage', 'charger on: as when driving'),
      warm: yesNoField('Fuel and pump', 'hot', 'cold'),
    },
    tool: 'measuring can',
  }),
  'fuel.pump-volts': entry({
    title: 'Volts lost on the way to the pump',
    proof: null,
    schema: z.strictObject({
      supplyV: z.number().min(5).max(16).describe('at the battery, pump running, V'),
      atPumpV: z.number().min(3).max(16).describe('at the pump, V'),
      currentA: z.number().min(0.5).max(60).optional(),
    }),
    says: (v) => `${v.atPumpV} V at the pump, ${v.supplyV} V at the battery`,
    fields: {
      supplyV: quantityField('At the battery', 'voltage', 'pump running'),
      atPumpV: quantityField('At the pump', 'voltage'),
      currentA: quantityField('Clamp meter', 'current'),
    },
    tool: 'multimeter',
  }),
  'fuel.recheck': entry({
    title: 'Leak check again',
    proof: {
      passes: (v) => v.dry,
      parts: [...LINES, ...PRESSURE],
      basis: allJointsBasis,
      covers: coversLower,
      subject: (v) => v.when,
      refutedBy: ['fuel.joint', 'fuel.leak-check'],
    },
    schema: z.strictObject({ when: z.enum(['hot', 'first-week']), dry: z.boolean(), where: z.string().trim().max(200).optional() }),
    says: (v): Said => `Leak check ${v.when === 'hot' ? 'hot' : 'after the first week'}: ${wetOrDry(v.dry, v.where)}`,
    fields: { where: textField('Where, when it is wet') },
    answers: dryAnswers,
    tool: 'light and dry towel',
  }),
  'fuel.leak-check': entry({
    title: 'Leak check at pressure',
    proof: {
      passes: (v) => v.dry,
      parts: [...LINES, ...PRESSURE],
      covers: coversLower,
      limits: pressedBefore,
      basis: allJointsBasis,
      voidedBy: ['fuel.isolated'],
      refutedBy: ['fuel.joint', 'fuel.recheck'],
    },
    schema: z.strictObject({ dry: z.boolean(), where: z.string().trim().max(200).optional() }),
    says: (v) => `Leak check at pressure: ${wetOrDry(v.dry, v.where)}`,
    fields: { where: textField('Where, when it is wet') },
    answers: dryAnswers,
    tool: 'light and dry towel',
  }),
} as const

declare module '../kernel/told.ts' {
  interface EntryTable extends EntryValues<typeof fuelEntries> {}
}
