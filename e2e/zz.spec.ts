import { test } from '@playwright/test'
const car = (n: number, station: string) => `/builds/6d0f4a52-0c1e-4f7a-9d3b-1f62a0c8000${n}/${station}`
test('zz', async ({ page }) => {
  await page.setViewportSize({ width: 1280, height: 800 })
  page.on('console', (m) => {
    if (m.type() === 'error' || m.type() === 'warning') console.log('CONSOLE', m.text())
  })
  page.on('pageerror', (e) => console.log('PAGEERROR', e.message))
  for (const tab of ['cards', 'bolts', 'ports', 'linkage', 'bonnet', 'sensor', 'boxes', 'paper']) {
    await page.goto(car(3, `fitup?tab=${tab}`))
    await page.waitForTimeout(900)
    await page.screenshot({ path: `/tmp/pic/f-${tab}.png` })
  }
})
