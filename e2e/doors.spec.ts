import { createServer, type Server } from 'node:http'
import { expect, test } from '@playwright/test'

// a name that somebody else's page has rebound to this machine
const REBOUND = 'page.elsewhere'
test.use({
  launchOptions: {
    executablePath: process.env.VECTUM_CHROMIUM ?? '/usr/bin/chromium',
    args: ['--no-sandbox', '--disable-gpu', `--host-resolver-rules=MAP ${REBOUND} 127.0.0.1`],
  },
})

let elsewhere: Server
let origin: string
test.beforeAll(async () => {
  elsewhere = createServer((_, reply) =>
    reply.setHeader('content-type', 'text/html').end('<!doctype html><title>Elsewhere</title><p>Elsewhere</p>'),
  )
  await new Promise<void>((resolve) => elsewhere.listen(0, '127.0.0.1', resolve))
  origin = `http://127.0.0.1:${(elsewhere.address() as { port: number }).port}`
})
test.afterAll(() => void elsewhere.close())

test('a page from elsewhere, open in the same browser, drives nothing and writes nothing', async ({ page, request, baseURL }) => {
  const builds = async () => (await (await request.get('/api/builds')).json()) as { id: string; title: string }[]
  const before = await builds()
  const { id } = before[0]
  const kept = async () =>
    ((build: Record<'readings' | 'tunes' | 'logs', unknown[]>) => [build.readings.length, build.tunes.length, build.logs.length])(
      await (await request.get(`/api/builds/${id}`)).json(),
    )
  const keptBefore = await kept()
  await page.goto(origin)
  const answers = await page.evaluate(
    async ([base, build]) => {
      const live = await new Promise<string>((resolve) => {
        const socket = new WebSocket(`${base.replace('http', 'ws')}/api/builds/${build}/live`)
        socket.onopen = () => resolve('open')
        socket.onerror = () => resolve('refused')
      })
      const attempt = (path: string, init?: RequestInit) =>
        fetch(base + path, init).then(
          (answer) => answer.type,
          () => 'refused',
        )
      // what a page may send without asking first; whether it was taken shows in the record
      const unasked = (path: string, body: BodyInit) => attempt(path, { method: 'POST', mode: 'no-cors', body })
      const form = new FormData()
      form.set('file', new Blob(['time,rpm\n0,800\n']), 'forged.csv')
      await unasked('/api/builds', '{"title":"Forged"}')
      await unasked(`/api/builds/${build}/tunes`, '')
      await unasked(`/api/builds/${build}/logs`, form)
      // JSON must be asked for first, and is not answered
      const asked = await attempt('/api/builds', {
        method: 'POST',
        headers: { 'content-type': 'application/json' },
        body: '{"title":"Forged"}',
      })
      const read = await attempt('/api/builds')
      return { live, asked, read }
    },
    [baseURL!, id] as const,
  )
  expect(answers).toEqual({ live: 'refused', asked: 'refused', read: 'refused' })
  expect(await builds()).toEqual(before)
  expect(await kept()).toEqual(keptBefore)
})

test('a page that has rebound its name to this machine is shown nothing', async ({ page, request, baseURL }) => {
  const { port } = new URL(baseURL!)
  const answer = await page.goto(`http://${REBOUND}:${port}/`)
  expect(answer!.status()).toBe(421)
  expect(await answer!.json()).toMatchObject({ code: 'HOST_NOT_ALLOWED' })
  const read = await page.evaluate(async () => (await fetch('/api/builds')).status)
  expect(read).toBe(421)
  // while the application's own page works
  await page.goto('/')
  const [{ title }] = (await (await request.get('/api/builds')).json()) as { title: string }[]
  await expect(page.getByText(title).first()).toBeVisible()
})
