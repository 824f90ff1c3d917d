import { randomUUID } from 'node:crypto'
import type { FastifyInstance } from 'fastify'
import { afterAll, beforeAll, beforeEach, describe, expect, it } from 'vitest'
import { call, newBuild, startApp } from './helpers.ts'

let app: FastifyInstance
let close: () => Promise<void>
let id: string
beforeAll(async () => {
  ;({ app, close } = await startApp())
})
afterAll(() => close())
beforeEach(async () => {
  ;({ id } = await newBuild(app, '4-drover.json'))
})
const build = async (view = 'car') => (await call(app, 'GET', `/api/builds/${id}?view=${view}`)).json
const station = async (view?: string) =>
  ((await build(view)).stations as { id: string; requirements: Requirement[] }[]).find((s) => s.id === 'fitup')!
interface Requirement {
  id: string
  met: boolean
  void?: string
}
const met = async (requirement: string, view?: string) => (await station(view)).requirements.find((r) => r.id === requirement)?.met
const change = async (choices: object) =>
  call(app, 'PATCH', `/api/builds/${id}`, { choices }, { 'if-match': `"${(await build()).version as number}"` })
const record = (kind: string, value: object) =>
  call(app, 'PUT', `/api/builds/${id}/readings/${randomUUID()}`, { kind, value }, { 'x-vectum-person': 'Ada' })
const readBench = (kind: string, at: object = {}) => call(app, 'POST', `/api/builds/${id}/bench/readings`, { kind, at })

describe('what is refused is named by field, bound and unit', () => {
  it.each([
    [
      'a loop of relays',
      { wiring: { circuits: { pump: { coilFrom: 'fan' }, fan: { coilFrom: 'pump' } } } },
      'choices.wiring.circuits.pump.coilFrom',
      'loop of relays: pump ← fan ← pump',
    ],
    ['a bore', { fitup: { linkage: { plate: { boreMm: 400 } } } }, 'choices.fitup.linkage.plate.boreMm', 'at most 120 mm'],
    ['a thread that is none', { fitup: { joints: { throttle: { threadMm: 9 } } } }, 'choices.fitup.joints.throttle.threadMm', ''],
    [
      'a curve that falls',
      { fitup: { pedal: { curve: [0, 60, 40].map((platePct, i) => ({ pedalPct: 50 * i, platePct })) } } },
      'choices.fitup.pedal.curve',
      'never closes while the pedal goes down',
    ],
    ['an angle', { fitup: { sensor: { upDeg: 120 } } }, 'choices.fitup.sensor.upDeg', 'at most 90 degrees'],
  ])('%s', async (_, choices, path, message) => {
    const { status, json } = await change(choices)
    expect(status).toBe(400)
    expect(json.errors[0].path).toBe(path)
    expect(json.errors[0].message).toContain(message)
    // nothing of it was kept
    expect((await build()).choices.fitup).toBeUndefined()
  })
  it('an entry past its bounds', async () => {
    const { status, json } = await record('fitup.torqued', { joint: 'throttle', torqueNm: 900, passes: 3, inOrder: true })
    expect(status).toBe(400)
    expect(json.errors[0].message).toContain('at most 250 Nm')
  })
})

describe('a person’s hands and the bench’s', () => {
  it('a joint drawn down at its torque stands, and falls when the body comes off again', async () => {
    await change({ fitup: { joints: { throttle: { sheetNm: 18 } } } })
    await record('fitup.torqued', { joint: 'throttle', torqueNm: 12, passes: 3, inOrder: true })
    expect(await met('torqued-throttle')).toBe(false)
    await record('fitup.torqued', { joint: 'throttle', torqueNm: 18.2, passes: 3, inOrder: true })
    expect(await met('torqued-throttle')).toBe(true)
    await record('fitup.body-off', { what: 'throttle body' })
    const again = (await station()).requirements.find((r) => r.id === 'torqued-throttle')!
    expect(again.met).toBe(false)
    expect(again.void).toContain('taken off again')
  })
  it('the wrench of the bench is set by the screen, and what it reads is the rehearsal’s alone', async () => {
    await change({ fitup: { joints: { throttle: { sheetNm: 18 } } } })
    const { json } = await readBench('fitup.torqued', { joint: 'throttle', setNm: 18 })
    expect(json).toMatchObject({ source: 'bench', instrument: 'bench: Torque wrench' })
    expect(Math.abs(json.value.torqueNm - 18)).toBeLessThan(0.9)
    expect([await met('torqued-throttle'), await met('torqued-throttle', 'rehearsal')]).toEqual([false, true])
  })
  it('throttles that were turned read otherwise, and a held-at past its bounds is named', async () => {
    const look = async (turned: number[]) =>
      (await readBench('fitup.balance', { balanceAt: 'idle', turned })).json.value.flowsKgH as number[]
    const before = await look([])
    const after = await look([0.5, 0, 0, 0])
    // half a turn gives about a fifth of the mean of 5.4 kg/h
    expect(after[0] - before[0]).toBeGreaterThan(0.6)
    expect((await readBench('fitup.balance', { turned: [9] })).json.errors[0].path).toBe('at.turned.0')
  })
  it('tracks swept before key and brake were seen stand on record and prove nothing', async () => {
    await change({ plan: { electronicThrottle: true } })
    await readBench('fitup.tracks', { tracks: 'pedal' })
    expect(await met('throttle-2', 'rehearsal')).toBe(false)
    await readBench('fitup.brake-key')
    await readBench('fitup.tracks', { tracks: 'pedal' })
    expect(await met('throttle-2', 'rehearsal')).toBe(true)
    expect(await met('throttle-2')).toBe(false)
  })
})
