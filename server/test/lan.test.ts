import { execFileSync, spawnSync } from 'node:child_process'
import { mkdtempSync, readFileSync, rmSync, statSync } from 'node:fs'
import { request } from 'node:https'
import { createConnection, type Socket } from 'node:net'
import { tmpdir } from 'node:os'
import { join } from 'node:path'
import { connect as connectTls } from 'node:tls'
import { afterAll, beforeAll, describe, expect, it } from 'vitest'
import { ConfigError, readConfig } from '../src/config.ts'
import { lineServer } from '../src/live/tcp.ts'
import { call, freshDatabase, newBuild, root, startApp } from './helpers.ts'

const TOKEN = 'a-token-for-scripts-of-forty-characters!'
let dir: string
let tls: { cert: Buffer; key: Buffer }
let ca: Buffer
beforeAll(() => {
  dir = mkdtempSync(join(tmpdir(), 'vectum-lan-'))
  execFileSync(process.execPath, ['scripts/certificate.mjs', 'quay.lan', '192.168.1.20'], {
    cwd: root,
    env: { ...process.env, VECTUM_DATA_DIR: dir },
  })
  const file = (name: string) => readFileSync(join(dir, 'tls', name))
  tls = { cert: file('server.crt'), key: file('server.key') }
  ca = file('authority.crt')
})
afterAll(() => rmSync(dir, { recursive: true, force: true }))

const base = { VECTUM_DATABASE_URL: 'mysql://x' }
const refused = (env: Record<string, string>): string => {
  try {
    readConfig({ ...base, ...env })
  } catch (error) {
    if (error instanceof ConfigError) return error.message
    throw error
  }
  return ''
}

describe('what it is started with', () => {
  it('a LAN address is one of its names; every address needs the names said', () => {
    expect(readConfig({ ...base, VECTUM_HOST: '192.168.1.20' }).allowedHosts).toEqual(['localhost', '127.0.0.1', '[::1]', '192.168.1.20'])
    expect(readConfig({ ...base, VECTUM_HOST: '0.0.0.0', VECTUM_ALLOWED_HOSTS: 'quay.lan' }).allowedHosts).toEqual([
      'localhost',
      '127.0.0.1',
      '[::1]',
      'quay.lan',
    ])
    expect(refused({ VECTUM_HOST: '0.0.0.0' })).toMatch(/VECTUM_ALLOWED_HOSTS must list the names/)
  })
  it('a token of fewer than 32 characters, a lone key and a file that is not there are named', () => {
    expect(refused({ VECTUM_API_TOKEN: 'x'.repeat(31) })).toMatch(/VECTUM_API_TOKEN has 31 characters; it must have 32 to 200/)
    expect(readConfig({ ...base, VECTUM_API_TOKEN: 'x'.repeat(32) }).apiToken).toHaveLength(32)
    expect(refused({ VECTUM_TLS_KEY: join(dir, 'tls/server.key') })).toMatch(/VECTUM_TLS_CERT is not set/)
    expect(refused({ VECTUM_TLS_CERT: join(dir, 'gone.crt'), VECTUM_TLS_KEY: 'x' })).toMatch(/gone\.crt", which cannot be read \(ENOENT\)/)
  })
})

describe('npm run certificate', () => {
  it('signs what it was asked for, and this machine, by an authority that signs nothing below it', () => {
    const shown = (file: string) =>
      execFileSync('openssl', ['x509', '-in', join(dir, 'tls', file), '-noout', '-text'], { encoding: 'utf8' })
    for (const name of [
      'DNS:quay.lan',
      'IP Address:192.168.1.20',
      'DNS:localhost',
      'IP Address:127.0.0.1',
      'CA:FALSE',
      'TLS Web Server Authentication',
    ])
      expect(shown('server.crt')).toContain(name)
    expect(shown('authority.crt')).toContain('CA:TRUE, pathlen:0')
    for (const key of ['server.key', 'authority.key']) expect(statSync(join(dir, 'tls', key)).mode & 0o077).toBe(0)
  })
  it('made again, keeps the authority that tablets trust; a wrong name is named', () => {
    execFileSync(process.execPath, ['scripts/certificate.mjs', 'other.lan'], { cwd: root, env: { ...process.env, VECTUM_DATA_DIR: dir } })
    expect(readFileSync(join(dir, 'tls/authority.crt'))).toEqual(ca)
    const wrong = spawnSync(process.execPath, ['scripts/certificate.mjs', 'a b'], {
      cwd: root,
      encoding: 'utf8',
      env: { ...process.env, VECTUM_DATA_DIR: dir },
    })
    expect([wrong.status, wrong.stderr]).toEqual([1, expect.stringContaining('"a b" is no host name')])
  })
})

describe('over https', () => {
  it('the cookie is for https alone, and the page and its stream are spoken to under the same door', async () => {
    const { app, close } = await startApp({ databaseUrl: await freshDatabase(), tls })
    const { port } = new URL(await app.listen({ host: '127.0.0.1', port: 0 }))
    const ask = (method: string, path: string, body?: object, headers: Record<string, string> = {}) =>
      new Promise<{ status: number; headers: Record<string, unknown>; text: string }>((resolve, reject) => {
        const sent = request(
          {
            host: '127.0.0.1',
            port,
            method,
            path,
            ca,
            servername: 'localhost',
            headers: { host: `localhost:${port}`, ...(body ? { 'content-type': 'application/json' } : {}), ...headers },
          },
          (answer) => {
            let text = ''
            answer.on('data', (d: Buffer) => (text += d.toString()))
            answer.on('end', () => resolve({ status: answer.statusCode!, headers: answer.headers, text }))
          },
        )
        sent.on('error', reject)
        sent.end(body && JSON.stringify(body))
      })
    try {
      const origin = `https://localhost:${port}`
      const made = await ask('POST', '/api/people/first', { name: 'Ada', secret: 'copper heron under glass' }, { origin })
      expect(made.status, made.text).toBe(201)
      const cookie = String(made.headers['set-cookie'])
      expect(cookie).toMatch(/^__Host-vectum-session=/)
      expect(cookie).toContain('Secure')
      expect((await ask('GET', '/api/builds', undefined, { cookie: cookie.split(';')[0] })).status).toBe(200)
      // a name without the prefix could have been set by a page over plain http
      expect((await ask('GET', '/api/builds', undefined, { cookie: cookie.split(';')[0].replace('__Host-', '') })).status).toBe(401)
    } finally {
      await close()
    }
  })

  it('the line port speaks TLS too, and wants the token beyond this machine', async () => {
    const { app, sessions, close } = await startApp({ databaseUrl: await freshDatabase() })
    const { id } = await newBuild(app)
    const asked: (string | undefined)[] = []
    const lines = lineServer(sessions, async (token) => (asked.push(token), token === TOKEN), tls)
    await new Promise<void>((resolve) => lines.listen(0, '127.0.0.1', resolve))
    const { port } = lines.address() as { port: number }
    const first = async (socket: Socket, line: object) => {
      const heard = await new Promise<string>((resolve) => {
        let text = ''
        socket.on('data', (d: Buffer) => (text += d.toString()).includes('\n') && resolve(text.split('\n')[0]))
        socket.on('close', () => resolve(text))
        socket.on('error', () => resolve(text))
        socket.write(JSON.stringify(line) + '\n')
      })
      socket.destroy()
      return heard
    }
    const secure = () => connectTls({ host: '127.0.0.1', port, ca, servername: 'localhost' })
    try {
      expect(await first(secure(), { join: id, device: 'logger' })).toContain('"TOKEN_WRONG"')
      expect(await first(secure(), { join: id, device: 'logger', token: TOKEN })).toContain('"hello"')
      expect(asked).toEqual([undefined, TOKEN])
      expect(await first(createConnection({ host: '127.0.0.1', port }), { join: id, token: TOKEN })).toBe('')
    } finally {
      await new Promise((resolve) => lines.close(resolve))
      await close()
    }
  })
})

describe('npm run person', () => {
  const person = (databaseUrl: string, ...args: string[]) =>
    spawnSync(process.execPath, ['server/dist/person.js', ...args], {
      cwd: root,
      encoding: 'utf8',
      env: { ...process.env, VECTUM_DATABASE_URL: databaseUrl },
    })

  it('lists who there is; a reset gives the only owner a code that sets a new secret', async () => {
    const databaseUrl = await freshDatabase()
    const { app, close } = await startApp({ databaseUrl })
    try {
      expect(person(databaseUrl).stdout).toContain('Nobody signs in here yet')
      expect(person(databaseUrl, 'reset')).toMatchObject({ status: 1, stderr: expect.stringContaining('Nobody signs in here yet') })
      const headers = { origin: 'http://localhost', host: 'localhost' }
      await call(app, 'POST', '/api/people/first', { name: 'Ada', secret: 'copper heron under glass' }, headers)
      expect(person(databaseUrl).stdout).toBe('Ada: owner\n')
      expect(person(databaseUrl, 'reset', 'Bob')).toMatchObject({ status: 1, stderr: expect.stringContaining('Here are: Ada') })
      const code = /: ([A-Z2-9]{5} [A-Z2-9]{5})\n/.exec(person(databaseUrl, 'reset').stdout)![1]
      const entered = await call(app, 'POST', '/api/sign-in/code', { code }, headers)
      expect(entered.json).toMatchObject({ person: { name: 'Ada' }, wantsSecret: true })
      const cookie = String(entered.headers['set-cookie']).split(';')[0]
      expect((await call(app, 'POST', '/api/me/secret', { secret: 'winter barley at noon' }, { ...headers, cookie })).status).toBe(200)
      expect((await call(app, 'POST', '/api/sign-in', { name: 'ada', secret: 'copper heron under glass' }, headers)).status).toBe(401)
      expect((await call(app, 'POST', '/api/sign-in', { name: 'ada', secret: 'winter barley at noon' }, headers)).status).toBe(200)
    } finally {
      await close()
    }
  })
})
