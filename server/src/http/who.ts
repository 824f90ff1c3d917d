import type { FastifyRequest } from 'fastify'

/** Who did it: a name the screen sends until there is a sign-in. Kept to what a logbook line can hold. */
export function whoOf(request: FastifyRequest): string {
  const header = request.headers['x-vectum-person']
  let name = Array.isArray(header) ? header[0] : header
  try {
    name = name ? decodeURIComponent(name) : undefined
  } catch {
    name = undefined
  }

  return (
    name
      ?.replace(/[\u0000-\u001f]/g, '')
      .trim()
      .slice(0, 80) || 'not named'
  )
}
