import { z } from 'zod'
import {
  type Basis,
  choiceField,
  entry,
  type EntryValues,
  quantityField,
  type Said,
  say,
  spaced,
  textField,
  type Told,
  yesNoField,
} from '../kernel/index.ts'
import { onFuelling } from '../fuel/index.ts'
import { BACK_WITHIN_S, HOSE_KPA, HOSE_RPM, ZERO_WITHIN_PCT } from './limits.ts'
import { dropAllowedRpm } from './load-drop.ts'
import { IdleCauseId, IdleVerdictCode } from './answer.ts'

/** In what the car idles: out of gear with nothing on, in gear, or with fan, lights and the rest on. */
export const Regime = z.enum(['neutral', 'in-gear', 'loads'])
export type Regime = z.infer<typeof Regime>
export const regimeWords: Record<Regime, string> = {
  neutral: 'in neutral, nothing on',
  'in-gear': 'in gear',
  loads: 'fan, lights and the rest on',
}
const loads = { gear: 'Into gear', fan: 'Fan on', steering: 'Steering at full lock', lights: 'Lights and heater' } as const
const screws = { plate: 'throttle-plate stop', bypass: 'air bypass screw', synchronising: 'synchronising screw' } as const
const rpm = z.number().min(0).max(3000)
const valve = z.number().min(0).max(100)
const air: { parts: string[]; basis: (told: Told) => Basis } = {
  parts: ['choices.plan.route', 'facts.induction'],
  basis: ({ facts, choices = {} }) => ({ route: choices.plan?.route, induction: facts.induction }),
}

export const idleEntries = {
  'idle.verdict': entry({
    title: 'Idle judged',
    proof: { ...onFuelling, subject: (v) => v.regime ?? 'neutral', passes: (v) => v.verdict === 'good', voidedBy: ['idle.screw'] },
    schema: z.strictObject({
      verdict: IdleVerdictCode,
      meanRpm: z.number().nullable(),
      rpmStdDev: z.number().nullable(),
      seconds: z.number().min(0),
      tuneId: z.uuid().nullable(),
      regime: Regime.optional().describe('left out: in neutral, nothing on'),
      targetRpm: z.number().nullable().optional(),
      valveMeanPct: z.number().nullable().optional(),
      amplitudeRpm: z.number().nullable().optional(),
      sureness: z.number().min(0).max(1).optional(),
      cause: IdleCauseId.optional().describe('most likely'),
      next: z.string().max(800).optional(),
      loop: z
        .strictObject({ periodS: z.number().positive(), rpmPerSPct: z.number().positive(), delayS: z.number().min(0) })
        .nullable()
        .optional(),
    }),
    says: (v) =>
      `Idle: ${spaced(v.verdict)}${v.regime && v.regime !== 'neutral' ? `, ${regimeWords[v.regime]}` : ''}${v.meanRpm === null ? '' : `, ${v.meanRpm.toFixed(0)} rpm`}${v.valveMeanPct == null ? '' : `, valve ${v.valveMeanPct.toFixed(0)} %`}, ${v.seconds.toFixed(0)} s of warm idle looked at`,
    writtenBy: 'app',
  }),
  'idle.regime': entry({
    title: 'What is on at idle',
    proof: null,
    schema: z.strictObject({ regime: Regime }),
    says: (v) => `Idles ${regimeWords[v.regime]}`,
    fields: { regime: choiceField('It idles', regimeWords) },
  }),
  'idle.screw': entry({
    title: 'Throttle screw turned',
    proof: null,
    schema: z.strictObject({
      turns: z
        .number()
        .min(-6)
        .max(6)
        .refine((v) => v !== 0, 'must not be 0 turns')
        .describe('open positive'),
      which: z.enum(['plate', 'bypass', 'synchronising']).optional(),
    }),
    says: (v) =>
      `${v.which === undefined ? 'Throttle screw' : screws[v.which][0].toUpperCase() + screws[v.which].slice(1)} turned ${Math.abs(v.turns).toFixed(2)} ${v.turns > 0 ? 'open' : 'shut'}`,
    fields: {
      turns: quantityField('Turns, open positive', 'number', 'a quarter is 0.25; shut is negative', 2),
      which: choiceField('Which', screws),
    },
  }),
  'idle.zero': entry({
    title: 'Throttle zero learned',
    proof: {
      parts: [],
      basis: () => ({}),
      voidedBy: ['idle.screw'],
      limits: (_, v): Said | null =>
        Math.abs(v.closedPct) <= ZERO_WITHIN_PCT + 1e-9
          ? null
          : `the shut throttle reads ${v.closedPct.toFixed(1)} %; within ${ZERO_WITHIN_PCT} % of zero is wanted`,
    },
    schema: z.strictObject({
      closedPct: z.number().min(-20).max(30),
      idles: z.boolean().optional().describe('the unit was seen in its idle mode'),
    }),
    says: (v) =>
      `Zero learned: the shut throttle reads ${v.closedPct.toFixed(1)} %${v.idles === undefined ? '' : v.idles ? ', idle mode seen' : ', NO idle mode'}`,
    fields: {
      closedPct: quantityField('The shut throttle reads', 'percent', 'after the zero was learned', 1),
      idles: yesNoField('The unit goes into its idle mode'),
    },
  }),
  'idle.point': entry({
    title: 'A look at the idle',
    proof: null,
    schema: z.strictObject({
      rpm,
      valvePct: valve,
      mapKpa: z.number().min(5).max(115),
      valve: z.enum(['works', 'blocked']).optional(),
      screw: z.enum(['as-set', 'shut']).optional(),
    }),
    says: (v) =>
      say`${v.rpm.toFixed(0)} rpm, valve ${v.valvePct.toFixed(0)} %, ${{ value: v.mapKpa, dimension: 'pressure', decimals: 0 }}${v.valve === 'blocked' ? ', port blocked' : ''}${v.screw === 'shut' ? ', screw all the way shut' : ''}`,
    fields: {
      rpm: quantityField('Speed', 'rpm'),
      valvePct: quantityField('Idle valve', 'percent'),
      mapKpa: quantityField('Manifold pressure', 'pressure', 'absolute'),
      valve: choiceField('Valve’s port', { works: 'open', blocked: 'blocked' }),
      screw: choiceField('Screw', { 'as-set': 'as set', shut: 'all the way shut' }),
    },
  }),
  'idle.hose': entry({
    title: 'A hose clamped',
    proof: {
      ...air,
      subject: (v) => v.hose.toLowerCase(),
      passes: (v) => !leaks(v),
    },
    schema: z.strictObject({
      hose: z.string().trim().min(1).max(60),
      beforeRpm: rpm,
      afterRpm: rpm,
      beforeKpa: z.number().min(5).max(115).optional(),
      afterKpa: z.number().min(5).max(115).optional(),
    }),
    says: (v) =>
      `${v.hose} clamped: ${v.beforeRpm.toFixed(0)} to ${v.afterRpm.toFixed(0)} rpm${leaks(v) ? ', air comes in through it or behind it' : ', no change'}`,
    fields: {
      hose: textField('Hose or joint'),
      beforeRpm: quantityField('Speed before', 'rpm'),
      afterRpm: quantityField('Speed with it clamped', 'rpm'),
    },
    tool: 'soft-jawed clamp, idle valve held still',
  }),
  'idle.leak-test': entry({
    title: 'Looked for vacuum leaks',
    proof: { ...air, passes: (v) => v.tight, refutedBy: ['idle.hose'] },
    schema: z.strictObject({
      method: z.enum(['hoses', 'smoke', 'gauge']),
      tight: z.boolean(),
      where: z.string().trim().min(1).max(200).optional(),
    }),
    says: (v) =>
      `${v.tight ? 'No vacuum leak' : `Vacuum LEAK${v.where ? `: ${v.where}` : ''}`}, by ${{ hoses: 'clamping every hose', smoke: 'smoke', gauge: 'a vacuum gauge split by hoses' }[v.method]}`,
    fields: {
      method: choiceField('Looked by', { hoses: 'clamping every hose', smoke: 'smoke', gauge: 'vacuum gauge' }),
      where: textField('Where it leaks'),
    },
    answers: [
      { label: 'Tight', value: { tight: true } },
      { label: 'It leaks', value: { tight: false } },
    ],
    tool: 'smoke, or clamps',
  }),
  'idle.load': entry({
    title: 'A load at idle',
    proof: {
      ...onFuelling,
      subject: (v) => v.load,
      voidedBy: ['idle.screw'],
      limits: (_, v): Said | null => {
        const most = dropAllowedRpm(v.load)
        if (v.dropRpm > most) return `it fell by ${v.dropRpm.toFixed(0)} rpm; ${most} rpm at most is wanted`
        return v.backS > BACK_WITHIN_S ? `it was back after ${v.backS.toFixed(1)} s; ${BACK_WITHIN_S} s at most is wanted` : null
      },
    },
    schema: z.strictObject({
      load: z.enum(['gear', 'fan', 'steering', 'lights']),
      dropRpm: z.number().min(0).max(2000),
      backS: z.number().min(0).max(60),
    }),
    says: (v) => `${loads[v.load]}: fell by ${v.dropRpm.toFixed(0)} rpm, back after ${v.backS.toFixed(1)} s`,
    fields: {
      load: choiceField('Load', loads),
      dropRpm: quantityField('Fell by', 'rpm'),
      backS: quantityField('Back after', 'timeS', undefined, 1),
    },
  }),
  'idle.battery-off': entry({
    title: 'Idle after the battery was off',
    proof: {
      passes: (v) => v.back,
      parts: ['choices.unit.idleLearns'],
      basis: ({ choices = {} }) => ({ learns: choices.unit?.idleLearns }),
    },
    schema: z.strictObject({ back: z.boolean(), minutes: z.number().min(0).max(240).optional() }),
    says: (v) =>
      v.back
        ? `Idle came back by itself after the battery was off${v.minutes === undefined ? '' : `, in ${v.minutes.toFixed(0)} min`}`
        : 'Idle did NOT come back after the battery was off',
    fields: { minutes: quantityField('It took, min', 'number', 'warm, untouched') },
    answers: [
      { label: 'It came back', value: { back: true } },
      { label: 'It did not', value: { back: false } },
    ],
  }),
} as const

/** A hose leaks when the speed, or the pressure where it was read, changes as it is clamped. */
function leaks(v: { beforeRpm: number; afterRpm: number; beforeKpa?: number; afterKpa?: number }): boolean {
  return (
    Math.abs(v.afterRpm - v.beforeRpm) >= HOSE_RPM ||
    (v.beforeKpa !== undefined && v.afterKpa !== undefined && Math.abs(v.afterKpa - v.beforeKpa) >= HOSE_KPA)
  )
}
export const hoseLeaks = leaks

declare module '../kernel/told.ts' {
  interface EntryTable extends EntryValues<typeof idleEntries> {}
}
