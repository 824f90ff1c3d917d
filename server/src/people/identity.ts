import { mayAs, type Role } from '@vectum/core'
import type { FastifyInstance, FastifyReply, FastifyRequest } from 'fastify'
import { READS } from '../http/doors.ts'
import { Problem } from '../http/problem.ts'
import { sameToken } from './secrets.ts'
import { ABSOLUTE_MS, type PeopleStore, type SignedIn } from './store.ts'

/**
 * Who a request comes from: a person who signed in, a script with the token, or, while nobody signs in here at all, whoever sits at this machine.
 */
export type Identity =
  | { kind: 'person'; role: Role; name: string; person: SignedIn }
  | { kind: 'script'; role: Role; name: string }
  | { kind: 'open'; role: Role; name: string }

declare module 'fastify' {
  interface FastifyRequest {
    identity: Identity | null
  }
  interface FastifyContextConfig {
    /** who may call it; left out: a reader what reads, a fitter the rest */
    access?: 'anyone' | Role
  }
}

/** what anybody on the network may ask: whether it is up, the sums, and how to speak to it */
const FOR_ALL = /^\/api\/(health|calc|docs|openapi\.json)(?=[/?]|$)/
const SCRIPT = { kind: 'script', role: 'fitter', name: 'script' } as const
const PLAIN_COOKIE = 'vectum-session'
/** a browser keeps a name with this prefix only from https, for this host and the whole of it (RFC 6265bis, 4.1.3.2) */
const cookieName = (request: FastifyRequest): string => (request.protocol === 'https' ? `__Host-${PLAIN_COOKIE}` : PLAIN_COOKIE)

export const isLoopback = (address: string): boolean => address === '::1' || /^(::ffff:)?127\./.test(address)
/** From this machine itself; what a proxy that nobody named hands on is from anywhere. */
export const isHere = (request: FastifyRequest): boolean =>
  isLoopback(request.ip) && (request.ips !== undefined || !(request.headers['x-forwarded-for'] ?? request.headers.forwarded))

/** The token that a browser of ours brings, if any. */
export const tokenOf = (request: FastifyRequest): string | undefined => request.cookies[cookieName(request)]
export function giveCookie(request: FastifyRequest, reply: FastifyReply, token: string): void {
  const secure = request.protocol === 'https'
  reply.setCookie(cookieName(request), token, { path: '/', httpOnly: true, sameSite: 'strict', secure, maxAge: ABSOLUTE_MS / 1000 })
}
export function takeCookie(request: FastifyRequest, reply: FastifyReply): void {
  reply.clearCookie(cookieName(request), { path: '/', secure: request.protocol === 'https' })
}

/** The name the screen sends while nobody signs in here. Kept to what a logbook line can hold. */
function nameSent(request: FastifyRequest): string {
  let name = String(request.headers['x-vectum-person'] ?? '')
  try {
    name = decodeURIComponent(name)
  } catch {
    name = ''
  }
  return name.replace(/\p{C}/gu, '').trim().slice(0, 80) || 'not named'
}

/** Who did it, for the logbook: who signed in; before anybody does, the name that was sent. */
export const whoOf = (request: FastifyRequest): string => request.identity?.name ?? 'not named'
/** A name that came in the body: it counts only while nobody signs in here. */
export const namedBy = (request: FastifyRequest, said: string | undefined): string =>
  request.identity?.kind === 'open' ? said?.trim() || whoOf(request) : whoOf(request)

/** Tells who each request comes from, and keeps out who may not do what it asks for. */
export function keepIdentities(app: FastifyInstance, people: PeopleStore, apiToken: string | null): void {
  app.decorateRequest('identity', null)

  async function identify(request: FastifyRequest, reply: FastifyReply): Promise<Identity | null> {
    const { authorization } = request.headers
    if (authorization !== undefined) {
      const [, token] = /^Bearer (.+)$/i.exec(authorization) ?? []
      if (apiToken === null || token === undefined || !sameToken(token, apiToken))
        throw new Problem(401, 'TOKEN_WRONG', 'This token is not the one in VECTUM_API_TOKEN.')
      return SCRIPT
    }
    if (!(await people.exist())) return isHere(request) ? { kind: 'open', role: 'owner', name: nameSent(request) } : null
    const token = tokenOf(request)
    if (token === undefined) return null
    const found = await people.whoIs(token, request.headers.upgrade === undefined)
    if (!found) {
      takeCookie(request, reply)
      return null
    }
    if (found.token !== undefined) giveCookie(request, reply, found.token)
    return { kind: 'person', role: found.who.role, name: found.who.name, person: found.who }
  }

  app.addHook('onRequest', async (request, reply) => {
    // by the route that was found, not by how its address was written: /%61pi/builds leads to the same
    const at = request.routeOptions.url ?? request.url
    if (!at.startsWith('/api/') || FOR_ALL.test(at)) return
    const needed = request.routeOptions.config?.access ?? (READS.has(request.method) ? 'reader' : 'fitter')
    if (needed === 'anyone' && !request.routeOptions.url?.startsWith('/api/me')) return
    request.identity = await identify(request, reply)
    if (needed === 'anyone') return
    if (!request.identity) {
      const detail = (await people.exist())
        ? 'Sign in first. What you typed is kept in your browser.'
        : 'Nobody signs in here yet, so only this machine itself may come in. Make the first owner there.'
      throw new Problem(401, 'SIGN_IN_FIRST', detail)
    }
    // browsers name the page with every write and stream: one without it, and with their cookie, is something else
    const acts = !READS.has(request.method) || request.headers.upgrade !== undefined
    if (request.identity.kind === 'person' && acts && request.headers.origin === undefined)
      throw new Problem(403, 'ORIGIN_NOT_ALLOWED', 'A write or stream by cookie must name its page (Origin). Scripts use VECTUM_API_TOKEN.')
    if (!mayAs(request.identity.role, needed))
      throw new Problem(403, 'ROLE_TOO_LOW', `This needs the role "${needed}"; ${request.identity.name} is "${request.identity.role}".`)
  })
}
