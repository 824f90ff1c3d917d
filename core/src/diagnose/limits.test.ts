import { describe, expect, it } from 'vitest'
import type { LogData } from '../logfile/read.ts'
import type { Samples } from '../samples/samples.ts'
import type { Cause } from './causes.ts'
import { diagnose } from './diagnose.ts'
import { addedLag, directSigns, noTrim, type Seen } from './direct.ts'
import { tracesOf } from './traces.ts'

/** Ten minutes of even running at 10 Hz, with one thing on either side of its limit. */
const ROWS = 6000
const column = (value: number | ((i: number) => number)) =>
  Float32Array.from({ length: ROWS }, (_, i) => (typeof value === 'number' ? value : value(i)))
const delay = { lagS: 0.1, cycles: 1, pipe: 6000, events: 10, fitted: true }
function told(cause: Cause, channels: Record<string, Float32Array>, more: Partial<typeof delay> = {}, before?: Seen['before']): number {
  const even = {
    rpm: column(2000),
    mapKpa: column(50),
    lambda: column((i) => 1 + 0.02 * Math.sin(i / 9)),
    correctionPct: column(0),
    coolantC: column(88),
  }
  const log = { timeS: Float64Array.from({ length: ROWS }, (_, i) => i / 10), channels: { ...even, ...channels } as LogData['channels'] }
  const samples = { fate: new Uint8Array(ROWS).fill(1), delay: { ...delay, ...more } } as unknown as Samples
  const seen: Seen = { log, samples, blocks: [], barometerKpa: 100, before }
  return Math.max(
    0,
    ...directSigns(seen, tracesOf(seen.log, seen.samples, seen.barometerKpa), false).flatMap((s) =>
      s.cause === cause ? [s.logBayes] : [],
    ),
  )
}

describe('a coolant gauge levels out where a thermostat holds, 70 to 106 °C', () => {
  it.each([
    [106.5, true],
    [105.5, false],
    [70.5, false],
    [69.5, true],
  ])('%d °C: told %s', (c, found) => expect(told('coolant-temperature', { coolantC: column(c) }) > 0).toBe(found))
})
describe('cold, coolant and air agree within 13 K', () => {
  // the coolant warms up to 88 °C, so that its sensor was right
  const warming = column((i) => Math.min(88, 20 + i / 20))
  it.each([
    [21 + 13.5, true],
    [21 + 12.5, false],
    [21 - 12.5, false],
    [21 - 13.5, true],
  ])('air at %d °C beside 21 °C (the mean of the first four seconds): told %s', (air, found) =>
    expect(told('air-temperature', { coolantC: warming, intakeAirC: column(air) }) > 0).toBe(found),
  )
})
describe('air taken in is between -20 and 65 °C', () => {
  it.each([
    [-21, true],
    [-19, false],
    [66, true],
    [64, false],
  ])('%d °C: told %s', (air, found) => expect(told('air-temperature', { intakeAirC: column(air) }) > 0).toBe(found))
})
describe('a sound sensor follows 0.18 s late at 2,000 rpm and 50 kPa', () => {
  it.each([
    [0.12, 0],
    [0.5, 10],
  ])('%d s of lag and 0.06 s of pipe: at least %d', (lagS, least) => {
    const sign = told('sensor-slow', {}, { lagS, pipe: 6000 })
    if (least === 0) expect(sign).toBe(0)
    else expect(sign).toBeGreaterThan(least)
  })
})
describe('with the throttle shut at idle a manifold is well under the air outside', () => {
  const idle = (kpa: number) => told('map-hose', { rpm: column(850), throttlePct: column(0), mapKpa: column(kpa) })
  it.each([
    [72, 0],
    [92, 7],
  ])('%d kPa of 100: at least %d', (kpa, least) => (least === 0 ? expect(idle(kpa)).toBe(0) : expect(idle(kpa)).toBeGreaterThan(least)))
})
describe('a sensor stands still within 0.4 % while the engine goes through 15 kPa and 500 rpm', () => {
  const still = (spread: number, kpa: number) =>
    told('sensor-stuck', {
      lambda: column((i) => 1 + spread * Math.sin(i / 60)),
      mapKpa: column((i) => 50 + (kpa / 2) * Math.sin(i / 200)),
      rpm: column((i) => 2000 + 400 * Math.sin(i / 300)),
    })
  it.each([
    [0.004, 20, true],
    [0.009, 20, false],
    [0.004, 13, false],
  ])('%d of lambda over %d kPa: told %s', (spread, kpa, found) => expect(still(spread, kpa) > 0).toBe(found))
})

describe('a loop at its limit', () => {
  /** a fifth of the blocks at the limit, with 8 % still missing there */
  const at = (limitPct: number, firstDrive: boolean) => {
    const correction = column((i) => (i % 500 < 100 ? -limitPct : 0))
    const blocks = Array.from({ length: 60 }, (_, k) => ({ seconds: 4, correctionPct: k % 5 ? 0 : -limitPct, overPct: k % 5 ? 0 : -8 }))
    const log = {
      timeS: Float64Array.from({ length: ROWS }, (_, i) => i / 10),
      channels: { rpm: column(2000), mapKpa: column(50), lambda: column((i) => 1 + 0.02 * Math.sin(i / 9)), correctionPct: correction },
    }
    const samples = { fate: new Uint8Array(ROWS), delay } as unknown as Samples
    const seen = { log, samples, blocks, barometerKpa: 100, firstDrive } as unknown as Seen
    return directSigns(seen, tracesOf(seen.log, seen.samples, seen.barometerKpa), false).find((s) => s.cause === 'trim-pegged')?.logBayes
  }
  it('is a fault where the table was right once, and where it is narrow', () => {
    expect(at(25, false)).toBe(10)
    expect(at(12, true)).toBe(10)
    expect(at(19, true)).toBe(10)
  })
  it('of 20 % or more on a first drive is told, and is no fault by itself', () => {
    expect(at(20, true)).toBe(1)
    expect(at(25, true)).toBe(1)
  })
})

it('one row of a gear change is no misfire; a crank that shakes at every tenth row, with oxygen, is', () => {
  const shaken = (every: number, byRpm: number, byLambda = 0) => {
    const log = {
      timeS: Float64Array.from({ length: ROWS }, (_, i) => i / 20),
      channels: {
        rpm: column((i) => 700 + 4 * Math.sin(i * 2.1) + (i % every === 0 ? byRpm : 0)),
        mapKpa: column(36),
        throttlePct: column(0),
        lambda: column((i) => 1 + 0.005 * Math.sin(i * 1.7) + (i % every === 0 ? byLambda : 0)),
      },
    }
    const seen = { log, samples: { fate: new Uint8Array(ROWS), delay }, blocks: [], barometerKpa: 100 } as unknown as Seen
    return directSigns(seen, tracesOf(seen.log, seen.samples, seen.barometerKpa), false).find((s) => s.cause === 'misfire')!.logBayes
  }
  expect(shaken(3000, 600)).toBeLessThan(1)
  expect(shaken(10, 60, 0.3)).toBeGreaterThan(5)
})

describe('held against what the log before showed, four times of what repeats stands for 4 x 4 / 2 - 1 = 7', () => {
  it('a sensor that was 0.16 s late and comes 0.14 s later', () => {
    const late = (lagS: number) => told('sensor-slow', {}, { lagS, pipe: 6000 }, { delayS: 0.16 })
    expect(late(0.1)).toBe(0)
    expect(late(0.24)).toBeCloseTo(7, 1)
  })
  it('a pressure at idle that was 0.4 of the air outside and is 0.45; more than 3 it does not say, since an engine that runs badly draws more air', () => {
    const idle = (kpa: number) =>
      told('map-hose', { rpm: column(850), throttlePct: column(0), mapKpa: column(kpa) }, {}, { shutShare: 0.4 })
    expect(idle(40)).toBe(0)
    // 2.5 x 2.5 / 2 - 1, and a share is a weaker sign than a lag, by one
    expect(idle(45)).toBeCloseTo(1.125, 2)
    expect(idle(60)).toBe(2)
  })
  it('a coolant that levelled out at 88 °C and does at 76, which alone would be a thermostat’s', () => {
    const held = (c: number, before?: Seen['before']) => told('coolant-temperature', { coolantC: column(c) }, {}, before)
    expect(held(76)).toBe(0)
    expect(held(86, { coolantHeldC: 88 })).toBe(0)
    expect(held(76, { coolantHeldC: 88 })).toBeCloseTo(7, 1)
    expect(held(100, { coolantHeldC: 88 })).toBeCloseTo(7, 1)
  })
  it('a cold engine 16 K over its air: the coolant sensor, once its level has moved by 6 K or more; else the air’s', () => {
    const log = (c: number) => ({ coolantC: column((i) => Math.min(c, 36 + i / 20)), intakeAirC: column(20) })
    const says = (cause: Cause, c: number) => told(cause, log(c), {}, { coolantHeldC: 88 }) > 2
    expect([says('air-temperature', 89), says('coolant-temperature', 89)]).toEqual([true, false])
    expect([says('air-temperature', 93.8), says('coolant-temperature', 93.8)]).toEqual([true, false])
    expect([says('air-temperature', 94.2), says('coolant-temperature', 94.2)]).toEqual([false, true])
  })
  it('a pressure that came at once and comes 40 ms behind the throttle', () => {
    const opened = (i: number) => (i % 200 < 100 ? 5 : 15)
    const late = (rows: number, thenS = 0) => {
      const timeS = Float64Array.from({ length: ROWS }, (_, i) => i / 100)
      const mapKpa = column((i) => 40 + 3 * opened(Math.max(0, i - rows)))
      const log = { timeS, channels: { rpm: column(2000), lambda: column(1), throttlePct: column(opened), mapKpa } }
      const samples = { fate: new Uint8Array(ROWS).fill(1), delay: { ...delay, fitted: false } } as unknown as Samples
      const seen: Seen = { log, samples, blocks: [], barometerKpa: 100, before: { mapLagS: thenS } }
      return directSigns(seen, tracesOf(log, samples, 100), false).find((s) => s.cause === 'map-hose')!.logBayes
    }
    expect(late(0)).toBe(-1)
    expect(late(4)).toBeCloseTo(7, 1)
    // read as 20 ms before the throttle it was no less late than at once; 20 ms late then, 40 are two sigmas: 2^2 / 2 - 1
    expect(late(0, -0.02)).toBe(-1)
    expect(late(4, -0.02)).toBeCloseTo(7, 1)
    expect(late(4, 0.02)).toBeCloseTo(1, 1)
  })
  it('a crank that shakes by 8 % more for each sigma, beside a lambda that does not', () => {
    const shaken = (times: number) => {
      const log = {
        timeS: Float64Array.from({ length: ROWS }, (_, i) => i / 20),
        channels: {
          rpm: column((i) => 700 + 4 * times * Math.sin(i * 2.1)),
          mapKpa: column(36),
          throttlePct: column(0),
          lambda: column((i) => 1 + 0.005 * Math.sin(i * 1.7)),
        },
      }
      const samples = { fate: new Uint8Array(ROWS), delay } as unknown as Samples
      return { log, samples }
    }
    const { shake } = tracesOf(shaken(1).log, shaken(1).samples, 100)
    const sign = (times: number) => {
      const { log, samples } = shaken(times)
      const seen: Seen = { log, samples, blocks: [], barometerKpa: 100, before: { shake } }
      return directSigns(seen, tracesOf(log, samples, 100), false).find((s) => s.cause === 'misfire')!.logBayes
    }
    expect(sign(1)).toBeLessThan(0)
    expect(sign(Math.exp(4 * 0.08))).toBeCloseTo(7, 1)
  })
})

describe('a loop that nobody logged is seen over 800 rpm and 10 kPa or more, by a mixture within 1.2 % of its target', () => {
  // a hundred places evenly apart: 90 % of them are looked at
  const says = (overRpm: number, overKpa: number, overPct: number, places = 100) => {
    const blocks = Array.from({ length: places }, (_, k) => ({
      rpm: 800 + (overRpm / 0.9) * (k / (places - 1)),
      mapKpa: 40 + (overKpa / 0.9) * (k / (places - 1)),
      overPct,
    }))
    const seen = { log: { timeS: new Float64Array(0), channels: {} }, blocks, samples: {}, barometerKpa: 100 } as unknown as Seen
    return noTrim(seen, false).some((s) => s.logBayes > 0)
  }
  it.each([
    [860, 11, 1.1, true],
    [740, 11, 1.1, false],
    [860, 9, 1.1, false],
    [860, 11, 1.3, false],
  ])('%d rpm, %d kPa, %d %%: told %s', (rpm, kpa, pct, told) => expect(says(rpm, kpa, pct)).toBe(told))
  it('at twelve places or more', () => expect([says(2000, 40, 0.2, 12), says(2000, 40, 0.2, 11)]).toEqual([true, false]))
})

describe('how loud a sign is: half the square of its sigmas, less one, and 40 at most', () => {
  // 0.18 s and 0.06 s a sigma; 6,000 / 1e5 of it is the pipe's
  it.each([
    [0.3, 3.5],
    [0.36, 7],
    [3, 39],
  ])('a lag of %d s beside 0.06 s of pipe: %d', (lagS, says) => expect(told('sensor-slow', {}, { lagS, pipe: 6000 })).toBeCloseTo(says, 5))
  // 0.72 of the air outside and 0.04 a sigma, less one for a hose that seldom leaks
  it.each([
    [84, 2.5],
    [88, 6],
  ])('%d kPa of 100 with the throttle shut: %d', (kpa, says) =>
    expect(told('map-hose', { rpm: column(850), throttlePct: column(1.4), mapKpa: column(kpa) })).toBeCloseTo(says, 4),
  )
  it('a throttle open by 1.6 % is not shut', () =>
    expect(told('map-hose', { rpm: column(850), throttlePct: column(1.6), mapKpa: column(88) })).toBe(0))
})
describe('a sensor stands still', () => {
  const round = (i: number, rows: number) => Math.sin((2 * Math.PI * i) / rows)
  const still = ({ spread = 0.004, kpa = 30, rpm = 800, seconds = 600 }) =>
    told('sensor-stuck', {
      // whole waves in two minutes: their scatter is their height over the root of two
      lambda: column((i) => (i < seconds * 10 ? 1 + spread * round(i, 400) : NaN)),
      mapKpa: column((i) => 50 + (kpa / 2) * round(i, 400)),
      rpm: column((i) => 2000 + (rpm / 2) * round(i, 400)),
    }) > 0
  it.each([
    [{ spread: 0.0054 }, true],
    [{ spread: 0.006 }, false],
    [{ kpa: 16 }, true],
    [{ kpa: 14 }, false],
    [{ rpm: 530 }, true],
    [{ rpm: 470 }, false],
    [{ seconds: 65 }, true],
    [{ seconds: 55 }, false],
  ])('%o: told %s', (of, found) => expect(still(of)).toBe(found))
})
describe('a sensor that stood still and moves again was only held well', () => {
  const round = (i: number, rows: number) => Math.sin((2 * Math.PI * i) / rows)
  /** ten minutes in windows of two; one of them moves by so much, the others stand */
  const told_ = (window: number, spread: number) =>
    told('sensor-stuck', {
      lambda: column((i) => 1 + (Math.floor(i / 1200) === window ? spread : 0.001) * round(i, 400)),
      mapKpa: column((i) => 50 + 15 * round(i, 400)),
      rpm: column((i) => 2000 + 400 * round(i, 400)),
    }) > 0
  it.each([
    ['the last by 2.1 %: it lives', 4, 0.021, false],
    ['the last by 1.9 %: that is no life', 4, 0.019, true],
    ['the last but one: one window alone tells nothing', 3, 0.03, false],
    ['the middle one: two windows since', 2, 0.03, true],
  ])('%s', (_, window, rms, found) => expect(told_(window, rms * Math.SQRT2)).toBe(found))
})
describe('fuel cuts that leave no mark: a second long or more, lambda under 1.2', () => {
  // one each fifteen seconds
  const blind = (lastsRows: number, lambda: number) =>
    told('sensor-stuck', {
      fuelCut: column((i) => (i % 150 < lastsRows ? 1 : 0)),
      lambda: column((i) => (i % 150 < 30 ? lambda : 1 + 0.02 * Math.sin(i / 9))),
    }) > 0
  it.each([
    [12, 1.15, true],
    [12, 1.25, false],
    [10, 1.15, false],
  ])('%d tenths of a second, up to %d: told %s', (rows, lambda, found) => expect(blind(rows, lambda)).toBe(found))
})

describe('a sign alone', () => {
  const sound = (channels: Record<string, Float32Array>, lagS = 0.1) => {
    const even = { rpm: column(2000), mapKpa: column(50), lambda: column((i) => 1 + 0.02 * Math.sin(i / 9)), correctionPct: column(0) }
    const log = { timeS: Float64Array.from({ length: ROWS }, (_, i) => i / 10), channels: { ...even, ...channels } as LogData['channels'] }
    const samples = { fate: new Uint8Array(ROWS).fill(1), delay: { ...delay, pipe: 0, lagS } } as unknown as Samples
    return diagnose(log, samples, { barometerKpa: 100 }).sound
  }
  // less 1 since sensors are seldom slow, against 2.5 for a sound log: 2.2, which is 90 %, wants 5.7
  it.each([
    [0.18 + 0.06 * Math.sqrt(2 * (5.2 + 1)), true],
    [0.18 + 0.06 * Math.sqrt(2 * (6.2 + 1)), false],
  ])('of a sensor %d s late: sound %s', (lagS, is) => expect(sound({}, lagS)).toBe(is))
  // 2 and a degree each over 65 °C: from 7 on an air sensor is no curve to be mended
  it.each([
    [69.5, true],
    [70.5, false],
  ])('of an air sensor that reads %d °C: sound %s', (c, is) => expect(sound({ intakeAirC: column(c) })).toBe(is))
})

describe('a loop at its limit: within 0.2 % of it, of 3 % or more, for 8 % of the time, with 1.5 % still missing', () => {
  /** a hundred blocks, so many of them at the limit */
  const says = ({ limitPct = 12, at = 20, shortPct = 0, leftPct = 5 }) => {
    const blocks = Array.from({ length: 100 }, (_, k) => ({
      seconds: 4,
      correctionPct: k < at ? shortPct - limitPct : 0,
      overPct: k < at ? -leftPct : 0,
    }))
    const channels = {
      rpm: column(2000),
      mapKpa: column(50),
      lambda: column((i) => 1 + 0.02 * Math.sin(i / 9)),
      correctionPct: column(-limitPct),
    }
    const log = { timeS: Float64Array.from({ length: ROWS }, (_, i) => i / 10), channels }
    const samples = { fate: new Uint8Array(ROWS), delay } as unknown as Samples
    const seen = { log, samples, blocks, barometerKpa: 100 } as unknown as Seen
    return directSigns(seen, tracesOf(seen.log, seen.samples, 100), false).some((s) => s.cause === 'trim-pegged')
  }
  it.each([
    [{ limitPct: 3.1 }, true],
    [{ limitPct: 2.9 }, false],
    [{ at: 9 }, true],
    [{ at: 7 }, false],
    [{ shortPct: 0.19 }, true],
    [{ shortPct: 0.21 }, false],
    [{ leftPct: 1.6 }, true],
    [{ leftPct: 1.4 }, false],
  ])('%o: told %s', (of, found) => expect(says(of)).toBe(found))
})
describe('an air sensor that stands in the heat', () => {
  // the flow rises and falls once in six minutes, and is followed by a sensor forty seconds behind: phase and height of a first-order lag
  const w = (2 * Math.PI) / 3600
  const lag = Math.atan(w * 400)
  const says = (rangeK: number, goes: number) =>
    told('heat-soak', {
      mapKpa: column((i) => 50 + 15 * Math.sin(w * i)),
      // nine tenths of a wave's readings lie within 0.988 of its height
      intakeAirC: column((i) => 35 + (rangeK / 1.9754) * Math.sin(w * i - lag + Math.acos(goes))),
    })
  it('goes up by 5 K on a sound car, 1.2 K a sigma: 7.4 K are two, which say 1; 8.6 K three, which say 3.5', () => {
    expect(says(7.4, -1)).toBeCloseTo(1, 1)
    expect(says(8.6, -1)).toBeCloseTo(3.5, 1)
  })
  it('and with the flow the other way, by 0.65 or more', () => expect([says(12, -0.72) > 0, says(12, -0.6)]).toEqual([true, 0]))
})
describe('where a coolant levels out', () => {
  const held = (seconds: number, overK: number) => {
    const n = seconds * 10
    const ramp = (i: number) => 85 + (overK / 0.8) * Math.max(0, i / n - 0.6) * 2.5
    const log = {
      timeS: Float64Array.from({ length: n }, (_, i) => i / 10),
      channels: {
        rpm: new Float32Array(n).fill(2000),
        lambda: new Float32Array(n).fill(1),
        coolantC: Float32Array.from({ length: n }, (_, i) => ramp(i)),
      },
    }
    const samples = { fate: new Uint8Array(n).fill(1), delay: { ...delay, fitted: false } } as unknown as Samples
    return tracesOf(log, samples, 100).coolantHeldC !== undefined
  }
  it('is known after eight minutes, where it stands within 8 K', () => {
    expect([held(500, 1), held(460, 1)]).toEqual([true, false])
    expect([held(600, 7.5), held(600, 8.5)]).toEqual([true, false])
  })
  it.each([
    [43, true],
    [47, false],
  ])('an engine at %d °C is cold: told %s', (c, cold) =>
    expect(told('air-temperature', { coolantC: column((i) => Math.min(88, c + i / 20)), intakeAirC: column(10) }) > 0).toBe(cold),
  )
})
it.each([
  [0.11, true],
  [0.13, false],
])('a row every %d s shows how a crank shakes: %s', (stepS, shows) => {
  const log = {
    timeS: Float64Array.from({ length: ROWS }, (_, i) => i * stepS),
    channels: { rpm: column((i) => 700 + 4 * Math.sin(i * 2.1)), mapKpa: column(36), lambda: column((i) => 1 + 0.005 * Math.sin(i * 1.7)) },
  }
  const samples = { fate: new Uint8Array(ROWS), delay: { ...delay, fitted: false } } as unknown as Samples
  expect(tracesOf(log, samples, 100).shake !== undefined).toBe(shows)
})

describe('a crank that shakes and a lambda that jumps, where nothing was known before', () => {
  /** rows to and fro by so much, share by share of the log */
  const toAndFro = (parts: readonly (readonly [number, number])[]) => (i: number) => {
    let [share, by] = [0, 0]
    for (const [part, height] of parts) if (i >= share * ROWS) [share, by] = [share + part, height]
    return by * (i % 2 ? 1 : -1)
  }
  // a second difference of to and fro is four times its height, over the root of six; a jump is twice it
  const shaking = (rpm: number) => (rpm * Math.sqrt(6)) / 4
  const seen = (rpm: (i: number) => number, lambda: (i: number) => number, more: Record<string, Float32Array> = {}) => {
    const channels = { rpm: column(rpm), mapKpa: column(36), lambda: column((i) => 1 + lambda(i)), ...more }
    const log = { timeS: Float64Array.from({ length: ROWS }, (_, i) => i / 20), channels }
    return { log, samples: { fate: new Uint8Array(ROWS), delay: { ...delay, fitted: false } } as unknown as Samples }
  }
  const says = (rpm: number, jumps: readonly (readonly [number, number])[]) => {
    const { log, samples } = seen((i) => 700 + toAndFro([[1, shaking(rpm)]])(i), toAndFro(jumps.map(([share, j]) => [share, j / 2])))
    const traces = tracesOf(log, samples, 100)
    return directSigns({ log, samples, blocks: [], barometerKpa: 100 }, traces, false).find((s) => s.cause === 'misfire')!.logBayes
  }
  const shake = 5.5 * Math.exp(2 * 0.22)
  it('two sigmas of each, 22 % of the shake and 30 % of the middle jump, say (2 + 2)^2 / 4 - 1', () =>
    expect(says(shake, [[1, (0.0075 * Math.exp(2 * 0.3)) / 1.4826]])).toBeCloseTo(3, 1))
  it('or 15 % of how far a few jumps stand out', () => {
    // a tenth of them so large that their rms is 1.05 e^0.3 times the middle one
    const middle = 0.0075 / 1.4826
    const large = Math.sqrt(((1.05 * Math.exp(0.3) * 0.0075) ** 2 - 0.9 * middle ** 2) / 0.1)
    expect(
      says(shake, [
        [0.9, middle],
        [0.1, large],
      ]),
    ).toBeCloseTo(3, 1)
  })
  it.each([
    ['middle jump', { jump: 0.0075 * Math.exp(-2 * 0.15), tail: 1 }],
    ['tail', { jump: 0.0075, tail: (1 / 1.4826) * Math.exp(-2 * 0.2) }],
  ])('two sigmas over the shake and the %s of the log before say (2^2 + 2^2) / 2 - 1', (_, jumps) => {
    const { log, samples } = seen((i) => 700 + toAndFro([[1, shaking(10)]])(i), toAndFro([[1, 0.0075 / 1.4826 / 2]]))
    const before = { shake: { rpm: 10 * Math.exp(-2 * 0.08), ...jumps } }
    const signs = directSigns({ log, samples, blocks: [], barometerKpa: 100, before }, tracesOf(log, samples, 100), false)
    expect(signs.find((s) => s.cause === 'misfire')!.logBayes).toBeCloseTo(3, 1)
  })
  it('five sigmas at most: (5 + 5)^2 / 4 - 1', () => expect(says(100, [[1, 0.3]])).toBeCloseTo(24, 5))
  const shown = (rpm: (i: number) => number, more: Record<string, Float32Array> = {}) => {
    const { log, samples } = seen(rpm, toAndFro([[1, 0.004]]), more)
    return tracesOf(log, samples, 100).shake!.rpm
  }
  it('the roughest fiftieth is left out', () => {
    const parts = [
      [0.88, 1],
      [0.105, 3],
      [0.015, 20],
    ] as const
    // sqrt((0.88 x 1 + 0.1 x 9) / 0.98) of 10 rpm
    const rpm = shown((i) => 700 + shaking(10) * toAndFro(parts)(i))
    expect(Math.abs(rpm - 13.48)).toBeLessThan(0.3)
  })
  /** half of the rows at so much speed, the rest on the road and three times as rough */
  const idling = (idleRpm: number, kmh: number) =>
    shown((i) => (i < ROWS / 2 ? idleRpm : 2000) + shaking(i < ROWS / 2 ? 10 : 30) * (i % 2 ? 1 : -1), {
      speedKmh: column((i) => (i < ROWS / 2 ? kmh : 60)),
    }) < 12
  it.each([
    [1050, 0, true],
    [1150, 0, false],
    [800, 2.8, true],
    [800, 3.2, false],
  ])('%d rpm at %d km/h is an idle: %s', (rpm, kmh, is) => expect(idling(rpm, kmh)).toBe(is))
})

describe('how late pressure comes is told by what opens a nearly shut plate: over 0.1 s to each side, by 4 % and more, from 25 % or less, for 3 s in all', () => {
  /** to and fro each second, so many times; each is a fifth of a second of movement */
  const told = ({ from = 10, by = 10, times = 59 }) => {
    const foot = (i: number) => from + (Math.min(times, Math.floor(i / 100)) % 2 ? by : 0)
    const timeS = Float64Array.from({ length: ROWS }, (_, i) => i / 100)
    const mapKpa = column((i) => 40 + foot(Math.max(0, i - 2)))
    const log = { timeS, channels: { rpm: column(2000), lambda: column(1), throttlePct: column(foot), mapKpa } }
    const samples = { fate: new Uint8Array(ROWS).fill(1), delay: { ...delay, fitted: false } } as unknown as Samples
    return tracesOf(log, samples, 100).mapLagS !== undefined
  }
  it.each([
    [{ by: 4.3 }, true],
    [{ by: 3.7 }, false],
    [{ from: 24 }, true],
    [{ from: 26 }, false],
    [{ times: 16 }, true],
    [{ times: 14 }, false],
  ])('%o: %s', (of, is) => expect(told(of)).toBe(is))
})
it('a pressure 0.08 s behind the throttle, where nothing was known: 0.015 s is a sound one, 0.02 s a sigma', () => {
  const log = { timeS: new Float64Array(0), channels: {} }
  const seen = { log, samples: { fate: new Uint8Array(0), delay }, blocks: [], barometerKpa: 100 } as unknown as Seen
  const channels = { rpm: column(2000), mapKpa: column(50), lambda: column((i) => 1 + 0.02 * Math.sin(i / 9)) }
  const even = { ...seen, log: { timeS: Float64Array.from({ length: ROWS }, (_, i) => i / 10), channels } }
  // 3.25^2 / 2 - 1
  expect(directSigns(even, { mapLagS: 0.08 }, false).find((s) => s.cause === 'map-hose')!.logBayes).toBeCloseTo(4.28, 2)
})

describe('what a sensor lags beyond its pipe', () => {
  const sound = { usualS: 0.18, sigmaS: 0.06, pipe: 15_500, pipeSigma: 3500 }
  it('told at the usual flow: what it is late by more than a sound one', () => {
    const { lagS, errorS } = addedLag(delay, 0.3, sound)
    expect(lagS).toBeCloseTo(0.12, 6)
    expect(errorS).toBeCloseTo(0.06, 6)
  })
  it('told at another flow alone, with no pipe read where one must be, what was read for lag is the pipe’s', () => {
    // at the usual flow known to 0.1 s, the pipe to 5000, together -450: v = 0.01 + 0.0036, p = 25e6 + 12.25e6
    const variance = { usual: 0.01, pipe: 25e6, both: -450 }
    const { lagS, errorS } = addedLag({ ...delay, pipe: 0, variance }, 0.4, sound)
    // 0.22 - (-450 / 37.25e6)(0 - 15500) = 0.22 - 0.1872; 0.0136 - 450^2 / 37.25e6 = 0.00816
    expect(lagS).toBeCloseTo(0.0328, 3)
    expect(errorS).toBeCloseTo(Math.sqrt(0.00816), 3)
  })
  it.each([
    // (0.36 - 0.18) / 0.06 = 3: 3^2 / 2 - 1; from 0.18 before, 0.07 / 0.035 = 2: 2^2 / 2 - 1
    [0.36, undefined, 3.5],
    [0.17, undefined, -1],
    [0.25, { delayS: 0.18, pipe: 6000 }, 1],
    [0.25, { delayS: 0.25 }, -1],
  ] as [number, object | undefined, number][])('%d s, before it %o: %d', (delayS, then, logBayes) => {
    const channels = { rpm: column(2000), mapKpa: column(50), lambda: column((i) => 1 + 0.02 * Math.sin(i / 9)) }
    const log = { timeS: Float64Array.from({ length: ROWS }, (_, i) => i / 10), channels }
    const samples = { fate: new Uint8Array(ROWS), delay } as unknown as Samples
    const sign = directSigns({ log, samples, blocks: [], barometerKpa: 100, before: then }, { delayS }, false).find(
      (s) => s.cause === 'sensor-slow',
    )!
    expect(sign.logBayes).toBeCloseTo(logBayes, 4)
  })
})
