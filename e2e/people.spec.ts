import { type Browser, expect, type Page, test } from '@playwright/test'
import { axeFindings } from './axe.ts'
import { saved, type, zone } from './hands.ts'

// one after the other on a server of their own: once there is an owner, nobody comes in unasked
test.describe.configure({ mode: 'serial' })

const ADA = 'copper heron under glass'
const FINN = 'winter barley at noon'
const lowland = async (page: Page) =>
  page
    .getByTestId('build')
    .filter({ hasText: 'Lowland' })
    .getByRole('link', { name: /^Survey/ })
    .click()
async function signIn(page: Page, name: string, secret: string): Promise<void> {
  await page.getByLabel('Name', { exact: true }).fill(name)
  await page.getByLabel('Secret', { exact: true }).fill(secret)
  await page.getByRole('button', { name: 'Sign in' }).click()
  await expect(page.getByRole('dialog', { name: 'Who is working?' })).toHaveCount(0)
}
const signOut = async (page: Page) => {
  await page.goto('/people')
  await page.getByRole('button', { name: 'Sign out' }).click()
  await expect(page.getByRole('dialog', { name: 'Who is working?' })).toBeVisible()
}
const another = async (browser: Browser, baseURL: string | undefined) => (await browser.newContext({ baseURL })).newPage()

test('open on this machine and says so; with the first owner everybody signs in, and a code lets the next one in', async ({
  page,
  browser,
  baseURL,
}) => {
  await page.goto('/')
  await page.getByTestId('open-house').getByRole('link').click()
  await page.getByLabel('Name, as it will stand').fill('Ada')
  await page.getByLabel('Secret').fill(ADA)
  await page.getByRole('button', { name: 'Make the first owner' }).click()
  await expect(page.getByRole('heading', { name: 'Ada' })).toBeVisible()
  await page.getByLabel('Name, as it will stand').fill('Finn')
  await page.getByTestId('invite').click()
  expect(await axeFindings(page, null)).toEqual([])
  const code = (await page.getByTestId('one-time-code').locator('.code').innerText()).replace(' ', '')

  const tablet = await another(browser, baseURL)
  await tablet.goto('/')
  await expect(tablet.getByRole('dialog', { name: 'Who is working?' })).toBeVisible()
  await expect(tablet.getByTestId('build')).toHaveCount(0)
  expect(await axeFindings(tablet, null)).toEqual([])
  await tablet.goto(`/pair#${code}`)
  await tablet.locator('#fresh-secret').fill(FINN)
  await tablet.getByRole('button', { name: 'Keep it' }).click()
  await expect(tablet.getByRole('dialog')).toHaveCount(0)
  await expect(tablet.getByTestId('build').first()).toBeVisible()
  // used once
  const second = await another(browser, baseURL)
  await second.goto(`/pair#${code}`)
  await expect(second.getByRole('alert')).toContainText('was used')
  await signOut(tablet)
})

test('what Ada typed while the server was away does not leave under Finn, and leaves under Ada', async ({ page, context }) => {
  await page.goto('/')
  await signIn(page, 'Ada', ADA)
  await lowland(page)
  await zone(page, 'Engine')
  await saved(page)
  await context.route('**/api/builds/**', (route) => (route.request().method() === 'GET' ? route.fallback() : route.abort()))
  await type(page, 'Bore', '81.5')
  await expect(page.getByTestId('save-state')).toContainText('kept')
  const address = page.url()
  await signOut(page)
  await context.unroute('**/api/builds/**')
  await signIn(page, 'Finn', FINN)
  await page.goto(address)
  await expect(page.getByRole('status').filter({ hasText: 'One thing waits here for Ada' })).toBeVisible()
  await expect(page.getByRole('textbox', { name: 'Bore' })).not.toHaveValue('81.5')
  await signOut(page)
  await signIn(page, 'Ada', ADA)
  await page.goto(address)
  await expect(page.getByRole('textbox', { name: 'Bore' })).toHaveValue('81.5')
  await saved(page)
  await page.goto(address.replace('survey', 'logbook'))
  await expect(page.getByText(/bore/i).first()).toBeVisible()
  await expect(page.getByText('Finn')).toHaveCount(0)
})

test('who leaves is out of the page that stands open, without losing what stands on it', async ({ page, browser, baseURL }) => {
  const finn = await another(browser, baseURL)
  await finn.goto('/')
  await signIn(finn, 'Finn', FINN)
  await lowland(finn)
  await zone(finn, 'Engine')
  await page.goto('/people')
  await signIn(page, 'Ada', ADA)
  await page.getByTestId('member').filter({ hasText: 'Finn' }).getByRole('button', { name: 'Has left' }).click()
  await page.getByRole('button', { name: 'Confirm' }).click()
  await expect(page.getByTestId('member').filter({ hasText: 'Finn' }).getByRole('button', { name: 'Has left' })).toHaveCount(0)
  await type(finn, 'Bore', '82')
  await expect(finn.getByRole('dialog', { name: 'Who is working?' })).toBeVisible()
  await finn.getByLabel('Name', { exact: true }).fill('Finn')
  await finn.getByLabel('Secret', { exact: true }).fill(FINN)
  await finn.getByRole('button', { name: 'Sign in' }).click()
  await expect(finn.getByRole('alert').last()).toContainText('do not belong together')
})
