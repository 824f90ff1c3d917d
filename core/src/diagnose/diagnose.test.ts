import { readFileSync } from 'node:fs'
import { join } from 'node:path'
import { describe, expect, it } from 'vitest'
import { Random } from '../kernel/random.ts'
import { drive } from '../learn/drive.fixture.ts'
import { readLog } from '../logfile/read.ts'
import type { LogData } from '../logfile/read.ts'
import { defaultLimits, judgeSamples } from '../samples/samples.ts'
import { causes, type Cause } from './causes.ts'
import type { DiagnosedCar } from './car.ts'
import { diagnose } from './diagnose.ts'

/** Logs made by the definition of total error, not by the bench; what is wrong is put into them by its own equation. */
const smooth = (rpm: number, map: number) => 2 * Math.sin(rpm / 900) + 1.5 * Math.cos(map / 20)
const made = (more: Partial<Parameters<typeof drive>[0]> & { spoil?: (log: LogData) => void } = {}): LogData => {
  const { spoil, ...rest } = more
  return drive({
    seed: 11,
    needPct: smooth,
    ...rest,
    channels: (log) => {
      const n = log.rows
      const random = new Random(5)
      const c = log.channels
      c.pulseMs = Float32Array.from({ length: n }, (_, i) => 0.9 + 0.08 * c.mapKpa![i] * (1 + c.correctionPct![i] / 100))
      // the foot is off where it idles, and then the vacuum is deep
      c.throttlePct!.forEach((_, i) => (c.throttlePct![i] = c.rpm![i] < 1100 && c.mapKpa![i] < 42 ? 0 : c.mapKpa![i] / 2))
      c.intakeAirC = Float32Array.from({ length: n }, (_, i) => 24 + 4 * Math.sin(i / 5000) + 0.1 * random.normal())
      spoil?.(log)
    },
  })
}
const car: DiagnosedCar = { barometerKpa: 100 }
const said = (log: LogData, more: Partial<DiagnosedCar> = {}) => diagnose(log, judgeSamples(log, defaultLimits), { ...car, ...more })
const names = (log: LogData, more: Partial<DiagnosedCar> = {}) => {
  const { sound, suspects } = said(log, more)
  return { sound, first: suspects[0].cause, group: suspects[0].group ?? [] }
}

describe('a sound log', () => {
  it.each([11, 12, 13])('of seed %i is sound, and says so first', (seed) => {
    const { sound, suspects, correctedFor } = said(made({ seed }))
    expect([sound, suspects[0].cause, correctedFor]).toEqual([true, 'sound', []])
  })
  it('likelihoods are shares of one, likeliest first', () => {
    const { suspects } = said(made())
    expect(suspects.reduce((s, x) => s + x.likelihood, 0)).toBeLessThanOrEqual(1.0001)
    expect(suspects.map((s) => s.likelihood)).toEqual([...suspects.map((s) => s.likelihood)].sort((a, b) => b - a))
  })
  it('too short to tell anything is believed, and says nothing', () => {
    const log = made({ holdS: 0.5 })
    expect(said({ ...log, timeS: log.timeS.slice(0, 60) }).sound).toBe(true)
  })
  const logs = join(import.meta.dirname, '../../../demo/logs')
  it.each(['six-cylinder-first-drive', 'eight-cylinder-semicolon'])('%s is sound, with nothing taken out', (name) => {
    const log = readLog(readFileSync(join(logs, `${name}.csv`)))
    const { sound, correctedFor } = diagnose(log, judgeSamples(log, defaultLimits), { barometerKpa: 98 })
    expect([sound, correctedFor]).toEqual([true, []])
  })
})

describe('a constant', () => {
  it('of 15 % is taken out as one, with all that could be it and the test that parts them', () => {
    const { sound, suspects, correctedFor, mends } = said(made({ needPct: (r, m) => 15 + smooth(r, m) }))
    expect([sound, correctedFor]).toEqual([true, ['injector-flow']])
    expect(suspects[0]).toMatchObject({ cause: 'injector-flow', group: ['injector-flow', 'fuel-pressure', 'fuel-blend', 'sensor-offset'] })
    expect(suspects[0].test).toContain('gauge')
    expect(mends[0].size).toBeCloseTo(15, -0.5)
    expect(Math.abs(mends[0].size - 15)).toBeLessThan(3)
  })
  it('of 1 % belongs to the table', () => expect(said(made({ needPct: (r, m) => 1 + smooth(r, m) })).correctedFor).toEqual([]))
})

describe('what is wrong', () => {
  const over = (log: LogData, i: number) => log.timeS[i] / 60
  it.each<[string, Cause, () => LogData]>([
    [
      'lambda that stands at 1.000',
      'sensor-stuck',
      () => made({ spoil: ({ channels: c, rows }) => c.lambda!.set(new Float32Array(rows).fill(1)) }),
    ],
    [
      'a sensor that runs away by 0.6 % a minute',
      'sensor-drift',
      () => made({ spoil: (log) => log.channels.lambda!.forEach((v, i) => (log.channels.lambda![i] = v * (1 + 0.006 * over(log, i)))) }),
    ],
    ['a sensor that follows 0.8 s late', 'sensor-slow', () => made({ delay: { lagS: 0.8, pipe: 7000 }, cutS: 2.5 })],
    ['60 % of outside air at no flow', 'exhaust-leak', () => made({ needPct: (r, m) => smooth(r, m) + 60 / (1 + (r * m) / 3e5 / 0.08) })],
    [
      'a coolant gauge that levels out at 118 °C',
      'coolant-temperature',
      () => made({ spoil: ({ channels: c }) => c.coolantC!.forEach((_, i) => (c.coolantC![i] = 118)) }),
    ],
    [
      'an air sensor at 80 °C',
      'air-temperature',
      () => made({ spoil: ({ channels: c }) => c.intakeAirC!.forEach((_, i) => (c.intakeAirC![i] = 80)) }),
    ],
    [
      'manifold pressure of 90 kPa with the throttle shut at idle',
      'map-hose',
      () => made({ spoil: ({ channels: c }) => c.mapKpa!.forEach((v, i) => (c.mapKpa![i] = c.throttlePct![i] < 1.5 ? 92 : v)) }),
    ],
    ['a loop at work without its column', 'no-trim-column', () => made({ spoil: ({ channels: c }) => delete c.correctionPct })],
    [
      'vapour for half a minute in every two',
      'purge',
      () =>
        made({
          spoil: (log) => {
            const { lambda, rpm, mapKpa } = log.channels
            lambda!.forEach((v, i) => {
              if (log.timeS[i] % 120 < 35) lambda![i] = v * (1 - 0.16 / (1 + (rpm![i] * mapKpa![i]) / 3e5 / 0.15))
            })
          },
        }),
    ],
  ])('%s: %s', (_, cause, log) => {
    const { sound, first } = names(log())
    expect([sound, first]).toEqual([false, cause])
  })
  it('a cylinder that does not burn shakes the crank and makes lambda jump', () => {
    const random = new Random(9)
    const log = made({
      spoil: ({ channels: c, rows }) => {
        for (let i = 0; i < rows; i++) {
          c.rpm![i] += 14 * random.normal()
          c.lambda![i] *= 1.2 + 0.04 * random.normal()
        }
      },
    })
    expect(names(log)).toMatchObject({ sound: false, first: 'misfire' })
  })
  it('speed or pressure that this engine cannot reach is another car’s, unless a person says that it is not', () => {
    expect(names(made(), { mostRpm: 3000 })).toMatchObject({ sound: false, first: 'other-car' })
    expect(names(made(), { mostRpm: 6000, mostKpa: 120 })).toMatchObject({ sound: true })
    expect(names(made(), { mostRpm: 3000, saidMine: true }).sound).toBe(true)
  })
  it('a loop that was open is believed when it is said so', () => {
    const log = made({ loop: false, needPct: () => 0.2, spoil: ({ channels: c }) => delete c.correctionPct })
    expect(names(log)).toMatchObject({ sound: false, first: 'no-trim-column' })
    expect(names(log, { loopOpen: true }).first).not.toBe('no-trim-column')
  })
  it('what was tested and found not to be it goes', () => {
    const log = made({ needPct: (r, m) => smooth(r, m) + 40 / (1 + (r * m) / 3e5 / 0.08) })
    expect(said(log, { ruledOut: ['exhaust-leak'] }).suspects.map((s) => s.cause)).not.toContain('exhaust-leak')
    const constant = said(made({ needPct: (r, m) => 15 + smooth(r, m) }), { ruledOut: ['injector-flow', 'fuel-blend'] }).suspects[0]
    expect([constant.cause, constant.group]).toEqual(['fuel-pressure', ['fuel-pressure', 'sensor-offset']])
    const all = ['injector-flow', 'fuel-blend', 'fuel-pressure', 'sensor-offset'] as const
    expect(said(made({ needPct: (r, m) => 15 + smooth(r, m) }), { ruledOut: all }).correctedFor).not.toContain('injector-flow')
  })
})

describe('on a table that the log before had proven', () => {
  const grid = { rpm: [600, 1500, 2500, 4000], mapKpa: [25, 50, 75, 97] }
  const known = { axes: grid, leftPct: new Array<number>(16).fill(0), standardErrorPct: new Array<number>(16).fill(0.4) }
  const deadTimeMs = [
    [8, 0.9],
    [16, 0.9],
  ] as const
  const right = (rpm: number, map: number) => smooth(rpm, map) / 5
  const held = (needPct: (rpm: number, map: number) => number, more: Partial<DiagnosedCar> = {}) =>
    said(made({ needPct: (r, m) => right(r, m) + needPct(r, m) }), { known, deadTimeMs, ...more })

  it('nothing new is sound, with nothing taken out', () => {
    const { sound, suspects, correctedFor } = held(() => 0)
    expect([sound, suspects[0].cause, correctedFor]).toEqual([true, 'sound', []])
  })
  // 25 / (1 + flow / 0.08): 17 % at 800 rpm and 30 kPa, 2 % at 3,500 rpm and 80 kPa
  const leak = (r: number, m: number) => 25 / (1 + (r * m) / 3e5 / 0.08)
  it('a leak in the exhaust of a size that a first drive cannot tell is told', () => {
    const { sound, suspects } = held(leak)
    expect([sound, suspects[0].cause]).toEqual([false, 'exhaust-leak'])
    expect(said(made({ needPct: leak })).sound).toBe(true)
  })
  it('a pressure that has fallen by a fifth, 1 / sqrt(0.8) - 1 = 11.8 % at every place, is taken out as a constant', () => {
    const { sound, correctedFor, mends, suspects } = held(() => 11.8)
    expect([sound, correctedFor]).toEqual([true, ['injector-flow']])
    expect(suspects[0].group).toContain('fuel-pressure')
    expect(Math.abs(mends[0].size - 11.8)).toBeLessThan(1)
    // over one drive it may be the air sensor as well, and is said so
    expect(suspects.slice(0, 4).map((s) => s.cause)).toContain('air-temperature')
  })
  it('injectors that open 0.3 ms later err by that over the time they are open, and are mended as such', () => {
    // the fixture's pulses are open for 0.08 ms a kPa
    const { sound, correctedFor, mends } = held((_, m) => (100 * 0.3) / (0.08 * m))
    expect([sound, correctedFor]).toEqual([true, ['dead-time']])
    expect(mends[0].size).toBeCloseTo(0.3, 1)
  })
  it('a pulse that a load or a foot lengthens for a moment does not hide them', () => {
    const log = made({
      needPct: (r, m) => right(r, m) + (100 * 0.3) / (0.08 * m),
      // a fifth of the rows of every fourth stretch of four seconds
      spoil: ({ channels: c, rows }) => {
        for (let i = 0; i < rows; i++) if (i % 320 < 16) c.pulseMs![i] *= 2
      },
    })
    expect(said(log, { known, deadTimeMs }).correctedFor).toEqual(['dead-time'])
  })
  it('what the log before had left is no news', () => {
    const left = { ...known, leftPct: known.leftPct.map(() => 9) }
    expect(held(() => 9, { known: left })).toMatchObject({ sound: true, correctedFor: [] })
    expect(held(() => 9).correctedFor).toEqual(['injector-flow'])
  })
  it('a change of 1 % everywhere is the weather’s', () => expect(held(() => 1).correctedFor).toEqual([]))
  it('one of 3.3 % is taken out', () => expect(held(() => 3.3).correctedFor).toEqual(['injector-flow']))
  it('one of 2 % is not taken out, but stands among the first three', () => {
    const { sound, correctedFor, suspects } = held(() => 2)
    expect([sound, correctedFor]).toEqual([true, []])
    expect(suspects.slice(0, 3).map((s) => s.cause)).toContain('injector-flow')
  })
})

it('every cause has words and a test', () => {
  for (const { is, test } of Object.values(causes)) expect(is.length > 8 && test.length > 20).toBe(true)
})
