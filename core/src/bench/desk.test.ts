import { describe, expect, it } from 'vitest'
import { computeBaseTune } from '../tune/base-tune.ts'
import { type CarInstrumentId, carInstrumentIds, carInstruments, type Seen, type Settling } from './car-instruments.ts'
import { demoBuild } from './demo-build.fixture.ts'
import { BenchDesk, DESK_FRAME_S, DeskCommand } from './desk.ts'
import type { FaultId } from './faults.ts'

const six = demoBuild('1-lowland.json')
const tune = computeBaseTune(six.facts, six.choices)
function deskWith(faults: { id: FaultId; size?: number }[] = []): BenchDesk {
  return new BenchDesk({ ...six, choices: { ...six.choices, bench: { faults } } }, tune)
}
const run = (desk: BenchDesk, seconds: number) => {
  for (let t = 0; t < seconds; t += DESK_FRAME_S) desk.frame()
}
function runningDesk(faults: { id: FaultId; size?: number }[] = []): BenchDesk {
  const desk = deskWith(faults)
  desk.obey({ command: 'key', on: true })
  desk.obey({ command: 'pump', allowed: true })
  run(desk, 3)
  desk.obey({ command: 'crank', on: true })
  run(desk, 15)
  return desk
}
/** Connects an instrument, waits until it has settled, and reads it. */
const seen = (desk: BenchDesk, instrument: CarInstrumentId): Seen => {
  const settling = desk.obey({ command: 'instrument', instrument }) as Settling
  while (desk.bench.timeS < settling.readyAtS) desk.frame()
  return settling.read()
}

describe('hands at the bench car', () => {
  it('key, fuse, starter in their order, and refusals in words that can be read out', () => {
    const desk = deskWith()
    expect(() => desk.obey({ command: 'crank', on: true })).toThrow('The key is off.')
    expect(() => desk.obey({ command: 'pump', allowed: true })).toThrow('Key on first')
    desk.obey({ command: 'key', on: true })
    expect(() => desk.obey({ command: 'crank', on: true })).toThrow('prime first')
    desk.obey({ command: 'pump', allowed: true })
    run(desk, 3)
    desk.obey({ command: 'crank', on: true })
    run(desk, 10)
    expect(desk.bench.rpm).toBeGreaterThan(500)
    // the starter lets go by itself once it fires
    expect(desk.state).toEqual({ keyOn: true, pumpAllowed: true, starter: false })
    expect(() => desk.obey({ command: 'crank', on: true })).toThrow('runs already')
    expect(() => desk.obey({ command: 'sweep' })).toThrow('engine still')
    expect(() => desk.obey({ command: 'plugs' })).toThrow('stands still')
    expect(() => desk.obey({ command: 'click', injector: 1 })).toThrow('engine still')
    desk.cutOff()
    run(desk, 4)
    expect(desk.bench.rpm).toBeLessThan(20)
    expect(desk.state).toEqual({ keyOn: false, pumpAllowed: false, starter: false })
  })
  it('with the injectors unplugged it spins and does not start, and the fuse may stay out', () => {
    const desk = deskWith()
    desk.obey({ command: 'key', on: true })
    desk.obey({ command: 'crank', on: true, fuel: false })
    run(desk, 4)
    expect(desk.bench.rpm).toBeGreaterThan(120)
    expect(desk.bench.rpm).toBeLessThan(300)
    desk.letGo()
    run(desk, 3)
    expect(desk.bench.rpm).toBeLessThan(20)
  })
  it('what is heard is told once', () => {
    const desk = runningDesk([{ id: 'leads-crossed' }])
    run(desk, 20)
    expect(desk.heard().length).toBeGreaterThan(0)
    expect(desk.heard()).toEqual([])
  })
  it('the unit works on what it was sent and keeps what it stored', () => {
    const desk = deskWith()
    const other = { ...tune, parameters: { ...tune.parameters, fanOnC: 99 } }
    desk.obey({ command: 'key', on: true })
    desk.sendTune(other)
    expect(desk.readTune().parameters.fanOnC).toBe(99)
    desk.cutOff()
    expect(desk.readTune()).toEqual(tune)
    desk.sendTune(other)
    desk.storeTune()
    desk.cutOff()
    expect(desk.readTune()).toEqual(other)
  })
  it('a unit that forgets comes back as it left its maker', () => {
    const desk = deskWith([{ id: 'store-fails' }])
    desk.sendTune({ ...tune, parameters: { ...tune.parameters, fanOnC: 99 } })
    desk.storeTune()
    desk.cutOff()
    expect(desk.readTune().parameters).toMatchObject({ fanOnC: tune.parameters.fanOnC, revLimitRpm: 9900 })
  })
  it('commands are judged by one schema', () => {
    expect(DeskCommand.safeParse({ command: 'throttle', pct: 140 }).success).toBe(false)
    expect(DeskCommand.safeParse({ command: 'screw', turns: 0.5 }).success).toBe(true)
    expect(DeskCommand.safeParse({ command: 'fly' }).success).toBe(false)
  })
  it('the screw is turned from where it is and stops at its ends', () => {
    const desk = deskWith()
    expect(desk.obey({ command: 'screw', turns: 0.5 })).toEqual({ turns: 0.5 })
    expect(desk.obey({ command: 'screw', turns: -0.75 })).toEqual({ turns: -0.25 })
    expect(desk.obey({ command: 'screw', turns: -4 })).toEqual({ turns: -4 })
  })
})

describe('instruments of the car', () => {
  it('each has accuracy, minutes and a reading in words with a number or a place', () => {
    const running = runningDesk()
    const still = deskWith()
    still.obey({ command: 'key', on: true })
    still.obey({ command: 'pump', allowed: true })
    run(still, 2)
    for (const id of carInstrumentIds) {
      const kind = carInstruments[id]
      expect(kind.minutes).toBeGreaterThan(0)
      expect(kind.accuracy.length).toBeGreaterThan(2)
      const { says, values } = seen(kind.needs === 'running' ? running : still, id)
      expect(says.length).toBeGreaterThan(3)
      expect(Object.keys(values).length).toBeGreaterThan(0)
    }
  })
  it.each<[CarInstrumentId, 'running' | 'still', string]>([
    ['vacuum-gauge', 'still', 'must run'],
    ['borescope', 'running', 'must stand still'],
    ['smoke-test', 'running', 'must stand still'],
    ['clamp-meter', 'still', 'key must be on'],
    ['leak-inspection', 'still', 'no pressure'],
  ])('%s refuses an engine that is %s', (id, state, words) => {
    const desk = state === 'running' ? runningDesk() : deskWith()
    expect(() => seen(desk, id)).toThrow(words)
  })
  it('they see what is there, within their accuracy', () => {
    const sound = runningDesk()
    expect(Math.abs((seen(sound, 'fuel-gauge').values.pressureKpa as number) - sound.bench.fuel.railKpa)).toBeLessThan(10)
    expect(
      Math.abs((seen(sound, 'vacuum-gauge').values.vacuumKpa as number) - (sound.bench.car.barometerKpa - sound.bench.mapKpa)),
    ).toBeLessThan(3)
    expect(seen(sound, 'leak-inspection').says).toBe('all joints dry')
    expect(seen(runningDesk([{ id: 'joint-leaks' }]), 'leak-inspection').values.where).toBe('feed')
  })
  it('a lean cylinder: a cold port by infrared and a needle that does not stand', () => {
    const desk = runningDesk([{ id: 'lean-cylinder', size: 70 }])
    run(desk, 40)
    const { values } = seen(desk, 'infrared-thermometer')
    const ports = Object.entries(values).filter(([key]) => key.startsWith('port'))
    const coldest = ports.reduce((a, p) => ((p[1] as number) < (a[1] as number) ? p : a))
    // the last in the firing order 1-5-3-6-2-4
    expect(coldest[0]).toBe('port4C')
    expect(seen(desk, 'vacuum-gauge').values.needle).toMatch(/flicks|swings/)
  })
  it('a second meter at the tail pipe is not fooled by the sensor of the car', () => {
    const desk = runningDesk([{ id: 'sensor-contaminated', size: 15 }])
    run(desk, 60)
    const own = desk.bench.frame().lambda!
    expect(own - (seen(desk, 'wideband-display').values.lambda as number)).toBeGreaterThan(0.07)
  })
  it('smoke comes out where it leaks', () => {
    expect(seen(deskWith([{ id: 'vacuum-leak' }]), 'smoke-test').says).toContain('manifold flange')
    expect(seen(deskWith(), 'smoke-test').says).toBe('no smoke')
  })
})
