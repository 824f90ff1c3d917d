import { randomUUID } from 'node:crypto'
import type { FastifyInstance } from 'fastify'
import { afterAll, beforeAll, expect, it } from 'vitest'
import type { DrivePlan } from '@vectum/core'
import { appendReading } from '../src/job/readings.ts'
import type { BuildStore } from '../src/job/store.ts'
import { call, newBuild, startApp } from './helpers.ts'

let app: FastifyInstance
let store: BuildStore
let close: () => Promise<void>
beforeAll(async () => {
  ;({ app, store, close } = await startApp())
})
afterAll(() => close())

it('plans without a log, drives the bench by the plan, and plans less of what is then proven, in the rehearsal alone', async () => {
  const { id } = await newBuild(app, '2-rampart.json')
  const plan = async (view: string): Promise<DrivePlan> => {
    const answer = await call(app, 'GET', `/api/builds/${id}/drive-plan?view=${view}`)
    expect(answer.status, answer.text).toBe(200)
    return answer.json as unknown as DrivePlan
  }
  const first = await plan('car')
  expect(first).toMatchObject({ missing: [], topKmh: 90, topAssumed: true, provenUsePct: 0, torque: { fittedS: 0 } })
  expect(first.legs.length).toBeGreaterThan(5)

  const drive = () => call(app, 'POST', `/api/builds/${id}/bench/drive`, { byPlan: true })
  expect((await drive()).json).toMatchObject({ code: 'GATE_SHUT' })
  const tune = (await call(app, 'POST', `/api/builds/${id}/tunes`)).json
  await call(app, 'PATCH', `/api/builds/${id}/tunes/${tune.id}`, { status: 'in-car' })
  const ran = { secondsToFire: 1, idleRpm: 750, coolantC: 80, tuneId: tune.id }
  await appendReading(store, id, randomUUID(), { kind: 'start.ran', value: ran, instrument: 'bench unit' }, 'Vectum, bench', {
    source: 'app',
  })
  const driven = await drive()
  expect(driven.status, driven.text).toBe(201)
  expect(driven.json).toMatchObject({ name: 'Bench drive by plan, tune 1', stalls: 0 })

  const next = await plan('rehearsal')
  expect(next.torque.fittedS).toBeGreaterThan(100)
  const measured = next.cells.filter((c) => c.where === 'proven' || c.where === 'correct-first')
  expect(measured.length).toBeGreaterThan(10)
  expect(next.totalS).toBeLessThan(0.6 * first.totalS)
  // the bench's log says nothing of the car
  expect((await plan('car')).torque.fittedS).toBe(0)

  // openings of the throttle, as many as asked for
  const stepped = await call(app, 'POST', `/api/builds/${id}/bench/drive`, { steps: 6 })
  expect(stepped.json).toMatchObject({ name: 'Bench 6 throttle steps, tune 1', stalls: 0 })
  expect(stepped.json.durationS).toBeGreaterThan(60)
  expect((await call(app, 'POST', `/api/builds/${id}/bench/drive`, { steps: 4 })).json.code).toBe('INVALID_INPUT')
  const coldSteps = await call(app, 'POST', `/api/builds/${id}/bench/drive`, { steps: 5, fromC: 10 })
  expect(coldSteps.json).toMatchObject({ name: 'Bench 5 throttle steps from 10 °C, tune 1', stalls: 0 })
  // a start from cold and the way to warm: fourteen minutes
  const cold = await call(app, 'POST', `/api/builds/${id}/bench/drive`, { fromC: 10 })
  expect(cold.json).toMatchObject({ name: 'Bench start at 10 °C, tune 1', stalls: 0 })
  expect(cold.json.durationS).toBeGreaterThan(800)
  const tooCold = await call(app, 'POST', `/api/builds/${id}/bench/drive`, { fromC: -11 })
  expect(tooCold.json).toMatchObject({ code: 'INVALID_INPUT', detail: expect.stringContaining('-10') })
})

it('holds the bench for a spark trial once timing and mixture are known, and asks for no more than it can hold', async () => {
  const { id } = await newBuild(app, '2-rampart.json')
  const hold = (body: object) => call(app, 'POST', `/api/builds/${id}/bench/trial-hold`, body)
  const place = { rpm: 2500, mapKpa: 60, advanceDegBtdc: 22 }
  expect((await hold(place)).json).toMatchObject({ code: 'GATE_SHUT', detail: expect.stringContaining('No tune is in the car') })
  const tune = (await call(app, 'POST', `/api/builds/${id}/tunes`)).json
  await call(app, 'PATCH', `/api/builds/${id}/tunes/${tune.id}`, { status: 'in-car' })
  const record = (kind: string, value: object) =>
    appendReading(store, id, randomUUID(), { kind, value, instrument: 'by hand' } as never, 'Ada', { source: 'app' })
  await record('start.ran', { secondsToFire: 1, idleRpm: 750, coolantC: 80, tuneId: tune.id })
  expect((await hold(place)).json.detail).toContain('Timing proved with the light')
  const { referenceDeg, delayUs = 0 } = (await call(app, 'GET', `/api/builds/${id}`)).json.choices.spark
  await record('spark.zero-mark', { method: 'piston-stop', offsetDeg: 0, dealt: 'stored' })
  for (const rpm of [900, 900, 1500, 1500, 2400, 2400, 3300, 3300])
    await record('spark.timing-light', { rpm, commandedDeg: 20, observedDeg: 20, referenceDeg, delayUs })
  expect((await hold(place)).json.detail).toContain('Mixture of this tune known and not lean')
  const log = { logId: randomUUID(), tuneId: tune.id, usedSeconds: 600, provenTimePct: 90, errorRmsPct: 1, unsafeCells: 0 }
  await record('learn.result', log)

  const held = await hold(place)
  expect(held.status, held.text).toBe(201)
  expect(held.json).toMatchObject({ kind: 'learn.trial-point', source: 'bench', instrument: 'bench: dynamometer' })
  expect(held.json.value).toMatchObject({ ...place, tuneId: tune.id, on: 'dyno', knock: false })
  expect(held.json.value.torqueNm).toBeGreaterThan(50)
  // the same hold again: the brake repeats to 0.3 %, not exactly; it shows 0.1 Nm, so two alone may well agree
  const torqueNm = [held.json.value.torqueNm as number]
  for (let i = 0; i < 5; i++) torqueNm.push((await hold(place)).json.value.torqueNm as number)
  expect(new Set(torqueNm).size, torqueNm.join(' ')).toBeGreaterThan(1)
  expect(Math.max(...torqueNm) / Math.min(...torqueNm) - 1).toBeLessThan(0.03)
  expect((await hold({ ...place, advanceDegBtdc: 75 })).json).toMatchObject({ code: 'INVALID_INPUT' })
  expect((await hold({ ...place, rpm: 14000 })).json.detail).toMatch(/must be 600 to \d+ rpm/)
  expect((await hold({ ...place, mapKpa: 250 })).json.detail).toMatch(/comes to \d+ kPa, not 250/)
})

it('names the gearing that it lacks, and what a drive may be asked for', async () => {
  const { id, version } = await newBuild(app, '2-rampart.json')
  const patched = await app.inject({
    method: 'PATCH',
    url: `/api/builds/${id}`,
    headers: { 'if-match': String(version) },
    payload: { facts: { gearing: { axleRatio: null } } },
  })
  expect(patched.statusCode, patched.body).toBe(200)
  expect((await call(app, 'GET', `/api/builds/${id}/drive-plan`)).json).toMatchObject({ missing: ['gearing.axleRatio'], legs: [] })
  expect((await call(app, 'POST', `/api/builds/${id}/bench/drive`, { byPlan: false })).json.code).toBe('INVALID_INPUT')
  expect((await call(app, 'GET', `/api/builds/${randomUUID()}/drive-plan`)).status).toBe(404)
  expect((await call(app, 'GET', `/api/builds/${id}/drive-plan?view=nowhere`)).json.code).toBe('INVALID_INPUT')
})
