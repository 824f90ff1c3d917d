import { mayAs } from '@vectum/core'
import type { FastifyInstance } from 'fastify'
import type { WebSocket } from 'ws'
import { Problem } from '../http/problem.ts'
import { BuildParams } from '../http/schema.ts'
import { namedBy } from '../people/identity.ts'
import type { PeopleStore } from '../people/store.ts'
import type { BuildStore } from '../job/store.ts'
import type { HeavyPool } from '../heavy/pool.ts'
import { answer, COMMAND_PACE, isStop, refusalOf, tooFast } from './answer.ts'
import { BenchThreads } from './bench-threads.ts'
import { Intake, Pace } from './pace.ts'
import { LiveSession, type Listener } from './session.ts'

const KEEP_MS = 15 * 60_000
const PING_MS = 20_000
/** how often it is looked whether the car of one who signed out has its key off */
const LEAVING_MS = 500
const MAX_SOCKETS = 128

/** Live sessions of this server, one for each build that is on the bench. */
export class LiveSessions {
  private readonly sessions = new Map<string, Promise<LiveSession>>()
  private readonly sweeper = setInterval(() => void this.dropIdle(), 60_000)

  private readonly threads: BenchThreads

  constructor(
    private readonly store: BuildStore,
    private readonly pool: HeavyPool,
    benchThread: string,
    readonly onError: (error: unknown) => void,
  ) {
    this.threads = new BenchThreads(benchThread)
    this.sweeper.unref()
  }

  /**
   * The session of a build, with its device in use; the bench is put under it when nothing else is.
   * @throws Problem GATE_SHUT when there is no device and no tune in the car for the bench
   */
  async open(buildId: string): Promise<LiveSession> {
    const session = await this.sessionOf(buildId)
    if (session.hasDevice) return session
    try {
      await session.useBench()
    } catch (error) {
      // screens that watched a logger which has left keep their session
      if (!session.watched) {
        this.sessions.delete(buildId)
        session.close()
      }
      throw error
    }
    return session
  }

  /** The session of a build, with or without a device: for a logger that is about to be one. */
  sessionOf(buildId: string): Promise<LiveSession> {
    const existing = this.sessions.get(buildId)
    if (existing) return existing
    const opening = this.store.get(buildId).then((build) => new LiveSession(this.store, this.threads, this.pool, build, this.onError))
    this.sessions.set(buildId, opening)
    opening.catch(() => this.sessions.delete(buildId))
    return opening
  }

  /**
   * What the live session of a build has seen.
   * @throws Problem NOT_FOUND when it is over, or another device has taken its place
   */
  async seenBy(buildId: string, sessionId: string): Promise<LiveSession['evidence']> {
    const seen = (await this.sessions.get(buildId))?.evidence
    if (seen?.sessionId !== sessionId || seen.device === 'replay')
      throw new Problem(404, 'NOT_FOUND', 'That live session is over; what it saw is no longer there. Do it again, or save traces as logs.')
    return seen
  }

  /** Tells a running session that the build changed. */
  async changed(buildId: string): Promise<void> {
    const session = this.sessions.get(buildId)
    if (session) await (await session).refresh().catch(this.onError)
  }

  private async dropIdle(): Promise<void> {
    for (const [id, opening] of this.sessions) {
      const session = await opening.catch(() => null)
      if (session && session.idleMs > KEEP_MS) {
        session.close()
        this.sessions.delete(id)
      }
    }
  }

  async close(): Promise<void> {
    clearInterval(this.sweeper)
    for (const opening of this.sessions.values()) (await opening.catch(() => null))?.close('The server is stopping.')
    this.sessions.clear()
    await this.threads.close()
  }
}

export function liveRoutes(app: FastifyInstance, sessions: LiveSessions, people: PeopleStore): void {
  let open = 0
  app.get(
    '/api/builds/:id/live',
    { websocket: true, schema: { summary: 'Live stream of the device in use (docs/live.md)', tags: ['live'] } as object },
    (socket: WebSocket, request) => {
      const params = BuildParams.safeParse(request.params)
      const { identity } = request
      const sender = { who: (said?: string) => namedBy(request, said), mayAct: mayAs(identity?.role ?? 'reader', 'fitter') }
      const send = (message: unknown) => socket.readyState === socket.OPEN && socket.send(JSON.stringify(message) + '\n')
      if (!params.success) {
        send({ type: 'refused', code: 'NOT_FOUND', detail: 'The id in the address is not a UUID.' })
        return socket.close(4404)
      }
      if (++open > MAX_SOCKETS) {
        open--
        send({ type: 'refused', code: 'TOO_MANY_REQUESTS', detail: `${MAX_SOCKETS} screens are connected already; close one.` })
        return socket.close(4429)
      }
      const listener: Listener = {
        send: (line) => socket.readyState === socket.OPEN && socket.send(line + '\n'),
        backlog: () => socket.bufferedAmount,
      }
      const ready = sessions
        .open(params.data.id)
        .then((session) => {
          session.join(listener)
          return session
        })
        .catch((error: unknown) => {
          send(refusalOf(error))
          socket.close(4409)
          return null
        })
      // a lever let go does not wait for the light that is being read
      const intake = new Intake(new Pace(...COMMAND_PACE), false, sessions.onError)
      // who is signed out does no more than stop, and that as long as the car has its key on
      let leaving: ReturnType<typeof setInterval> | null = null
      const goWhenItStands = async () => {
        if (!(await ready)?.keyOn) socket.close(4401)
      }
      const signedOut = () => {
        sender.mayAct = false
        send({ type: 'signed-out' })
        leaving ??= setInterval(() => void goWhenItStands(), LEAVING_MS)
        void goWhenItStands()
      }
      const unwatch = identity?.kind === 'person' ? people.watch(identity.person.signInId, signedOut) : null
      let alive = true
      const ping = setInterval(() => {
        if (!alive) return socket.terminate()
        alive = false
        socket.ping()
      }, PING_MS)
      socket.on('pong', () => (alive = true))
      socket.on('close', () => {
        open--
        unwatch?.()
        intake.end()
        clearInterval(ping)
        if (leaving) clearInterval(leaving)
        void ready.then((session) => session?.leave(listener))
      })
      socket.on('message', (data: Buffer) => {
        const text = data.toString()
        const work = async () => {
          const session = await ready
          if (session) send(await answer(session, text, sender))
        }
        if (isStop(text)) void intake.jump(work)
        else if (intake.full) send(tooFast(text))
        else intake.take(work)
      })
    },
  )
}
