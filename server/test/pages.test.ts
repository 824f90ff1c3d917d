import { existsSync, readdirSync } from 'node:fs'
import { join } from 'node:path'
import { brotliDecompressSync, gunzipSync } from 'node:zlib'
import type { FastifyInstance } from 'fastify'
import { afterAll, beforeAll, expect, it } from 'vitest'
import { root, startApp } from './helpers.ts'

const webDir = join(root, 'web/dist')
let app: FastifyInstance
let close: () => Promise<void>
beforeAll(async () => {
  ;({ app, close } = await startApp({ webDir }))
})
afterAll(() => close())
const get = (url: string, encoding = '') => app.inject({ url, headers: { 'accept-encoding': encoding } })
const scripts = readdirSync(join(webDir, 'assets')).filter((name) => name.endsWith('.js'))
const large = scripts.find((name) => name.startsWith('index-') && existsSync(join(webDir, 'assets', `${name}.br`)))!

it('scripts go out compressed as the browser takes them, the same in each form, and for ever', async () => {
  const plain = await get(`/assets/${large}`)
  const br = await get(`/assets/${large}`, 'gzip, br')
  const gz = await get(`/assets/${large}`, 'gzip')
  expect([plain, br, gz].map((a) => a.headers['content-encoding'])).toEqual([undefined, 'br', 'gzip'])
  expect(brotliDecompressSync(br.rawPayload)).toEqual(plain.rawPayload)
  expect(gunzipSync(gz.rawPayload)).toEqual(plain.rawPayload)
  expect(br.rawPayload.length).toBeLessThan(plain.rawPayload.length / 2)
  for (const a of [plain, br, gz]) {
    expect(a.headers['content-type']).toContain('javascript')
    expect(a.headers['cache-control']).toBe('public, max-age=31536000, immutable')
  }
})

it('the page is asked for anew each time, at every address of the application, and says when nothing changed', async () => {
  for (const url of ['/', '/people', '/builds/6d0f4a52-0c1e-4f7a-9d3b-1f62a0c80001/fuel?tab=proof']) {
    const page = await get(url)
    expect([url, page.statusCode, page.headers['cache-control']]).toEqual([url, 200, 'no-cache'])
    expect(page.body).toContain('<div id="app">')
  }
  const etag = String((await get('/')).headers.etag)
  expect((await app.inject({ url: '/', headers: { 'if-none-match': etag } })).statusCode).toBe(304)
})

it('a piece of an earlier build is not there, in words and not as a page', async () => {
  for (const url of ['/assets/FuelView-0ldOld00.js', '/assets/FuelView-0ldOld00.css?x=1', '/gone.js', '/assets/']) {
    const answer = await get(url)
    expect([url, answer.statusCode, answer.json().code]).toEqual([url, 404, 'NOT_FOUND'])
  }
})

it('the page may run only what this server sends, and speak only to it', async () => {
  const policy = String((await get('/')).headers['content-security-policy'])
  for (const rule of ["default-src 'self'", "script-src 'self'", "connect-src 'self'", "object-src 'none'", "frame-ancestors 'none'"])
    expect(policy.split(';')).toContain(rule)
  expect(policy).not.toContain('unsafe-eval')
})
