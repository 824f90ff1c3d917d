import { createHash } from 'node:crypto'
import type { FastifyInstance, FastifyRequest } from 'fastify'
import { type DataSource, LessThan } from 'typeorm'
import { EventEntity } from '../db/entities.ts'
import { InvalidInput, Problem } from './problem.ts'

const KEPT_MS = 30 * 24 * 3_600_000
const MAX_ANSWER_BYTES = 4 * 1024 * 1024
const WRITES = new Set(['POST', 'PUT', 'PATCH', 'DELETE'])
const ID = /^[A-Za-z0-9._:-]{8,80}$/

/** An upload is told by its address and length: its content is read once, by the route. */
const hashOf = (request: FastifyRequest): string =>
  createHash('sha256')
    .update(`${request.method} ${request.url}\n`)
    .update(request.body === undefined ? String(request.headers['content-length'] ?? '') : JSON.stringify(request.body))
    .digest('hex')

declare module 'fastify' {
  interface FastifyContextConfig {
    /** its answer holds what only the asker may have: it is not kept for a repeat */
    keepsNoAnswer?: boolean
  }
}

/**
 * Writes that carry the header `Event-Id`: a repeat gets the first answer and does nothing again. Only what was done is kept; a refusal is
 * judged anew.
 */
export function eventIds(app: FastifyInstance, db: DataSource): void {
  const events = () => db.getRepository(EventEntity)
  const running = new Map<string, { request: string; done: Promise<void>; finish: () => void }>()
  const mine = new WeakMap<FastifyRequest, { id: string; request: string }>()

  app.addHook('onReady', async () => {
    await events().delete({ at: LessThan(new Date(Date.now() - KEPT_MS)) })
  })
  app.addHook('preHandler', async (request, reply) => {
    const header = request.headers['event-id']
    if (header === undefined || !WRITES.has(request.method) || request.routeOptions.config.keepsNoAnswer) return
    const id = String(header)
    if (!ID.test(id)) throw new InvalidInput([{ path: 'Event-Id', message: 'must be 8 to 80 letters, digits or . _ : -' }])
    const hash = hashOf(request)
    const check = (known: { request: string }) => {
      if (known.request.trim() !== hash)
        throw new Problem(409, 'EVENT_ID_REUSED', 'Another write went by this Event-Id. Give every write an id of its own.')
    }
    for (let twin = running.get(id); twin; twin = running.get(id)) {
      check(twin)
      await twin.done
    }
    let finish = () => {}
    running.set(id, { request: hash, done: new Promise((resolve) => (finish = resolve)), finish: () => finish() })
    mine.set(request, { id, request: hash })
    const known = await events().findOneBy({ id })
    if (!known) return
    check(known)
    mine.delete(request)
    running.delete(id)
    finish()
    return reply
      .code(known.status)
      .type(known.type ?? 'application/json; charset=utf-8')
      .send(known.answer)
  })
  app.addHook('onSend', async (request, reply, payload) => {
    const event = mine.get(request)
    const text = typeof payload === 'string' ? Buffer.from(payload) : Buffer.isBuffer(payload) ? payload : null
    if (event && reply.statusCode < 300 && text && text.length <= MAX_ANSWER_BYTES)
      await events().upsert(
        {
          ...event,
          status: reply.statusCode,
          type: (reply.getHeader('content-type') as string | undefined)?.slice(0, 80) ?? null,
          answer: text,
          at: new Date(),
        },
        ['id'],
      )
    return payload
  })
  app.addHook('onResponse', async (request) => {
    const event = mine.get(request)
    const run = event && running.get(event.id)
    if (!run) return
    running.delete(event.id)
    run.finish()
  })
}
