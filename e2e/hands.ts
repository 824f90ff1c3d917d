import { type APIRequestContext, expect, type Page } from '@playwright/test'

/** What a person does again and again on the screen, by the words they see. */
export async function type(page: Page, label: string, value: string): Promise<void> {
  const field = page.getByLabel(label, { exact: true })
  await field.fill(value)
  await field.press('Enter')
}
export const zone = (page: Page, name: string) => page.getByRole('button', { name: new RegExp(`^${name}`) }).click()
export const station = (page: Page, name: string) =>
  page
    .getByRole('navigation', { name: 'Job line' })
    .getByRole('link', { name: new RegExp(`^(\\d+ ?)?${name}`) })
    .click()
export const saved = (page: Page) => expect(page.getByTestId('save-state')).toHaveText('saved')

/** What is done from here on is practice on the bench; or it is done on the car. */
export const rehearse = (page: Page) => page.getByTestId('view-rehearsal').click()
export const atTheCar = (page: Page) => page.getByTestId('view-car').click()

/** The battery off, pressure away, doors open: what comes before any fuel line is opened. */
export async function isolate(page: Page): Promise<void> {
  for (const check of [
    'Earthed battery terminal off',
    'Pressure relieved',
    'Engine cold',
    'Doors open, no flame',
    'Class B extinguisher at hand',
  ])
    await page.getByText(check, { exact: true }).click()
  await page.getByTestId('record-fuel.isolated').click()
}

/** The tune in the car sent, stored, kept through a key-off, and read back. */
export async function takeTune(page: Page): Promise<void> {
  await page.getByRole('button', { name: /Tune into the unit/ }).click()
  // a unit that is set by questions is answered on its display instead
  if (await page.getByTestId('asked-unit').isVisible()) return answerUnit(page)
  for (const name of ['Send it to the unit', 'Store it in the unit', 'Key off, then on', 'Read it back'])
    await page.getByRole('button', { name, exact: true }).click()
}

/** The card's answers typed on the display of the bench's unit, stored, kept through a key-off of ten seconds of its clock, and read. */
async function answerUnit(page: Page): Promise<void> {
  await page.getByTestId('answers-enter').click()
  await page.getByTestId('answers-store').click()
  await clock(page, '×5')
  await page.getByTestId('answers-off').click()
  // shut until the key was off for its time
  await page.getByTestId('answers-read').click()
  await clock(page, '×1')
  await expect(page.getByRole('button', { name: /Tune into the unit ?done/ })).toBeVisible()
}

/** How fast the rehearsal's clock runs. */
export const clock = (page: Page, times: '×1' | '×5' | '×20'): Promise<void> =>
  page.getByRole('button', { name: times, exact: true }).click()

/** Two slow presses of the throttle, and the sensor's heating, with a quick clock. */
export async function keyOnChecks(page: Page): Promise<void> {
  await page.getByRole('button', { name: /Key on, checks/ }).click()
  const key = page.getByTestId('key')
  if ((await key.textContent())?.trim() === 'Key on') await key.click()
  await clock(page, '×5')
  for (const words of ['1 of 2 presses', 'smooth']) {
    await page.getByTestId('sweep').click()
    await expect(page.getByTestId('check-throttle')).toContainText(words, { timeout: 180_000 })
  }
  await page.getByTestId('bench-valve').click()
  await expect(page.getByTestId('valve-heard')).toHaveText('it steps')
  await page.getByRole('button', { name: 'It moves', exact: true }).click()
  await expect(page.getByRole('button', { name: /Key on, checks ?done/ })).toBeVisible({ timeout: 120_000 })
  await clock(page, '×1')
}

/** Battery, connectors, chocks: looked at and written down. */
export async function recordPrepared(page: Page): Promise<void> {
  await page.getByRole('button', { name: /Ready and safe/ }).click()
  for (const id of ['batteryCharged', 'connectorsDone', 'chocked']) await page.getByTestId(`start-prepared-${id}`).click()
  await page.getByTestId('record-start.prepared').click()
}

/** Extinguisher, helper and stop word agreed. */
export async function agree(page: Page): Promise<void> {
  await page.getByTestId('start-safety-extinguisher').click()
  await page.getByLabel('Stop word').fill('anchor')
  await page.getByTestId('record-start.safety').click()
}

/** From a primed rail to a running engine: cranked without fuel, then with it. */
export async function crankAndRun(page: Page): Promise<void> {
  await page.getByRole('button', { name: /Crank, no fuel/ }).click()
  await page.getByTestId('dry-crank').click()
  await expect(page.getByText('It may be fuelled.')).toBeVisible({ timeout: 180_000 })
  await page.getByRole('button', { name: /Crank and run/ }).click()
  await page.getByTestId('crank').click()
  await expect(page.getByText('It runs.', { exact: false })).toBeVisible({ timeout: 180_000 })
}

/** The thermometer along the ports of an engine that has run for a little: every one of them warm. */
export async function everyCylinder(page: Page): Promise<void> {
  await clock(page, '×5')
  await page.waitForFunction(() => Number(document.querySelector('[data-testid="rpm"]')?.textContent) > 400)
  await expect
    .poll(
      async () => {
        await page.getByTestId('bench-ports').click()
        await expect(page.getByTestId('ports-seen')).toContainText('exhaust ports')
        return page.getByTestId('cylinders-record').textContent()
      },
      { timeout: 180_000 },
    )
    .toBe('Record: all work alike')
  await page.getByTestId('cylinders-record').click()
  await expect(page.getByTestId('cylinders-recorded')).toContainText('Every cylinder works')
  await clock(page, '×1')
}

/** Opens one of the bench procedure's steps at Spark, if it is not open. */
export async function openSparkStep(page: Page, id: string): Promise<void> {
  const title = page.getByTestId(`step-${id}`).getByRole('button').first()
  if ((await title.getAttribute('aria-expanded')) === 'false') await title.click()
}
/** Zero mark, stroke, pick-up set, polarity: each with the bench's instrument. */
export async function proveSpark(page: Page): Promise<void> {
  await openSparkStep(page, 'zero')
  await page.getByTestId('bench-spark.zero-mark').click()
  await openSparkStep(page, 'stroke')
  await page.getByTestId('bench-spark.stroke').click()
  await openSparkStep(page, 'fitted')
  await page.getByRole('button', { name: 'Set at the reference' }).click()
  await openSparkStep(page, 'polarity')
  await page.getByTestId('bench-spark.polarity').click()
}
/** A car whose gates are all met: key, fuse, starter, and it runs. */
export async function startProved(page: Page): Promise<void> {
  await page.getByRole('button', { name: /Crank and run/ }).click()
  await page.getByRole('button', { name: 'Key on', exact: true }).click()
  await page.getByRole('button', { name: 'Prime', exact: true }).click()
  await page.getByTestId('crank').click()
  await expect(page.getByText('It runs.', { exact: false })).toBeVisible({ timeout: 180_000 })
}

/** Waits until the speed stands still inside a band: eight looks in a row within 40 rpm, and not all the same, as they are while no picture comes. */
export async function steadyRpm(page: Page, [low, high]: [number, number]): Promise<void> {
  const looks: number[] = []
  const isSteady = async () => {
    const rpm = Number(await page.getByTestId('rpm').textContent())
    if (rpm < low || rpm > high) looks.length = 0
    else looks.push(rpm)
    const last = looks.slice(-8)
    return last.length === 8 && new Set(last).size > 1 && Math.max(...last) - Math.min(...last) < 40
  }
  await expect.poll(isSteady, { timeout: 180_000, intervals: [200] }).toBe(true)
}

interface CardLine {
  id: string
  words: string
  value: number | string | null
  options: Record<string, string> | null
  state: string
}
/** Types back what the unit shows after a key-off of 12 s: the card's own answers, but for those named. Questions that are known to be equal are not asked again. */
export async function typeBack(
  page: Page,
  request: APIRequestContext,
  buildId: string,
  other: Record<string, string> = {},
  view: 'car' | 'rehearsal' = 'car',
): Promise<void> {
  const { answers } = (await (await request.get(`/api/builds/${buildId}/unit/card?view=${view}`)).json()) as { answers: CardLine[] }
  await page.getByRole('radio', { name: 'Type back after a key-off' }).click()
  await page.getByTestId('off-s').fill('12')
  for (const line of answers.filter((a) => a.state !== 'equal')) {
    await expect(page.getByRole('heading', { name: line.words, exact: true })).toBeVisible()
    // what stands on the card is not shown before something is typed
    await expect(page.getByTestId('answer')).toHaveCount(0)
    const label = line.options && Object.keys(line.options).length ? line.options[String(line.value)] : null
    if (label) await page.getByRole('radiogroup', { name: 'The unit shows' }).getByRole('radio', { name: label, exact: true }).click()
    else await page.getByTestId('typed-back').fill(other[line.id] ?? String(line.value))
    await expect(page.getByTestId('same')).toHaveText(other[line.id] ? /^Not what was meant/ : 'The same.')
    await page.getByTestId('next-question').click()
  }
  await page.getByTestId('record-read-back').click()
  await saved(page)
}

/** On the bench: every plug looked at, a keyed supply found, the grounds measured. */
export async function proveWiring(page: Page): Promise<void> {
  await station(page, 'Wiring')
  await rehearse(page)
  await page.getByRole('tab', { name: 'Checks' }).click()
  const open = async (kind: string) => {
    const step = page.getByTestId(`step-${kind}`)
    if ((await step.getAttribute('aria-expanded')) !== 'true') await step.click()
  }
  await open('wiring.connector')
  await page.getByTestId('bench-plugs').click()
  await expect(page.getByTestId('step-wiring.connector')).toHaveText(/(\d+) of \1$/)
  await open('wiring.keyed')
  await page.getByTestId('bench-wiring.keyed').click()
  await expect(page.getByTestId('keyed-verdict')).toContainText('good')
  await open('wiring.ground-drop')
  for (const ground of ['unit', 'engine']) {
    await page.getByRole('radiogroup', { name: 'Ground' }).first().getByRole('radio', { name: ground, exact: true }).click()
    await page.getByTestId('bench-wiring.ground-drop').click()
    await expect(page.getByText(new RegExp(`Ground, ${ground} to battery minus`)).first()).toBeVisible()
  }
  await saved(page)
}

/** On the bench: the throttle shuts and opens, the hoses are where they belong. */
export async function proveFitup(page: Page): Promise<void> {
  await station(page, 'Fit-up')
  await rehearse(page)
  await page.getByRole('tab', { name: 'Cards' }).click()
  for (const card of ['linkage', 'ports']) {
    const head = page.getByTestId(`card-${card}`)
    if ((await head.getAttribute('aria-expanded')) !== 'true') await head.click()
    await page.getByTestId(`bench-${card}`).click()
    await expect(head).toContainText('done')
  }
  await saved(page)
}

/** Pictures a second while a record on a canvas is moved: one wheel or key in each picture. */
export async function framesPerS(
  page: Page,
  frames: number,
  move: (frame: number) => { wheel: number } | { key: string },
): Promise<number> {
  const moves = Array.from({ length: frames }, (_, k) => move(k))
  const ms = await page.evaluate(async (list) => {
    const canvas = document.querySelector('canvas')!
    const from = performance.now()
    for (const one of list) {
      await new Promise((done) => requestAnimationFrame(done))
      const init = { bubbles: true, cancelable: true }
      canvas.dispatchEvent(
        'wheel' in one
          ? new WheelEvent('wheel', { ...init, deltaY: one.wheel, clientX: 700 })
          : new KeyboardEvent('keydown', { ...init, key: one.key }),
      )
    }
    return performance.now() - from
  }, moves)
  return (1000 * frames) / ms
}

/** What no log tells, typed by a person: the exhaust, a second meter, and whether it is still there after a key-off. */
export async function lookBeside(page: Page): Promise<void> {
  await page.getByRole('button', { name: 'Tight: no smoke, no tick, no soot' }).click()
  await saved(page)
  const meter = page.locator('section.boxed', { hasText: 'Does the sensor tell the truth?' })
  await meter.getByLabel('The unit reads').fill('1.02')
  await meter.getByLabel('A second meter reads').fill('1.01')
  await meter.getByLabel('A second meter reads').press('Tab')
  await meter.getByRole('button', { name: 'Record' }).click()
  await saved(page)
  const kept = page.locator('section.boxed', { hasText: 'Does it keep what it learned?' })
  await kept.getByLabel('Key was off for').fill('12')
  await kept.getByText('still there', { exact: true }).click()
  await kept.getByText('frozen', { exact: true }).click()
  await kept.getByRole('button', { name: 'Record' }).click()
  await saved(page)
}

/** What a station of the rehearsal still asks for. */
export async function unmet(request: APIRequestContext, id: string, at: string): Promise<string[]> {
  const { stations } = (await (await request.get(`/api/builds/${id}?view=rehearsal`)).json()) as {
    stations: { id: string; requirements: { id: string; met: boolean }[] }[]
  }
  return stations.find((s) => s.id === at)!.requirements.flatMap((r) => (r.met ? [] : [r.id]))
}
