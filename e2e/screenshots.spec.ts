import { join } from 'node:path'
import { expect, test, type Page } from '@playwright/test'
import { rehearse, startProved } from './hands.ts'

/** One current picture of each main view, from the demo data: npm run screenshots. */
const folder = join(import.meta.dirname, '../docs/screenshots')
const car = (n: number, station: string) => `/builds/6d0f4a52-0c1e-4f7a-9d3b-1f62a0c8000${n}/${station}`
const shot = async (page: Page, name: string) => {
  await page.evaluate(() => document.fonts.ready)
  await page.waitForTimeout(300)
  await page.screenshot({ path: join(folder, `${name}.png`) })
}

test('pictures of every main view @screenshots', async ({ page }) => {
  await page.goto('/')
  await expect(page.getByTestId('build')).toHaveCount(4)
  await shot(page, 'board')
  await page.goto(car(3, 'survey'))
  await expect(page.getByRole('heading', { name: 'Survey' })).toBeVisible()
  await shot(page, 'survey')
  await page.goto(car(1, 'plan'))
  await page.getByTestId('look-multi-port').click()
  await shot(page, 'plan-route')
  await page.goto(car(1, 'plan?tab=schedule'))
  await expect(page.getByTestId('task-wiring')).toBeVisible()
  await shot(page, 'plan-schedule')
  await page.goto(car(1, 'fuel?state=full'))
  await expect(page.getByTestId('el-pump')).toBeVisible()
  await shot(page, 'fuel-circuit')
  await page.goto(car(1, 'spark'))
  await page.getByRole('tab', { name: 'Dial', exact: true }).click()
  await expect(page.getByText('Distributor, seen from above')).toBeVisible()
  await shot(page, 'spark-dial')
  await page.goto(car(2, 'spark'))
  await page.getByRole('tab', { name: 'Light', exact: true }).click()
  await expect(page.locator('.apexcharts-canvas')).toBeVisible()
  await shot(page, 'spark-timing-light')
  await page.goto(car(2, 'wiring'))
  await page.getByTestId('pick-circuit').selectOption('pump')
  await expect(page.getByTestId('picked-wire')).toBeVisible()
  await shot(page, 'wiring')
  await page.goto(car(3, 'fitup?tab=linkage'))
  await expect(page.getByTestId('tip-in')).toBeVisible()
  await shot(page, 'fit-up')
  await page.goto(car(1, 'tune'))
  await page.getByRole('grid').locator('td[data-i="5"][data-j="4"]').click()
  await shot(page, 'base-tune')
  await page.goto(car(1, 'unit'))
  await page.getByRole('button', { name: /^.?\s*Flow of one injector/ }).click()
  await shot(page, 'unit-answers')
  await page.goto(car(2, 'learn'))
  await expect(page.getByTestId('cell-map')).toBeVisible({ timeout: 120_000 })
  await page
    .getByRole('button', { name: /needs correction,/ })
    .nth(8)
    .click()
  await shot(page, 'learn')
  await page.goto(car(1, 'learn?tab=drive'))
  await expect(page.getByTestId('legs')).toBeVisible()
  await shot(page, 'learn-drive')
  await page.goto(car(2, 'handover'))
  await expect(page.getByRole('heading', { name: 'The car', exact: true })).toBeVisible()
  await shot(page, 'hand-over')

  await page.goto(car(2, 'start'))
  await rehearse(page)
  await startProved(page)
  await page.waitForTimeout(24_000)
  await shot(page, 'first-start')
  await page.getByTestId('off').click()
  await page.goto(car(2, 'idle'))
  await page.getByTestId('view-car').click()
  await expect(page.getByTestId('air-bar')).toBeVisible()
  await shot(page, 'idle')
  await rehearse(page)
  await page.goto(car(2, 'logbook'))
  await expect(page.getByRole('cell', { name: /Tune 1 put in the car/ })).toBeVisible()
  await shot(page, 'logbook')

  // a unit that learns by itself, after some drives of the bench
  const path = `/api${car(2, '').slice(0, -1)}`
  const { version } = (await (await page.request.get(path)).json()) as { version: number }
  const data = { choices: { unit: { learns: 'itself', learnLimitPct: 20 } } }
  await page.request.patch(path, { headers: { 'if-match': String(version) }, data })
  await page.goto(car(2, 'learn'))
  for (const drives of [1, 2, 3, 4]) {
    await page.getByTestId('bench-drive').click()
    await expect(page.getByTestId('drives-line').locator('circle')).toHaveCount(drives, { timeout: 120_000 })
  }
  await page.locator('.cell.proven').nth(3).click()
  await shot(page, 'learn-itself')

  // last: once there is an owner, everybody signs in
  await page.emulateMedia({ colorScheme: 'light' })
  await page.setViewportSize({ width: 1280, height: 800 })
  await page.goto('/people')
  await page.getByLabel('Name, as it will stand').fill('Ada')
  await page.getByLabel('Secret').fill('copper heron under glass')
  await page.getByRole('button', { name: 'Make the first owner' }).click()
  await expect(page.getByRole('heading', { name: 'Ada' })).toBeVisible()
  await page.getByLabel('Name, as it will stand').fill('Finn')
  await page.getByTestId('invite').click()
  await expect(page.getByTestId('one-time-code')).toBeVisible()
  await shot(page, 'people')
})
