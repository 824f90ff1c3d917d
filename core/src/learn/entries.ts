import { z } from 'zod'
import { Cause, causes } from '../diagnose/index.ts'
import { onFuelling } from '../fuel/index.ts'
import { feltEntries } from './felt/index.ts'
import { oneChangeEntries } from './one-change/index.ts'
import { METERS_AGREE_PCT } from './limits.ts'
import { choiceField, entry, type EntryValues, quantityField, textField, yesNoField } from '../kernel/index.ts'

export const learnEntries = {
  ...feltEntries,
  ...oneChangeEntries,
  'learn.result': entry({
    title: 'A log solved',
    proof: onFuelling,
    schema: z.strictObject({
      logId: z.uuid(),
      tuneId: z.uuid().nullable(),
      usedSeconds: z.number().min(0),
      provenTimePct: z.number().min(0).max(100).nullable(),
      errorRmsPct: z.number().min(0).nullable(),
      unsafeCells: z.int().min(0).describe('cells that read lean under high load, in this log or before, and that no log has proven since'),
      unsafeAt: z
        .array(z.strictObject({ table: z.enum(['ve', 'runner']), rpm: z.number(), load: z.number() }))
        .max(600)
        .optional()
        .describe('where they stand: by manifold pressure, kPa, or by throttle, %'),
      left: z
        .strictObject({
          axes: z.string().max(1200).describe('breakpoints that the cells stand at, as one line'),
          cells: z
            .array(z.tuple([z.int().min(0), z.number(), z.number().min(0)]))
            .max(1200)
            .describe('of each that was driven: its place in the list, by pressure and then by throttle; what was left, %; seconds'),
        })
        .optional()
        .describe('cell by cell, so that two logs can be compared where both were driven'),
      deliveredRmsPct: z.number().min(0).optional().describe('the same with constants that were taken out before the cells were judged, %'),
      suspect: Cause.optional().describe('of a log that is not sound: what it is most likely wrong by'),
      // of a unit that learns by itself
      settledTimePct: z.number().min(0).max(100).nullable().optional(),
      remainderRmsPct: z.number().min(0).nullable().optional(),
      movedRmsPct: z.number().min(0).nullable().optional(),
      learnedMeanPct: z.number().nullable().optional().describe('mean of what it holds, by used time, %'),
      settled: z.boolean().optional().describe('by this log alone'),
      codes: z.array(z.string().max(40)).max(40).optional().describe('what the pattern says'),
      held: z.array(z.number().nullable()).max(600).optional().describe('what it holds now at the cells of the tune, %'),
    }),
    says: (v) =>
      `Log solved: ${v.suspect ? `not sound, ${causes[v.suspect].is}; ` : ''}${v.settled === undefined ? '' : v.settled ? 'settled; ' : `not settled, ${(v.settledTimePct ?? 0).toFixed(0)} % of the time; `}${v.provenTimePct === null ? 'nothing' : `${v.provenTimePct.toFixed(0)} % of the time`} proven, ${v.unsafeCells} unsafe cells`,
    writtenBy: 'app',
  }),
  'learn.exhaust': entry({
    title: 'Exhaust looked at for leaks',
    proof: { passes: (v) => v.tight, parts: ['facts.exhaust'], basis: ({ facts }) => ({ exhaust: facts.exhaust }) },
    schema: z.strictObject({ tight: z.boolean(), where: z.string().trim().min(1).max(200).optional() }),
    says: (v) => (v.tight ? 'Exhaust tight up to the sensor' : `Exhaust LEAKS${v.where ? `: ${v.where}` : ''}`),
    fields: {
      where: textField('Where it leaks'),
    },
    answers: [
      { label: 'Tight: no smoke, no tick, no soot', value: { tight: true } },
      { label: 'It leaks', value: { tight: false } },
    ],
    tool: 'smoke, or soapy water and an ear, cold',
  }),
  'learn.meter': entry({
    title: 'Mixture sensor against a second meter',
    proof: {
      parts: ['facts.exhaust.bung'],
      basis: ({ facts }) => ({ bung: facts.exhaust?.bung }),
      limits: (_, v) =>
        Math.abs(100 * (v.unitLambda / v.meterLambda - 1)) <= METERS_AGREE_PCT + 1e-9
          ? null
          : `the unit reads lambda ${v.unitLambda.toFixed(2)}, the other meter ${v.meterLambda.toFixed(2)}; within ${METERS_AGREE_PCT} % is wanted: a sensor that is cold, old, or behind a leak`,
    },
    schema: z.strictObject({ unitLambda: z.number().min(0.5).max(2.5), meterLambda: z.number().min(0.5).max(2.5) }),
    says: (v) => `The unit reads lambda ${v.unitLambda.toFixed(2)}, a second meter ${v.meterLambda.toFixed(2)}`,
    fields: {
      unitLambda: quantityField('The unit reads', 'lambda', 'warm, at a steady idle'),
      meterLambda: quantityField('A second meter reads', 'lambda', 'at the tail pipe, or both in free air'),
    },
    tool: 'second mixture meter',
  }),
  'learn.tested': entry({
    title: 'Suspect of a log tested',
    proof: null,
    schema: z.strictObject({
      logId: z.uuid(),
      cause: Cause,
      found: z.boolean(),
      seen: z.string().trim().min(1).max(300),
    }),
    says: (v) => `${v.found ? 'Found' : 'Ruled out'}: ${causes[v.cause].is}. ${v.seen}`,
  }),
  'learn.trial-point': entry({
    title: 'Hold of a spark trial',
    proof: null,
    schema: z.strictObject({
      tuneId: z.uuid(),
      rpm: z.number().min(300).max(15000).describe('held speed'),
      mapKpa: z.number().min(10).max(400).describe('held manifold pressure'),
      mapDeg: z.number().min(-20).max(60).describe('advance that the map holds there, ° BTDC'),
      advanceDegBtdc: z.number().min(-20).max(60),
      torqueNm: z.number().gt(0).max(3000).optional(),
      throttlePct: z.number().gt(0).max(100).optional().describe('that held the same speed on the same grade, %'),
      knock: z.boolean(),
      coolantC: z.number().min(-40).max(150).optional(),
      intakeAirC: z.number().min(-40).max(120).optional(),
      on: z.enum(['dyno', 'grade']),
    }),
    says: (v) =>
      `Spark trial at ${v.rpm.toFixed(0)} rpm, ${v.mapKpa.toFixed(0)} kPa: ${v.advanceDegBtdc.toFixed(0)}°${v.torqueNm === undefined ? '' : `, ${v.torqueNm.toFixed(1)} Nm`}${v.throttlePct === undefined ? '' : `, held with ${v.throttlePct.toFixed(1)} % throttle`}${v.knock ? ', it KNOCKED' : ''}`,
    fields: {
      advanceDegBtdc: quantityField('Advance held', 'angle', 'the spark set there for this hold'),
      torqueNm: quantityField('Mean torque', 'torque', 'over ten seconds and more'),
      throttlePct: quantityField('Throttle that held it', 'percent', 'same speed, same grade'),
      knock: yesNoField('Was knock heard?', 'it knocked', 'no knock'),
      coolantC: quantityField('Coolant', 'temperature'),
      intakeAirC: quantityField('Intake air', 'temperature'),
      on: choiceField('Held on', { dyno: 'a dynamometer', grade: 'a steady grade' }),
    },
    tool: 'brake, or a steady grade; an ear at the block',
  }),
  'learn.same-car': entry({
    title: 'The log is this car’s',
    proof: null,
    schema: z.strictObject({ logId: z.uuid() }),
    says: () => 'A log was said to be this car’s, whatever it shows',
  }),
} as const

declare module '../kernel/told.ts' {
  interface EntryTable extends EntryValues<typeof learnEntries> {}
}
