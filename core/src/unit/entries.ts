import { z } from 'zod'
import { choiceField, entry, type EntryValues, quantityField, type Said, textField, type Told } from '../kernel/index.ts'
import { tableNames } from '../tune/index.ts'
import { LearnedForm } from './choices.ts'
import { KEY_OFF_S } from './limits.ts'
import { temporaryAnswers, temporaryIds } from './temporary.ts'

const Value = z.union([z.number(), z.string().trim().min(1).max(60)])
const keyOff = z.number().min(0).max(1e6).describe('for how long the key was off before it was read, s')
const longEnough = (_: unknown, { offS }: { offS: number }): Said | null =>
  offS >= KEY_OFF_S ? null : `the key was off for ${offS} s; ${KEY_OFF_S} s or more are wanted, so that it tells what it has kept`

/** What the unit holds is proved on that unit with that firmware. */
const onUnit = {
  parts: ['choices.plan.unit.name', 'choices.unit.firmware'],
  basis: ({ choices = {} }: Told) => ({ name: choices.plan?.unit?.name, firmware: choices.unit?.firmware }),
  voidedBy: ['unit.reset'],
}

export const unitEntries = {
  'unit.read-back': entry({
    title: 'Values told by the unit after a key-off',
    // which of them are right is judged value by value against the card of now
    proof: { ...onUnit, limits: longEnough },
    schema: z.strictObject({
      tuneId: z.uuid(),
      offS: keyOff,
      values: z
        .record(z.string().max(41), z.strictObject({ value: Value, unit: z.string().max(12).optional() }))
        .describe('question to the value that the unit shows, in the unit it shows it in'),
      wanted: z.record(z.string().max(41), Value).optional().describe('what the card asked for when it was typed back'),
    }),
    says: (v) => {
      const n = Object.keys(v.values).length
      return `${n} ${n === 1 ? 'value' : 'values'} read in the unit after ${v.offS} s with the key off`
    },
    tool: 'display of the unit',
  }),
  'unit.export': entry({
    title: 'What the unit gave out, compared',
    proof: { ...onUnit, limits: longEnough },
    schema: z.strictObject({
      tuneId: z.uuid(),
      fileId: z.uuid(),
      part: z.enum(['document', ...tableNames]),
      offS: keyOff,
      compared: z.int().min(1),
      different: z.int().min(0),
      worst: z.string().max(200),
    }),
    says: (v) => `Export of the unit, ${v.part}: ${v.different === 0 ? 'equal' : `${v.different} of ${v.compared} values differ`}`,
    writtenBy: 'server',
  }),
  'unit.file': entry({
    title: 'File of the unit kept',
    proof: null,
    schema: z.strictObject({
      fileId: z.uuid(),
      tuneId: z.uuid().nullable().describe('the version of the tune it belongs to'),
      name: z.string().max(200),
      sha256: z.string().regex(/^[0-9a-f]{64}$/),
      size: z.int().min(1),
      foreign: z.boolean().describe('of another car'),
      firmware: z.string().max(60).optional(),
    }),
    says: (v) => `File of the unit kept: ${v.name}${v.foreign ? ', of ANOTHER car' : ''}, hash ${v.sha256.slice(0, 12)}`,
    writtenBy: 'server',
  }),
  'unit.temporary': entry({
    title: 'An answer for the time being',
    proof: null,
    schema: z
      .strictObject({
        what: z.enum(temporaryIds),
        stands: z.boolean().describe('false: released'),
        value: z.number().min(-20).max(15000).optional(),
      })
      .refine((v) => !v.stands || temporaryAnswers[v.what].needs === null || v.value !== undefined, {
        message: 'must say the value while it stands: degrees BTDC or rpm',
        path: ['value'],
      }),
    says: (v) =>
      `${temporaryAnswers[v.what].label}${v.value === undefined ? '' : ` at ${v.value} ${temporaryAnswers[v.what].needs === 'rpm' ? 'rpm' : '°'}`}${v.stands ? ', for the time being' : ': released'}`,
  }),
  'unit.reset': entry({
    title: 'The unit was set back',
    proof: null,
    schema: z.strictObject({ what: z.enum(['factory', 'firmware', 'other-unit', 'battery', 'other-file']) }),
    says: (v) => `Unit: ${resetWords[v.what]}`,
    fields: {
      what: choiceField('What was done', {
        factory: 'set back to what its maker sent',
        firmware: 'firmware loaded',
        'other-unit': 'another unit fitted',
        battery: 'lost its memory with the battery off',
        'other-file': 'a settings file loaded',
      }),
    },
  }),
  'unit.learned': entry({
    title: 'Learned table of the unit',
    proof: null,
    schema: z.strictObject({
      tuneId: z.uuid(),
      rpm: z.array(z.number().min(0).max(15000)).min(2).max(40),
      mapKpa: z.array(z.number().min(5).max(450)).min(2).max(40),
      learnedPct: z.array(z.number().min(-60).max(150)).max(1600).describe('cells row by row, MAP the slow index, %'),
      form: LearnedForm,
      name: z.string().trim().max(120),
    }),
    says: (v) =>
      `Learned table “${v.name}”, ${v.rpm.length} × ${v.mapKpa.length}, up to ${Math.max(...v.learnedPct.map(Math.abs)).toFixed(1)} %`,
  }),
  'unit.saved': entry({
    title: 'What was learned is saved',
    proof: { ...onUnit, passes: (v) => v.stillThere, limits: longEnough },
    schema: z.strictObject({
      tuneId: z.uuid(),
      offS: keyOff,
      stillThere: z.boolean().describe('read back after the key-off'),
      then: z.enum(['frozen', 'slow', 'goes-on']),
      nextKm: z.number().min(50).max(20000).optional(),
    }),
    says: (v) =>
      v.stillThere
        ? `Learned values saved and still there after ${v.offS} s off; learning ${v.then === 'frozen' ? 'frozen' : v.then === 'slow' ? 'slowed' : 'goes on'}`
        : `Learned values were GONE after ${v.offS} s with the key off`,
    fields: {
      offS: quantityField('Key was off for', 'timeS'),
      stillThere: {
        label: 'After it the learned values were',
        input: {
          kind: 'choice',
          options: [
            { value: true, label: 'still there' },
            { value: false, label: 'gone' },
          ],
        },
      },
      then: choiceField('Learning is now', { frozen: 'frozen', slow: 'slowed', 'goes-on': 'as it was' }),
    },
  }),
  'unit.advice': entry({
    title: 'Answer from outside',
    proof: null,
    schema: z.strictObject({
      from: z.string().trim().min(1).max(80).describe('tuner, maker’s line or dyno; no person’s name is needed'),
      question: z.string().trim().max(1000).optional(),
      answer: z.string().trim().min(3).max(4000),
    }),
    says: (v) => `${v.from}: ${v.answer.slice(0, 200)}`,
    fields: { from: textField('From'), answer: textField('What they said') },
  }),
} as const

const resetWords = {
  factory: 'set back to what its maker sent',
  firmware: 'firmware loaded',
  'other-unit': 'another unit fitted',
  battery: 'lost its memory with the battery off',
  'other-file': 'a settings file loaded',
} as const

declare module '../kernel/told.ts' {
  interface EntryTable extends EntryValues<typeof unitEntries> {}
}
