import { randomUUID } from 'node:crypto'
import type { FastifyInstance } from 'fastify'
import { afterAll, beforeAll, describe, expect, it } from 'vitest'
import { call, demoCar, startApp } from './helpers.ts'

let app: FastifyInstance
let close: () => Promise<void>
beforeAll(async () => {
  ;({ app, close } = await startApp())
})
afterAll(() => close())

interface Entry {
  id: string
  kind: string
  seq: number
  source: string
  stands: boolean | null
  voidBecause?: string
  withdrawn?: { who: string; reason: string }
}
async function build(): Promise<string> {
  const { facts, choices } = demoCar('2-rampart.json')
  const { status, json, text } = await call(app, 'POST', '/api/builds', { title: 'Evidence', facts, choices })
  expect(status, text).toBe(201)
  return json.id as string
}
const put = (id: string, kind: string, value: object, more: object = {}, readingId = randomUUID(), who = 'Ada') =>
  call(app, 'PUT', `/api/builds/${id}/readings/${readingId}`, { kind, value, ...more }, { 'x-vectum-person': who })
const withdraw = (id: string, readingId: string, reason: string) =>
  call(app, 'POST', `/api/builds/${id}/readings/${readingId}/withdraw`, { reason }, { 'x-vectum-person': 'Bea' })
const entries = async (id: string) => (await call(app, 'GET', `/api/builds/${id}/readings`)).json as Entry[]
async function edit(id: string, choices: object, change?: string) {
  const { json } = await call(app, 'GET', `/api/builds/${id}`)
  return call(app, 'PATCH', `/api/builds/${id}`, { choices, ...(change ? { change } : {}) }, { 'if-match': `"${json.version}"` })
}
const minutes = (n: number) => new Date(Date.now() + n * 60_000).toISOString()

describe('an entry', () => {
  it('is placed by the server, its source set by it, and says whether it stands', async () => {
    const id = await build()
    const { status, json } = await put(id, 'fuel.prime', { cycles: 2, pumpStops: true }, { seen: 0, client: 'tablet', clientSeq: 1 })
    expect(status).toBe(201)
    expect(json).toMatchObject({ seq: 1, source: 'person', who: 'Ada', seen: 0, client: 'tablet', clientSeq: 1 })
    expect((await put(id, 'note', { text: 'x' })).json).toMatchObject({ seq: 2 })
    expect((await entries(id)).map((e) => e.stands)).toEqual([true, null])
    expect((await put(id, 'note', { text: 'x' }, { instrument: 'bench: light' })).json.source).toBe('bench')
    expect((await put(id, 'note', { text: 'x' }, { source: 'device' })).status).toBe(400)
  })
  it('five minutes ahead is taken, six are refused with field, bound and unit', async () => {
    const id = await build()
    expect((await put(id, 'note', { text: 'x' }, { takenAt: minutes(4.9) })).status).toBe(201)
    const late = await put(id, 'note', { text: 'x' }, { takenAt: minutes(6) })
    expect([late.status, late.json.code, late.json.errors]).toEqual([
      400,
      'CLOCK_AHEAD',
      [{ path: 'takenAt', message: 'is 6 min ahead of the server; at most 5 min is taken' }],
    ])
  })
  it('of a kind that only the app writes is refused from a client', async () => {
    const id = await build()
    const refused = await put(id, 'start.sanity', { passed: true, checks: [] })
    expect([refused.status, refused.json.code]).toEqual([403, 'APP_ONLY'])
    expect((await put(id, 'entry.withdrawn', { entryId: randomUUID(), reason: 'because' })).status).toBe(403)
    expect(await entries(id)).toEqual([])
  })
  it('many at once have places without a gap', async () => {
    const id = await build()
    await Promise.all(Array.from({ length: 12 }, (_, i) => put(id, 'note', { text: `${i}` })))
    expect((await entries(id)).map((e) => e.seq)).toEqual([1, 2, 3, 4, 5, 6, 7, 8, 9, 10, 11, 12])
  })
  it('replaces only an own one of the same kind about the same thing', async () => {
    const id = await build()
    const wet = randomUUID()
    await put(id, 'fuel.joint', { jointId: 'feed:a>b', dry: false }, {}, wet)
    const message = async (...args: Parameters<typeof put>) =>
      ((await put(...args)).json.errors as { path: string; message: string }[])?.[0]?.message
    expect(await message(id, 'note', { text: 'was nothing' }, { supersedes: wet })).toContain('another kind (fuel.joint)')
    expect(await message(id, 'fuel.joint', { jointId: 'feed:b>c', dry: true }, { supersedes: wet })).toContain('something else')
    expect(await message(id, 'fuel.joint', { jointId: 'feed:a>b', dry: true }, { supersedes: wet }, randomUUID(), 'Bea')).toContain(
      'an entry of Ada',
    )
    expect((await put(id, 'fuel.joint', { jointId: 'feed:a>b', dry: true }, { supersedes: wet })).status).toBe(201)
  })
})

describe('withdrawing', () => {
  it('keeps the entry, struck through with who and why, once', async () => {
    const id = await build()
    const readingId = randomUUID()
    await put(id, 'fuel.arrows', { right: true }, {}, readingId)
    expect((await withdraw(id, readingId, 'no')).status).toBe(400)
    const first = await withdraw(id, readingId, 'wrong car')
    expect([first.status, first.json]).toMatchObject([200, { stands: false, withdrawn: { who: 'Bea', reason: 'wrong car' } }])
    await withdraw(id, readingId, 'again')
    expect((await entries(id)).map((e) => e.kind)).toEqual(['fuel.arrows', 'entry.withdrawn'])
    expect((await withdraw(id, randomUUID(), 'wrong car')).status).toBe(404)
  })
  it('a failure withdrawn does not bring the proof before it back', async () => {
    const id = await build()
    const [pass, failure] = [randomUUID(), randomUUID()]
    await put(id, 'fuel.arrows', { right: true }, {}, pass)
    await put(id, 'fuel.arrows', { right: false }, {}, failure)
    await withdraw(id, failure, 'looked at the wrong pump')
    expect((await entries(id)).find((e) => e.id === pass)).toMatchObject({ stands: false })
  })
})

describe('an edit of the hardware', () => {
  it('done on the car takes the proof down, also when it is put back', async () => {
    const id = await build()
    const pressure = randomUUID()
    await put(id, 'fuel.pressure', { pressureKpa: 300, engineRunning: false }, {}, pressure)
    const setKpa = (await call(app, 'GET', `/api/builds/${id}`)).json.choices.fuel.regulator.setKpa as number
    await edit(id, { fuel: { regulator: { setKpa: setKpa + 10 } } })
    await edit(id, { fuel: { regulator: { setKpa } } })
    const one = (await entries(id)).find((e) => e.id === pressure)!
    expect(one.stands).toBe(false)
    expect(one.voidBecause).toContain('after it')
  })
  it('that only corrects the record leads it over', async () => {
    const id = await build()
    const order = randomUUID()
    const { json } = await call(app, 'GET', `/api/builds/${id}`)
    await put(id, 'spark.order', { cylinders: json.facts.engine.firingOrder }, {}, order)
    expect((await edit(id, { spark: { coils: 'per-cylinder' } }, 'record')).status).toBe(200)
    expect((await entries(id)).find((e) => e.id === order)).toMatchObject({ stands: true })
    expect((await edit(id, { spark: { coils: 'paired' } }, 'perhaps')).status).toBe(400)
  })
  it('and a check made offline meanwhile on another tablet does not stand', async () => {
    const id = await build()
    await put(id, 'fuel.prime', { cycles: 2, pumpStops: true })
    await edit(id, { fuel: { feed: [] } })
    const dry = async (seen: number) => {
      await put(id, 'fuel.leak-check', { dry: true }, { seen, client: 'tablet' })
      return (await entries(id)).at(-1)!.stands
    }
    expect(await dry(1)).toBe(false)
    expect(await dry(3)).toBe(true)
  })
})

it('what is practised stands in the rehearsal and not in the car, on the board neither', async () => {
  const id = await build()
  await put(id, 'fuel.joint', { jointId: 'feed:a>b', dry: true }, { view: 'rehearsal' })
  const wet = await put(id, 'fuel.leak-check', { dry: false }, { instrument: 'bench: towel' })
  expect(wet.json.source).toBe('bench')
  const fuelOf = async (query: string) =>
    ((await call(app, 'GET', `/api/builds/${id}${query}`)).json.stations as { id: string; state: string }[]).find((s) => s.id === 'fuel')!
      .state
  expect(await fuelOf('?view=rehearsal')).toBe('blocked')
  expect(await fuelOf('')).not.toBe('blocked')
  expect(await fuelOf('?view=car')).not.toBe('blocked')
  const board = (await call(app, 'GET', '/api/builds')).json as unknown as { id: string; stations: { id: string; state: string }[] }[]
  expect(board.find((b) => b.id === id)!.stations.find((s) => s.id === 'fuel')!.state).not.toBe('blocked')
  expect((await call(app, 'GET', `/api/builds/${id}?view=both`)).status).toBe(400)
})
