import { randomUUID } from 'node:crypto'
import type { FastifyInstance } from 'fastify'
import { createConnection } from 'node:net'
import { afterAll, beforeAll, describe, expect, it, vi } from 'vitest'
import WebSocket from 'ws'
import { lineServer } from '../src/live/tcp.ts'
import { appendReading } from '../src/job/readings.ts'
import type { BuildStore } from '../src/job/store.ts'
import type { LiveSessions } from '../src/live/routes.ts'
import { call, newBuild, startApp, wiringProofs } from './helpers.ts'

let app: FastifyInstance
let close: () => Promise<void>
let sessions: LiveSessions
let store: BuildStore
let address: string
beforeAll(async () => {
  ;({ app, close, sessions, store } = await startApp())
  address = await app.listen({ host: '127.0.0.1', port: 0 })
})
afterAll(() => close())

type Message = Record<string, any> // eslint-disable-line @typescript-eslint/no-explicit-any

/** A client that speaks newline JSON and can wait for a message. */
function connect(buildId: string) {
  const socket = new WebSocket(`${address.replace('http', 'ws')}/api/builds/${buildId}/live`)
  const seen: Message[] = []
  const waiting: { test: (m: Message) => boolean; resolve: (m: Message) => void }[] = []
  socket.on('message', (data: Buffer) => {
    for (const line of data.toString().split('\n').filter(Boolean)) {
      const message = JSON.parse(line) as Message
      seen.push(message)
      for (const w of [...waiting].filter((each) => each.test(message))) {
        waiting.splice(waiting.indexOf(w), 1)
        w.resolve(message)
      }
    }
  })
  const until = (test: (m: Message) => boolean, ms = 90_000) =>
    new Promise<Message>((resolve, reject) => {
      const hit = seen.find(test)
      if (hit) return resolve(hit)
      const timer = setTimeout(() => reject(new Error(`not seen in ${ms} ms; last: ${JSON.stringify(seen.at(-1))}`)), ms)
      waiting.push({ test, resolve: (m) => (clearTimeout(timer), resolve(m)) })
    })
  let next = 1
  const send = (command: string, values: object = {}) => {
    const id = `c${next++}`
    socket.send(JSON.stringify({ id, command, ...values }) + '\n')
    return until((m) => m.type === 'reply' && m.id === id)
  }
  const open = new Promise((resolve) => socket.once('open', resolve))
  return { socket, seen, until, send, open, forget: () => seen.splice(0), close: () => socket.close() }
}
/** Waits by the car's clock, which a busy machine may hold back. */
async function passed({ seen, until }: ReturnType<typeof connect>, seconds: number) {
  const last = seen.findLast((m) => m.type === 'frame') ?? (await until((m) => m.type === 'frame'))
  await until((m) => m.type === 'frame' && m.timeS >= last.timeS + seconds)
}
const record = (id: string, kind: string, value: object) => call(app, 'PUT', `/api/builds/${id}/readings/${randomUUID()}`, { kind, value })
const verdict = (id: string, kind: string, from: object) => call(app, 'POST', `/api/builds/${id}/verdicts`, { kind, from })
const benchReads = (id: string, kind: string, at?: object) => call(app, 'POST', `/api/builds/${id}/bench/readings`, { kind, at })

it('refuses the bench without a tune in the car, and says so', async () => {
  const { id } = await newBuild(app, '1-lowland.json')
  const client = connect(id)
  expect(await client.until((m) => m.type === 'refused')).toMatchObject({
    code: 'GATE_SHUT',
    detail: expect.stringContaining('No tune is in the car'),
  })
})

it('goes from key to running through the gates, records what it saw, and keeps the session for a second screen', async () => {
  const { id, version } = await newBuild(app, '1-lowland.json')
  // this one is fed tables; the way by questions is walked in the browser
  await call(app, 'PATCH', `/api/builds/${id}`, { choices: { unit: { setBy: 'tables' } } }, { 'if-match': String(version) })
  for (const [kind, value] of [
    ['spark.zero-mark', { method: 'piston-stop', beforeDeg: 24, afterDeg: 24 }],
    ['spark.lock-out', { moves: false }],
  ] as const)
    await record(id, kind, value)
  const tune = (await call(app, 'POST', `/api/builds/${id}/tunes`)).json
  await call(app, 'PATCH', `/api/builds/${id}/tunes/${tune.id}`, { status: 'in-car' })
  const client = connect(id)
  const { session: sessionId } = await client.until((m) => m.type === 'hello')
  expect(await client.send('crank', { on: true })).toMatchObject({ ok: false, detail: 'The key is off.' })
  // no key before every connector was seated and a keyed supply found
  const unwired = await client.send('key', { on: true })
  expect(unwired.gates.map((g: { label: string }) => g.label)).toEqual([
    'Every connector seated, latched, tugged',
    'Keyed supply that holds while cranking',
  ])
  for (const { kind, value } of wiringProofs('1-lowland.json')) await record(id, kind, value)
  expect((await client.send('key', { on: true })).ok).toBe(true)
  const crank = await client.send('crank', { on: true })
  expect(crank).toMatchObject({ ok: false, code: 'GATE_SHUT' })
  expect(crank.gates.map((g: { label: string }) => g.label)).toEqual(
    expect.arrayContaining([expect.stringContaining('Leak check'), expect.stringContaining('Extinguisher')]),
  )
  expect(await client.send('throttle', { pct: 400 })).toMatchObject({
    ok: false,
    code: 'INVALID_INPUT',
    detail: expect.stringContaining('at most 100'),
  })
  client.socket.send('not json\n')
  await client.until((m) => m.type === 'reply' && m.code === 'INVALID_INPUT' && m.detail.includes('JSON'))

  // the tune on its way into the unit: sent, stored, key off and on, read back
  expect(crank.gates.map((g: { label: string }) => g.label)).toEqual(
    expect.arrayContaining([expect.stringContaining('The unit holds that tune')]),
  )
  for (const action of ['send', 'store']) expect((await client.send('tune', { action })).ok).toBe(true)
  await client.send('key', { on: false })
  expect(await client.send('tune', { action: 'read-back' })).toMatchObject({ ok: false, detail: expect.stringContaining('key on first') })
  expect((await client.send('key', { on: true })).ok).toBe(true)
  expect(await client.send('tune', { action: 'read-back' })).toMatchObject({ ok: true, data: { differences: 0, labels: [] } })

  // the app watches: two sweeps, a hot sensor, and it records the checks by itself
  await client.send('sweep')
  await passed(client, 3)
  await client.send('sweep')
  await client.send('clock', { rate: 5 })
  await client.until((m) => m.type === 'checks' && m.checks.every((c: { state: string }) => c.state === 'pass'))
  await client.send('clock', { rate: 1 })
  await client.until((m) => m.type === 'changed')

  await record(id, 'start.prepared', { batteryCharged: true, connectorsDone: true, chocked: true })
  await record(id, 'start.safety', { extinguisher: true, helper: true, stopWord: 'anchor' })
  expect((await client.send('pump', { allowed: true })).ok).toBe(true)
  await record(id, 'fuel.pressure', { pressureKpa: 300, engineRunning: false })
  // a wet joint cuts pump and key at once, whoever writes it down; mended, primed again and dry, it may turn
  await record(id, 'fuel.leak-check', { dry: false, where: 'feed' })
  expect(await client.until((m) => m.type === 'stopped')).toMatchObject({ reason: 'A fuel joint is wet (feed)' })
  expect((await client.send('crank', { on: true })).ok).toBe(false)
  await client.send('key', { on: true })
  await client.send('pump', { allowed: true })
  await record(id, 'fuel.pressure', { pressureKpa: 301, engineRunning: false })
  expect((await client.send('crank', { on: true })).gates[0].label).toContain('Leak check')
  await record(id, 'fuel.leak-check', { dry: true })
  // not before it was cranked without fuel; an early spark there is a stop
  const withFuel = await client.send('crank', { on: true })
  expect(withFuel, JSON.stringify(client.seen.filter((m) => m.type === 'stopped'))).toMatchObject({ code: 'GATE_SHUT' })
  expect(withFuel.gates.map((g: { label: string }) => g.label)).toEqual(['Cranked without fuel: speed steady, spark where it belongs'])
  expect((await client.send('crank', { on: true, fuel: false })).ok).toBe(true)
  client.forget()
  await client.until((m) => m.type === 'frame' && m.rpm > 150)
  await passed(client, 2.5)
  const light = await benchReads(id, 'start.crank-light')
  expect(light.json, light.text).toMatchObject({
    source: 'bench',
    instrument: 'bench: Timing light',
    value: { commandedDeg: expect.any(Number) },
  })
  await client.send('crank', { on: false })
  // what a person reads at the damper counts as much: fourteen degrees early can kick back
  const { commandedDeg } = light.json.value
  const early = await record(id, 'start.crank-light', { commandedDeg, observedDeg: commandedDeg + 14 })
  const kicks = await verdict(id, 'start.dry-crank', { sessionId, entryIds: [early.json.id] })
  expect(kicks.json, kicks.text).toMatchObject({ source: 'app', instrument: 'bench unit', from: { sessionId, entryIds: [early.json.id] } })
  expect((await client.send('crank', { on: true })).gates[0].why).toContain('early: it can kick back')
  const dry = await verdict(id, 'start.dry-crank', { sessionId, entryIds: [light.json.id] })
  expect(dry.json.value.rpm).toBeGreaterThan(120)
  // a crank without fuel names no branch of the fuelled tree
  expect((await verdict(id, 'start.attempt', { sessionId })).json).toMatchObject({
    code: 'EVIDENCE_MISSING',
    detail: expect.stringContaining('without fuel'),
  })
  expect((await verdict(id, 'start.dry-crank', { sessionId: randomUUID() })).status).toBe(404)
  expect((await client.send('crank', { on: true })).ok).toBe(true)
  client.forget()
  await client.until((m) => m.type === 'frame' && m.rpm > 500)

  const second = connect(id)
  const hello = await second.until((m) => m.type === 'hello')
  expect(hello.recent.length).toBeGreaterThan(20)
  client.close()
  await second.until((m) => m.type === 'frame' && m.state === 'running')
  const gauge = await benchReads(id, 'fuel.pressure')
  expect(gauge.json).toMatchObject({ source: 'bench', value: { engineRunning: true } })
  await second.send('clock', { rate: 20 })
  await second.until((m) => m.type === 'changed')
  const saved = await second.send('save-trace')
  expect(saved).toMatchObject({ ok: true, data: { rows: expect.any(Number) } })
  const log = (await call(app, 'GET', `/api/logs/${saved.data.logId}`)).json
  expect(log).toMatchObject({ source: 'bench', channels: expect.arrayContaining(['timeS', 'rpm', 'mapKpa', 'lambda']) })
  // beside the log of a unit that learns: its sensor against a second meter, its own table, and the exhaust once it stands
  expect((await benchReads(id, 'learn.meter')).json).toMatchObject({ source: 'bench', value: { meterLambda: expect.any(Number) } })
  expect((await benchReads(id, 'unit.learned')).json.value.learnedPct.length).toBeGreaterThan(20)
  expect((await benchReads(id, 'learn.exhaust')).json.detail).toContain('must stand still')
  await second.send('stop')
  second.forget()
  await second.until((m) => m.type === 'frame' && m.rpm === 0)
  const kinds = ((await call(app, 'GET', `/api/builds/${id}/readings`)).json as unknown as { kind: string }[]).map((r) => r.kind)
  expect(kinds).toEqual(expect.arrayContaining(['tune.taking', 'start.throttle', 'start.sanity', 'start.ran']))
  // it runs down: six seconds of its own clock
  await vi.waitFor(async () =>
    expect((await benchReads(id, 'learn.exhaust')).json).toMatchObject({ source: 'bench', value: { tight: true } }),
  )
  await second.send('key', { on: true })
  expect((await benchReads(id, 'unit.saved')).json).toMatchObject({ source: 'bench', value: { stillThere: true } })
  second.close()
})

/** A line client as an adapter of a real logger would write it. */
function lineClient(port: number) {
  const socket = createConnection({ host: '127.0.0.1', port })
  const seen: Message[] = []
  let rest = ''
  socket.setEncoding('utf8')
  socket.on('data', (text: string) => {
    const lines = (rest + text).split('\n')
    rest = lines.pop()!
    for (const line of lines) seen.push(JSON.parse(line) as Message)
  })
  const until = async (test: (m: Message) => boolean) => {
    await vi.waitFor(() => expect(seen.some(test), `not seen; last: ${JSON.stringify(seen.at(-1))}`).toBe(true), 90_000)
    return seen.find(test)!
  }
  const ended = new Promise<void>((resolve) => socket.once('close', () => resolve()))
  return { socket, seen, until, ended, say: (line: unknown) => socket.write(`${typeof line === 'string' ? line : JSON.stringify(line)}\n`) }
}

describe('the line protocol over TCP', () => {
  let lines: ReturnType<typeof lineServer>
  let port: number
  beforeAll(async () => {
    lines = lineServer(sessions, async () => true)
    await new Promise<void>((resolve) => lines.listen({ host: '127.0.0.1', port: 0 }, resolve))
    port = (lines.address() as { port: number }).port
  })
  afterAll(() => void lines.close())

  it('speaks the same lines as the socket, on the same session, in order', async () => {
    const { id } = await newBuild(app, '1-lowland.json')
    const tune = (await call(app, 'POST', `/api/builds/${id}/tunes`)).json
    await call(app, 'PATCH', `/api/builds/${id}/tunes/${tune.id}`, { status: 'in-car' })
    const screen = connect(id)
    await screen.until((m) => m.type === 'hello')
    const client = lineClient(port)
    client.say({ join: id, who: 'logger' })
    expect(await client.until((m) => m.type === 'hello')).toMatchObject({ device: 'bench', tune: { number: 1 } })
    // split in the middle of a line, two in one packet
    client.socket.write('{"id":"a","comm')
    client.socket.write('and":"crank","on":true}\n{"id":"b","command":"throttle","pct":12}\n')
    expect(await client.until((m) => m.type === 'reply' && m.id === 'a')).toMatchObject({ ok: false, detail: 'The key is off.' })
    expect(await client.until((m) => m.type === 'reply' && m.id === 'b')).toMatchObject({ ok: true })
    const order = client.seen.filter((m) => m.type === 'reply').map((m) => m.id)
    expect(order).toEqual(['a', 'b'])
    expect(await screen.until((m) => m.type === 'frame' && m.throttlePct === 12)).toBeTruthy()
    client.say({ id: 'c', command: 'throttle', pct: 400 })
    expect(await client.until((m) => m.id === 'c')).toMatchObject({
      ok: false,
      code: 'INVALID_INPUT',
      detail: expect.stringContaining('at most 100'),
    })
    client.say({ id: 'd', command: 'plugs' })
    expect(await client.until((m) => m.id === 'd')).toMatchObject({ ok: true, data: { plugs: 'dry' } })
    client.socket.end()
    screen.close()
  })

  it('a logger is the device in use: its frames are judged and shown, a bad one is told by field, a stop reaches it', async () => {
    const { id } = await newBuild(app, '1-lowland.json')
    const logger = lineClient(port)
    logger.say({ join: id, device: 'wing logger' })
    await logger.until((m) => m.type === 'hello')
    const screen = connect(id)
    expect(await screen.until((m) => m.type === 'hello')).toMatchObject({ device: 'line', name: 'wing logger' })
    logger.say({ type: 'frame', timeS: 0, rpm: 0, mapKpa: 99, batteryV: 12.6 })
    expect(await screen.until((m) => m.type === 'frame')).toMatchObject({ rpm: 0, mapKpa: 99, coolantC: null, state: 'key-on' })
    logger.say({ type: 'frame', timeS: 0.1, rpm: 99999 })
    expect(await logger.until((m) => m.type === 'bad')).toMatchObject({ detail: expect.stringMatching(/rpm .*15000/) })
    expect(await screen.send('crank', { on: true })).toMatchObject({ ok: false, detail: expect.stringContaining('only tells') })
    // ten seconds without oil pressure: the stop rule judges a real car as it does the bench
    for (let t = 1; t < 13; t += 0.25) logger.say({ type: 'frame', timeS: t, rpm: 800, oilPressureKpa: 0 })
    expect(await screen.until((m) => m.type === 'stopped')).toMatchObject({ reason: expect.stringContaining('No oil pressure') })
    await logger.until((m) => m.type === 'cut-off')
    logger.socket.end()
    expect(await screen.until((m) => m.type === 'ended')).toMatchObject({ reason: expect.stringContaining('use the key') })
    screen.close()
  })

  it('the same logger may come back while its engine runs, and what it told stands; another may not', async () => {
    const { id } = await newBuild(app, '1-lowland.json')
    const say = (logger: ReturnType<typeof lineClient>, from: number, to: number) => {
      for (let t = from; t < to; t++) logger.say({ type: 'frame', timeS: t / 10, rpm: 800, oilPressureKpa: 250 })
    }
    const first = lineClient(port)
    first.say({ join: id, device: 'wing logger' })
    await first.until((m) => m.type === 'hello')
    const screen = connect(id)
    const { session } = await screen.until((m) => m.type === 'hello')
    say(first, 0, 60)
    await screen.until((m) => m.type === 'frame' && m.timeS === 5.9)
    first.socket.destroy()
    await screen.until((m) => m.type === 'ended')

    const other = lineClient(port)
    other.say({ join: id, device: 'another logger' })
    expect(await other.until((m) => m.type === 'refused')).toMatchObject({ detail: expect.stringContaining('an engine runs') })
    screen.forget()
    const again = lineClient(port)
    again.say({ join: id, device: 'wing logger' })
    await again.until((m) => m.type === 'hello')
    expect(await screen.until((m) => m.type === 'hello')).toMatchObject({ session, name: 'wing logger' })
    say(again, 100, 160)
    await screen.until((m) => m.type === 'frame' && m.timeS === 15.9)
    expect(await screen.send('save-trace', { name: 'both' })).toMatchObject({ ok: true, data: { rows: 120 } })
    // a sample out of order is no new run
    again.say({ type: 'frame', timeS: 15.25, rpm: 800, oilPressureKpa: 250 })
    await screen.until((m) => m.type === 'frame' && m.timeS === 15.25)
    expect((await sessions.sessionOf(id)).evidence).toMatchObject({ sessionId: session, frames: { length: 1 } })
    // its clock set to nought: another run, which does not mix with the first
    screen.forget()
    say(again, 0, 60)
    expect((await screen.until((m) => m.type === 'hello')).session).not.toBe(session)
    await screen.until((m) => m.type === 'frame' && m.timeS === 5.9)
    expect(await screen.send('save-trace', { name: 'second' })).toMatchObject({ ok: true, data: { rows: 60 } })
    again.socket.end()
    screen.close()
  })

  it('takes 600 frames that come at once, and measures lines, not bursts', async () => {
    const { id } = await newBuild(app, '1-lowland.json')
    const logger = lineClient(port)
    const frames = Array.from({ length: 600 }, (_, i) =>
      JSON.stringify({ type: 'frame', timeS: i / 20, rpm: 800, mapKpa: 40.123456, coolantC: 81.5, batteryV: 13.9, oilPressureKpa: 250 }),
    )
    expect(frames.join('\n').length).toBeGreaterThan(64 * 1024)
    const screen = connect(id)
    logger.socket.write([JSON.stringify({ join: id, device: 'wing logger' }), ...frames, ''].join('\n'))
    await logger.until((m) => m.type === 'hello')
    await vi.waitUntil(async () => (await sessions.sessionOf(id)).evidence.frames.length === 600, { timeout: 45_000 })
    expect(logger.seen.map((m) => m.type)).toEqual(['hello'])
    logger.socket.end()
    screen.close()
  })

  it('ends at the first line that is not its protocol: what follows it is not done', async () => {
    const id = await onBench()
    const screen = connect(id)
    await screen.until((m) => m.type === 'hello')
    const orders = [{ join: id }, { id: 'a', command: 'throttle', pct: 33 }].map((line) => JSON.stringify(line)).join('\n')
    // a page's POST to this port
    const page = lineClient(port)
    page.say(`POST / HTTP/1.1\r\nHost: 127.0.0.1\r\nContent-Type: text/plain\r\n\r\n${orders}`)
    expect(await page.until((m) => m.type === 'refused')).toMatchObject({ code: 'INVALID_INPUT' })
    await page.ended
    // a client that has joined, and then speaks something else
    const client = lineClient(port)
    client.say(`${JSON.stringify({ join: id })}\nhello\n${JSON.stringify({ id: 'a', command: 'throttle', pct: 33 })}`)
    expect(await client.until((m) => m.type === 'refused')).toMatchObject({ detail: expect.stringContaining('one JSON object') })
    await client.ended
    expect([...page.seen, ...client.seen].filter((m) => m.type === 'reply')).toEqual([])
    expect(screen.seen.filter((m) => m.type === 'frame' && m.throttlePct === 33)).toEqual([])
    screen.close()
  })

  it.each([
    ['no join', '{"id":"a","command":"stop"}', 'INVALID_INPUT'],
    ['no JSON', 'hello', 'INVALID_INPUT'],
    ['a build that is not there', JSON.stringify({ join: '00000000-0000-4000-8000-000000000000' }), 'NOT_FOUND'],
    ['a line without end', 'x'.repeat(70_000), 'INVALID_INPUT'],
  ])('refuses %s in words and closes', async (_, line, code) => {
    const client = lineClient(port)
    client.say(line)
    expect(await client.until((m) => m.type === 'refused')).toMatchObject({ code, detail: expect.any(String) })
    await client.ended
  })
})

async function onBench(): Promise<string> {
  const { id } = await newBuild(app, '1-lowland.json')
  for (const { kind, value } of wiringProofs('1-lowland.json')) await record(id, kind, value)
  const tune = (await call(app, 'POST', `/api/builds/${id}/tunes`)).json
  await call(app, 'PATCH', `/api/builds/${id}/tunes/${tune.id}`, { status: 'in-car' })
  return id
}

describe('hands on the bench', () => {
  it('reads instruments with words and numbers, hears each injector, and refuses what the car’s state forbids', async () => {
    const client = connect(await onBench())
    await client.until((m) => m.type === 'hello')
    expect(await client.send('instrument', { instrument: 'multimeter' })).toMatchObject({
      ok: true,
      data: { values: { batteryV: expect.any(Number) } },
    })
    expect(await client.send('instrument', { instrument: 'vacuum-gauge' })).toMatchObject({
      ok: false,
      detail: expect.stringContaining('must run'),
    })
    expect(await client.send('instrument', { instrument: 'crystal-ball' })).toMatchObject({ ok: false, code: 'INVALID_INPUT' })
    expect(await client.send('click', { injector: 1 })).toMatchObject({ ok: false, detail: expect.stringContaining('Key on') })
    expect(await client.send('gear', { inGear: true })).toMatchObject({ ok: false, detail: 'Only an automatic idles in a gear.' })
    for (const [command, values] of [
      ['load', { brakeNm: 20 }],
      ['valve', { blocked: true }],
      ['screw', { turns: 0.5 }],
    ] as const)
      expect(await client.send(command, values)).toMatchObject({ ok: true })
    expect(await client.send('load', { brakeNm: 9000 })).toMatchObject({ ok: false, detail: expect.stringContaining('at most 600') })
    client.close()
  })

  it('many cars at once, each on its own clock and none in the way of the server', async () => {
    const ids = await Promise.all(Array.from({ length: 8 }, onBench))
    const clients = ids.map((id) => connect(id))
    await Promise.all(clients.map((c) => c.until((m) => m.type === 'hello')))
    await clients[0].send('clock', { rate: 20 })
    await Promise.all(clients.map((c) => passed(c, 0.6)))
    const lastS = (c: (typeof clients)[number]) => c.seen.findLast((m) => m.type === 'frame')!.timeS as number
    const from = clients.map(lastS)
    await passed(clients[1], 3)
    const spans = clients.map((c, i) => lastS(c) - from[i])
    expect((await call(app, 'GET', '/api/health')).status).toBe(200)
    // by the cars' own clocks, so that a busy machine may be late for all of them alike
    for (const span of spans.slice(1)) expect(Math.abs(span - spans[1])).toBeLessThan(1.5)
    expect(spans[0] / spans[1]).toBeGreaterThan(10)
    expect(spans[0] / spans[1]).toBeLessThan(40)
    for (const c of clients) c.close()
  })

  it('a screen that comes back finds the same session and the frames it missed', async () => {
    const id = await onBench()
    const first = connect(id)
    const hello = await first.until((m) => m.type === 'hello')
    await first.send('key', { on: true })
    await first.until((m) => m.type === 'frame' && m.state === 'key-on')
    const lastS = first.seen.filter((m) => m.type === 'frame').at(-1)!.timeS as number
    const other = connect(id)
    await other.until((m) => m.type === 'frame')
    first.close()
    await passed(other, 0.7)
    const again = await connect(id).until((m) => m.type === 'hello')
    expect(again.session).toBe(hello.session)
    const missed = again.recent.filter((f: { timeS: number }) => f.timeS > lastS)
    expect(missed.length).toBeGreaterThan(10)
    missed.slice(1).forEach((f: { timeS: number }, i: number) => expect(f.timeS - missed[i].timeS).toBeCloseTo(0.03, 3))
  })

  it('a client that does not read loses frames, never answers', async () => {
    const id = await onBench()
    const session = await sessions.open(id)
    const lines: string[] = []
    let backlog = 0
    const slow = { send: (line: string) => void lines.push(line), backlog: () => backlog }
    session.join(slow)
    const kinds = () => lines.map((l) => (JSON.parse(l) as Message).type)
    await vi.waitFor(() => expect(kinds()).toContain('frame'))
    backlog = 2 << 20
    lines.splice(0)
    await session.command({ id: '1', command: 'clock', rate: 2 }, 'Ada')
    await new Promise((r) => setTimeout(r, 300))
    expect(kinds()).toEqual(['clock'])
    session.leave(slow)
  })
})

describe('other devices', () => {
  it('a log is played again as a device: frames as it holds them, nothing written down, no commands; then back to the bench', async () => {
    const id = await onBench()
    const client = connect(id)
    await client.until((m) => m.type === 'hello')
    await client.send('key', { on: true })
    await client.send('clock', { rate: 5 })
    await passed(client, 5)
    const { data } = await client.send('save-trace', { name: 'key on' })
    const readings = async () => ((await call(app, 'GET', `/api/builds/${id}/readings`)).json as unknown as unknown[]).length
    const before = await readings()
    client.forget()
    const played = await client.send('replay', { logId: data.logId })
    expect(played, JSON.stringify(played)).toMatchObject({ ok: true, data: { rows: data.rows } })
    expect(await client.until((m) => m.type === 'hello')).toMatchObject({ device: 'replay', name: 'key on' })
    await client.until((m) => m.type === 'frame')
    expect(await client.send('crank', { on: true })).toMatchObject({ ok: false, detail: expect.stringContaining('takes no commands') })
    await client.until((m) => m.type === 'ended')
    expect(await readings()).toBe(before)
    expect(await client.send('throttle', { pct: 1 })).toMatchObject({ ok: false, detail: expect.stringContaining('No device') })
    client.forget()
    expect((await client.send('device', { use: 'bench' })).ok).toBe(true)
    expect(await client.until((m) => m.type === 'hello')).toMatchObject({ device: 'bench' })
    const other = await onBench()
    const stranger = connect(other)
    await stranger.until((m) => m.type === 'hello')
    expect(await stranger.send('replay', { logId: data.logId })).toMatchObject({ ok: false, code: 'NOT_FOUND' })
    for (const c of [client, stranger]) c.close()
  })
})

it('drives the bench car into a log that can be solved, but not before it has run', async () => {
  const { id } = await newBuild(app, '1-lowland.json')
  const drive = (minutes: number) => call(app, 'POST', `/api/builds/${id}/bench/drive`, { minutes })
  expect((await drive(3)).json).toMatchObject({ code: 'GATE_SHUT', detail: expect.stringContaining('No tune') })
  const tune = (await call(app, 'POST', `/api/builds/${id}/tunes`)).json
  await call(app, 'PATCH', `/api/builds/${id}/tunes/${tune.id}`, { status: 'in-car' })
  expect((await drive(3)).json).toMatchObject({ code: 'GATE_SHUT', detail: expect.stringContaining('has not run') })
  // as a session writes it
  const ran = { secondsToFire: 1, idleRpm: 750, coolantC: 80, tuneId: tune.id }
  await appendReading(store, id, randomUUID(), { kind: 'start.ran', value: ran, instrument: 'bench unit' }, 'Vectum, bench', {
    source: 'app',
  })
  const dyno = (plan: object) =>
    call(app, 'POST', `/api/builds/${id}/bench/dyno`, {
      mode: 'sweep',
      throttlePct: 100,
      fromRpm: 1500,
      toRpm: 2500,
      rpmPerS: 200,
      ...plan,
    })
  const run = await dyno({})
  expect(run.status, run.text).toBe(200)
  expect(run.json).toMatchObject({ tune: { number: 1 } })
  expect(run.json.rows.length).toBeGreaterThan(10)
  expect(run.json.rows[5]).toMatchObject({
    torqueNm: expect.any(Number),
    powerKw: expect.any(Number),
    lambda: expect.any(Number),
    knocks: 0,
  })
  expect((await dyno({ toRpm: 9000 })).json).toMatchObject({ detail: expect.stringMatching(/600 to 5200 rpm/) })
  expect((await dyno({ rpmPerS: 1 })).json).toMatchObject({ code: 'INVALID_INPUT' })
  expect((await drive(90)).json).toMatchObject({ code: 'INVALID_INPUT' })
  const log = await drive(3)
  expect(log.status).toBe(201)
  expect(log.json).toMatchObject({ rows: expect.any(Number), stalls: 0 })
  expect((await call(app, 'GET', `/api/logs/${log.json.id}`)).json.channels).toEqual(
    expect.arrayContaining(['timeS', 'rpm', 'mapKpa', 'lambda', 'speedKmh', 'gear']),
  )
})
