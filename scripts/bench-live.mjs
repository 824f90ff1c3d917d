// npm run bench:live [minutes]: First start with a running bench engine in Chromium, against the server that npm start runs.
// Pictures a second, frames of the stream a second, heap of the page after collection, memory of the server.
import { readFileSync } from 'node:fs'
import { join } from 'node:path'
import { chromium } from '@playwright/test'
import { ensureChromium, root } from './lib.mjs'

const minutes = Number(process.argv[2] ?? 10)
ensureChromium()
const { pid, address: url } = JSON.parse(readFileSync(join(root, '.vectum/running.json'), 'utf8'))
const serverMb = () => {
  const kids = readFileSync(`/proc/${pid}/task/${pid}/children`, 'utf8').trim().split(' ').filter(Boolean)
  return Math.max(...[pid, ...kids].map((p) => Number(/VmRSS:\s+(\d+)/.exec(readFileSync(`/proc/${p}/status`, 'utf8'))?.[1] ?? 0))) / 1024
}
const browser = await chromium.launch({
  executablePath: process.env.VECTUM_CHROMIUM ?? '/usr/bin/chromium',
  args: ['--no-sandbox', '--disable-gpu', '--disable-quic', '--no-first-run', '--disable-background-networking', '--disable-sync'],
})
const page = await browser.newPage({ viewport: { width: 1280, height: 800 } })
const cdp = await page.context().newCDPSession(page)
await cdp.send('Performance.enable')
let received = 0
page.on('websocket', (socket) =>
  socket.on('framereceived', ({ payload }) => (received += String(payload).includes('"type":"frame"') ? 1 : 0)),
)
await page.goto(`${url}/builds/6d0f4a52-0c1e-4f7a-9d3b-1f62a0c80002/start`)
await page.getByRole('button', { name: /Crank and run/ }).click()
await page.getByRole('button', { name: 'Key on', exact: true }).click()
await page.getByRole('button', { name: 'Prime', exact: true }).click()
await page.getByTestId('crank').click()
await page.getByText('It runs.', { exact: false }).waitFor()
await page.evaluate(() => {
  globalThis.pictures = 0
  const tick = () => (globalThis.pictures++, requestAnimationFrame(tick))
  requestAnimationFrame(tick)
})
console.log('minute  pictures/s  stream/s  page heap MB  server MB')
for (let minute = 1; minute <= minutes; minute++) {
  const before = { pictures: await page.evaluate(() => globalThis.pictures), received, at: performance.now() }
  await page.waitForTimeout(60_000)
  const seconds = (performance.now() - before.at) / 1000
  const pictures = (await page.evaluate(() => globalThis.pictures)) - before.pictures
  await cdp.send('HeapProfiler.collectGarbage')
  const { metrics } = await cdp.send('Performance.getMetrics')
  const heap = metrics.find((m) => m.name === 'JSHeapUsedSize').value / 1e6
  const row = [pictures / seconds, (received - before.received) / seconds, heap, serverMb()].map((v) => v.toFixed(1).padStart(10))
  console.log(String(minute).padStart(6), ...row)
}
await page.getByTestId('off').click()
await browser.close()
