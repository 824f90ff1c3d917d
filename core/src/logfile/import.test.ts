import { describe, expect, it } from 'vitest'
import { Random } from '../kernel/random.ts'
import { drivenColumns } from './dialect.fixture.ts'
import { readPreamble } from './preamble.ts'
import { previewLog, readLog } from './read.ts'
import { parseClockS, sniffDialect } from './sniff.ts'

const bytes = (text: string): Uint8Array => new TextEncoder().encode(text)
const driven = drivenColumns(new Random(3))
type Column = [name: string, of: (i: number) => string]
const file = (columns: Column[], { delimiter = ',', preamble = [] as string[] } = {}) =>
  bytes(
    [
      ...preamble,
      columns.map(([name]) => name).join(delimiter),
      ...driven.timeS.map((_, i) => columns.map(([, of]) => of(i)).join(delimiter)),
    ].join('\n') + '\n',
  )
const time: Column = ['Time', (i) => driven.timeS[i].toFixed(2)]
const rpm: Column = ['RPM', (i) => driven.rpm[i].toFixed(0)]
const map: Column = ['MAP (kPa)', (i) => driven.mapKpa[i].toFixed(1)]
const lambda: Column = ['Lambda', (i) => driven.lambda[i].toFixed(3)]
const unsure = (columns: Column[]) => readLog(file(columns)).unsure.map((u) => u.channel)

describe('a log with its units inside its header, under short names', () => {
  const log = readLog(
    file(
      [
        ['t_s', (i) => driven.timeS[i].toFixed(2)],
        rpm,
        ['vac inHg', (i) => ((97 - driven.mapKpa[i]) / 3.386389).toFixed(2)],
        ['WB AFR', (i) => (14.7 * driven.lambda[i]).toFixed(2)],
        ['AFR tgt', (i) => (14.7 * driven.lambdaTarget[i]).toFixed(2)],
        ['CLT_F', (i) => (1.8 * driven.coolantC[i] + 32).toFixed(0)],
        ['IAT_F', (i) => (1.8 * driven.intakeAirC[i] + 32).toFixed(0)],
        ['O2 corr ratio', (i) => (1 + driven.correctionPct[i] / 100).toFixed(3)],
        ['Bat V', (i) => driven.batteryV[i].toFixed(2)],
        ['PW ms', (i) => driven.pulseMs[i].toFixed(2)],
      ],
      { delimiter: '\t', preamble: ['Made-up logger', 'Barometer 28.65 inHg', 'Stoich AFR: 14.7'] },
    ),
  )
  it('reads to the same channels, and asks nothing', () => {
    expect(log.unsure).toEqual([])
    for (const i of [50, 400, 800]) {
      expect(log.channels.mapKpa![i]).toBeCloseTo(driven.mapKpa[i], 0)
      expect(Math.abs(log.channels.coolantC![i] - driven.coolantC[i])).toBeLessThan(0.4)
      expect(Math.abs(log.channels.intakeAirC![i] - driven.intakeAirC[i])).toBeLessThan(0.4)
      expect(log.channels.correctionPct![i]).toBeCloseTo(driven.correctionPct[i], 0)
      expect(log.channels.pulseMs![i]).toBeCloseTo(driven.pulseMs[i], 1)
      expect(log.channels.lambdaTarget![i]).toBeCloseTo(driven.lambdaTarget[i], 2)
    }
  })
  it('takes the barometer of the preamble: 28.65 inHg are 97.0 kPa', () => expect(log.mapping.barometerKpa).toBeCloseTo(97.02, 1))
})

describe('what is not sure is asked', () => {
  it('a correction of 1.5 without a unit: per cent, or half as much again', () =>
    expect(unsure([time, rpm, map, lambda, ['Trim', () => '1.5']])).toEqual(['correctionPct']))
  it('one that goes below nothing and beyond 3 can only be per cent', () =>
    expect(unsure([time, rpm, map, lambda, ['Trim', (i) => driven.correctionPct[i].toFixed(1)]])).toEqual([]))
  it('one that stays about 1 on both sides can only be a factor', () =>
    expect(
      readLog(file([time, rpm, map, lambda, ['Trim', (i) => (1 + driven.correctionPct[i] / 100).toFixed(3)]])).mapping.channels
        .correctionPct!.unit,
    ).toBe('ratio'))
  it('degrees that no warm engine has, though they are written', () =>
    expect(unsure([time, rpm, map, lambda, ['Coolant (°C)', (i) => (1.8 * driven.coolantC[i] + 32).toFixed(0)]])).toEqual(['coolantC']))
  it('degrees that are written nowhere but can only be Fahrenheit are read so', () => {
    const log = readLog(file([time, rpm, map, lambda, ['Coolant', (i) => (1.8 * driven.coolantC[i] + 32).toFixed(0)]]))
    expect([log.unsure, log.mapping.channels.coolantC!.unit]).toEqual([[], 'degF'])
  })
  it('a pressure that is no manifold’s', () => expect(unsure([time, rpm, ['MAP', () => '7'], lambda])).toEqual(['mapKpa']))
  it('a display that counts from another ratio: 9.8 is lambda 1 of alcohol, or very rich', () =>
    expect(unsure([time, rpm, map, ['AFR', (i) => (9.77 * driven.lambda[i]).toFixed(2)]])).toEqual(['lambda']))
  it('and is not asked when the preamble tells it', () => {
    const columns: Column[] = [time, rpm, map, ['AFR', (i) => (9.77 * driven.lambda[i]).toFixed(2)]]
    expect(readLog(file(columns, { preamble: ['stoichiometric ratio 9.77'] })).unsure).toEqual([])
  })
  it('two columns that could both be it', () =>
    expect(unsure([time, rpm, map, ['Lambda', lambda[1]], ['AFR', (i) => (14.7 * driven.lambda[i]).toFixed(2)]])).toEqual(['lambda']))
  it('a channel that the solve needs and no column holds', () => expect(unsure([time, rpm, lambda])).toEqual(['mapKpa']))
  it('time under no name that does nothing but rise', () =>
    expect(unsure([['Nr', (i) => (i * 0.1).toFixed(2)], rpm, map, lambda])).toEqual(['timeS']))
  it('the other bank is a channel of its own', () => {
    const log = readLog(file([time, rpm, map, ['Lambda 1', lambda[1]], ['Lambda 2', (i) => (1.08 * driven.lambda[i]).toFixed(3)]]))
    expect([log.unsure, log.channels.lambda2![100]]).toEqual([[], expect.closeTo(1.08 * driven.lambda[100], 2)])
  })
})

describe('clocks and dates as they come', () => {
  it.each([
    ['01:02:03.5', 3723.5],
    ['12:00:05 AM', 5],
    ['12:00:05 pm', 43205],
    ['1:00:00.25 PM', 46800.25],
    ['02:03,5', 123.5],
    ['00:00:01:250', 1.25],
  ])('%s is %d s', (text, seconds) => expect(parseClockS(text)).toBeCloseTo(seconds, 6))
  it('two dates of any order are as far apart as their days', () => {
    for (const [a, b] of [
      ['2026-11-27 23:59:59', '2026-11-28 00:00:01'],
      ['27.11.2026 23:59:59', '28.11.2026 00:00:01'],
      ['27/11/26 11:59:59 PM', '28/11/26 12:00:01 AM'],
    ])
      expect(parseClockS(b) - parseClockS(a)).toBe(2)
  })
  it.each(['', 'abc', '13:00:00 PM', '12', '1:2:3:4:5'])('%j is none', (text) => expect(parseClockS(text)).toBeNaN())
})

describe('the lines above the names', () => {
  it.each([
    ['Barometer: 1013 hPa', 101.3],
    ['baro 29.92 inHg', 101.32],
    ['Luftdruck 960 mbar', 96],
    ['ambient pressure = 98,4 kPa', 98.4],
    ['Barometer 745', 99.32],
  ])('%s', (line, kpa) => expect(readPreamble([line]).barometerKpa).toBeCloseTo(kpa, 1))
  it('a number that is no barometer is none', () => expect(readPreamble(['Barometer 5', 'Version 101.3'])).toEqual({}))
  it('are kept as they stand', () =>
    expect(sniffDialect(file([time, rpm, map, lambda], { preamble: ['first', 'second line'] })).preamble).toEqual(['first', 'second line']))
})

it('columns that stand apart by blanks are read, names with blanks where they stand wider', () => {
  const log = readLog(
    bytes(
      [
        'Time   Engine speed   MAP_kPa   Lambda',
        ...driven.timeS.map(
          (t, i) => `${t.toFixed(2)}  ${driven.rpm[i].toFixed(0)}    ${driven.mapKpa[i].toFixed(1)} ${driven.lambda[i].toFixed(3)}`,
        ),
      ].join('\n') + '\n',
    ),
  )
  expect([log.rows, log.unsure]).toEqual([900, []])
  expect(log.channels.rpm![500]).toBeCloseTo(driven.rpm[500], -0.5)
})
it('units are looked for where the log is driven, not only at its cold head', () => {
  const head = bytes(
    ['Time,RPM,MAP (kPa),Lambda,Coolant', ...Array.from({ length: 40 }, (_, i) => `${i / 10},900,35,1,60`)].join('\n') + '\n',
  )
  const later = bytes(['cut', ...Array.from({ length: 40 }, (_, i) => `${100 + i / 10},2500,${40 + i},1,190`), 'cut'].join('\n'))
  expect(previewLog(head, [later]).mapping.channels.coolantC!.unit).toBe('degF')
})
