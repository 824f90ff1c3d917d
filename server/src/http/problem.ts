import type { FastifyError, FastifyInstance, FastifyReply, FastifyRequest } from 'fastify'
import { CoreError } from '@vectum/core'

/** Codes of the server's own answers; `docs/errors.md` explains each. */
export const problemTitles = {
  INVALID_INPUT: 'Some of the input cannot be taken',
  NOT_FOUND: 'Not found',
  CHANGED_UNDERNEATH: 'Someone else changed this build',
  VERSION_NEEDED: 'If-Match is needed',
  HOST_NOT_ALLOWED: 'This server does not answer to that name',
  ORIGIN_NOT_ALLOWED: 'Another page may not write here',
  SIGN_IN_FIRST: 'Sign in first',
  SIGN_IN_FAILED: 'This did not sign in',
  TOKEN_WRONG: 'This token is not known',
  ROLE_TOO_LOW: 'This role may not do that',
  LOOPBACK_ONLY: 'Only on the machine itself',
  LAST_OWNER: 'The last owner stays',
  HAS_LEFT: 'This person has left',
  MEDIA_TYPE: 'This type of body is not taken here',
  APP_ONLY: 'Only the app writes this kind',
  CLOCK_AHEAD: 'The clock is ahead',
  EVENT_ID_REUSED: 'This event id belongs to another write',
  NOT_WITHDRAWABLE: 'This entry cannot be withdrawn',
  READING_EXISTS: 'This reading is already recorded',
  ALREADY_EXISTS: 'This already exists',
  OTHER_CAR: 'This log may be of another car',
  LOG_APPLIED: 'This log has already corrected this tune',
  ALREADY_STORED: 'This log is already stored',
  MAPPING_UNSURE: 'What some columns hold is not sure',
  FILE_TOO_LARGE: 'The file is too large',
  FILE_TYPE: 'This kind of file is not taken',
  TOO_MANY_FILES: 'This build holds as many files as it can',
  FILE_MISSING: 'No file came with the request',
  DATABASE_DOWN: 'The database does not answer',
  TOOK_TOO_LONG: 'This took too long',
  CANCELLED: 'Cancelled',
  TOO_MANY_REQUESTS: 'Too many requests',
  GATE_SHUT: 'Not yet safe',
  INTERNAL: 'Something went wrong in the server',
} as const
export type ProblemCode = keyof typeof problemTitles

export interface ProblemBody {
  type: string
  title: string
  status: number
  detail: string
  code: string
  errors?: { path: string; message: string }[]
}

/** An answer that is an error: RFC 9457 problem details with a stable code. */
export class Problem extends Error {
  constructor(
    readonly status: number,
    readonly code: ProblemCode,
    detail: string,
    readonly extra: Record<string, unknown> = {},
  ) {
    super(detail)
  }
}

export const problemBody = (
  status: number,
  code: string,
  title: string,
  detail: string,
  extra: Record<string, unknown> = {},
): ProblemBody => ({ type: `urn:vectum:problem:${code}`, title, status, detail, code, ...extra })

export class InvalidInput extends Error {
  constructor(readonly errors: { path: string; message: string }[]) {
    super(errors.map((e) => `${e.path || 'body'} ${e.message}`).join('; '))
  }
}

const CORE_STATUS: Partial<Record<string, number>> = { FACT_MISSING: 409, NOT_ALLOWED: 409, EVIDENCE_MISSING: 409, SCHEDULE_NO_TIME: 409 }

const DATABASE_CODES =
  /^(ECONN|PROTOCOL_|ER_SERVER_SHUTDOWN|ER_CON_COUNT|ETIMEDOUT|EPIPE|POOL_)|Connection lost|Pool is closed|closed state|ER_NORMAL_SHUTDOWN/
export function isDatabaseDown(error: unknown): boolean {
  const e = error as { code?: string; message?: string; driverError?: { code?: string } }
  return DATABASE_CODES.test(e?.driverError?.code ?? '') || DATABASE_CODES.test(e?.code ?? '') || DATABASE_CODES.test(e?.message ?? '')
}

/** Two transactions that waited for each other, or one that waited too long: the database undid this one whole. */
function isDeadlock(error: unknown): boolean {
  const e = error as { code?: string; driverError?: { code?: string } }
  return /^ER_LOCK_(DEADLOCK|WAIT_TIMEOUT)$/.test(e?.driverError?.code ?? e?.code ?? '')
}

/** One handler for every error: what the client may know, in one form; the rest goes to the log only. */
export function installErrorHandler(app: FastifyInstance): void {
  const send = (reply: FastifyReply, body: ProblemBody) => reply.code(body.status).type('application/problem+json').send(body)
  app.setErrorHandler((error: FastifyError | Error, request: FastifyRequest, reply) => {
    if (error instanceof Problem) {
      if (typeof error.extra.retryAfterS === 'number') reply.header('retry-after', error.extra.retryAfterS)
      return send(reply, problemBody(error.status, error.code, problemTitles[error.code], error.message, error.extra))
    }
    if (error instanceof InvalidInput)
      return send(reply, problemBody(400, 'INVALID_INPUT', problemTitles.INVALID_INPUT, error.message, { errors: error.errors }))
    if (error instanceof CoreError || error.name === 'CoreError') {
      const e = error as CoreError
      return send(
        reply,
        problemBody(CORE_STATUS[e.code] ?? 400, e.code, 'This cannot be computed as given', e.message, {
          errors: [{ path: e.field, message: e.message }],
        }),
      )
    }
    if (isDatabaseDown(error)) {
      request.log.error(error)
      return send(
        reply,
        problemBody(
          503,
          'DATABASE_DOWN',
          problemTitles.DATABASE_DOWN,
          'Nothing was saved. What you typed is still on your screen; try again in a moment.',
        ),
      )
    }
    if (isDeadlock(error))
      return send(
        reply.header('retry-after', '1'),
        problemBody(
          429,
          'TOO_MANY_REQUESTS',
          problemTitles.TOO_MANY_REQUESTS,
          'Two writes met and this one gave way; nothing of it was saved. Send it again.',
        ),
      )
    const fastify = error as FastifyError
    if (fastify.code === 'FST_REQ_FILE_TOO_LARGE' || fastify.statusCode === 413)
      return send(reply, problemBody(413, 'FILE_TOO_LARGE', problemTitles.FILE_TOO_LARGE, fastify.message))
    if (fastify.statusCode === 429)
      return send(reply, problemBody(429, 'TOO_MANY_REQUESTS', problemTitles.TOO_MANY_REQUESTS, 'Wait a moment, then try again.'))
    if (fastify.statusCode && fastify.statusCode >= 400 && fastify.statusCode < 500)
      return send(reply, problemBody(fastify.statusCode, 'INVALID_INPUT', problemTitles.INVALID_INPUT, fastify.message))
    request.log.error(error)
    return send(
      reply,
      problemBody(500, 'INTERNAL', problemTitles.INTERNAL, 'The server has written down what happened. Nothing already saved is lost.'),
    )
  })
  app.setNotFoundHandler((request, reply) =>
    send(reply, problemBody(404, 'NOT_FOUND', problemTitles.NOT_FOUND, `There is no ${request.method} ${request.url.split('?')[0]}`)),
  )
}
