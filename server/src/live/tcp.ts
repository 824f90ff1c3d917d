import { createServer, type Server, type Socket } from 'node:net'
import { z } from 'zod'
import { answer, refusalOf } from './answer.ts'
import type { LiveSessions } from './routes.ts'
import type { Listener, LiveSession } from './session.ts'

/** The live protocol over TCP on loopback, for adapters of real loggers: the same lines as the web socket, after one that says which build (docs/live.md). */
const Join = z.strictObject({ join: z.uuid(), who: z.string().trim().min(1).max(80).optional() })
const MAX_LINE_BYTES = 64 * 1024
const JOIN_WITHIN_MS = 10_000

export function lineServer(sessions: LiveSessions): Server {
  return createServer((socket) => serve(socket, sessions))
}

function serve(socket: Socket, sessions: LiveSessions): void {
  const send = (line: unknown) => socket.writable && socket.write(JSON.stringify(line) + '\n')
  const listener: Listener = { send: (line) => socket.writable && socket.write(line + '\n'), backlog: () => socket.writableLength }
  let session: LiveSession | null = null
  let who = 'a line client'
  let rest = ''
  let work = Promise.resolve()
  const late = setTimeout(() => {
    send({ type: 'refused', code: 'INVALID_INPUT', detail: 'The first line must be { "join": "<build id>" }.' })
    socket.end()
  }, JOIN_WITHIN_MS)

  async function take(line: string): Promise<void> {
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
      session = await sessions.open(asked.join)
    } catch (error) {
      send(refusalOf(error))
      return void socket.end()
    }
    if (socket.destroyed) session = null
    else session.join(listener)
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
  })
}
