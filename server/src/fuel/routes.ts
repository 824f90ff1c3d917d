import type { FastifyInstance } from 'fastify'
import { z } from 'zod'
import {
  contextOf,
  CoreError,
  fuelDesign,
  FuelState,
  jointsOf,
  leakState,
  missingForCircuit,
  returnFloor,
  SolvableCircuit,
  solveCircuit,
  FuelAnswer,
  JointsAnswer,
  SolutionAnswer,
} from '@vectum/core'
import { BuildParams, docs } from '../http/schema.ts'
import type { BuildStore } from '../job/store.ts'

const WhatIf = z.strictObject({
  supplyV: z.number().min(6).max(16).optional(),
  fuelC: z.number().min(-20).max(75).optional(),
  usePct: z.number().min(0).max(300).optional(),
  clogged: z.number().min(1).max(50).optional().describe('times the pressure loss of a new fine filter'),
  setKpa: z.number().min(30).max(700).optional(),
  returnBoreMm: z.number().min(2).max(30).optional(),
})
const SolveBody = z.strictObject({ circuit: SolvableCircuit, state: FuelState })

export function fuelRoutes(app: FastifyInstance, store: BuildStore): void {
  const design = async (id: string, whatIf: z.infer<typeof WhatIf> = {}) => {
    const c = contextOf(await store.get(id))
    const solved = fuelDesign(c, whatIf)
    if (!solved) throw new CoreError('NOT_ALLOWED', 'fuel', missingForCircuit(c).join('; '))
    return { ...solved, lowestSettableKpa: returnFloor(solved) }
  }
  app.get<{ Params: { id: string } }>(
    '/api/builds/:id/fuel',
    { schema: docs({ summary: 'The fuel circuit solved in its five states', tags: ['fuel'], answer: FuelAnswer, params: BuildParams }) },
    async (request) => design(request.params.id),
  )
  app.post<{ Params: { id: string }; Body: z.infer<typeof WhatIf> }>(
    '/api/builds/:id/fuel/what-if',
    {
      config: { access: 'reader' },
      schema: docs({
        summary: 'The same with some things otherwise; nothing is stored',
        tags: ['fuel'],
        answer: FuelAnswer,
        params: BuildParams,
        body: WhatIf,
      }),
    },
    async (request) => design(request.params.id, request.body),
  )
  app.get<{ Params: { id: string } }>(
    '/api/builds/:id/fuel/joints',
    {
      schema: docs({
        summary: 'Joints of the circuit and how far the leak check has come',
        tags: ['fuel'],
        answer: JointsAnswer,
        params: BuildParams,
      }),
    },
    async (request) => {
      const c = contextOf(await store.get(request.params.id))
      return { joints: jointsOf(c.fuel), ...leakState(c) }
    },
  )
  app.post<{ Body: z.infer<typeof SolveBody> }>(
    '/api/fuel/solve',
    {
      config: { access: 'reader' },
      schema: docs({ summary: 'Solve any fuel circuit in one state', tags: ['fuel'], answer: SolutionAnswer, body: SolveBody }),
    },
    async (request) => solveCircuit(request.body.circuit, request.body.state),
  )
}
