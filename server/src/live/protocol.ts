import { z } from 'zod'

/** Commands a screen may send to the device in use, newline JSON over the socket; documented in docs/live.md. */
export const Command = z.discriminatedUnion('command', [
  z.strictObject({ id: z.string().max(60), command: z.literal('key'), on: z.boolean() }),
  z.strictObject({ id: z.string().max(60), command: z.literal('pump'), allowed: z.boolean() }),
  z.strictObject({ id: z.string().max(60), command: z.literal('crank'), on: z.boolean(), fuel: z.boolean().optional() }),
  z.strictObject({ id: z.string().max(60), command: z.literal('throttle'), pct: z.number().min(0).max(100) }),
  z.strictObject({ id: z.string().max(60), command: z.literal('sweep') }),
  z.strictObject({ id: z.string().max(60), command: z.literal('fix-timing'), advanceDeg: z.number().min(-10).max(40).nullable() }),
  z.strictObject({ id: z.string().max(60), command: z.literal('light'), flashes: z.int().min(1).max(20).optional() }),
  z.strictObject({ id: z.string().max(60), command: z.literal('plugs') }),
  z.strictObject({ id: z.string().max(60), command: z.literal('clock'), rate: z.number().min(1).max(20) }),
  z.strictObject({ id: z.string().max(60), command: z.literal('stop') }),
  z.strictObject({ id: z.string().max(60), command: z.literal('save-trace'), name: z.string().trim().min(1).max(120).optional() }),
])
export type Command = z.infer<typeof Command>

export interface Reply {
  type: 'reply'
  id: string
  ok: boolean
  detail?: string
  code?: string
  gates?: { label: string; why: string; station: string }[]
  data?: unknown
}
