import type { FastifyInstance } from 'fastify'
import { z } from 'zod'
import { catalogue, findCalculation, CatalogueAnswer } from '@vectum/core'
import { Problem } from '../http/problem.ts'
import { docs } from '../http/schema.ts'

const withoutMeta = (schema: z.ZodType, io: 'input' | 'output') => {
  const { $schema: _, ...json } = z.toJSONSchema(schema, { target: 'draft-7', io }) as Record<string, unknown>
  return json
}

/** The calculation catalogue over HTTP. One route for each entry, so that each stands in the OpenAPI document with its own schemas. */
export function calcRoutes(app: FastifyInstance): void {
  app.get('/api/calc', { schema: docs({ summary: 'The calculation catalogue', tags: ['calc'], answer: CatalogueAnswer }) }, async () =>
    catalogue.map(({ id, title, formula, source, input, output }) => ({
      id,
      title,
      formula,
      source,
      input: withoutMeta(input, 'input'),
      output: withoutMeta(output, 'output'),
    })),
  )
  for (const { id, title, input, output, formula, source } of catalogue)
    app.post<{ Body: unknown }>(
      `/api/calc/${id}`,
      {
        schema: docs({
          summary: title,
          description: `${formula}\n\nSource: ${source}`,
          tags: ['calc'],
          body: input,
          answer: z.object({ id: z.literal(id), output, working: z.object({ formula: z.string(), source: z.string() }) }),
        }),
      },
      async (request) => ({ id, output: findCalculation(id)!.run(request.body), working: { formula, source } }),
    )
  app.post('/api/calc/:id', { schema: { hide: true } }, async (request) => {
    throw new Problem(404, 'NOT_FOUND', `There is no calculation "${(request.params as { id: string }).id}"; GET /api/calc lists them`)
  })
}
