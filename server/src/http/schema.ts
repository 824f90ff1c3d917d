import type { FastifyInstance, FastifySchema } from 'fastify'
import { z } from 'zod'
import { zodErrors } from '@vectum/core'
import { InvalidInput } from './problem.ts'

/** JSON schemas handed to Fastify, with the Zod schema each was made from: Zod validates, JSON schema documents. */
const origins = new WeakMap<object, z.ZodType>()

function documented(schema: z.ZodType, io: 'input' | 'output'): object {
  const json = z.toJSONSchema(schema, { target: 'draft-7', io, unrepresentable: 'any' }) as Record<string, unknown>
  delete json.$schema
  origins.set(json, schema)
  return json
}

interface RouteDocs {
  summary: string
  tags: string[]
  description?: string
  body?: z.ZodType
  params?: z.ZodType
  querystring?: z.ZodType
  headers?: z.ZodType
  /** what a good answer looks like, for the documentation */
  answer?: z.ZodType
  answerStatus?: number
  consumes?: string[]
}

/** Fastify's route schema from Zod: input is checked strictly and never coerced, output is documented. */
export function docs(route: RouteDocs): FastifySchema {
  const { summary, tags, description, body, params, querystring, headers, answer, answerStatus = 200, consumes } = route
  return {
    summary,
    tags,
    ...(description ? { description } : {}),
    ...(consumes ? { consumes } : {}),
    ...(body ? { body: documented(body, 'input') } : {}),
    ...(params ? { params: documented(params, 'input') } : {}),
    ...(querystring ? { querystring: documented(querystring, 'input') } : {}),
    ...(headers ? { headers: documented(headers, 'input') } : {}),
    ...(answer ? { response: { [answerStatus]: documented(answer, 'output') } } : {}),
  }
}

const LONE_SURROGATE = /\p{Surrogate}/u
const MAX_DEPTH = 64
/** What no schema may be asked about: text that is no Unicode (The Unicode Standard, D76 to D80), and nesting without end. */
function unreadable(value: unknown, path = '', depth = 0): { path: string; message: string } | null {
  if (typeof value === 'string')
    return LONE_SURROGATE.test(value)
      ? { path, message: 'holds half of a character (a surrogate without its partner), which cannot be stored' }
      : null
  if (typeof value !== 'object' || value === null || Buffer.isBuffer(value)) return null
  if (depth === MAX_DEPTH) return { path: '', message: `is nested deeper than ${MAX_DEPTH}` }
  for (const [key, inner] of Object.entries(value)) {
    const found = unreadable(key, path) ?? unreadable(inner, path ? `${path}.${key}` : key, depth + 1)
    if (found) return found
  }
  return null
}

export function installValidation(app: FastifyInstance, checkAnswers = false): void {
  app.setValidatorCompiler(({ schema, httpPart }) => {
    const origin = origins.get(schema as object)
    return (data: unknown) => {
      if (!origin) return { value: data }
      const parsed = origin.safeParse(data ?? (httpPart === 'body' ? undefined : {}))
      return parsed.success ? { value: parsed.data } : { error: new InvalidInput(zodErrors(parsed.error)) }
    }
  })
  app.addHook('preValidation', async (request) => {
    const found = unreadable(request.body)
    if (found) throw new InvalidInput([found])
  })
  // answers are built by our own code, and a serializer would drop what it does not know; tests have every one checked against its schema
  app.setSerializerCompiler(({ schema, method, url }) => {
    const origin = origins.get(schema as object)
    return (data) => {
      if (checkAnswers && origin) {
        const parsed = origin.safeParse(JSON.parse(JSON.stringify(data)))
        if (!parsed.success) throw new Error(`${method} ${url} does not answer as it says: ${JSON.stringify(zodErrors(parsed.error))}`)
      }
      return JSON.stringify(data)
    }
  })
}

export const BuildParams = z.object({ id: z.uuid() })
