import type { FastifyInstance } from 'fastify'
import { randomUUID } from 'node:crypto'
import { afterAll, beforeAll, describe, expect, it, vi } from 'vitest'
import WebSocket from 'ws'
import { openDatabase } from '../src/db/data-source.ts'
import { PersonEntity } from '../src/db/entities.ts'
import { hashSecret, isSecret, newCode } from '../src/people/secrets.ts'
import { PeopleStore } from '../src/people/store.ts'
import { call, demoCar, freshDatabase, newBuild, startApp, wiringProofs } from './helpers.ts'

const SECRET = 'copper heron under glass'
const TOKEN = 'a-token-for-scripts-of-forty-characters!'
const HOME = { origin: 'http://localhost', host: 'localhost' }

let app: FastifyInstance
let close: () => Promise<void>
let databaseUrl: string
beforeAll(async () => {
  databaseUrl = await freshDatabase()
  ;({ app, close } = await startApp({ databaseUrl, apiToken: TOKEN }))
})
afterAll(() => close())

const cookieOf = (headers: Record<string, unknown>): string => String([headers['set-cookie']].flat().at(-1)).split(';')[0]
/** A browser on a page of this server, with the cookie it was given. */
const as =
  (cookie: string | null) =>
  (method: 'GET' | 'POST' | 'PUT' | 'PATCH', url: string, body?: unknown, headers: Record<string, string> = {}) =>
    call(app, method, url, body, { ...HOME, ...(cookie ? { cookie } : {}), ...headers })
const nobody = as(null)
async function signIn(name: string, secret = SECRET) {
  const answer = await nobody('POST', '/api/sign-in', { name, secret })
  expect(answer.status, answer.text).toBe(200)
  return as(cookieOf(answer.headers))
}
async function invited(owner: ReturnType<typeof as>, name: string, role: string) {
  const { json, status, text } = await owner('POST', '/api/people', { name, role })
  expect(status, text).toBe(201)
  const entered = await nobody('POST', '/api/sign-in/code', { code: json.invitation.code })
  expect(entered.json).toMatchObject({ access: 'signed-in', wantsSecret: true })
  const me = as(cookieOf(entered.headers))
  expect((await me('POST', '/api/me/secret', { secret: SECRET })).status).toBe(200)
  return { me, id: json.person.id as string }
}

describe('secrets', () => {
  it('are right only for the secret that was hashed, in any spelling of the same letters', async () => {
    const hashed = await hashSecret('Caf\u00e9 behind the weir')
    expect(hashed).toMatch(/^scrypt\$[\w-]{22}\$[\w-]{43}$/)
    expect(await isSecret('Cafe\u0301 behind the weir', hashed)).toBe(true)
    expect(await isSecret('cafe behind the weir', hashed)).toBe(false)
    expect(await isSecret('Caf\u00e9 behind the weir', null)).toBe(false)
    expect(await hashSecret('Caf\u00e9 behind the weir')).not.toBe(hashed)
  })
  it('codes use letters that cannot be taken for each other', () => {
    for (let i = 0; i < 200; i++) expect(newCode()).toMatch(/^[ABCDEFGHJKMNPQRSTVWXYZ2-9]{10}$/)
  })
})

describe('before anybody signs in', () => {
  it('this machine is open under the name that is sent, and says so', async () => {
    expect((await nobody('GET', '/api/me')).json).toEqual({
      access: 'open',
      person: null,
      role: 'owner',
      wantsSecret: false,
      firstOwner: true,
    })
    const { id } = await newBuild(app)
    const entry = `/api/builds/${id}/readings/${randomUUID()}`
    const { json } = await nobody('PUT', entry, { kind: 'note', value: { text: 'looked' } }, { 'x-vectum-person': 'Ada' })
    expect(json.who).toBe('Ada')
  })

  it('another machine, or one behind a proxy that nobody named, is not let in and makes no owner', async () => {
    for (const from of [{ remoteAddress: '192.168.1.30' }, { headers: { 'x-forwarded-for': '127.0.0.1' } }]) {
      const { headers = {}, ...rest } = from as { headers?: Record<string, string> }
      const ask = async (method: 'GET' | 'POST', url: string, payload?: object) =>
        (await app.inject({ method, url, payload, headers: { ...HOME, ...headers }, ...rest })).json()
      expect(await ask('GET', '/api/builds')).toMatchObject({
        code: 'SIGN_IN_FIRST',
        detail: expect.stringContaining('Nobody signs in here yet'),
      })
      expect(await ask('POST', '/api/people/first', { name: 'Somebody else', secret: SECRET })).toMatchObject({ code: 'LOOPBACK_ONLY' })
      expect(await ask('GET', '/api/me')).toMatchObject({ access: 'signed-out', firstOwner: false })
    }
  })

  it('refuses a first owner with a secret that is short, of few characters, or holds the name', async () => {
    for (const [secret, says] of [
      ['eleven char', '12'],
      ['aaaabbbbaaaa', 'few different'],
      ['it is ada again', 'holds the name'],
    ]) {
      const { status, json } = await nobody('POST', '/api/people/first', { name: 'Ada', secret })
      expect([status, json.code]).toEqual([400, 'INVALID_INPUT'])
      expect(JSON.stringify(json.errors)).toContain(says)
    }
  })
})

describe('once there is an owner', () => {
  let ada: ReturnType<typeof as>
  it('who made it is signed in by a cookie that no script reads and no other page sends', async () => {
    const answers = await Promise.all([0, 1].map(() => nobody('POST', '/api/people/first', { name: 'Ada', secret: SECRET })))
    // two at once: one owner
    expect(answers.map((a) => a.status).sort()).toEqual([201, 409])
    const made = answers.find((a) => a.status === 201)!
    expect(made.json).toMatchObject({ access: 'signed-in', role: 'owner', person: { name: 'Ada', role: 'owner' }, firstOwner: false })
    const cookie = String(made.headers['set-cookie'])
    expect(cookie).toMatch(/^vectum-session=[\w-]{43};/)
    for (const part of ['HttpOnly', 'SameSite=Strict', 'Path=/', 'Max-Age=604800']) expect(cookie).toContain(part)
    ada = as(cookieOf(made.headers))
  })

  it('nobody else reads or writes; health, sums and their description stay open', async () => {
    for (const [method, url] of [
      ['GET', '/api/builds'],
      ['GET', '/api/people'],
      ['GET', '/%61pi/builds'],
      ['GET', '/api/%62uilds'],
      ['GET', '/api/nothing-there'],
      ['POST', '/api/builds'],
      ['GET', `/api/builds/${randomUUID()}/live`],
    ] as const) {
      const { status, json } = await nobody(method, url, method === 'POST' ? { title: 'x' } : undefined)
      expect([url, status, json.code]).toEqual([url, 401, 'SIGN_IN_FIRST'])
    }
    for (const url of ['/api/health', '/api/calc', '/api/openapi.json', '/api/docs/'])
      expect((await nobody('GET', url)).status, url).toBe(200)
    expect((await nobody('GET', '/api/calculations')).status).toBe(401)
  })

  it('an unknown name and a wrong secret are answered in the same words', async () => {
    const wrong = await nobody('POST', '/api/sign-in', { name: 'Ada', secret: 'copper heron under grass' })
    const unknown = await nobody('POST', '/api/sign-in', { name: 'Nobody', secret: SECRET })
    expect([wrong.status, wrong.text]).toEqual([401, unknown.text])
    expect(wrong.json.code).toBe('SIGN_IN_FAILED')
    expect(wrong.headers['set-cookie']).toBeUndefined()
  })

  it('who stands in an entry is who signed in, whatever body and header say', async () => {
    const { json: build } = await ada('POST', '/api/builds', { title: 'Whose' })
    const body = { kind: 'note', value: { text: 'x' }, who: 'Somebody else' }
    const { json } = await ada('PUT', `/api/builds/${build.id}/readings/${randomUUID()}`, body, { 'x-vectum-person': 'Somebody else' })
    expect(json.who).toBe('Ada')
    const { json: book } = await ada('GET', `/api/builds/${build.id}/logbook`)
    expect(JSON.stringify(book)).not.toContain('Somebody else')
  })

  it('a write by cookie without its page is refused; a made-up, an ended and a foreign token sign nobody in', async () => {
    const bare = await call(
      app,
      'POST',
      '/api/builds',
      { title: 'x' },
      { host: 'localhost', cookie: cookieOf({ 'set-cookie': await cookie('Ada') }) },
    )
    expect([bare.status, bare.json.code]).toEqual([403, 'ORIGIN_NOT_ALLOWED'])
    expect((await as(`vectum-session=${'A'.repeat(43)}`)('GET', '/api/builds')).status).toBe(401)
    // another person signs in on the same browser: the first is signed out there
    const first = cookieOf({ 'set-cookie': await cookie('Ada') })
    expect((await as(first)('POST', '/api/sign-in', { name: 'Ada', secret: SECRET })).status).toBe(200)
    expect((await as(first)('GET', '/api/builds')).status).toBe(401)
    const leaving = await signIn('Ada')
    expect((await leaving('POST', '/api/sign-out')).json).toMatchObject({ access: 'signed-out', person: null })
    expect((await leaving('GET', '/api/builds')).status).toBe(401)
  })
  const cookie = async (name: string) => String((await nobody('POST', '/api/sign-in', { name, secret: SECRET })).headers['set-cookie'])

  it('a script with the token works as a fitter, under no person’s name; a wrong token is refused', async () => {
    const bearer = (token: string) => ({ host: 'localhost', authorization: `Bearer ${token}` })
    const made = await call(app, 'POST', '/api/builds', { title: 'By script' }, bearer(TOKEN))
    expect(made.status).toBe(201)
    const entry = await call(
      app,
      'PUT',
      `/api/builds/${made.json.id}/readings/${randomUUID()}`,
      { kind: 'note', value: { text: 'x' }, who: 'Ada' },
      bearer(TOKEN),
    )
    expect(entry.json.who).toBe('script')
    for (const token of [TOKEN.slice(1), `${TOKEN} `, 'x'])
      expect((await call(app, 'GET', '/api/builds', undefined, bearer(token))).json).toMatchObject({ code: 'TOKEN_WRONG' })
    expect((await call(app, 'POST', '/api/people', { name: 'Robot', role: 'owner' }, bearer(TOKEN))).json).toMatchObject({
      code: 'ROLE_TOO_LOW',
    })
  })

  it('roles: a reader changes nothing, a fitter invites nobody; what is only worked out is anybody’s', async () => {
    const { me: reader } = await invited(ada, 'Rhea', 'reader')
    const { me: fitter } = await invited(ada, 'Finn', 'fitter')
    const { json: build } = await fitter('POST', '/api/builds', { title: 'Roles' })
    const writes = [
      ['POST', '/api/builds', { title: 'x' }],
      ['PUT', `/api/builds/${build.id}/readings/${randomUUID()}`, { kind: 'note', value: { text: 'x' } }],
      ['PATCH', `/api/builds/${build.id}`, { title: 'y' }],
      ['POST', `/api/builds/${build.id}/tunes`, {}],
    ] as const
    for (const [method, url, body] of writes) {
      const { status, json } = await reader(method, url, body)
      expect([url, status, json.code]).toEqual([url, 403, 'ROLE_TOO_LOW'])
    }
    expect((await reader('GET', `/api/builds/${build.id}`)).status).toBe(200)
    expect((await reader('POST', `/api/builds/${build.id}/plan/effect`, { choices: {} })).json.code).not.toBe('ROLE_TOO_LOW')
    expect((await fitter('POST', '/api/people', { name: 'X', role: 'fitter' })).json.code).toBe('ROLE_TOO_LOW')
  })

  it('a code pairs a tablet as who made it, once, read out in any case and spacing', async () => {
    const { json: made } = await ada('POST', '/api/pairings', {})
    const left = new Date(made.expiresAt).getTime() - Date.now()
    expect([left > 9 * 60_000, left <= 10 * 60_000]).toEqual([true, true])
    const spoken = `${made.code.slice(0, 5).toLowerCase()} - ${made.code.slice(5)}`
    const tries = await Promise.all([0, 1].map(() => nobody('POST', '/api/sign-in/code', { code: spoken })))
    expect(tries.map((t) => t.status).sort()).toEqual([200, 401])
    const tablet = tries.find((t) => t.status === 200)!
    expect(tablet.json).toMatchObject({ person: { name: 'Ada' }, wantsSecret: false })
    // a borrowed tablet cannot change the secret of who lent it
    expect((await as(cookieOf(tablet.headers))('POST', '/api/me/secret', { secret: 'another secret of mine' })).json.code).toBe(
      'SIGN_IN_FAILED',
    )
    expect((await nobody('POST', '/api/sign-in/code', { code: 'ABCDEFGHJK' })).status).toBe(401)
  })

  it('who leaves is signed out everywhere, their stream closes, their entries and their name stay', async () => {
    const { me, id } = await invited(ada, 'Lev', 'fitter')
    const { json: build } = await me('POST', '/api/builds', { title: 'Of Lev' })
    await me('PUT', `/api/builds/${build.id}/readings/${randomUUID()}`, { kind: 'note', value: { text: 'mine' } })
    expect((await ada('PATCH', `/api/people/${id}`, { leaves: true })).json.leftAt).not.toBeNull()
    expect((await me('GET', '/api/builds')).status).toBe(401)
    expect((await nobody('POST', '/api/sign-in', { name: 'Lev', secret: SECRET })).json.code).toBe('SIGN_IN_FAILED')
    const { json: readings } = await ada('GET', `/api/builds/${build.id}/readings`)
    expect((readings as unknown as { who: string }[]).map((r) => r.who)).toEqual(['Lev'])
    expect((await ada('POST', '/api/people', { name: 'lev', role: 'fitter' })).json.code).toBe('ALREADY_EXISTS')
    expect((await ada('PATCH', `/api/people/${id}`, { role: 'reader' })).json.code).toBe('HAS_LEFT')
  })

  it('the last owner who can sign in neither leaves nor steps down', async () => {
    const { json: people } = await ada('GET', '/api/people')
    const mine = (people as unknown as { id: string; name: string }[]).find((p) => p.name === 'Ada')!.id
    for (const change of [{ leaves: true }, { role: 'fitter' }])
      expect((await ada('PATCH', `/api/people/${mine}`, change)).json.code).toBe('LAST_OWNER')
    // one who was only invited could not let anybody in yet
    const { json: second } = await ada('POST', '/api/people', { name: 'Otto', role: 'owner' })
    expect((await ada('PATCH', `/api/people/${mine}`, { role: 'fitter' })).json.code).toBe('LAST_OWNER')
    expect((await ada('PATCH', `/api/people/${second.person.id}`, { leaves: true })).status).toBe(200)
  })

  it('a new secret ends the other sign-ins, and wants the old one', async () => {
    const { me: here } = await invited(ada, 'Nova', 'fitter')
    const there = await signIn('Nova')
    expect((await here('POST', '/api/me/secret', { secret: 'winter barley at noon', current: 'not the old one' })).json.code).toBe(
      'SIGN_IN_FAILED',
    )
    expect((await here('POST', '/api/me/secret', { secret: 'winter barley at noon', current: SECRET })).status).toBe(200)
    expect([(await here('GET', '/api/builds')).status, (await there('GET', '/api/builds')).status]).toEqual([200, 401])
    await signIn('Nova', 'winter barley at noon')
  })

  it('the stream: nobody without a sign-in, a reader only watches and stops, and it closes with the sign-in', async () => {
    const port = Number(new URL(await app.listen({ host: '127.0.0.1', port: 0 })).port)
    const { facts, choices } = demoCar('1-lowland.json')
    const { json: build } = await ada('POST', '/api/builds', { title: 'Watched', facts, choices })
    for (const { kind, value } of wiringProofs('1-lowland.json'))
      await ada('PUT', `/api/builds/${build.id}/readings/${randomUUID()}`, { kind, value })
    const { json: tune } = await ada('POST', `/api/builds/${build.id}/tunes`)
    await ada('PATCH', `/api/builds/${build.id}/tunes/${tune.id}`, { status: 'in-car' })
    const open = (cookie: string | null) =>
      new WebSocket(`ws://localhost:${port}/api/builds/${build.id}/live`, {
        headers: cookie ? { cookie } : {},
        origin: `http://localhost:${port}`,
      })
    const refused = open(null)
    expect(
      await new Promise((resolve) =>
        refused.on('unexpected-response', (_, response) => resolve(response.statusCode)).on('error', () => {}),
      ),
    ).toBe(401)
    const rhea = cookieOf({ 'set-cookie': await cookie('Rhea') })
    const bare = new WebSocket(`ws://localhost:${port}/api/builds/${build.id}/live`, { headers: { cookie: rhea } })
    expect(
      await new Promise((resolve) => bare.on('unexpected-response', (_, answer) => resolve(answer.statusCode)).on('error', () => {})),
    ).toBe(403)
    const socket = open(rhea)
    const replies: Record<string, unknown>[] = []
    socket.on('message', (data: Buffer) => {
      for (const line of data.toString().split('\n').filter(Boolean)) replies.push(JSON.parse(line))
    })
    const reply = async (command: string) => {
      socket.send(JSON.stringify({ id: command, command, ...(command === 'key' ? { on: true } : {}) }))
      await expect.poll(() => replies.find((r) => r.type === 'reply' && r.id === command), { timeout: 45_000 }).toBeTruthy()
      return replies.find((r) => r.type === 'reply' && r.id === command)!
    }
    await expect.poll(() => replies.some((r) => r.type === 'hello'), { timeout: 45_000 }).toBe(true)
    expect(await reply('key')).toMatchObject({ ok: false, code: 'ROLE_TOO_LOW' })
    expect(await reply('stop')).toMatchObject({ ok: true })
    const ada2 = cookieOf({ 'set-cookie': await cookie('Ada') })
    const working = open(ada2)
    const heard: Record<string, unknown>[] = []
    working.on('message', (data: Buffer) => {
      for (const line of data.toString().split('\n').filter(Boolean)) heard.push(JSON.parse(line))
    })
    const answered = async (id: string, command: object) => {
      working.send(JSON.stringify({ id, ...command }))
      await expect.poll(() => heard.find((r) => r.type === 'reply' && r.id === id), { timeout: 45_000 }).toBeTruthy()
      return heard.find((r) => r.type === 'reply' && r.id === id)!
    }
    await expect.poll(() => heard.some((r) => r.type === 'hello'), { timeout: 45_000 }).toBe(true)
    expect(await answered('on', { command: 'key', on: true })).toMatchObject({ ok: true })
    await expect.poll(() => heard.some((r) => r.type === 'frame' && r.state === 'key-on'), { timeout: 45_000 }).toBe(true)
    let gone: unknown = null
    working.on('close', (code) => (gone = code))
    expect((await as(ada2)('POST', '/api/sign-out', undefined, { origin: 'http://localhost' })).status).toBe(200)
    await expect.poll(() => heard.some((r) => r.type === 'signed-out')).toBe(true)
    expect(await answered('sweep', { command: 'sweep' })).toMatchObject({ ok: false, code: 'ROLE_TOO_LOW' })
    expect(gone).toBeNull()
    expect(await answered('stop', { command: 'stop' })).toMatchObject({ ok: true })
    await expect.poll(() => gone, { timeout: 45_000 }).toBe(4401)

    const closed = new Promise((resolve) => socket.on('close', resolve))
    expect((await as(rhea)('POST', '/api/sign-out', undefined, { origin: 'http://localhost' })).status).toBe(200)
    expect(await closed).toBe(4401)
  })

  it('after ten tries at one name the next waits, a right one as well', async () => {
    const tries = []
    for (let i = 0; i < 11; i++) tries.push(await nobody('POST', '/api/sign-in', { name: 'Guessed', secret: `guess number ${i}` }))
    expect(tries.map((t) => t.status)).toEqual([...Array(10).fill(401), 429])
    expect(tries.at(-1)!.json).toMatchObject({ code: 'TOO_MANY_REQUESTS' })
    expect(Number(tries.at(-1)!.headers['retry-after'])).toBeGreaterThan(0)
  })
})

describe('how long a sign-in lasts', () => {
  const HOUR = 3_600_000
  let now = Date.parse('2026-05-04T08:00:00Z')
  let people: PeopleStore
  let connection: Awaited<ReturnType<typeof openDatabase>>
  let end: () => Promise<void>
  let ada: string
  beforeAll(async () => {
    const db = (connection = await openDatabase(await freshDatabase()))
    people = new PeopleStore(db, () => now)
    end = () => (people.close(), db.destroy())
    ada = (await people.addFirst('Ada', SECRET)).id
  })
  afterAll(() => end())
  const standing = async (token: string) => (await people.whoIs(token, true)) !== null

  it('a request that was read before its person left is not what the next one goes by', async () => {
    const ben = await people.add('Ben', 'fitter')
    const token = await people.signIn(ben.id, 'tablet')
    const rows = connection.getRepository(PersonEntity)
    const find = rows.findOneBy.bind(rows)
    let leave = (): void => {}
    const left = new Promise<void>((resolve) => (leave = resolve))
    const slow = vi.spyOn(rows, 'findOneBy').mockImplementationOnce(async (where) => {
      const row = await find(where)
      await left
      return row
    })
    const under = people.whoIs(token, false)
    await vi.waitFor(() => expect(slow).toHaveBeenCalled())
    await people.change(ben.id, { leaves: true })
    leave()
    await under
    expect(await standing(token)).toBe(false)
  })

  it('ends after 12 hours of rest, or 7 days in all', async () => {
    const rested = await people.signIn(ada, 'a screen')
    now += 12 * HOUR - 1000
    const fresh = (await people.whoIs(rested, true))!.token!
    now += 12 * HOUR + 61_000
    expect(await standing(fresh)).toBe(false)

    let token = await people.signIn(ada, 'a screen')
    for (let hours = 0; hours < 7 * 24 - 11; hours += 11) {
      now += 11 * HOUR
      token = (await people.whoIs(token, true))?.token ?? token
    }
    expect(await standing(token)).toBe(true)
    now += 11 * HOUR
    expect(await standing(token)).toBe(false)
  })

  it('gets a new token each hour; the one before goes on until the new one was seen, then no more', async () => {
    const first = await people.signIn(ada, 'a screen')
    now += HOUR - 1000
    expect((await people.whoIs(first, true))!.token).toBeUndefined()
    now += 2000
    // an upgrade cannot carry a cookie
    expect((await people.whoIs(first, false))!.token).toBeUndefined()
    now += 3000
    const second = (await people.whoIs(first, true))!.token!
    expect(second).not.toBe(first)
    now += 30_000
    expect((await people.whoIs(first, true))!.token).toBeUndefined()
    now += 61_000
    // the answer was lost: the old one is still held, and is told anew
    const third = (await people.whoIs(first, true))!.token!
    expect(await standing(second)).toBe(false)
    now += 61_000
    expect(await standing(third)).toBe(true)
    expect(await standing(first)).toBe(false)
  })

  it('a code lasts ten minutes, an invitation two days', async () => {
    const { code } = await people.makeCode(ada, false)
    const { code: invitation } = await people.makeCode(ada, true)
    now += 10 * 60_000 + 1
    expect(await people.useCode(code)).toBeNull()
    now += 47 * HOUR
    expect(await people.useCode(invitation)).toMatchObject({ setsSecret: true, person: { name: 'Ada' } })
    expect(await people.useCode(invitation)).toBeNull()
  })
})
