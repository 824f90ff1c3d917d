import { fork, spawn, type ChildProcess } from 'node:child_process'
import { randomUUID } from 'node:crypto'
import { mkdtempSync, rmSync } from 'node:fs'
import { tmpdir } from 'node:os'
import { join } from 'node:path'
import { afterAll, describe, expect, it, vi } from 'vitest'
// @ts-expect-error the scripts are plain JavaScript, since they run before any package is there
import { freePort, startDatabase } from '../../scripts/lib.mjs'
import { call, demoCar, newBuild, root, startApp, testDatabaseUrl } from './helpers.ts'

const scratch = mkdtempSync(join(tmpdir(), 'vectum-faults-'))
afterAll(() => rmSync(scratch, { recursive: true, force: true }))

async function serve(env: Record<string, string>): Promise<{ child: ChildProcess; address: string }> {
  const child = fork(join(root, 'server/dist/main.js'), {
    cwd: root,
    env: { ...process.env, VECTUM_DEMO: 'off', VECTUM_DATA_DIR: scratch, VECTUM_PORT: '0', ...env },
    stdio: ['ignore', 'pipe', 'pipe', 'ipc'],
  })
  const address = await new Promise<string>((resolve, reject) => {
    child.once('message', (m) => resolve((m as { ready: string }).ready))
    child.once('exit', (code) => reject(new Error(`server ended with ${code}`)))
  })
  return { child, address }
}

describe('faults', () => {
  it('a database stopped under a running server: a clear answer, then the same data when it is back', async () => {
    const port = (await freePort()) as number
    let db = (await startDatabase(join(scratch, 'own'), { fast: false, port })) as { url: string; stop: () => Promise<void> }
    const { app, close } = await startApp({ databaseUrl: db.url })
    const { id } = await newBuild(app, '1-lowland.json')
    await db.stop()
    expect(await call(app, 'GET', '/api/health')).toMatchObject({
      status: 503,
      json: { ok: false, database: 'down', code: 'DATABASE_DOWN' },
    })
    const write = await call(app, 'PATCH', `/api/builds/${id}`, { title: 'Renamed' }, { 'if-match': '1' })
    expect(write).toMatchObject({ status: 503, json: { code: 'DATABASE_DOWN', detail: expect.stringContaining('Nothing was saved') } })
    expect(write.text).not.toMatch(/ECONN|127\.0\.0\.1|sql/i)
    db = (await startDatabase(join(scratch, 'own'), { fast: false, port })) as typeof db
    await vi.waitFor(async () => expect((await call(app, 'GET', '/api/health')).status).toBe(200))
    expect((await call(app, 'GET', `/api/builds/${id}`)).json).toMatchObject({ version: 1, facts: { engine: { displacementCc: 3180 } } })
    expect((await call(app, 'PATCH', `/api/builds/${id}`, { title: 'Renamed' }, { 'if-match': '1' })).status).toBe(200)
    await close()
    await db.stop()
  })

  it('a server killed in the middle of saving loses nothing it acknowledged and keeps nothing half', async () => {
    const first = await serve({ VECTUM_DATABASE_URL: testDatabaseUrl() })
    const send = (address: string, method: string, path: string, body: unknown, headers = {}) =>
      fetch(address + path, { method, headers: { 'content-type': 'application/json', ...headers }, body: JSON.stringify(body) })
    const { id } = (await (
      await send(first.address, 'POST', '/api/builds', { title: 'Killed', facts: demoCar('1-lowland.json').facts })
    ).json()) as { id: string }
    const acknowledged: string[] = []
    let stop = false
    const writers = Array.from({ length: 6 }, async () => {
      while (!stop) {
        const readingId = randomUUID()
        try {
          const answer = await send(first.address, 'PUT', `/api/builds/${id}/readings/${readingId}`, {
            kind: 'note',
            value: { text: readingId },
          })
          if (answer.ok) acknowledged.push(readingId)
        } catch {
          return
        }
      }
    })
    await vi.waitFor(() => expect(acknowledged.length).toBeGreaterThan(20), { timeout: 30_000, interval: 5 })
    first.child.kill('SIGKILL')
    stop = true
    await Promise.all(writers)
    const second = await serve({ VECTUM_DATABASE_URL: testDatabaseUrl() })
    const readings = (await (await fetch(`${second.address}/api/builds/${id}/readings`)).json()) as { id: string }[]
    const kept = new Set(readings.map((r) => r.id))
    expect(acknowledged.filter((r) => !kept.has(r))).toEqual([])
    let before = ''
    let lines = 0
    for (;;) {
      const page = (await (await fetch(`${second.address}/api/builds/${id}/logbook?kind=reading&limit=500${before}`)).json()) as {
        entries: { seq: number }[]
        more: boolean
      }
      lines += page.entries.length
      if (!page.more) break
      before = `&before=${page.entries.at(-1)!.seq}`
    }
    // each reading and its line in the logbook are one transaction
    expect(lines).toBe(readings.length)
    const ended = new Promise((resolve) => second.child.once('exit', resolve))
    second.child.kill('SIGTERM')
    expect(await ended).toBe(0)
  })

  it('two servers share one database: what one saves the other shows, and versions hold across both', async () => {
    const [a, b] = [await startApp(), await startApp()]
    const { id } = await newBuild(a.app)
    expect((await call(b.app, 'PATCH', `/api/builds/${id}`, { title: 'From B' }, { 'if-match': '1' })).status).toBe(200)
    expect((await call(a.app, 'GET', `/api/builds/${id}`)).json.title).toBe('From B')
    expect((await call(a.app, 'PATCH', `/api/builds/${id}`, { title: 'From A' }, { 'if-match': '1' })).status).toBe(412)
    await a.close()
    await b.close()
  })

  it('a port already taken and a LAN address are refused in words', async () => {
    const first = await serve({ VECTUM_DATABASE_URL: testDatabaseUrl() })
    const port = new URL(first.address).port
    const said = (env: Record<string, string>) =>
      new Promise<{ code: number | null; text: string }>((resolve) => {
        const child = fork(join(root, 'server/dist/main.js'), {
          cwd: root,
          env: { ...process.env, VECTUM_DEMO: 'off', VECTUM_DATA_DIR: scratch, VECTUM_DATABASE_URL: testDatabaseUrl(), ...env },
          stdio: ['ignore', 'pipe', 'pipe', 'ipc'],
        })
        let text = ''
        child.stderr!.on('data', (d: Buffer) => (text += d.toString()))
        child.once('exit', (code) => resolve({ code, text }))
      })
    expect(await said({ VECTUM_PORT: port })).toMatchObject({
      code: 1,
      text: expect.stringContaining(`Port ${port} is taken by another program`),
    })
    // an address of the network: nobody signs in yet, so it is not opened
    const lan = { VECTUM_HOST: '0.0.0.0', VECTUM_ALLOWED_HOSTS: 'quay.lan' }
    expect(await said(lan)).toMatchObject({ code: 1, text: expect.stringContaining('make the first owner, then start again') })
    expect(await said({ VECTUM_PORT: 'eighty' })).toMatchObject({ code: 1, text: expect.stringContaining('VECTUM_PORT') })
    const ended = new Promise((resolve) => first.child.once('exit', resolve))
    first.child.kill('SIGTERM')
    expect(await ended).toBe(0)
  })

  it('npm start twice: the second names the first and leaves it alone; the first ends cleanly on Ctrl-C', async () => {
    const dataDir = mkdtempSync(join(scratch, 'start-'))
    const start = () => {
      const child = spawn(process.execPath, [join(root, 'scripts/start.mjs')], {
        cwd: root,
        env: { ...process.env, VECTUM_DEMO: 'off', VECTUM_DATA_DIR: dataDir, VECTUM_PORT: '0', VECTUM_DATABASE_URL: testDatabaseUrl() },
      })
      let text = ''
      child.stdout.on('data', (d: Buffer) => (text += d.toString()))
      const says = async (words: string) => {
        await vi.waitFor(() => expect(text).toContain(words), 120_000)
        return text
      }
      return { child, says, ended: new Promise<number | null>((resolve) => child.once('exit', resolve)) }
    }
    const first = start()
    expect(await first.says('vectum: open http://127.0.0.1:')).toContain('Ctrl-C')
    const address = /open (\S+)/.exec(await first.says('open'))![1]
    const second = start()
    expect(await second.says('already running')).toContain(`already running at ${address} (process ${first.child.pid})`)
    expect(await second.ended).toBe(0)
    expect((await fetch(`${address}/api/health`)).status).toBe(200)
    first.child.kill('SIGINT')
    expect(await first.ended).toBe(0)
    await expect(fetch(`${address}/api/health`)).rejects.toThrow()
  })
})
