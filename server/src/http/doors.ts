import type { FastifyInstance, FastifyRequest } from 'fastify'
import { Problem } from './problem.ts'

/** Who may come in: RFC 9110 section 7.2 (Host), RFC 6454 (Origin); the threats are in docs/security.md. */
export const LOOPBACK_NAMES = ['localhost', '127.0.0.1', '[::1]']
export const READS = new Set(['GET', 'HEAD', 'OPTIONS'])

/** Host name and port as a browser writes them, `localhost:8420`; null when it is none. */
function authorityOf(address: string): { name: string; host: string } | null {
  try {
    const { hostname: name, host } = new URL(address)
    return name ? { name, host } : null
  } catch {
    return null
  }
}
/** The names this server answers to: loopback, and what VECTUM_ALLOWED_HOSTS lists. Null for a name that is none. */
export function hostNames(listed: string): (string | null)[] {
  const names = listed.split(',').map((name) => name.trim())
  return [
    ...LOOPBACK_NAMES,
    ...names.filter(Boolean).map((name) => (/[/@?#\s]|:\d+$/.test(name) ? null : (authorityOf(`http://${name}`)?.name ?? null))),
  ]
}

/** Keeps out requests by another name (a rebound page), from another page, and bodies a page may send unasked. */
export function keepDoors(app: FastifyInstance, allowedHosts: readonly string[]): void {
  const known = new Set(allowedHosts)
  app.addHook('onRequest', async (request) => {
    const here = authorityOf(`http://${request.headers.host ?? ''}`)
    if (!here || !known.has(here.name))
      throw new Problem(
        421,
        'HOST_NOT_ALLOWED',
        `This server does not answer to the name "${(request.headers.host ?? '').slice(0, 80)}". Open it by one of ${allowedHosts.join(', ')}, or list the name in VECTUM_ALLOWED_HOSTS.`,
      )
    const { origin } = request.headers
    const acts = !READS.has(request.method) || request.headers.upgrade !== undefined
    // no Origin, no browser: a script on this machine
    if (acts && origin !== undefined && authorityOf(origin)?.host !== here.host)
      throw new Problem(403, 'ORIGIN_NOT_ALLOWED', `A page of ${origin.slice(0, 80)} may not write here. Use the application's own page.`)
    checkMediaType(request)
  })
  // an upgrade that was refused leaves its socket with nobody: it would hold up the server's end
  app.addHook('onResponse', async (request, reply) => {
    if (request.headers.upgrade !== undefined && reply.statusCode >= 400) request.raw.socket.destroySoon()
  })
}

/** @throws Problem MEDIA_TYPE for a body of a type that its route does not name */
function checkMediaType(request: FastifyRequest): void {
  const given = request.headers['content-type']
  if (given === undefined || READS.has(request.method)) return
  const type = given.split(';')[0].trim().toLowerCase()
  const taken = (request.routeOptions.schema as { consumes?: string[] } | undefined)?.consumes ?? ['application/json']
  if (!taken.includes(type))
    throw new Problem(415, 'MEDIA_TYPE', `This takes ${taken.join(' or ')}, not ${type.slice(0, 60) || 'nothing named'}.`)
  if (type === 'multipart/form-data' && !/;\s*boundary=/i.test(given))
    throw new Problem(415, 'MEDIA_TYPE', 'A multipart body must name its boundary in Content-Type.')
}
