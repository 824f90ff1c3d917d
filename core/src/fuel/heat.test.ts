import { describe, expect, it } from 'vitest'
import { contextOf, evaluate } from '../judge/judgement.ts'
import { madeReading, severityOf, soundBuild } from '../judge/made-up.fixture.ts'
import { startingCircuit } from './circuit.ts'
import { designOf } from './design.ts'
import { genericPumps } from './pump.ts'
import { secondsToRise, sumpRiseK, tankRiseK } from './warming.ts'

const fuel = (patch: object, facts: object = {}) => ({ facts, choices: { fuel: patch } })
const finding = (id: string, patch: object, readings: ReturnType<typeof madeReading>[] = []) =>
  evaluate(soundBuild(patch, readings))
    .stations.find((s) => s.id === 'fuel')!
    .findings.find((f) => f.id === id)

describe('a tank that the return warms', () => {
  // 64 L: 6 x 0.064^(2/3) = 0.96 m2, x 8 = 7.68 W/K; 76.8 W end 10 K warmer; 11.92 kg x 2200 / 7.68 = 3415 s
  const tank = { heatW: 76.8, capacityL: 64, fuelKg: 11.92 }
  it('comes to heat over loss, and 63 % of the way in one time constant', () => {
    expect(tankRiseK(tank, 1e7)).toBeCloseTo(10, 6)
    expect(tankRiseK(tank, 3414.6)).toBeCloseTo(10 * (1 - Math.exp(-1)), 3)
    expect(tankRiseK(tank, 0)).toBe(0)
  })
  it('tells when, and never where its skin keeps it cooler', () => {
    expect(secondsToRise(tank, 6.3212)).toBeCloseTo(3414.6, 0)
    expect(secondsToRise(tank, 10.1)).toBeNull()
    expect(secondsToRise(tank, -1)).toBe(0)
  })
  it('a sump is kept cool by what flows through it', () => {
    // 100 W into 0.01 kg/s x 2200 = 22 W/K; 1 L has 0.06 m2, 0.48 W/K to a bay 40 K warmer: (100 + 19.2) / 22.48
    expect(sumpRiseK({ heatW: 100, throughKgS: 0.01, sumpL: 1, bayC: 65, tankC: 25 })).toBeCloseTo(5.302, 2)
  })
})

describe('heat in the circuit', () => {
  const big = { pump: genericPumps[2].spec }
  it('a told hot tank is warmed from there, and says after how many minutes the pump boils its fuel', () => {
    // RVP 60 kPa at 45 degC stands at 79 kPa of 99 kPa + head: 10 kPa are left from about 48 degC on
    const found = finding('fuel.tank-heat', fuel({ ...big, hotC: 45 }))!
    expect(found.severity).toBe('warn')
    expect(found.because).toMatch(/From 45 °C .* after \d+ min .* W coming back/)
    expect(severityOf('fuel.tank-heat', fuel({ ...big, hotC: 25 }))).toBeNull()
  })
  it('a large pump on a small tank boils within ten minutes: a stop', () => {
    expect(severityOf('fuel.tank-heat', fuel({ ...big, hotC: 45 }, { fuel: { tankL: 10 } }))).toBe('stop')
    expect(severityOf('fuel.tank-heat', fuel({ ...big, hotC: 45 }, { fuel: { tankL: 60 } }))).toBe('warn')
  })
  it('a sump in the bay is warmer than the tank', () => {
    const lift = {
      kind: 'mechanical' as const,
      curves: [
        {
          voltageV: 12,
          points: [
            { pressureKpa: 0, flowLph: 70 },
            { pressureKpa: 28, flowLph: 0 },
          ],
        },
      ],
    }
    const d = designOf(contextOf(soundBuild(fuel({ ...startingCircuit('lift-sump'), liftPump: lift, sump: { volumeL: 1 } }))))!
    expect(d.states.cruise.fluid.temperatureC).toBeGreaterThan(27)
    expect(d.states['full-hot'].fluid.temperatureC).toBeGreaterThan(d.tank.fromC + 10)
    // the engine stands at prime: the mechanical pump brings nothing, at idle a part of its sheet
    const at = (id: string) => d.solutions.find((s) => s.state === id)!.lift!.flowLph
    expect(at('prime')).toBe(0)
    expect(at('idle')).toBeLessThan(0.6 * at('full'))
    expect(at('idle')).toBeGreaterThan(0)
  })
  it('keeps a pressure that holds summer fuel liquid for twenty minutes, or says that hot starts will be long', () => {
    const bleed = (at5Kpa: number, at10Kpa: number) => [
      madeReading('fuel.bleed-down', { at0Kpa: 300, at1Kpa: 295, at5Kpa, at10Kpa, pinch: 'not-tried' }),
    ]
    // by the formula of AP-42, by hand: RVP 60 at 85 degC stands at 224.6 kPa, 125.6 over 99 kPa of air
    // left after 20 minutes: 211 x (211/270)^2 = 128.9, 208 x (208/270)^2 = 123.4
    expect(severityOf('fuel.hot-soak', {}, bleed(270, 211))).toBeNull()
    expect(severityOf('fuel.hot-soak', {}, bleed(270, 208))).toBe('warn')
    expect(severityOf('fuel.hot-soak', {})).toBeNull()
  })
  it('a system under 126 kPa boils in a soak whatever it keeps', () => {
    expect(severityOf('fuel.hot-soak', fuel({ regulator: { setKpa: 125 } }))).toBe('note')
    expect(severityOf('fuel.hot-soak', fuel({ regulator: { setKpa: 126 } }))).toBeNull()
    expect(severityOf('fuel.hot-soak', fuel({ ...startingCircuit('returnless'), regulator: { setKpa: 90 } }))).toBe('warn')
  })
})
