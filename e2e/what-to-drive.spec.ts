import { expect, test } from '@playwright/test'
import { rehearse, saved, type } from './hands.ts'

const car = (n: number, station: string) => `/builds/6d0f4a52-0c1e-4f7a-9d3b-1f62a0c8000${n}/${station}`

test('what to drive next: limits, legs, the bench drives them, the log is solved and little is left; followed, put off and closed', async ({
  page,
  request,
}) => {
  test.setTimeout(180_000)
  await page.goto(car(2, 'learn?tab=drive'))
  await rehearse(page)
  await expect(page.getByTestId('plan-says')).toBeVisible({ timeout: 30_000 })
  // faster is not asked for than the person allows
  await type(page, 'Never faster than', '70')
  await saved(page)
  await expect(page.getByText('Taken while you have not said')).toBeHidden()
  const plan = (await (await request.get(`/api${car(2, 'drive-plan')}?view=rehearsal`)).json()) as {
    topKmh: number
    legs: { fromKmh: number; toKmh: number }[]
  }
  expect(plan.topKmh).toBe(70)
  for (const leg of plan.legs) expect(Math.max(leg.fromKmh, leg.toKmh)).toBeLessThanOrEqual(71)
  await page.getByLabel('Never faster than', { exact: true }).fill('500')
  await page.getByLabel('Never faster than', { exact: true }).press('Enter')
  await expect(page.getByText(/Never faster than .*250/)).toBeVisible()
  await type(page, 'Never faster than', '100')
  await saved(page)

  await page.getByTestId('follow').click()
  await expect(page.getByTestId('follow-screen')).toBeVisible()
  const first = await page.getByTestId('call').textContent()
  await page.getByTestId('skip').click()
  await expect(page.getByTestId('call')).not.toHaveText(first!)
  await page.getByTestId('close-follow').click()

  await page.getByTestId('bench-plan').click()
  await expect(page.getByTestId('cell-map')).toBeVisible({ timeout: 90_000 })
  await expect(page.getByTestId('totals')).toContainText('rows used')
  await expect(page.getByText(/Bench drive by plan, tune 1/).first()).toBeVisible()
  await page.getByRole('tab', { name: 'What to drive next' }).click()
  await expect(page.getByText('What the plan rests on')).toBeVisible({ timeout: 30_000 })
  await page.getByText('What the plan rests on').click()
  await expect(page.getByText(/fitted to \d+ s of the last log/)).toBeVisible()
})
