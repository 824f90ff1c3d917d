import { Health } from '@vectum/core'
import cookie from '@fastify/cookie'
import helmet from '@fastify/helmet'
import multipart from '@fastify/multipart'
import rateLimit from '@fastify/rate-limit'
import fastifyStatic from '@fastify/static'
import swagger from '@fastify/swagger'
import swaggerUi from '@fastify/swagger-ui'
import websocket from '@fastify/websocket'
import Fastify, { type FastifyInstance, type FastifyReply } from 'fastify'
import type { DataSource } from 'typeorm'
import { calcRoutes } from './calc/routes.ts'
import { type Config, staysHere } from './config.ts'
import { driveRoutes } from './drive/routes.ts'
import { fileRoutes } from './files/routes.ts'
import { fuelRoutes } from './fuel/routes.ts'
import { HeavyPool } from './heavy/pool.ts'
import { keepDoors, LOOPBACK_NAMES } from './http/doors.ts'
import { eventIds } from './http/event-id.ts'
import { installErrorHandler, isDatabaseDown, problemBody, problemTitles } from './http/problem.ts'
import { docs, installValidation } from './http/schema.ts'
import { buildRoutes } from './job/builds.ts'
import { readingRoutes } from './job/readings.ts'
import { BuildStore } from './job/store.ts'
import { benchRoutes } from './live/bench-routes.ts'
import { LiveSessions, liveRoutes } from './live/routes.ts'
import { verdictRoutes } from './live/verdict-routes.ts'
import { logRoutes } from './logfile/routes.ts'
import { keepIdentities } from './people/identity.ts'
import { peopleRoutes } from './people/routes.ts'
import { PeopleStore } from './people/store.ts'
import { planRoutes } from './plan/routes.ts'
import { unitRoutes } from './unit/routes.ts'
import { tuneRoutes } from './tune/routes.ts'

const BODY_LIMIT = 4 * 1024 * 1024
const DOCS = '/api/docs'
const IS_FILE = /^\/assets\/|\.[a-z0-9]{2,5}(\?|$)/i

/** Where other devices on the network find this server; none while it stays on loopback. */
export function addressesOf({ host, allowedHosts, port, tls }: Config): string[] {
  if (staysHere(host)) return []
  return allowedHosts.filter((name) => !LOOPBACK_NAMES.includes(name)).map((name) => `${tls ? 'https' : 'http'}://${name}:${port}`)
}

/** The whole HTTP application on an open database. */
export async function buildApp(
  config: Config,
  db: DataSource,
): Promise<{ app: FastifyInstance; store: BuildStore; pool: HeavyPool; sessions: LiveSessions; people: PeopleStore }> {
  const app: FastifyInstance = Fastify({
    ...(config.tls ? { https: config.tls } : {}),
    ...(config.trustedProxy ? { trustProxy: config.trustedProxy } : {}),
    logger: { level: config.logLevel },
    bodyLimit: BODY_LIMIT,
    forceCloseConnections: true,
    // an address that no route can be looked up for
    frameworkErrors: (error, _request, reply) => {
      void (reply as FastifyReply)
        .code(400)
        .type('application/problem+json')
        .send(problemBody(400, 'INVALID_INPUT', problemTitles.INVALID_INPUT, `The address cannot be read: ${error.message}`))
    },
    ajv: { customOptions: { coerceTypes: false } },
  })
  installErrorHandler(app)
  installValidation(app, config.checkAnswers)
  const store = new BuildStore(db)
  const pool = new HeavyPool(config.heavyWorker)
  const people = new PeopleStore(db)
  const sessions = new LiveSessions(store, pool, config.benchThread, (error) => app.log.error(error))

  await app.register(helmet, {
    contentSecurityPolicy: {
      directives: {
        defaultSrc: ["'self'"],
        scriptSrc: ["'self'"],
        styleSrc: ["'self'", "'unsafe-inline'"],
        imgSrc: ["'self'", 'data:', 'blob:'],
        connectSrc: ["'self'"],
        workerSrc: ["'self'", 'blob:'],
        fontSrc: ["'self'"],
        objectSrc: ["'none'"],
        frameAncestors: ["'none'"],
        upgradeInsecureRequests: null,
      },
    },
    strictTransportSecurity: false,
  })
  keepDoors(app, config.allowedHosts)
  await app.register(cookie)
  keepIdentities(app, people, config.apiToken)
  await app.register(rateLimit, { max: 30_000, timeWindow: '1 minute' })
  await app.register(multipart)
  await app.register(websocket, { options: { maxPayload: 65536 } })
  app.addContentTypeParser(['text/csv', 'text/plain'], { parseAs: 'string' }, (_request, body, done) => done(null, body))
  app.addContentTypeParser('application/merge-patch+json', { parseAs: 'string' }, (request, body, done) =>
    app.getDefaultJsonParser('error', 'error')(request, body as string, done),
  )
  // an empty body with a JSON type is an empty request, not a mistake: POST /tunes computes without one
  app.removeContentTypeParser('application/json')
  app.addContentTypeParser('application/json', { parseAs: 'string' }, (request, body, done) =>
    body === '' ? done(null, undefined) : app.getDefaultJsonParser('error', 'error')(request, body as string, done),
  )
  await app.register(swagger, {
    openapi: {
      openapi: '3.1.0',
      info: {
        title: 'Vectum',
        version: config.version,
        description: 'Converting classic cars to fuel injection: builds, readings, tunes, logs, live bench, and the calculation catalogue.',
      },
      tags: ['people', 'job', 'plan', 'fuel', 'tune', 'unit', 'logs', 'live', 'calc', 'service'].map((name) => ({ name })),
    },
  })
  await app.register(swaggerUi, { routePrefix: DOCS, staticCSP: true })

  app.get('/api/openapi.json', { schema: { hide: true } }, async () => app.swagger())
  app.get(
    '/api/health',
    { schema: docs({ summary: 'Is the server up, and its database?', tags: ['service'], answer: Health }) },
    async (request, reply) => {
      try {
        await db.query('SELECT 1')
        return { ok: true, database: 'up', version: config.version }
      } catch (error) {
        if (!isDatabaseDown(error)) request.log.error(error)
        return reply
          .code(503)
          .type('application/problem+json')
          .send({
            ...problemBody(503, 'DATABASE_DOWN', problemTitles.DATABASE_DOWN, 'The server is up; its database is not.'),
            ok: false,
            database: 'down',
            version: config.version,
          })
      }
    },
  )
  eventIds(app, db)
  peopleRoutes(app, people, addressesOf(config))
  calcRoutes(app)
  buildRoutes(app, store)
  readingRoutes(app, store)
  tuneRoutes(app, store)
  logRoutes(app, store, pool, config)
  fileRoutes(app, store)
  unitRoutes(app, store, pool)
  planRoutes(app, store)
  fuelRoutes(app, store)
  liveRoutes(app, sessions, people)
  driveRoutes(app, store, pool)
  benchRoutes(app, store, pool)
  verdictRoutes(app, store, pool, sessions)
  app.addHook('onResponse', async (request, reply) => {
    const id = (request.params as { id?: string } | undefined)?.id
    const changes = request.method === 'PATCH' || (request.method === 'PUT' && request.url.includes('/readings/'))
    if (changes && id && reply.statusCode < 300) await sessions.changed(id)
  })

  if (config.webDir) {
    // the build names what it makes by its content: that never changes; the page itself is asked for anew each time
    await app.register(fastifyStatic, {
      root: config.webDir,
      wildcard: false,
      preCompressed: true,
      cacheControl: false,
      setHeaders: (reply, path) =>
        void reply.setHeader('cache-control', path.includes('/assets/') ? 'public, max-age=31536000, immutable' : 'no-cache'),
    })
    // the router of the web application owns every other address
    app.get('/*', { schema: { hide: true } }, (request, reply) =>
      // a piece of an earlier build is not there any more: a page in its place would be run as a script
      request.url.startsWith('/api/') || IS_FILE.test(request.url) ? reply.callNotFound() : reply.sendFile('index.html'),
    )
  }
  app.addHook('onClose', async () => {
    people.close()
    await sessions.close()
    await pool.close()
    if (db.isInitialized) await db.destroy()
  })
  return { app, store, pool, sessions, people }
}
