import { expect, test } from '@playwright/test'
import { framesPerS, rehearse, saved, startProved, type } from './hands.ts'

const car = (n: number, station: string) => `/builds/6d0f4a52-0c1e-4f7a-9d3b-1f62a0c8000${n}/${station}`

test('what to drive next: limits, legs, the bench drives them, the log is solved and little is left; followed, put off and closed', async ({
  page,
  request,
}) => {
  test.setTimeout(180_000)
  await page.goto(car(2, 'learn?tab=drive'))
  await rehearse(page)
  await expect(page.getByTestId('plan-says')).toBeVisible()
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
  await expect(page.getByTestId('cell-map')).toBeVisible({ timeout: 180_000 })
  await expect(page.getByTestId('totals')).toContainText('rows used')
  await expect(page.getByText(/Bench drive by plan, tune 1/).first()).toBeVisible()
  await page.getByRole('tab', { name: 'What to drive next' }).click()
  await expect(page.getByText('What the plan rests on')).toBeVisible()
  await page.getByText('What the plan rests on').click()
  await expect(page.getByText(/fitted to \d+ s of the last log/)).toBeVisible()
})

test('a spark trial held on the bench brake comes to an answer, and goes into the map as a new version', async ({ page }) => {
  test.setTimeout(180_000)
  await page.goto(car(2, 'learn'))
  await rehearse(page)
  await expect(page.getByTestId('cell-map')).toBeVisible({ timeout: 120_000 })
  await page.getByRole('tab', { name: 'Spark trial' }).click()
  await page
    .getByRole('button', { name: /^\d+ rpm, 61 kPa/ })
    .nth(5)
    .click()
  await expect(page.getByTestId('trial-next')).toHaveText(/^Hold \d+°$/)
  const end = page.getByTestId('trial-end')
  for (let holds = 0; holds < 16 && !(await end.isVisible()); holds++) {
    await page.getByTestId('trial-bench').click()
    await expect(page.getByTestId('trial-holds')).toContainText(`${holds + 1} hold`)
  }
  await expect(end).toHaveText(/^(Found|Stopped by knock): \d+°$/)
  await page.getByTestId('trial-accept').click()
  await expect(page.getByText('Version 2 stored.')).toBeVisible()
})

test('a log is looked at from end to end and row by row: channels chosen, a moment read, led to by its link', async ({ page }) => {
  test.setTimeout(120_000)
  await page.goto(car(2, 'learn?tab=look&at=880'))
  // other logs of this car may have come since the demo's
  await page.getByRole('button', { name: 'Whole log' }).waitFor({ timeout: 120_000 })
  await page.locator('.n-select', { hasText: 'min' }).click()
  await page.getByText('eight-cylinder-semicolon.csv, 30 min').last().click()
  const row = page.getByTestId('log-row')
  await expect(row.getByRole('heading', { name: 'At 14:40' })).toBeVisible({ timeout: 120_000 })
  await expect(row).toContainText('used by the solve')
  const screen = page.getByRole('img', { name: /^engine speed, manifold pressure .*lambda/ })
  await screen.focus()
  for (let k = 0; k < 4; k++) await page.keyboard.press('.')
  await expect(row.getByRole('heading')).toHaveText(/^At 14:40\.[1-9]$/)
  await page.getByRole('button', { name: 'coolant', exact: true }).click()
  await expect(page.getByRole('img', { name: /coolant, closed-loop correction over time/ })).toBeVisible()
  // the first quarter hour of this log is a cold engine's
  await screen.click({ position: { x: 140, y: 40 } })
  const whole = page.getByTestId('seen-part')
  const closeWidth = (await whole.boundingBox())!.width
  await page.getByRole('button', { name: 'Whole log' }).click()
  await expect.poll(async () => (await whole.boundingBox())!.width).toBeGreaterThan(10 * closeWidth)
  await screen.click({ position: { x: 140, y: 40 } })
  await expect(row).toContainText('left out: too cold, or just started')
  await screen.focus()
  const fps = await framesPerS(page, 120, (k) => ({ key: k < 12 ? '+' : 'ArrowRight' }))
  console.log(`log: ${fps.toFixed(0)} frames a second while moved`)
})

test('what a passenger feels is kept by one tap, stands as a finding, and leads to its test', async ({ page }) => {
  test.setTimeout(180_000)
  await page.goto(car(2, 'start'))
  await rehearse(page)
  await startProved(page)
  await page.goto(car(2, 'learn?tab=drive'))
  await page.getByTestId('follow').click()
  await expect(page.getByTestId('counting')).toContainText('rpm', { timeout: 120_000 })
  await page.getByTestId('felt-smell').click()
  await expect(page.getByTestId('felt-said')).toHaveText('Smell of fuel kept.')
  await page.waitForTimeout(1500)
  await page.getByTestId('close-follow').click()
  await page.getByRole('tab', { name: 'Logs' }).click()
  await expect(page.getByTestId('felt-list')).toContainText('Engine off, no flame, no key')
  await expect(page.getByText(/Smell of fuel at \d+ rpm.* is not settled/)).toBeVisible()
  await page.getByTestId('felt-list').getByRole('link', { name: 'Go there' }).click()
  await expect(page).toHaveURL(/fuel/)
})
