import { createServer, type Server, type Socket } from 'node:net'
import { FrameLine, frameOfLine, zodErrors } from '@vectum/core'
import { z } from 'zod'
import { answer, refusalOf } from './answer.ts'
import type { LineDevice } from './other-devices.ts'
import type { LiveSessions } from './routes.ts'
import type { Listener, LiveSession } from './session.ts'

/** The live protocol over TCP on loopback, for adapters of real loggers: the same lines as the web socket, after one that says which build (docs/live.md). */
const Join = z.strictObject({
  join: z.uuid(),
  who: z.string().trim().min(1).max(80).optional(),
  /** the client is a logger: it sends frames and is the device in use */
  device: z.string().trim().min(1).max(80).optional(),
})
const FrameMessage = FrameLine.extend({ type: z.literal('frame') })
const MAX_LINE_BYTES = 64 * 1024
const JOIN_WITHIN_MS = 10_000

export function lineServer(sessions: LiveSessions): Server {
  return createServer((socket) => serve(socket, sessions))
}

function serve(socket: Socket, sessions: LiveSessions): void {
  const send = (line: unknown) => socket.writable && socket.write(JSON.stringify(line) + '\n')
  const listener: Listener = { send: (line) => socket.writable && socket.write(line + '\n'), backlog: () => socket.writableLength }
  let session: LiveSession | null = null
  let logger: LineDevice | null = null
  let who = 'a line client'
  let rest = ''
  let work = Promise.resolve()
  const late = setTimeout(() => {
    send({ type: 'refused', code: 'INVALID_INPUT', detail: 'The first line must be { "join": "<build id>" }.' })
    socket.end()
  }, JOIN_WITHIN_MS)

  async function take(line: string): Promise<void> {
    if (logger) return tell(logger, line)
    if (session) return void send(await answer(session, line, who))
    let asked: z.infer<typeof Join>
    try {
      asked = Join.parse(JSON.parse(line))
    } catch {
      send({ type: 'refused', code: 'INVALID_INPUT', detail: 'The first line must be { "join": "<build id>" }.' })
      return void socket.end()
    }
    clearTimeout(late)
    who = asked.who ?? who
    try {
      if (asked.device !== undefined) {
        logger = (await sessions.sessionOf(asked.join)).useLine(asked.device, send)
        if (socket.destroyed) logger.gone()
        return void send({ type: 'hello', device: 'line', name: asked.device })
      }
      session = await sessions.open(asked.join)
    } catch (error) {
      send(refusalOf(error))
      return void socket.end()
    }
    if (socket.destroyed) session = null
    else session.join(listener)
  }

  /** A frame of a logger; one that cannot be taken is told by field, and the link goes on. */
  function tell(device: LineDevice, line: string): void {
    let json: unknown
    try {
      json = JSON.parse(line)
    } catch {
      return void send({ type: 'bad', detail: 'A frame must be one JSON object.' })
    }
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
    rest += text
    if (rest.length > MAX_LINE_BYTES) {
      send({ type: 'refused', code: 'INVALID_INPUT', detail: `A line may hold ${MAX_LINE_BYTES} bytes at most.` })
      return socket.destroy()
    }
    const lines = rest.split('\n')
    rest = lines.pop()!
    // one after the other, so that answers come in the order of the commands
    for (const line of lines) if (line.trim()) work = work.then(() => take(line))
  })
  socket.on('error', () => socket.destroy())
  socket.on('close', () => {
    clearTimeout(late)
    session?.leave(listener)
    session = null
    logger?.gone()
    logger = null
  })
}
