import { z } from 'zod'
import { DeskCommand, type Heard } from '../../bench/index.ts'
import { type Said as SaidType, SayingSchema } from '../../kernel/index.ts'
import type { Frame } from '../../start/index.ts'

/** The live stream as it goes over the wire, both ways: newline JSON, one message a line. Documented in docs/live.md. */
const Said = z.union([z.string(), SayingSchema]) as unknown as z.ZodType<SaidType>
const told = z.number().nullable()
const FrameOnWire = z.object({
  timeS: z.number(),
  state: z.enum(['off', 'key-on', 'cranking', 'running']),
  rpm: z.number(),
  mapKpa: told,
  throttlePct: told,
  lambda: told,
  lambdaTarget: told,
  coolantC: told,
  intakeAirC: told,
  batteryV: told,
  correctionPct: told,
  learnedPct: told,
  enrichmentPct: told,
  pulseMs: told,
  advanceDegBtdc: told,
  idleValvePct: told,
  fuelCut: told,
  pumpOn: z.boolean().nullable(),
  fuelPressureKpa: told,
  oilPressureKpa: told,
  faultFlags: z.array(z.string()),
  fuelHeld: z.boolean().optional(),
}) satisfies z.ZodType<Frame>

const Check = z.object({
  id: z.string(),
  label: z.string(),
  state: z.enum(['pass', 'fail', 'waiting']),
  seen: z.string().describe('metric text'),
  limit: z.string().describe('metric text'),
  said: z.object({ seen: Said, limit: Said }),
})
const Setting = z
  .object({ referenceDeg: z.number(), delayUs: z.number() })
  .nullable()
  .describe('null while the unit does not time the spark')
const SentTune = z.object({ id: z.string(), number: z.int() })
export const DeviceKind = z.enum(['bench', 'replay', 'line'])
export type DeviceKind = z.infer<typeof DeviceKind>
const ShutGate = z.object({ label: z.string(), why: z.string(), station: z.string() })

/** What the server answers to a command; `id` is the command's own. */
export const Reply = z.object({
  type: z.literal('reply'),
  id: z.string(),
  ok: z.boolean(),
  detail: z.string().optional(),
  code: z.string().optional(),
  gates: z.array(ShutGate).optional().describe('what keeps a dangerous step shut'),
  data: z.unknown().optional(),
})
export type Reply = z.infer<typeof Reply>

export const LiveMessage = z.discriminatedUnion('type', [
  z
    .object({
      type: z.literal('hello'),
      session: z.string(),
      device: DeviceKind.nullable(),
      name: z.string(),
      tune: SentTune.nullable().describe('the tune in the unit'),
      setting: Setting,
      rate: z.number(),
      pumpAllowed: z.boolean(),
      recent: z.array(FrameOnWire),
    })
    .describe('first, to each screen that joins'),
  FrameOnWire.extend({ type: z.literal('frame') }),
  z.object({ type: z.literal('checks'), checks: z.array(Check) }).describe('what is watched with the key on'),
  z.object({ type: z.literal('clock'), rate: z.number() }),
  z
    .object({
      type: z.literal('heard'),
      what: z.enum(['inlet', 'exhaust', 'kick', 'knock'] as const satisfies readonly Heard[]),
      timeS: z.number(),
    })
    .describe('a bang or a knock beside the engine'),
  z.object({ type: z.literal('tune'), tune: SentTune }),
  z.object({ type: z.literal('setting'), setting: Setting }),
  z
    .object({ type: z.literal('stopped'), reason: z.string().describe('metric text'), said: Said.optional() })
    .describe('the app has taken pump and ignition away'),
  z.object({ type: z.literal('primed'), primes: z.int() }),
  z.object({ type: z.literal('ended'), reason: z.string() }).describe('the device is gone; the session waits for another'),
  z.object({ type: z.literal('changed') }).describe('something was written down: read the build again'),
  z.object({ type: z.literal('closed'), reason: z.string() }),
  z.object({ type: z.literal('signed-out') }).describe('this sign-in has ended: only `stop` is done from here, until the key is off'),
  z.object({ type: z.literal('refused'), code: z.string(), detail: z.string() }),
  z.object({ type: z.literal('bad'), detail: z.string() }).describe('a line that is no frame'),
  Reply,
])
export type LiveMessage = z.infer<typeof LiveMessage>

const id = z.string().max(60)
/** What the session itself does; everything else goes to the device's hands (`DeskCommand`). */
export const SessionCommand = z.discriminatedUnion('command', [
  z.strictObject({ id, command: z.literal('stop') }),
  z.strictObject({ id, command: z.literal('clock'), rate: z.int().min(1).max(20) }),
  z.strictObject({ id, command: z.literal('save-trace'), name: z.string().trim().min(1).max(120).optional() }),
  z.strictObject({ id, command: z.literal('tune'), action: z.enum(['send', 'store', 'read-back']) }),
  z
    .strictObject({
      id,
      command: z.literal('answers'),
      action: z.enum(['enter', 'store', 'read-back']),
      values: z
        .record(
          z.string().max(41),
          z.strictObject({ value: z.union([z.number(), z.string().max(60)]), unit: z.string().max(12).optional() }),
        )
        .optional()
        .describe('question to what is typed on the display, for `enter`'),
    })
    .describe('a unit that is set by questions: type answers, store them, read them again after a key-off'),
  z.strictObject({ id, command: z.literal('device'), use: z.literal('bench') }),
  z.strictObject({ id, command: z.literal('replay'), logId: z.uuid() }),
])
export type SessionCommand = z.infer<typeof SessionCommand>
export type LiveCommand = SessionCommand | (DeskCommand & { id: string })

const ofSession = new Set<unknown>(SessionCommand.options.map((option) => option.shape.command.value))
const ofDesk = new Map<unknown, z.ZodType>(DeskCommand.options.map((option) => [option.shape.command.value, option.extend({ id })]))
const Unknown = z.strictObject({ command: z.enum([...ofSession, ...ofDesk.keys()] as [string, ...string[]]), id })
/** The schema that judges a command, by the name it goes by. */
export const commandSchema = (command: unknown): z.ZodType<LiveCommand> =>
  (ofSession.has(command) ? SessionCommand : (ofDesk.get(command) ?? Unknown)) as z.ZodType<LiveCommand>
