import { createServer, type Server, type Socket } from 'node:net'
import { createServer as createSecureServer } from 'node:tls'
import { FrameLine, frameOfLine, zodErrors } from '@vectum/core'
import { z } from 'zod'
import { answer, COMMAND_PACE, isStop, refusalOf } from './answer.ts'
import type { LineDevice } from './other-devices.ts'
import type { LiveSessions } from './routes.ts'
import type { TlsFiles } from '../config.ts'
import { Intake, Pace } from './pace.ts'
import type { Listener, LiveSession } from './session.ts'

/** The live protocol over TCP on loopback, for adapters of real loggers: the same lines as the web socket, after one that says which build (docs/live.md). */
const Join = z.strictObject({
  join: z.uuid(),
  who: z.string().trim().min(1).max(80).optional(),
  /** VECTUM_API_TOKEN: beyond this machine, and once somebody signs in here */
  token: z.string().max(200).optional(),
  /** the client is a logger: it sends frames and is the device in use */
  device: z.string().trim().min(1).max(80).optional(),
})
const FrameMessage = FrameLine.extend({ type: z.literal('frame') })
const MAX_LINE_BYTES = 64 * 1024
const JOIN_WITHIN_MS = 10_000

/** Frames a second, and at once after a gap; a logger gives at most 50 a second. */
const FRAME_PACE = [500, 3000] as const
const MAX_CONNECTIONS = 32
const NOT_A_JOIN = 'The first line must be { "join": "<build id>" }.'

/** Whether a link may come in, by the token it brings and where it comes from. */
export type Admit = (token: string | undefined, from: string) => Promise<boolean>

/** @param tls with it the line port speaks TLS alone */
export function lineServer(sessions: LiveSessions, admit: Admit, tls: TlsFiles | null = null): Server {
  const serveOne = (socket: Socket) => serve(socket, sessions, admit)
  const server = tls ? createSecureServer(tls, serveOne) : createServer(serveOne)
  server.maxConnections = MAX_CONNECTIONS
  return server
}

function serve(socket: Socket, sessions: LiveSessions, admit: Admit): void {
  const send = (line: unknown) => socket.writable && socket.write(JSON.stringify(line) + '\n')
  const listener: Listener = { send: (line) => socket.writable && socket.write(line + '\n'), backlog: () => socket.writableLength }
  let session: LiveSession | null = null
  let logger: LineDevice | null = null
  let who = 'a line client'
  let rest = ''
  let over = false
  // one after the other, so that answers come in the order of the commands
  const intake = new Intake(new Pace(...COMMAND_PACE), true, sessions.onError, () => socket.resume())
  const late = setTimeout(() => finish({ type: 'refused', code: 'INVALID_INPUT', detail: NOT_A_JOIN }), JOIN_WITHIN_MS)

  /** Says why and ends the link: what still stands in the row is not done, whoever wrote it is no client of this protocol. */
  function finish(last: unknown): void {
    over = true
    send(last)
    socket.end()
  }

  async function take(line: string): Promise<void> {
    if (over) return
    let json: unknown
    try {
      json = JSON.parse(line)
    } catch {
      return finish({ type: 'refused', code: 'INVALID_INPUT', detail: session || logger ? 'A line must be one JSON object.' : NOT_A_JOIN })
    }
    if (logger) return tell(logger, json)
    if (session) return void send(await answer(session, line, { who: (said) => said?.trim() || who, mayAct: true }))
    const asked = Join.safeParse(json)
    if (!asked.success) return finish({ type: 'refused', code: 'INVALID_INPUT', detail: NOT_A_JOIN })
    clearTimeout(late)
    if (!(await admit(asked.data.token, socket.remoteAddress ?? '')))
      return finish({ type: 'refused', code: 'TOKEN_WRONG', detail: 'The first line must carry "token": what VECTUM_API_TOKEN holds.' })
    who = asked.data.who ?? who
    try {
      if (asked.data.device !== undefined) {
        logger = (await sessions.sessionOf(asked.data.join)).useLine(asked.data.device, send)
        intake.pace = new Pace(...FRAME_PACE)
        if (socket.destroyed) logger.gone()
        return void send({ type: 'hello', device: 'line', name: asked.data.device })
      }
      session = await sessions.open(asked.data.join)
    } catch (error) {
      return finish(refusalOf(error))
    }
    if (socket.destroyed) session = null
    else session.join(listener)
  }

  /** A frame of a logger; one that cannot be taken is told by field, and the link goes on. */
  function tell(device: LineDevice, json: unknown): void {
    const parsed = FrameMessage.safeParse(json)
    if (parsed.success) {
      const { type: _, ...frame } = parsed.data
      device.frame(frameOfLine(frame))
    } else
      send({
        type: 'bad',
        detail: zodErrors(parsed.error)
          .map((e) => `${e.path} ${e.message}`)
          .join('; '),
      })
  }

  socket.setEncoding('utf8')
  socket.on('data', (text: string) => {
    if (over) return
    const lines = (rest + text).split('\n')
    rest = lines.pop()!
    if ([rest, ...lines].some((line) => line.length > MAX_LINE_BYTES))
      return finish({ type: 'refused', code: 'INVALID_INPUT', detail: `A line may hold ${MAX_LINE_BYTES} bytes at most.` })
    for (const line of lines)
      if (session && isStop(line)) void intake.jump(() => take(line))
      else if (line.trim()) intake.take(() => take(line))
    if (intake.full) socket.pause()
  })
  socket.on('error', () => socket.destroy())
  socket.on('close', () => {
    over = true
    intake.end()
    clearTimeout(late)
    session?.leave(listener)
    session = null
    logger?.gone()
    logger = null
  })
}
