import { z } from 'zod'
import { DeskCommand } from '@vectum/core'

const id = z.string().max(60)
/** What the session itself does; everything else goes to the device's hands (`DeskCommand` in core). Documented in docs/live.md. */
const SessionCommand = z.discriminatedUnion('command', [
  z.strictObject({ id, command: z.literal('stop') }),
  z.strictObject({ id, command: z.literal('clock'), rate: z.int().min(1).max(20) }),
  z.strictObject({ id, command: z.literal('save-trace'), name: z.string().trim().min(1).max(120).optional() }),
  z.strictObject({ id, command: z.literal('tune'), action: z.enum(['send', 'store', 'read-back']) }),
  z.strictObject({ id, command: z.literal('device'), use: z.literal('bench') }),
  z.strictObject({ id, command: z.literal('replay'), logId: z.uuid() }),
])
export type SessionCommand = z.infer<typeof SessionCommand>

const DeskLine = z.discriminatedUnion(
  'command',
  DeskCommand.options.map((option) => option.extend({ id })) as unknown as Parameters<typeof z.discriminatedUnion>[1],
) as unknown as z.ZodType<DeskCommand & { id: string }>
const ofSession = new Set<unknown>(SessionCommand.options.map((option) => option.shape.command.value))
/** The schema that judges a line, by the command it names. */
export const schemaFor = (command: unknown): z.ZodType<Command> => (ofSession.has(command) ? SessionCommand : DeskLine)
export type Command = SessionCommand | (DeskCommand & { id: string })

export interface Reply {
  type: 'reply'
  id: string
  ok: boolean
  detail?: string
  code?: string
  gates?: { label: string; why: string; station: string }[]
  data?: unknown
}
