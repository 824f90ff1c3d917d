import { flushPromises, mount } from '@vue/test-utils'
import { afterEach, beforeEach, describe, expect, it, vi } from 'vitest'
import type { LearnResult, LogPreview } from '@vectum/core'
import { madeReading } from '../../../../core/src/judge/made-up.fixture.ts'
import { useBuild } from '../../stores/build.ts'
import { openBuild } from '../../testing/open-build.fixture.ts'
import LogDiagnosis from './LogDiagnosis.vue'
import MappingSheet from './MappingSheet.vue'

const logId = '22222222-2222-4222-8222-222222222222'
const suspect = (cause: string, likelihood: number, more: object = {}) => ({
  ...{ cause, likelihood, evidence: 'smoke was seen', test: 'Smoke the exhaust cold.' },
  ...more,
})
const result = (more: object) =>
  ({ sound: false, diagnosis: [suspect('exhaust-leak', 0.93), suspect('sound', 0.07)], ...more }) as unknown as LearnResult
afterEach(() => {
  vi.restoreAllMocks()
  return flushPromises()
})

describe('a log that is not sound', () => {
  beforeEach(() => openBuild())
  const shown = (more: object = {}) => mount(LogDiagnosis, { props: { result: result(more), logId } })
  it('says the likeliest cause, how likely, and its test', () => {
    const text = shown().find('[data-testid="unsound"]').text()
    expect(text).toContain('Nothing is learned from this log yet')
    expect(text).toContain('Outside air gets into the exhaust before the sensor')
    expect(text).toContain('93 % likely')
    expect(text).toContain('Smoke the exhaust cold.')
  })
  it('names what the log cannot part it from', () =>
    expect(shown({ diagnosis: [suspect('exhaust-leak', 0.6, { group: ['exhaust-leak', 'false-air'] })] }).text()).toContain(
      'cannot part it from: false air',
    ))
  it('takes what the test showed as an entry, and asks to solve again', async () => {
    const w = shown()
    const record = vi.spyOn(useBuild(), 'record').mockReturnValue('x' as never)
    expect(w.find('[data-testid="it-is"]').attributes('disabled')).toBeDefined()
    await w.find('input').setValue('no smoke anywhere')
    await w.find('[data-testid="it-is-not"]').trigger('click')
    expect(record).toHaveBeenCalledWith('learn.tested', { logId, cause: 'exhaust-leak', found: false, seen: 'no smoke anywhere' })
    expect(w.emitted('tested')).toHaveLength(1)
  })
  it('of which the cause was found says so, and asks for another drive', async () => {
    await openBuild({}, [madeReading('learn.tested', { logId, cause: 'exhaust-leak', found: true, seen: 'The flange ticks.' })])
    const text = shown().find('[data-testid="found"]').text()
    expect(text).toContain('The flange ticks.')
    expect(text).toContain('drive again')
  })
  it('lists the others with their share', () => {
    const w = shown({ diagnosis: [suspect('exhaust-leak', 0.6), suspect('false-air', 0.3), suspect('purge', 0.004)] })
    expect(w.findAll('.others li').map((li) => li.find('strong').text())).toEqual(['30 %'])
  })
})
describe('a sound log', () => {
  beforeEach(() => openBuild())
  it('shuts nothing; what was taken out stands before all else', () => {
    const w = mount(LogDiagnosis, {
      props: {
        result: result({ sound: true, correctedFor: ['injector-flow'], diagnosis: [suspect('injector-flow', 0.9), suspect('sound', 0.1)] }),
        logId,
      },
    })
    expect(w.find('[data-testid="unsound"]').exists()).toBe(false)
    expect(w.find('[data-testid="taken-out"]').text()).toContain('All places want the same per cent')
  })
  it('lists what else it could be from one in a hundred on, but not that it is sound, nor what was taken out', () => {
    const diagnosis = [suspect('injector-flow', 0.5), suspect('sound', 0.3), suspect('sensor-drift', 0.19), suspect('purge', 0.009)]
    const shares = (more: object) =>
      mount(LogDiagnosis, { props: { result: result({ sound: true, diagnosis, ...more }), logId } })
        .findAll('.others li strong')
        .map((s) => s.text())
    expect(shares({})).toEqual(['50 %', '19 %'])
    expect(shares({ correctedFor: ['injector-flow'] })).toEqual(['19 %'])
  })
})

describe('the columns of a file', () => {
  const preview = (unsure: object[], channels: object = {}) =>
    ({
      dialect: {
        names: ['Time', 'RPM', 'MAP', 'AFR', 'Extra'],
        units: ['', '', '', '', ''],
        delimiter: ',',
        decimalMark: '.',
        encoding: 'utf-8',
        unitsRow: null,
        headerRow: 0,
      },
      mapping: {
        channels: {
          ...{
            timeS: { column: 0, unit: 's' },
            rpm: { column: 1, unit: 'rpm' },
            mapKpa: { column: 2, unit: 'kPa' },
            lambda: { column: 3, unit: 'AFR' },
          },
          ...channels,
        },
        stoichAfr: 14.7,
        barometerKpa: 100,
      },
      unsure,
      rows: [['0', '900', '40', '14.7', '1']],
    }) as unknown as LogPreview
  const sheet = (p: LogPreview) =>
    mount(MappingSheet, { props: { preview: p, fileName: 'x.csv', busy: false, progress: null, tunes: [], drivenOn: null } })
  beforeEach(() => openBuild())
  it('that are sure are brought in at one tap', async () => {
    const w = sheet(preview([]))
    await w.find('[data-testid="confirm-mapping"]').trigger('click')
    expect(w.emitted('confirm')![0][0]).toMatchObject({ channels: { mapKpa: { column: 2, unit: 'kPa' } } })
  })
  it('that are not sure are asked about where they stand, and nothing is brought in before', async () => {
    const w = sheet(preview([{ channel: 'mapKpa', because: '“MAP”: 20 to 90 can be kPa or inHg' }]))
    expect(w.find('.asked .warn').text()).toBe('20 to 90 can be kPa or inHg.')
    expect(w.text()).toContain('One column is asked about')
    await w.find('[data-testid="confirm-mapping"]').trigger('click')
    expect(w.emitted('confirm')).toBeUndefined()
    await w.find('[data-testid="right-mapKpa"]').trigger('click')
    await w.find('[data-testid="confirm-mapping"]').trigger('click')
    expect(w.emitted('confirm')).toHaveLength(1)
  })
  it('a log without a correction may say that the loop was open', async () => {
    const w = sheet(preview([]))
    await w.find('[data-testid="loop-open"]').trigger('click')
    await w.find('[data-testid="confirm-mapping"]').trigger('click')
    expect(w.emitted('confirm')![0][0]).toMatchObject({ loopOpen: true })
    expect(
      sheet(preview([], { correctionPct: { column: 4, unit: 'percent' } }))
        .find('[data-testid="loop-open"]')
        .exists(),
    ).toBe(false)
  })
})
