import type { Reply } from '@vectum/core'
import { zodErrors, commandSchema } from '@vectum/core'
import { isDatabaseDown, Problem, problemTitles } from '../http/problem.ts'
import type { LiveSession } from './session.ts'

/** Commands a second a client is held to, and how many at once before that. */
export const COMMAND_PACE = [60, 120] as const

/** An order to stop, which waits behind nothing. */
export function isStop(text: string): boolean {
  try {
    return (JSON.parse(text) as { command?: unknown } | null)?.command === 'stop'
  } catch {
    return false
  }
}

function idOf(json: unknown): string {
  const { id } = (json ?? {}) as { id?: unknown }
  return typeof id === 'string' || typeof id === 'number' ? String(id).slice(0, 60) : ''
}

/** The answer to a command that comes while too many of its client's wait. */
export function tooFast(text: string): Reply {
  const [perSecond] = COMMAND_PACE
  let id = ''
  try {
    id = idOf(JSON.parse(text))
  } catch {
    // it is told without its id
  }
  return {
    type: 'reply',
    id,
    ok: false,
    code: 'TOO_MANY_REQUESTS',
    detail: `Commands come faster than ${perSecond} a second; this one was not done. Wait a moment, then try again.`,
  }
}

/** Who sends commands: the name for the logbook, given the one that stands in the command; and whether they may do more than stop. */
export interface Sender {
  who: (said: string | undefined) => string
  mayAct: boolean
}

/** Answers one line of the live protocol, whichever way it came in. */
export async function answer(session: LiveSession, text: string, sender: Sender): Promise<Reply> {
  let json: unknown
  try {
    json = JSON.parse(text)
  } catch {
    return { type: 'reply', id: '', ok: false, code: 'INVALID_INPUT', detail: 'A command must be one JSON object.' }
  }
  const id = idOf(json)
  const { who: named, ...rest } = (json ?? {}) as { who?: unknown }
  const command = commandSchema((rest as { command?: unknown }).command).safeParse(rest)
  if (!command.success)
    return {
      type: 'reply',
      id,
      ok: false,
      code: 'INVALID_INPUT',
      detail: zodErrors(command.error)
        .map((e) => `${e.path} ${e.message}`)
        .join('; '),
    }
  if (!sender.mayAct && command.data.command !== 'stop')
    return { type: 'reply', id, ok: false, code: 'ROLE_TOO_LOW', detail: 'A reader watches, and may stop; the rest a fitter does.' }
  try {
    return await session.command(command.data, sender.who(typeof named === 'string' ? named.slice(0, 80) : undefined))
  } catch (error) {
    if (isDatabaseDown(error))
      return {
        type: 'reply',
        id,
        ok: false,
        code: 'DATABASE_DOWN',
        detail: `${problemTitles.DATABASE_DOWN}. Nothing was saved; try again in a moment.`,
      }
    return { type: 'reply', id, ok: false, code: (error as { code?: string }).code ?? 'INTERNAL', detail: (error as Error).message }
  }
}

/** Why a session could not be joined, as the line that says so. */
export function refusalOf(error: unknown): { type: 'refused'; code: string; detail: string } {
  const down = isDatabaseDown(error)
  return {
    type: 'refused',
    code: down ? 'DATABASE_DOWN' : error instanceof Problem ? error.code : 'INTERNAL',
    detail: down ? problemTitles.DATABASE_DOWN : error instanceof Error ? error.message : 'The bench could not be opened',
  }
}
