import { expect, test, type Page } from '@playwright/test'
import {
  everyCylinder,
  agree,
  clock,
  crankAndRun,
  isolate,
  keyOnChecks,
  lookBeside,
  proveFitup,
  proveWiring,
  openSparkStep,
  proveSpark,
  recordPrepared,
  rehearse,
  saved,
  startProved,
  station,
  steadyRpm,
  takeTune,
  typeBack,
  unmet,
  type,
  zone,
} from './hands.ts'

const safetyQuestions = [
  'Stops within 2 s of a stalled engine, without the unit',
  'Inertia or roll-over cut-off',
  'Pump on a relay from the battery',
  'Unused ports plugged, rated',
  'Mechanical pump out, blanked',
]
/** Answers yes to what is not answered so yet; a second tap would take an answer away. */
async function answerSafety(page: Page): Promise<void> {
  for (const label of safetyQuestions) {
    const yes = page.getByRole('radiogroup', { name: label }).getByRole('radio', { name: 'yes' })
    if ((await yes.getAttribute('aria-checked')) !== 'true') await yes.click()
  }
}

/** Each demo car from where it stands to a running engine, cold, by nothing but what the screen says. */
const car = (n: number, at: string) => `/builds/6d0f4a52-0c1e-4f7a-9d3b-1f62a0c8000${n}/${at}`

async function proveFuel(page: Page, gauge: string): Promise<void> {
  await page.getByRole('tab', { name: 'Set-up and proof' }).click()
  if (await page.getByText('Earthed battery terminal off', { exact: true }).isVisible()) await isolate(page)
  const arrows = page.getByTestId('record-fuel.arrows')
  if (await arrows.isVisible()) await arrows.click()
  if (await page.getByLabel('Stop word').isVisible()) {
    await agree(page)
  }
  await page.getByTestId('record-fuel.prime').click()
  await page.getByTestId('all-dry').click()
  await type(page, 'Gauge reads', gauge)
  await page.getByTestId('record-fuel.pressure').click()
  await saved(page)
  await expect(page.getByRole('link', { name: /Fuel cleared/ })).toBeVisible()
}

async function firstStart(page: Page, running: () => Promise<void> = async () => {}): Promise<void> {
  await proveWiring(page)
  await proveFitup(page)
  await station(page, 'First start')
  await rehearse(page)
  await expect(page.getByText('BENCH', { exact: true })).toBeVisible()
  await takeTune(page)
  await expect(page.getByText('The unit holds it', { exact: false })).toBeVisible()
  await keyOnChecks(page)
  await page.getByRole('button', { name: /Prime, pressure/ }).click()
  await page.getByTestId('prime').click()
  await expect(page.locator('.gauge')).toHaveText(/[1-4]\d\d kPa/)
  await recordPrepared(page)
  for (const step of ['Ready and safe', 'Leak check']) {
    const button = page.getByRole('button', { name: new RegExp(step) })
    if ((await button.textContent())?.includes('done')) continue
    await button.click()
    if (step === 'Leak check') {
      await page.getByTestId('bench-leak').click()
      await expect(page.getByTestId('leak-seen')).toHaveText('all joints dry')
      await page.getByTestId('record-fuel.leak-check').click()
    } else await agree(page)
  }
  await clock(page, '×5')
  await crankAndRun(page)
  // cold, and it stays alive by itself, on all of its cylinders
  await steadyRpm(page, [500, 2500])
  await everyCylinder(page)
  await running()
  await page.getByTestId('off').click()
}

async function computeAndStart(page: Page): Promise<void> {
  await station(page, 'Base tune')
  await page.getByRole('button', { name: 'Compute the base tune', exact: true }).click()
  await expect(page.getByRole('grid')).toBeVisible()
  await page.getByRole('button', { name: 'Put in the car' }).click()
  await firstStart(page)
}

test('the Lowland: fuel to be proved, then it starts cold; its unit learns over answers, one of them mended', async ({ page, request }) => {
  const id = car(1, '').split('/')[2]
  await page.goto(car(1, 'fuel'))
  await proveFuel(page, '300')
  await station(page, 'Base tune')
  await page.getByRole('button', { name: 'Put in the car' }).click()
  await firstStart(page, async () => {
    await clock(page, '×20')
    await expect.poll(() => unmet(request, id, 'start'), { timeout: 180_000 }).not.toContain('ran')
  })

  await test.step('its unit was answered on its display: driven, the answer mended and typed anew, driven until it has settled', async () => {
    const drive = async (drives: number) => {
      await page.getByTestId('bench-drive').click()
      await expect(page.getByTestId('drives-line').locator('circle')).toHaveCount(drives, { timeout: 120_000 })
    }
    await page.goto(car(1, 'learn'))
    await rehearse(page)
    await drive(1)
    // the base that it made of its answers is far off, and only an answer moves it
    const mend = page.getByTestId('mend-answer')
    await expect(mend).toContainText('instead of 520 cc/min')
    await expect(mend.getByTestId('mend-answer-store')).toBeDisabled()
    await mend.getByRole('link', { name: 'Do both now' }).click()
    await lookBeside(page)
    await page.getByRole('tab', { name: 'Logs' }).click()
    await mend.getByRole('link', { name: 'Read it now' }).click()
    await type(page, 'Gauge reads', '300')
    await page.getByRole('radio', { name: 'at idle, port as it stays' }).click()
    await page.getByTestId('record-fuel.pressure').click()
    await saved(page)
    await page.goto(car(1, 'learn'))
    await mend.getByTestId('mend-answer-store').click()
    await expect(mend.getByRole('status')).toContainText('clear what it learned')
    await page.getByTestId('put-in-car').getByRole('button').click()
    await expect(page.getByTestId('put-in-car')).toHaveCount(0)
    await page.goto(car(1, 'unit'))
    await typeBack(page, request, id, {}, 'rehearsal')
    await expect(page.getByText('Every value was read in the unit')).toBeVisible()
    // by the plan: as ever, for the minutes that its law of learning wants
    const says = page.getByTestId('plan-says')
    let drives = 0
    for (; drives < 8; drives++) {
      await page.goto(car(1, 'learn?tab=drive'))
      await expect(says).toBeVisible()
      if (!/Drive about \d+ minutes as this car is driven/.test((await says.textContent())!)) break
      await page.getByTestId('bench-plan').click()
      await expect(page.getByTestId('drives-line').locator('circle')).toHaveCount(drives + 1, { timeout: 120_000 })
      await saved(page)
    }
    expect(drives).toBeGreaterThan(1)
    await page.goto(car(1, 'learn'))
    await expect(page.getByTestId('settled')).toContainText('Settled by this log')
    await expect.poll(() => unmet(request, id, 'learn')).not.toContain('converged')
  })
})

test('the Staffetta: a hose in the boot, an unset trigger and no tune yet, then it starts cold', async ({ page }) => {
  await page.goto(car(3, 'fuel'))
  await page.getByTestId('el-suction:boot-hose').click()
  await page.getByRole('radiogroup', { name: 'Made of' }).getByRole('radio', { name: /hard/i }).click()
  await expect(page.getByText('Hose in a closed space')).toBeHidden()
  await answerSafety(page)
  await page.getByRole('tab', { name: 'Set-up and proof' }).click()
  await isolate(page)
  if (await page.getByLabel('Tested at').isVisible()) {
    await type(page, 'Tested at', '450')
    await type(page, 'Minutes', '10')
    await page.getByRole('button', { name: 'Held', exact: true }).click()
  }
  await proveFuel(page, '300')

  await station(page, 'Spark')
  await page.getByRole('tab', { name: 'Trigger', exact: true }).click()
  await type(page, 'Reference angle', '60')
  await page.getByRole('radio', { name: '½ interval', exact: true }).click()
  await page.getByRole('tab', { name: 'Steps', exact: true }).click()
  await proveSpark(page)
  await openSparkStep(page, 'order')
  await page.getByTestId('bench-spark.order').click()
  await saved(page)
  await expect(page.getByRole('link', { name: /Spark cleared/ })).toBeVisible()

  await computeAndStart(page)
})

test('the Drover: points, a dynamo and positive earth; converted first, then it starts cold on its old advance', async ({ page }) => {
  await page.goto(car(4, 'survey'))
  await zone(page, 'Electrics')
  await page.getByRole('radio', { name: 'negative earth' }).click()
  await page.getByRole('radio', { name: 'alternator', exact: true }).click()
  await type(page, 'Charging, rated', '60')
  await type(page, 'Charging at idle', '30')
  await saved(page)
  await expect(page.getByRole('link', { name: /Survey cleared/ })).toBeVisible()
  await station(page, 'Plan')
  await type(page, 'Injectors', '2')
  await type(page, 'Injector flow, each', '330')
  await type(page, 'Injectors rated at', '300')
  await type(page, 'Fuel pressure', '300')
  await saved(page)
  await expect(page.getByRole('link', { name: /Plan cleared/ })).toBeVisible()
  await station(page, 'Fuel')
  await answerSafety(page)
  await proveFuel(page, '300')

  await station(page, 'Spark')
  await page.getByRole('tab', { name: 'Trigger', exact: true }).click()
  await page.getByRole('radio', { name: /Speed signal only/ }).click()
  await page.getByRole('radio', { name: 'coil negative', exact: true }).click()
  await saved(page)
  await expect(page.getByRole('link', { name: /Spark cleared/ })).toBeVisible()
  await computeAndStart(page)
})

test('the Rampart: all proved before, cold again: key, prime, crank', async ({ page }) => {
  await page.goto(car(2, 'start'))
  await rehearse(page)
  await startProved(page)
  await steadyRpm(page, [500, 2500])
  await page.getByTestId('off').click()
})
