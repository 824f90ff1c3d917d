import { readFileSync } from 'node:fs'
import { join } from 'node:path'
import { expect, test } from '@playwright/test'
const car = (n: number, s: string) => `/builds/6d0f4a52-0c1e-4f7a-9d3b-1f62a0c8000${n}/${s}`
const six = readFileSync(join(import.meta.dirname, '../demo/logs/six-cylinder-first-drive.csv'), 'utf8').split('\n')
test('pictures', async ({ page }) => {
  test.setTimeout(400_000)
  await page.goto(car(2, 'learn'))
  await expect(page.getByTestId('cell-map')).toBeVisible({ timeout: 90_000 })
  await page.screenshot({ path: '/tmp/p1.png' })
  // unsure file
  const head = six[0].split(',')
  const strip = [head.map((h) => h.replace(/ \(.*\)/, '')).map((h) => (h === 'Closed loop' ? 'Trim' : h)).join(','), ...six.slice(1, 4000)].join('\n')
  await page.getByTestId('log-file').setInputFiles({ name: 'no-units.csv', mimeType: 'text/csv', buffer: Buffer.from(strip.replaceAll(/^/gm, '')) })
  await expect(page.getByTestId('confirm-mapping')).toBeVisible()
  await page.screenshot({ path: '/tmp/p2.png' })
  await page.getByRole('button', { name: 'Cancel' }).click()
  const c = head.indexOf('AFR')
  const stuck = six.map((l, i) => (i === 0 || !l ? l : l.split(',').map((x, k) => (k === c ? '14.70' : x)).join(','))).join('\n')
  await page.getByTestId('log-file').setInputFiles({ name: 'stuck.csv', mimeType: 'text/csv', buffer: Buffer.from(stuck) })
  await page.getByTestId('confirm-mapping').click()
  await expect(page.getByTestId('unsound')).toBeVisible({ timeout: 90_000 })
  await page.screenshot({ path: '/tmp/p3.png' })
  await page.emulateMedia({ colorScheme: 'dark' })
  await page.setViewportSize({ width: 820, height: 1180 })
  await page.screenshot({ path: '/tmp/p4.png' })
})
