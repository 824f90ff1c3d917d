import { expect, test } from '@playwright/test'
import { rehearse } from './hands.ts'
const car = (n: number, s: string) => `/builds/6d0f4a52-0c1e-4f7a-9d3b-1f62a0c8000${n}/${s}`
test('look', async ({ page, request }) => {
  test.setTimeout(180000)
  const shot = (n: string) => page.screenshot({ path: `/tmp/x/${n}.png` })
  const id = car(2, '').split('/')[2]
  const b = await (await request.get(`/api/builds/${id}`)).json()
  const r = await request.patch(`/api/builds/${id}`, { headers: { 'if-match': String(b.version) }, data: { choices: { unit: { learns: 'itself', learnLimitPct: 20 } } } })
  expect(r.ok(), await r.text()).toBe(true)
  await page.emulateMedia({ colorScheme: 'dark' })
  await page.goto(car(2, 'learn'))
  await rehearse(page)
  for (let i = 0; i < 4; i++) {
    await page.getByTestId('bench-drive').click()
    await page.waitForTimeout(9000)
    await expect(page.getByTestId('settled')).toBeVisible({ timeout: 60000 })
  }
  await page.locator('.cell.proven').nth(2).click()
  await page.waitForTimeout(800)
  await shot('l-left')
  await page.goto(car(2, 'learn?tab=tables'))
  await page.waitForTimeout(500)
  await shot('l-tables')
})
