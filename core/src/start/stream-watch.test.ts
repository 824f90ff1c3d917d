import { describe, expect, it } from 'vitest'
import { demoBuild } from '../bench/demo-build.fixture.ts'
import { BenchDesk, DESK_FRAME_S } from '../bench/desk.ts'
import type { FaultId } from '../bench/faults.ts'
import { contextOf } from '../judge/judgement.ts'
import { computeBaseTune } from '../tune/base-tune.ts'
import { wordsOf } from '../kernel/say.ts'
import { madeFrame } from './frame.fixture.ts'
import type { Frame } from './frame.ts'
import { type StreamEvent, StreamWatch } from './stream-watch.ts'

const watchOf = (file: string) => {
  const b = demoBuild(file)
  const { barometerKpa } = contextOf(b).resolved
  return new StreamWatch(() => ({ facts: b.facts, barometerKpa }))
}
/** A desk with a watch on its stream; what the watch told is gathered. */
function watched(file: string, faults: { id: FaultId; size?: number }[] = []) {
  const b = demoBuild(file)
  const build = { ...b, choices: { ...b.choices, bench: { faults } } }
  const desk = new BenchDesk(build, computeBaseTune(build.facts, build.choices))
  const watch = watchOf(file)
  const events: StreamEvent[] = []
  const run = (seconds: number) => {
    for (let t = 0; t < seconds; t += DESK_FRAME_S) {
      const frame = desk.frame()
      if (frame) events.push(...watch.see(frame))
    }
  }
  const of = (kind: StreamEvent['kind']) => events.filter((e) => e.kind === kind)
  return { desk, watch, run, events, of }
}
const press = (w: ReturnType<typeof watched>) => {
  w.desk.obey({ command: 'sweep' })
  w.run(3)
}

describe('what the app sees by itself', () => {
  it('a sound car with key on: two presses and a hot sensor, each told once', () => {
    const w = watched('1-lowland.json')
    w.desk.obey({ command: 'key', on: true })
    w.run(1)
    press(w)
    expect(w.of('throttle')).toHaveLength(0)
    press(w)
    expect(w.of('throttle')).toMatchObject([{ problems: [] }])
    w.run(25)
    expect(w.of('checks-passed')).toHaveLength(1)
    expect(w.of('flag')).toHaveLength(0)
    expect(w.watch.checks.every((c) => c.state === 'pass')).toBe(true)
  })
  it('a worn throttle sensor: dead spot and flag, and the checks do not pass', () => {
    const w = watched('1-lowland.json', [{ id: 'throttle-dead-spot', size: 40 }])
    w.desk.obey({ command: 'key', on: true })
    w.run(1)
    press(w)
    press(w)
    press(w)
    const told = w.of('throttle').at(-1) as Extract<StreamEvent, { kind: 'throttle' }>
    const spots = told.sweeps.flatMap((s) => s.deadSpotsPct)
    expect(spots.length).toBeGreaterThan(0)
    for (const spot of spots) expect(Math.abs(spot - 40)).toBeLessThan(6)
    expect(w.of('flag')).toEqual([{ kind: 'flag', flag: 'throttle-range' }])
    w.run(25)
    expect(w.of('checks-passed')).toHaveLength(0)
  })
  it('primes are counted until it fires, and that it ran is told once it did so steadily for twenty seconds', () => {
    const w = watched('1-lowland.json')
    w.desk.obey({ command: 'key', on: true })
    w.run(1)
    for (let k = 0; k < 3; k++) {
      w.desk.obey({ command: 'pump', allowed: true })
      w.run(4)
    }
    expect(w.of('primed')).toEqual([1, 2, 3].map((primes) => ({ kind: 'primed', primes })))
    w.desk.obey({ command: 'crank', on: true })
    w.run(8)
    expect(w.of('primed').at(-1)).toEqual({ kind: 'primed', primes: 0 })
    w.run(10)
    expect(w.of('ran')).toHaveLength(0)
    w.run(30)
    const [ran] = w.of('ran') as Extract<StreamEvent, { kind: 'ran' }>[]
    expect(ran.secondsToFire).toBeGreaterThan(0.2)
    expect(ran.idleRpm).toBeGreaterThan(500)
    expect(ran.lambda).toBeGreaterThan(0.6)
    w.run(30)
    expect(w.of('ran')).toHaveLength(1)
  })
  it('hunting, blinded or far too lean it runs and has not run by itself', () => {
    const seen = (at: (timeS: number) => Partial<Frame>) => {
      const watch = watchOf('1-lowland.json')
      const frames = Array.from({ length: 800 }, (_, i) => i * 0.05)
      return frames
        .flatMap((timeS) =>
          watch.see(
            madeFrame({
              timeS,
              state: timeS < 1 ? 'cranking' : 'running',
              rpm: timeS < 1 ? 180 : 800,
              lambda: 0.9,
              oilPressureKpa: 200,
              ...at(timeS),
            }),
          ),
        )
        .filter((e) => e.kind === 'ran').length
    }
    const running = (more: (t: number) => Partial<Frame>) => (t: number) => (t < 1 ? {} : more(t))
    expect(seen(() => ({}))).toBe(1)
    // +-140 on 800 rpm is 35 % from lowest to highest, +-100 is 25 %
    expect(seen(running((t) => ({ rpm: 800 + 140 * Math.sin(t) })))).toBe(0)
    expect(seen(running((t) => ({ rpm: 800 + 100 * Math.sin(t) })))).toBe(1)
    expect(seen(running(() => ({ lambda: null })))).toBe(0)
    expect(seen(running(() => ({ lambda: 1.5 })))).toBe(0)
    // it died and was caught again every ten seconds
    expect(seen(running((t) => ({ rpm: t % 10 < 1 ? 200 : 800 })))).toBe(0)
  })
  it('an engine without oil pressure is a stop, once for each start', () => {
    const w = watched('2-rampart.json', [{ id: 'no-oil' }])
    w.desk.obey({ command: 'key', on: true })
    w.desk.obey({ command: 'pump', allowed: true })
    w.run(3)
    w.desk.obey({ command: 'crank', on: true })
    for (let t = 0; t < 20 && w.of('stop').length === 0; t++) w.run(1)
    expect(wordsOf((w.of('stop')[0] as Extract<StreamEvent, { kind: 'stop' }>).reason)).toContain('No oil pressure')
  })
  it('a stream that begins again, such as another replay, is shown everything again', () => {
    const watch = watchOf('1-lowland.json')
    const frame = (timeS: number) => madeFrame({ timeS, faultFlags: ['map-range'] })
    expect(watch.see(frame(10)).map((e) => e.kind)).toEqual(['flag'])
    expect(watch.see(frame(10.1))).toEqual([])
    expect(watch.see(frame(0)).map((e) => e.kind)).toEqual(['flag'])
  })
})
