import { randomUUID } from 'node:crypto'
import type { FastifyInstance } from 'fastify'
import { afterAll, beforeAll, describe, expect, it } from 'vitest'
import { call, newBuild, sendLog, sendParts, startApp } from './helpers.ts'

let app: FastifyInstance
let close: () => Promise<void>
beforeAll(async () => {
  ;({ app, close } = await startApp())
})
afterAll(() => close())

const JPEG = Buffer.concat([Buffer.from([0xff, 0xd8, 0xff, 0xe0]), Buffer.alloc(600, 7)])
const keep = (id: string, data: Buffer | string, more: { name?: string; thumb?: Buffer; fields?: Record<string, string> } = {}) =>
  sendParts(app, `/api/builds/${id}/files`, [
    ...Object.entries(more.fields ?? {}).map(([name, value]) => ({ name, data: value })),
    ...(more.thumb ? [{ name: 'thumb', filename: 'thumb.jpg', type: 'image/jpeg', data: more.thumb }] : []),
    { name: 'file', filename: more.name ?? 'photo.jpg', type: 'image/jpeg', data },
  ])

describe('photos and files', () => {
  it('keeps a photo with its thumbnail and item, gives both back, and lists it', async () => {
    const { id } = await newBuild(app)
    const sent = await keep(id, JPEG, { thumb: JPEG.subarray(0, 200), fields: { item: 'engine' } })
    expect(sent.status).toBe(201)
    expect(sent.json).toMatchObject({ type: 'image/jpeg', size: JPEG.length, item: 'engine', thumb: true })
    const file = await app.inject(`/api/files/${sent.json.id as string}`)
    expect(Buffer.compare(file.rawPayload, JPEG)).toBe(0)
    expect(file.headers['content-security-policy']).toContain('sandbox')
    expect((await app.inject(`/api/files/${sent.json.id as string}/thumb`)).rawPayload.length).toBe(200)
    expect((await call(app, 'GET', `/api/builds/${id}/files`)).json).toMatchObject([{ id: sent.json.id, thumb: true, item: 'engine' }])
    expect((await call(app, 'GET', `/api/builds/${id}/logbook`)).json.entries[0].summary).toBe('File kept: photo.jpg (engine)')
  })
  it('a retry with the same id is no second file; the same id with another content is refused', async () => {
    const { id } = await newBuild(app)
    const fields = { id: randomUUID() }
    expect((await keep(id, JPEG, { fields })).status).toBe(201)
    expect((await keep(id, JPEG, { fields })).status).toBe(200)
    expect((await keep(id, Buffer.concat([JPEG, JPEG]), { fields })).json.code).toBe('ALREADY_EXISTS')
    expect((await call(app, 'GET', `/api/builds/${id}/files`)).json).toHaveLength(1)
  })
  it('goes by the content, not the name, and says what is taken', async () => {
    const { id } = await newBuild(app)
    const program = await keep(id, Buffer.from([0x7f, 0x45, 0x4c, 0x46, 0, 0, 0]), { name: 'photo.jpg' })
    expect([program.status, program.json.code]).toEqual([415, 'FILE_TYPE'])
    expect((await keep(id, '%PDF-1.7 sheet', { name: 'sheet.pdf' })).json.type).toBe('application/pdf')
    expect((await keep(id, 'rpm,deg\n800,10\n', { name: 'curve.csv' })).json.type).toBe('text/plain')
    // a page that would run as a page is text here
    expect((await keep(id, '<script>alert(1)</script>', { name: 'x.html' })).json.type).toBe('text/plain')
  })
  it('refuses what is too large, no file, and an item that is no name', async () => {
    const { id } = await newBuild(app)
    const large = await keep(id, Buffer.concat([JPEG, Buffer.alloc(12 * 1024 * 1024)]))
    expect([large.status, large.json.code]).toEqual([413, 'FILE_TOO_LARGE'])
    expect(large.json.detail).toContain('12 MB')
    expect((await sendParts(app, `/api/builds/${id}/files`, [{ name: 'item', data: 'engine' }])).json.code).toBe('FILE_MISSING')
    expect((await keep(id, JPEG, { fields: { item: '../etc' } })).json.errors[0].path).toBe('item')
  })
  it('takes a file out of sight and notes it', async () => {
    const { id } = await newBuild(app)
    const { json } = await keep(id, JPEG)
    expect((await call(app, 'DELETE', `/api/builds/${id}/files/${json.id as string}`)).status).toBe(204)
    expect((await call(app, 'GET', `/api/builds/${id}/files`)).json).toEqual([])
    expect((await call(app, 'DELETE', `/api/builds/${id}/files/${json.id as string}`)).status).toBe(404)
    expect((await call(app, 'GET', `/api/builds/${id}/logbook`)).json.entries[0].summary).toContain('File removed')
  })
})

describe('plan', () => {
  it('judges routes, recommends, sizes', async () => {
    const { id } = await newBuild(app, '1-lowland.json')
    const { json } = await call(app, 'GET', `/api/builds/${id}/plan`)
    expect(json.routes.map((r: { route: string }) => r.route)).toEqual(['throttle-body', 'multi-port', 'individual-runner'])
    expect(json.recommendation.best.route).toBe('throttle-body')
    expect(json.sizes.length).toBeGreaterThan(6)
  })
  it('shows what a choice would do and stores nothing', async () => {
    const { id, version } = await newBuild(app, '1-lowland.json')
    const { json } = await call(app, 'POST', `/api/builds/${id}/plan/effect`, { choices: { plan: { route: 'multi-port' } } })
    expect(json.cost.after).toBeGreaterThan(json.cost.before)
    expect((await call(app, 'GET', `/api/builds/${id}`)).json.version).toBe(version)
  })
  it('parts go out as CSV and come back with status and price', async () => {
    const { id } = await newBuild(app, '1-lowland.json')
    const csv = (await app.inject(`/api/builds/${id}/parts.csv`)).body
    expect(csv.split('\r\n')[0]).toBe('id,name,spec,quantity,unit,used,price,status,arrives,note')
    const put = (payload: string) =>
      app.inject({ method: 'PUT', url: `/api/builds/${id}/parts.csv`, headers: { 'content-type': 'text/csv' }, payload })
    expect(JSON.parse((await put(csv)).body).changed).toBe(0)
    const answer = JSON.parse((await put('id,status,price\npump,ordered,99.5\n')).body) as {
      changed: number
      parts: { id: string; status: string; price: number }[]
    }
    expect(answer.changed).toBe(1)
    expect(answer.parts.find((p) => p.id === 'pump')).toMatchObject({ status: 'ordered', price: 99.5 })
    const bad = await put('id,status\npump,gone\n')
    expect([bad.statusCode, JSON.parse(bad.body).code]).toEqual([400, 'PARTS_INVALID'])
  })
  it('the schedule keeps its order and goes out as iCalendar that ends as it began', async () => {
    const { id } = await newBuild(app, '1-lowland.json')
    const { json } = await call(app, 'GET', `/api/builds/${id}/schedule?today=2026-03-02`)
    expect(json.hours.low).toBeLessThan(json.hours.high)
    expect(json.end.mid >= '2026-03-02').toBe(true)
    const ics = await app.inject(`/api/builds/${id}/schedule.ics?today=2026-03-02`)
    expect(ics.headers['content-type']).toContain('text/calendar')
    const lines = ics.body.replace(/\r\n[ \t]/g, '').split('\r\n')
    expect(lines[0]).toBe('BEGIN:VCALENDAR')
    expect(lines.filter(Boolean).at(-1)).toBe('END:VCALENDAR')
    expect(lines).toContain('VERSION:2.0')
    const count = (what: string) => lines.filter((l) => l === what).length
    expect(count('BEGIN:VEVENT')).toBe(count('END:VEVENT'))
    expect(count('BEGIN:VEVENT')).toBeGreaterThan(10)
    const uids = lines.filter((l) => l.startsWith('UID:'))
    expect(new Set(uids).size).toBe(uids.length)
    // hours of work are timed events of that length; only trades and waits are whole days, and keep nobody busy
    const [whole, timed] = [/^DTSTART;VALUE=DATE:\d{8}$/, /^DTSTART:\d{8}T(09|1[0-9]|2[0-3])\d{4}$/].map(
      (form) => lines.filter((l) => form.test(l)).length,
    )
    expect(whole + timed).toBe(count('BEGIN:VEVENT'))
    expect(timed).toBeGreaterThan(whole)
    expect(lines.filter((l) => l.startsWith('DURATION:')).length).toBe(timed)
    expect(count('X-MICROSOFT-CDO-BUSYSTATUS:FREE')).toBe(whole)
    // RFC 5545: no line over 75 octets
    expect(ics.body.split('\r\n').every((l) => Buffer.byteLength(l) <= 75)).toBe(true)
  })
  it('a build begins like another of the shop: its facts to be looked at, none of its proofs and tunes', async () => {
    const { id } = await newBuild(app, '1-lowland.json')
    const { json: begun, status } = await call(app, 'POST', '/api/builds', {
      title: 'the next one',
      like: id,
      facts: { car: { owner: 'another' } },
    })
    expect(status).toBe(201)
    expect(begun.facts.engine.cylinders).toBe(6)
    expect(begun.facts.car.owner).toBe('another')
    expect([begun.readings, begun.tunes]).toEqual([[], []])
    const survey = begun.stations.find((s: { id: string }) => s.id === 'survey')
    expect(survey.requirements.find((r: { id: string }) => r.id === 'alike').met).toBe(false)
    // one is looked at: a merge patch takes it off the list
    const patched = await call(
      app,
      'PATCH',
      `/api/builds/${begun.id}`,
      { choices: { survey: { like: { taken: { 'engine/cylinders': null } } } } },
      { 'if-match': `"${begun.version}"` },
    )
    expect(patched.json.choices.survey.like.taken['engine/cylinders']).toBeUndefined()
    expect(patched.json.choices.survey.like.taken['engine/displacementCc']).toBeDefined()
    const nobody = await call(app, 'POST', '/api/builds', { title: 'x', like: '6d0f4a52-0c1e-4f7a-9d3b-1f62a0c8ffff' })
    expect(nobody.status).toBe(404)
  })
  it('refuses a calendar without free hours with words', async () => {
    const { id, version } = await newBuild(app, '1-lowland.json')
    await call(
      app,
      'PATCH',
      `/api/builds/${id}`,
      { choices: { plan: { people: [{ name: 'Ada', hours: [0, 0, 0, 0, 0, 0, 0] }] } } },
      { 'if-match': `"${version}"` },
    )
    const { status, json } = await call(app, 'GET', `/api/builds/${id}/schedule`)
    expect([status, json.code]).toEqual([409, 'SCHEDULE_NO_TIME'])
  })
  it('solves any network, and names a circle', async () => {
    const activities = [
      { id: 'a', duration: 3, after: [] },
      { id: 'b', duration: 2, after: ['a'] },
    ]
    expect((await call(app, 'POST', '/api/schedule/critical-path', { activities })).json).toMatchObject({ length: 5, path: ['a', 'b'] })
    const circle = [{ ...activities[0], after: ['b'] }, activities[1]]
    expect((await call(app, 'POST', '/api/schedule/critical-path', { activities: circle })).json.code).toBe('SCHEDULE_LOOP')
  })
})

describe('spikes of a log', () => {
  it('counts the jumps that no crank can do', async () => {
    const { id } = await newBuild(app)
    const rows = Array.from({ length: 400 }, (_, i) => `${(i / 20).toFixed(2)},${i === 100 || i === 250 ? 5200 : 850 + (i % 3)},40,14.7`)
    const log = await sendLog(app, id, `Time,RPM,MAP,AFR\n${rows.join('\n')}\n`)
    expect(log.status).toBe(201)
    const { json } = await call(app, 'GET', `/api/logs/${log.json.id as string}/spikes`)
    expect(json.map((s: { timeS: number }) => s.timeS)).toEqual([5, 12.5])
  })
})

describe('fuel', () => {
  it('solves the circuit in its five states, and any other way asked', async () => {
    const { id } = await newBuild(app, '1-lowland.json')
    const { json } = await call(app, 'GET', `/api/builds/${id}/fuel`)
    expect(json.solutions.map((s: { state: string }) => s.state)).toEqual(['prime', 'idle', 'cruise', 'full', 'full-hot'])
    for (const s of json.solutions) expect(Math.abs(s.pumpFlowLph - s.useLph - s.returnLph) / s.pumpFlowLph).toBeLessThan(1e-6)
    const asked = await call(app, 'POST', `/api/builds/${id}/fuel/what-if`, { supplyV: 10 })
    expect(asked.json.solutions[3].pumpFlowLph).toBeLessThan(json.solutions[3].pumpFlowLph)
    expect((await call(app, 'POST', `/api/builds/${id}/fuel/what-if`, { supplyV: 99 })).json.errors[0]).toMatchObject({
      path: 'supplyV',
      message: 'must be at most 16 V',
    })
    const solo = await call(app, 'POST', '/api/fuel/solve', { circuit: json.circuit, state: json.states.full })
    expect(solo.json).toEqual(json.solutions[3])
  })
  it('says what is missing while there is no circuit', async () => {
    const { id } = await newBuild(app)
    const { status, json } = await call(app, 'GET', `/api/builds/${id}/fuel`)
    expect(status).toBe(409)
    expect(json.detail).toContain('Choose the layout')
  })
  it('a wet joint blocks fuel and what comes after, on the board too', async () => {
    const { id } = await newBuild(app, '1-lowland.json')
    const { json } = await call(app, 'GET', `/api/builds/${id}/fuel/joints`)
    const jointId = json.joints[3].id as string
    await call(app, 'PUT', `/api/builds/${id}/readings/${randomUUID()}`, { kind: 'fuel.joint', value: { jointId, dry: false } })
    const board = (await call(app, 'GET', '/api/builds')).json as unknown as {
      id: string
      stations: { id: string; state: string }[]
      next: { station: string }
    }[]
    const entry = board.find((b) => b.id === id)!
    expect(entry.stations.filter((s) => s.state === 'blocked').map((s) => s.id)).toEqual([
      'fuel',
      'spark',
      'wiring',
      'fitup',
      'tune',
      'start',
      'idle',
      'learn',
      'handover',
    ])
    expect(entry.next.station).toBe('fuel')
  })
  it('refuses a pump whose flow rises with pressure, naming the point', async () => {
    const { id, version } = await newBuild(app)
    const curves = [
      {
        voltageV: 12,
        points: [
          { pressureKpa: 0, flowLph: 100 },
          { pressureKpa: 100, flowLph: 120 },
        ],
      },
    ]
    const { status, json } = await call(
      app,
      'PATCH',
      `/api/builds/${id}`,
      { choices: { fuel: { pump: { curves } } } },
      { 'if-match': `"${version}"` },
    )
    expect(status).toBe(400)
    expect(json.errors[0].path).toBe('choices.fuel.pump.curves.0.points.1.flowLph')
  })
})
