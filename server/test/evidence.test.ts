import { randomUUID } from 'node:crypto'
import type { FastifyInstance } from 'fastify'
import { afterAll, beforeAll, describe, expect, it } from 'vitest'
import { call, demoCar, sendLog, startApp } from './helpers.ts'

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

describe('verdicts are the server’s', () => {
  const ask = (id: string, kind: string, from: object) =>
    call(app, 'POST', `/api/builds/${id}/verdicts`, { kind, from }, { 'x-vectum-person': 'Ada' })
  // a demo car whose barometer is told or standard: the display shows it to a tenth
  const shown = async (id: string, more: object = {}) => {
    const { facts } = (await call(app, 'GET', `/api/builds/${id}`)).json
    const mapKpa = facts.place?.barometerKpa ?? 100
    return put(id, 'start.key-on-shown', {
      ...{ batteryV: 12.5, mapKpa, coolantC: 17, intakeAirC: 17, throttleShutPct: 0, throttleOpenPct: 99 },
      ...{ pressedTwice: true, lambda: 2.1, flagShown: false, ...more },
    })
  }
  it('from what the display showed: the car’s, with what it came from; withdrawn with it', async () => {
    const id = await build()
    const entry = await shown(id)
    expect(entry.status, entry.text).toBe(201)
    const { status, json, text } = await ask(id, 'start.sanity', { entryIds: [entry.json.id] })
    expect(status, text).toBe(201)
    expect(json).toMatchObject({ source: 'app', from: { entryIds: [entry.json.id] }, value: { passed: true } })
    const low = await ask(id, 'start.sanity', { entryIds: [(await shown(id, { batteryV: 11 })).json.id] })
    expect(low.json.value.passed).toBe(false)
    await withdraw(id, entry.json.id as string, 'the wrong car')
    const gone = await ask(id, 'start.sanity', { entryIds: [entry.json.id] })
    expect([gone.status, gone.json.errors]).toEqual([400, [{ path: 'from.entryIds.0', message: 'names an entry that no longer counts' }]])
  })
  it('a client writes none of them, and an ask that names nothing it can use is refused in words', async () => {
    const id = await build()
    for (const kind of ['start.dry-crank', 'start.attempt', 'spark.scope', 'spark.fit', 'learn.result', 'idle.verdict'])
      expect((await put(id, kind, {})).json.code).toBe('APP_ONLY')
    const empty = await ask(id, 'learn.result', { entryIds: [randomUUID()] })
    expect(empty.json.errors).toEqual([
      { path: 'from', message: 'must name logId: a verdict of the kind learn.result is worked out from that' },
    ])
    expect((await ask(id, 'start.sanity', { entryIds: [randomUUID()] })).json.errors[0].message).toBe('names no entry of this build')
    expect((await ask(id, 'learn.result', { logId: randomUUID() })).json.errors[0].message).toBe('names no log of this build')
    expect((await ask(id, 'start.note', {})).status).toBe(400)
  })
  it('the bench’s instruments are read by the server: the entries are the rehearsal’s', async () => {
    const id = await build()
    const read = (kind: string, at: object = {}) => call(app, 'POST', `/api/builds/${id}/bench/readings`, { kind, at })
    const zero = await read('spark.zero-mark')
    expect(zero.json, zero.text).toMatchObject({ source: 'bench', instrument: 'bench: Piston stop', who: 'not named' })
    const light = await read('spark.timing-light', { rpm: 900 })
    expect(light.json.value).toMatchObject({ rpm: 900 })
    const scope = await read('spark.scope', { rpm: 1200, seconds: 0.4 })
    expect(scope.json.value.pulses).toBeGreaterThan(8)
    const fit = await ask(id, 'spark.fit', { entryIds: [light.json.id] })
    expect(fit.json, fit.text).toMatchObject({ source: 'app', value: { readings: 1 } })
    // one bench input makes it the rehearsal's: the car's judgement has neither
    const car = (await call(app, 'GET', `/api/builds/${id}?view=car`)).json
    const rehearsal = (await call(app, 'GET', `/api/builds/${id}?view=rehearsal`)).json
    const said = (b: { stations: { id: string; findings: { id: string }[] }[] }) =>
      b.stations.find((s) => s.id === 'spark')!.findings.map((f) => f.id)
    expect(said(car as never)).toContain('spark.zero-mark')
    expect(said(rehearsal as never)).not.toContain('spark.zero-mark')
    expect((await read('spark.lead', { cylinder: 99 })).json.errors[0].path).toBe('at.cylinder')
    expect((await read('start.crank-light')).json).toMatchObject({ code: 'GATE_SHUT' })
  })
})

describe('the same write again', () => {
  const send = (id: string, title: string, event: string, version: number) =>
    call(app, 'PATCH', `/api/builds/${id}`, { title }, { 'if-match': `"${version}"`, 'event-id': event })
  it('gives the first answer and does nothing again; another write by that id is refused', async () => {
    const id = await build()
    const event = randomUUID()
    const first = await send(id, 'Once', event, 1)
    expect(first.json).toMatchObject({ title: 'Once', version: 2 })
    const again = await send(id, 'Once', event, 1)
    expect([again.status, again.text]).toEqual([200, first.text])
    const other = await send(id, 'Twice', event, 2)
    expect([other.status, other.json.code]).toEqual([409, 'EVENT_ID_REUSED'])
    expect((await call(app, 'GET', `/api/builds/${id}`)).json).toMatchObject({ title: 'Once', version: 2 })
    expect((await send(id, 'X', 'short', 2)).json.errors[0].path).toBe('Event-Id')
  })
  it('at once, ten times, is done once; a refusal is judged anew', async () => {
    const id = await build()
    const event = randomUUID()
    const tries = await Promise.all(
      Array.from({ length: 10 }, () => call(app, 'POST', `/api/builds/${id}/tunes`, {}, { 'event-id': event })),
    )
    expect(new Set(tries.map((t) => t.json.id)).size).toBe(1)
    expect((await call(app, 'GET', `/api/builds/${id}/tunes`)).json).toHaveLength(1)
    const refused = randomUUID()
    expect((await send(id, 'Late', refused, 7)).status).toBe(412)
    expect((await send(id, 'Late', refused, 7)).status).toBe(412)
  })
})

describe('practising turns nothing on the car', () => {
  it('an overlay of choices is the rehearsal’s, its proofs with it', async () => {
    const id = await build()
    const referenceDeg = (b: Record<string, unknown>) => (b.choices as { spark: { referenceDeg: number } }).spark.referenceDeg
    const carDeg = referenceDeg((await call(app, 'GET', `/api/builds/${id}`)).json)
    await put(id, 'spark.polarity', { right: true, method: 'scope' })
    const { status, text } = await edit(id, { rehearsal: { spark: { referenceDeg: carDeg + 5, trigger: 'toothed-wheel' } } })
    expect(status, text).toBe(200)
    expect(referenceDeg((await call(app, 'GET', `/api/builds/${id}`)).json)).toBe(carDeg)
    expect((await entries(id)).find((e) => e.kind === 'spark.polarity')!.stands).toBe(true)
    // a bench reading is taken at what the rehearsal has set
    const light = await call(app, 'POST', `/api/builds/${id}/bench/readings`, { kind: 'spark.timing-light', at: { rpm: 900 } })
    expect(light.json.value.referenceDeg).toBe(carDeg + 5)
    expect(light.json.stands).toBe(true)
    // it goes with the overlay, and what a person proved on the car stays
    await edit(id, { rehearsal: null })
    const after = await entries(id)
    expect(after.find((e) => e.kind === 'spark.timing-light')).toMatchObject({ stands: false })
    expect(after.find((e) => e.kind === 'spark.polarity')!.stands).toBe(true)
  })
  it('an overlay of what no choice is, is refused', async () => {
    const refused = await edit(await build(), { rehearsal: { spark: { referenceDeg: 500 } } })
    expect([refused.status, refused.json.errors[0].path]).toEqual([400, 'choices.rehearsal.spark.referenceDeg'])
  })
})

it('a figure of one’s own carries whose it is, set by the server, and keeps it while it is not changed', async () => {
  const id = await build()
  const own = async () =>
    ((await call(app, 'GET', `/api/builds/${id}`)).json.choices.plan.overrides as Record<string, { who: string; at: string }>).injector
  const as = async (who: string, injector: object) => {
    const { json } = await call(app, 'GET', `/api/builds/${id}`)
    const body = { choices: { plan: { overrides: { injector } } } }
    return call(app, 'PATCH', `/api/builds/${id}`, body, { 'if-match': `"${json.version}"`, 'x-vectum-person': who })
  }
  expect((await as('Ada', { value: 900, reason: 'to grow', who: 'the maker' })).status).toBe(200)
  expect(await own()).toMatchObject({ value: 900, who: 'Ada', at: expect.stringContaining('T') })
  await edit(id, { plan: { injectors: 4 } })
  expect((await own()).who).toBe('Ada')
  await as('Bea', { value: 950, reason: 'to grow' })
  expect((await own()).who).toBe('Bea')
})

it('the same file read another way is a new reading of it, and what the old one taught no longer counts', async () => {
  const id = await build()
  const rows = Array.from({ length: 1200 }, (_, i) => `${(i * 0.1).toFixed(1)},${900 + (i % 40)},40,14.7,80`)
  const csv = `Time,RPM,MAP,AFR,CLT\n${rows.join('\n')}\n`
  const first = await sendLog(app, id, csv)
  expect(first.status).toBe(201)
  const idle = await call(app, 'POST', `/api/builds/${id}/verdicts`, { kind: 'idle.verdict', from: { logId: first.json.id } })
  expect(idle.json, idle.text).toMatchObject({ kind: 'idle.verdict', source: 'app', from: { logId: first.json.id } })
  expect((await sendLog(app, id, csv)).json.code).toBe('ALREADY_STORED')
  const again = await sendLog(app, id, csv, 'log.csv', { mapping: JSON.stringify({ ...first.json.mapping, stoichAfr: 14.1 }) })
  expect(again.status).toBe(201)
  expect((await entries(id)).find((e) => e.kind === 'idle.verdict')!.withdrawn).toMatchObject({
    reason: 'the same file was read again another way',
  })
})

it('an idle is judged from three looks at a display, and falls as the screw is turned', async () => {
  const id = await build()
  const looks: string[] = []
  for (const rpm of [748, 752, 750]) looks.push((await put(id, 'idle.point', { rpm, valvePct: 18, mapKpa: 40 })).json.id as string)
  const ask = (entryIds: string[]) => call(app, 'POST', `/api/builds/${id}/verdicts`, { kind: 'idle.verdict', from: { entryIds } })
  const few = await ask(looks.slice(0, 2))
  expect(few.status).toBeGreaterThanOrEqual(400)
  expect(few.text).toContain('3 looks at the display')
  const regime = (await put(id, 'idle.regime', { regime: 'loads' })).json.id as string
  const judged = await ask([...looks, regime])
  expect(judged.json, judged.text).toMatchObject({
    kind: 'idle.verdict',
    source: 'app',
    value: { verdict: 'good', meanRpm: 750, regime: 'loads' },
  })
  await put(id, 'idle.screw', { turns: 0.25 })
  expect((await entries(id)).find((e) => e.kind === 'idle.verdict')).toMatchObject({
    stands: false,
    voidBecause: expect.stringContaining('Throttle screw turned'),
  })
  const none = await put(id, 'idle.screw', { turns: 0 })
  expect(none.status).toBe(400)
  expect(none.text).toContain('must not be 0 turns')
})

it('a log that this engine cannot have made is asked about before anything is learned from it', async () => {
  const id = await build()
  const { json } = await call(app, 'GET', `/api/builds/${id}`)
  const redline = json.facts.engine.redlineRpm as number
  const rows = Array.from({ length: 600 }, (_, i) => `${(i * 0.1).toFixed(1)},${Math.round(redline * 1.5)},40,14.7,80`)
  const log = await sendLog(app, id, `Time,RPM,MAP,AFR,CLT\n${rows.join('\n')}\n`)
  expect(log.status).toBe(201)
  const ask = () => call(app, 'POST', `/api/builds/${id}/verdicts`, { kind: 'idle.verdict', from: { logId: log.json.id } })
  expect((await ask()).json).toMatchObject({ code: 'OTHER_CAR', detail: expect.stringContaining(`this engine turns ${redline} at most`) })
  await put(id, 'learn.same-car', { logId: log.json.id })
  expect((await ask()).status).toBe(201)
})
