import { readFileSync } from 'node:fs'
import { createRequire } from 'node:module'
import { expect, test, type Page } from '@playwright/test'

/** What everybody can read and reach, by day and by night. */
const axe = readFileSync(createRequire(import.meta.url).resolve('axe-core/axe.min.js'), 'utf8')
const car = (n: number, station: string) => `/builds/6d0f4a52-0c1e-4f7a-9d3b-1f62a0c8000${n}/${station}`

/** What axe finds on the page as it stands: the rule, and the first places that break it. */
const axeFindings = (page: Page, rules: string[] | null) =>
  page.evaluate(async (only) => {
    const { axe } = window as unknown as {
      axe: {
        run: (o: object) => Promise<{ violations: { id: string; nodes: { target: string[]; failureSummary: string }[] }[] }>
      }
    }
    const { violations } = await axe.run({ runOnly: only ? { type: 'rule', values: only } : ['wcag2a', 'wcag2aa'] })
    return violations.map(
      (v) =>
        `${v.id}: ${v.nodes
          .slice(0, 3)
          .map((n) => `${n.target.join(' ')} ${n.failureSummary.split('\n').at(-1)}`)
          .join(' | ')}`,
    )
  }, rules)

test('every main view passes the access rules by day, and its contrast by night', async ({ page }) => {
  await page.emulateMedia({ colorScheme: 'light', reducedMotion: 'reduce' })
  for (const path of [
    '/',
    '/parts',
    car(4, 'survey'),
    ...['route', 'sizes', 'ways', 'unit', 'parts', 'schedule'].map((tab) => car(1, `plan?tab=${tab}`)),
    car(4, 'fuel?state=full'),
    car(3, 'fuel?tab=proof'),
    ...['Steps', 'Trigger', 'Dial', 'Order', 'Scope', 'Light', 'Coil', 'Old curve', 'Tach', 'Interference'].map((tab) =>
      car(1, `spark#${tab}`),
    ),
    car(1, 'tune'),
    car(1, 'start'),
    car(2, 'learn'),
    car(2, 'handover'),
    car(2, 'logbook'),
  ]) {
    await page.goto(path)
    await page.waitForLoadState('networkidle')
    if (path.includes('#')) await page.getByRole('tab', { name: path.split('#')[1], exact: true }).click()
    if (path.endsWith('learn')) await expect(page.getByTestId('cell-map')).toBeVisible({ timeout: 60_000 })
    // through the debugger: the page's own policy lets no foreign script in
    await page.evaluate(axe)
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
