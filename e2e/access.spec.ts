import { expect, test } from '@playwright/test'
import { axeFindings } from './axe.ts'

/** What everybody can read and reach, by day and by night. */
const car = (n: number, station: string) => `/builds/6d0f4a52-0c1e-4f7a-9d3b-1f62a0c8000${n}/${station}`

/** In two parts, so that each stays within the time of a test. */
const views: Record<string, string[]> = {
  'before the engine runs': [
    '/',
    '/people',
    '/parts',
    car(4, 'survey'),
    ...['route', 'sizes', 'ways', 'unit', 'parts', 'schedule'].map((tab) => car(1, `plan?tab=${tab}`)),
    car(4, 'fuel?state=full'),
    car(3, 'fuel?tab=proof'),
    ...['Steps', 'Trigger', 'Dial', 'Order', 'Scope', 'Light', 'Coil', 'Old curve', 'Tach', 'Interference'].map((tab) =>
      car(1, `spark#${tab}`),
    ),
  ],
  'up to the hand-over': [
    ...['route', 'circuits', 'supply', 'checks', 'more', 'paper'].map((tab) => car(2, `wiring?tab=${tab}`)),
    ...['cards', 'bolts', 'ports', 'linkage', 'sensor', 'paper'].map((tab) => car(3, `fitup?tab=${tab}`)),
    car(1, 'tune'),
    car(1, 'start'),
    ...['answers', 'card', 'thing', 'files', 'help'].map((tab) => car(1, `unit?tab=${tab}`)),
    ...['beside', 'tables'].map((tab) => car(1, `learn?tab=${tab}`)),
    car(2, 'learn'),
    car(1, 'learn?tab=drive'),
    car(2, 'learn?tab=look'),
    car(2, 'handover'),
    car(2, 'logbook'),
  ],
}

for (const [part, paths] of Object.entries(views))
  test(`every main view passes the access rules by day, and its contrast by night: ${part}`, async ({ page }) => {
    await page.emulateMedia({ colorScheme: 'light', reducedMotion: 'reduce' })
    for (const path of paths) {
      await page.goto(path)
      await page.waitForLoadState('networkidle')
      if (path.includes('#')) await page.getByRole('tab', { name: path.split('#')[1], exact: true }).click()
      if (path.endsWith('learn')) await expect(page.getByTestId('cell-map')).toBeVisible({ timeout: 120_000 })
      expect(await axeFindings(page, null), `${path}, by day`).toEqual([])
      const paper = () => page.evaluate(() => getComputedStyle(document.body).backgroundColor)
      const byDay = await paper()
      await page.emulateMedia({ colorScheme: 'dark', reducedMotion: 'reduce' })
      await expect.poll(paper).not.toBe(byDay)
      // colours on their way would be measured half changed
      await page.waitForTimeout(350)
      expect(await axeFindings(page, ['color-contrast']), `${path}, by night`).toEqual([])
      await page.emulateMedia({ colorScheme: 'light', reducedMotion: 'reduce' })
    }
  })
