import { describe, expect, it } from 'vitest'
import fc from 'fast-check'
import { type BenchCar, benchCarFor } from './car.ts'
import { dilutionShare } from './fit-car.ts'
import { trueVe } from './ve-grid.ts'
import { Crank } from './crank.ts'
import { demoBuild } from './demo-build.fixture.ts'
import { Electrics } from './electrics.ts'
import { MixtureSensor, SENSOR_WARM_S } from './exhaust.ts'
import { FuelPath } from './fuel-path.ts'
import { Heat } from './heat.ts'
import { Inlet } from './inlet.ts'
import { knockIntegral, knockLimit } from './knock.ts'
import { bestAdvanceDeg, converterNm, CRITICAL_FLOW, fmepKpa, R_GAS } from './physics.ts'
import { seedOf } from '../kernel/random.ts'

const b = demoBuild('1-lowland.json')
const car: BenchCar = benchCarFor(b.facts, b.choices, seedOf(b.id))
const DT = 0.001

describe('the inlet', () => {
  const settled = (openShare: number, rpm: number, dt = DT) => {
    const inlet = new Inlet(car, 310)
    inlet.openShare = openShare
    inlet.fixedAreaM2 = car.plateLeakM2
    for (let t = 0; t < 3; t += dt) inlet.step(dt, rpm)
    return inlet
  }
  it('balances its mass to rounding, whatever plate and speed', () => {
    fc.assert(
      fc.property(fc.double({ min: 0, max: 1, noNaN: true }), fc.double({ min: 0, max: 6000, noNaN: true }), (open, rpm) => {
        const inlet = new Inlet(car, 310)
        const before = inlet.airKg
        inlet.openShare = open
        inlet.fixedAreaM2 = car.plateLeakM2
        for (let i = 0; i < 400; i++) inlet.step(DT, rpm)
        expect(Math.abs(inlet.inKg - inlet.outKg - (inlet.airKg - before))).toBeLessThan(1e-9 * Math.max(inlet.inKg, 1e-3))
        expect(inlet.mapKpa).toBeGreaterThan(0)
        expect(inlet.mapKpa).toBeLessThanOrEqual(car.barometerKpa + 1e-6)
      }),
      { numRuns: 40 },
    )
  })
  it('is stable wide open, where the manifold is faster than the step: no swing from step to step', () => {
    const inlet = settled(1, 600)
    const before = inlet.mapKpa
    let swing = 0
    for (let i = 0; i < 200; i++) {
      inlet.step(DT, 600)
      swing = Math.max(swing, Math.abs(inlet.mapKpa - before))
    }
    expect(swing).toBeLessThan(0.01)
  })
  it('more plate, more pressure; more speed, less', () => {
    expect(settled(0.1, 2000).mapKpa).toBeGreaterThan(settled(0.03, 2000).mapKpa)
    expect(settled(0.05, 3000).mapKpa).toBeLessThan(settled(0.05, 1500).mapKpa)
  })
  it('steady, what passes the plate is what the cylinders take: VE p V n / (120 R T)', () => {
    const inlet = settled(0.05, 2000)
    const wanted = ((trueVe(car, 2000, inlet.mapKpa) / 100) * inlet.mapKpa * 1000 * car.displacementM3 * 2000) / (120 * R_GAS * 310)
    expect(inlet.outKgS / wanted).toBeCloseTo(1, 3)
  })
  it('steady idle flow is plate and valve and leak together, each by its own area', () => {
    const inlet = new Inlet(car, 310)
    const [plate, valve, leak] = [car.plateLeakM2, 0.2 * car.idleValveAreaM2, 0.15 * car.plateLeakM2]
    inlet.fixedAreaM2 = plate + valve + leak
    for (let t = 0; t < 4; t += DT) inlet.step(DT, 700)
    const perM2 =
      ((car.barometerKpa * 1000) / Math.sqrt(R_GAS * (car.ambientC + 273.15))) * CRITICAL_FLOW.at(inlet.mapKpa / car.barometerKpa)
    expect(inlet.outKgS / ((plate + valve + leak) * perM2)).toBeCloseTo(1, 4)
  })
  it('a still engine takes nothing and the manifold fills to the air', () => {
    const inlet = settled(0.01, 0)
    expect(inlet.outKgS).toBe(0)
    expect(inlet.mapKpa).toBeCloseTo(car.barometerKpa, 1)
  })
})

describe('the fuel path', () => {
  const warm = () => {
    const fuel = new FuelPath(car)
    fuel.wantedKpa = car.basePressureKpa
    fuel.tick(0, 1000)
    return fuel
  }
  it('the rail rises in a quarter second and holds its pressure with the pump off', () => {
    const fuel = warm()
    for (let i = 0; i < 1500; i++) fuel.step(DT, true, 0, 0)
    expect(fuel.railKpa / car.basePressureKpa).toBeCloseTo(1, 2)
    for (let i = 0; i < 60_000; i++) fuel.step(DT, false, 0, 0)
    expect(fuel.railKpa / car.basePressureKpa).toBeGreaterThan(0.9)
  })
  it('in time as much burns as is injected, warm; the film only holds it back', () => {
    const fuel = warm()
    fuel.gPerCycle = 0.2
    for (let i = 0; i < 6000; i++) fuel.step(DT, true, 1000, 0.01)
    expect(fuel.arrivingGps / ((0.2 * 1000) / 120)).toBeCloseTo(1, 2)
    fuel.gPerCycle = 0
    fuel.step(DT, true, 1000, 0.01)
    // 12 % of it was on its way through the film
    expect(fuel.arrivingGps / ((0.2 * 1000) / 120)).toBeCloseTo(0.12, 2)
  })
  it('flow follows the root of the pressure over base', () => {
    const at = (kpa: number) => {
      const fuel = warm()
      fuel.wantedKpa = kpa
      fuel.gPerCycle = 0.2
      for (let i = 0; i < 6000; i++) fuel.step(DT, true, 1000, 0.01)
      return fuel.arrivingGps
    }
    expect(at(0.25 * car.basePressureKpa) / at(car.basePressureKpa)).toBeCloseTo(0.5, 2)
  })
  it('a flooded engine burns too rich until air has carried its pool off: 0.06 kg of air leave a third of it', () => {
    const fuel = warm()
    fuel.flood()
    // 5 g a litre at first; 0.01 kg/s of air carry m / 0.06 kg of it away
    const whole = 5 * car.displacementM3 * 1000
    fuel.step(DT, false, 200, 0.01)
    expect(fuel.arrivingGps / ((whole * 0.01) / 0.06)).toBeCloseTo(1, 2)
    for (let i = 0; i < 6000; i++) fuel.step(DT, false, 200, 0.01)
    expect(fuel.arrivingGps / ((whole * 0.01) / 0.06)).toBeCloseTo(Math.exp(-1), 2)
  })
  it('a prime pulse lies on the walls until the engine turns, and what they cannot hold is a pool', () => {
    const fuel = warm()
    fuel.railKpa = car.basePressureKpa
    fuel.squirt(0.2)
    fuel.step(DT, true, 0, 0)
    expect(fuel.arrivingGps).toBe(0)
    fuel.step(DT, true, 200, 0.01)
    expect(fuel.arrivingGps).toBeGreaterThan(0.5)
    const flooded = warm()
    flooded.railKpa = car.basePressureKpa
    for (let i = 0; i < 40; i++) flooded.squirt(0.2)
    flooded.step(DT, true, 200, 0.01)
    // 8 g went in, the walls hold 0.35 g a litre
    expect(flooded.arrivingGps).toBeGreaterThan(((8 - 0.35 * car.displacementM3 * 1000) * 0.01) / 0.06)
  })
})

describe('the mixture sensor', () => {
  const hot = () => {
    const sensor = new MixtureSensor(car)
    for (let t = 0; t < SENSOR_WARM_S + 1; t += 0.1) sensor.heat(0.1, true, 0.02)
    return sensor
  }
  const settle = (sensor: MixtureSensor, phi: number, kgS = 0.02, s = 4) => {
    for (let t = 0; t < s; t += DT) sensor.step(DT, phi, 2000, kgS)
    return sensor
  }
  it('tells nothing cold, free air without fuel, and the truth once settled', () => {
    expect(new MixtureSensor(car).lambda).toBeNull()
    expect(settle(hot(), 0).lambda).toBe(2.2)
    expect(settle(hot(), 1 / 0.87).lambda).toBeCloseTo(0.87, 3)
  })
  it('forgets its heat with the key off', () => {
    const sensor = settle(hot(), 1)
    for (let t = 0; t < 40; t += 0.1) sensor.heat(0.1, false, 0)
    expect(sensor.lambda).toBeNull()
  })
  it('after the delay it follows with the lag it was given: 63 % of a step in one lag, 86 % in two', () => {
    for (const slow of [1, 6]) {
      const sensor = settle(hot(), 1, 0.02, 8)
      sensor.slow = slow
      const phi = () => 1 / sensor.lambda!
      let t = 0
      while (phi() < 1.0005 && t < 4) {
        sensor.step(DT, 1.1, 2000, 0.02)
        t += DT
      }
      const lagS = car.sensorLagS * slow
      for (let k = 0; k < lagS; k += DT) sensor.step(DT, 1.1, 2000, 0.02)
      expect((phi() - 1) / 0.1).toBeCloseTo(0.63, 1)
      for (let k = 0; k < lagS; k += DT) sensor.step(DT, 1.1, 2000, 0.02)
      expect((phi() - 1) / 0.1).toBeCloseTo(0.86, 1)
    }
  })
  it('a leak before it reads lean, most where little gas flows', () => {
    const leaky = (kgS: number) => {
      const sensor = hot()
      sensor.leakShare = 0.2
      return settle(sensor, 1, kgS).lambda!
    }
    expect(leaky(0.003)).toBeGreaterThan(leaky(0.05))
    expect(leaky(0.05)).toBeGreaterThan(1.005)
  })
  it('answers after the delay of pipe and stroke, sooner with more flow', () => {
    const answerS = (kgS: number) => {
      const sensor = settle(hot(), 1, kgS)
      let t = 0
      while (sensor.lambda! < 1.05 && t < 4) {
        sensor.step(DT, 0.8, 2000, kgS)
        t += DT
      }
      return t
    }
    expect(answerS(0.004)).toBeGreaterThan(answerS(0.04) + 0.1)
  })
})

describe('heat and electrics', () => {
  it('warms on fuel, is held by thermostat and fan, and cools to the air without', () => {
    const heat = new Heat(car, car.ambientC)
    for (let t = 0; t < 1500; t++) heat.step(1, 1.2, 0.01, heat.coolantC > 92)
    expect(heat.coolantC).toBeGreaterThan(car.thermostatC - 2)
    expect(heat.coolantC).toBeLessThan(105)
    for (let t = 0; t < 50_000; t++) heat.step(1, 0, 0, false)
    expect(heat.coolantC).toBeCloseTo(car.ambientC, 0)
  })
  it('sags at the starter, charges running, and a dynamo only at speed', () => {
    const at = (more: object, dynamo = false) => {
      const e = new Electrics()
      const state = { keyOn: true, cranking: false, rpm: 0, pumpOn: true, fanOn: false, crankingV: null, groundOhm: 0, ...more }
      for (let t = 0; t < 3; t += 0.01) e.step(0.01, state, { dynamo })
      return e
    }
    expect(at({}).batteryV).toBeCloseTo(12.47, 1)
    expect(at({ cranking: true, rpm: 190 }).batteryV).toBeCloseTo(10.31, 1)
    expect(at({ rpm: 800 }).batteryV).toBeGreaterThan(13.7)
    expect(at({ rpm: 800 }, true).batteryV).toBeLessThan(12.6)
    expect(at({ rpm: 2000 }, true).batteryV).toBeGreaterThan(13.7)
    // 10 mohm in the ground with 30 A of starter share, 9 A of key
    expect(at({ cranking: true, rpm: 190, groundOhm: 0.01 }).groundLiftV).toBeCloseTo(0.39, 2)
  })
})

describe('crank and cylinders', () => {
  const turning = (rpm: number, fuelGps: number) => {
    const crank = new Crank(car)
    crank.omega = (rpm * Math.PI) / 30
    const airKgS = 0.012
    crank.advanceDeg = bestAdvanceDeg(rpm, 60, car.barometerKpa)
    const fired: number[] = []
    for (let i = 0; i < 6000; i++) {
      // held at its speed as on a brake: only what the cylinders give is looked at
      crank.omega = (rpm * Math.PI) / 30
      crank.step(DT, airKgS, fuelGps, 60, 0, null)
      fired.push(crank.indicatedNm)
    }
    return { crank, mean: fired.reduce((a, v) => a + v, 0) / fired.length }
  }
  it('turns the angle its speed says, and fires on it: torque without fuel is nothing', () => {
    const { crank, mean } = turning(1500, 0)
    expect(crank.angleDeg / (1500 * 6 * 6)).toBeCloseTo(1, 6)
    expect(mean).toBe(0)
    // each cylinder once in two turns: 6 s at 1,500 rpm are 75 cycles
    expect(Math.max(...crank.misfires)).toBeLessThanOrEqual(76)
  })
  it('work is the same at another speed for the same charge in a second: power from fuel, not from turning', () => {
    const fuelGps = (0.012 * 1000) / (car.fuel.stoichAfr * 0.95)
    const power = (rpm: number) => turning(rpm, fuelGps).mean * ((rpm * Math.PI) / 30)
    expect(power(2500) / power(2000)).toBeGreaterThan(0.9)
    expect(power(2500) / power(2000)).toBeLessThan(1.1)
    expect(power(2000)).toBeLessThan(0.45 * (fuelGps / 1000) * car.fuel.heatJKg)
  })
  it('burnt gas costs nothing under a tenth of the charge, and from there in a straight line', () => {
    const gas = { dilutionLoss: 2 }
    expect([0, 0.1, 0.2, 0.35].map((residual) => dilutionShare(gas, residual))).toEqual([1, 1, 0.8, 0.5])
  })
  it('friction by hand: 3,000 rpm, 80 mm stroke, 100 kPa: 48 + 22.5 + 9 x 8 + 0.09 x 64 = 148.3 kPa; highest where it hardly turns or turns fast', () => {
    expect(fmepKpa(3000, 0.08, 100)).toBeCloseTo(148.3, 1)
    expect(fmepKpa(100, 0.08, 100)).toBeGreaterThan(fmepKpa(800, 0.08, 100))
    expect(fmepKpa(5000, 0.08, 100)).toBeGreaterThan(fmepKpa(1500, 0.08, 100))
  })
  it('a spark far too early at the starter kicks the piston back; in time it does not', () => {
    const cranked = (advanceDeg: number) => {
      const crank = new Crank(car)
      crank.advanceDeg = advanceDeg
      crank.frictionKpa = 200
      for (let i = 0; i < 4000; i++) crank.step(DT, 0.008, 0.6, 95, 0, 10.4)
      return { kicks: crank.heard.kick, rpm: crank.rpm }
    }
    expect(cranked(10).kicks).toBe(0)
    expect(cranked(10).rpm).toBeGreaterThan(400)
    expect(cranked(40).kicks).toBeGreaterThan(3)
    expect(cranked(40).rpm).toBeLessThan(350)
  })
  it('plugs get wet from fuel that does not burn, never without fuel, and dry in a fire', () => {
    const cranked = (fuelGps: number, sparks: Crank['sparks']) => {
      const crank = new Crank(car)
      crank.sparks = sparks
      crank.frictionKpa = 300
      for (let i = 0; i < 9000; i++) crank.step(DT, 0.008, fuelGps, 95, 0, 10.4)
      return crank.wet
    }
    const dead = Array.from({ length: car.cylinders }, () => ({ inTime: false, bang: null, reach: 0 }))
    expect(cranked(1, dead)).toBe(true)
    expect(cranked(0, dead)).toBe(false)
    expect(cranked(0.6, null)).toBe(false)
  })
  it('energy closes: what the pistons and the starter give is friction, load and the flywheel’s speed, within 1 %', () => {
    const crank = new Crank(car)
    crank.frictionKpa = 120
    for (let i = 0; i < 8000; i++) crank.step(DT, 0.014, (0.014 * 1000) / (14.7 * 0.95), 60, i > 3000 ? 20 : 0, i < 600 ? 10.4 : null)
    const { indicated, starter, lost, load } = crank.energyJ
    const kinetic = 0.5 * car.inertiaKgM2 * crank.omega ** 2
    expect(indicated).toBeGreaterThan(10_000)
    expect((lost + load + kinetic) / (indicated + starter)).toBeCloseTo(1, 2)
  })
  it('a converter takes by the square of speed, doubles at rest and couples at 0.88', () => {
    const rest = converterNm(1000, 0, 0.004)
    expect(rest.takesNm).toBeCloseTo(36, 9)
    expect(converterNm(2000, 0, 0.004).takesNm / rest.takesNm).toBeCloseTo(4, 9)
    expect(rest.givesNm).toBeCloseTo(72, 9)
    const coupled = converterNm(2000, 1900, 0.004)
    expect(coupled.givesNm).toBeCloseTo(coupled.takesNm, 9)
    expect(converterNm(1000, 2000, 0.004).takesNm).toBeLessThan(0)
  })
})

describe('knock', () => {
  const point = {
    rpm: 1000,
    mapKpa: 95,
    chargeC: 50,
    advanceDeg: 14,
    compressionRatio: 9.2,
    octaneRon: 95,
    stoichAfr: 14.7,
    heatJKg: 43.5e6,
    lambda: 1,
  }
  const more = (change: Partial<typeof point>) => knockIntegral({ ...point, ...change })
  it('comes nearer with spark, load, heat and compression, and goes with octane and speed', () => {
    const base = knockIntegral(point)
    for (const change of [{ advanceDeg: 20 }, { mapKpa: 101 }, { chargeC: 80 }, { compressionRatio: 10.5 }])
      expect(more(change)).toBeGreaterThan(base)
    for (const change of [{ octaneRon: 98 }, { rpm: 2500 }, { mapKpa: 60 }, { lambda: 0.85 }]) expect(more(change)).toBeLessThan(base)
  })
  it('the limit is an advance: later with load, earlier with speed, and tighter for more compression on less octane', () => {
    const whole = knockLimit(car)
    const limit = (rpm: number, mapKpa: number, chargeC: number) => whole(rpm, mapKpa, chargeC, 'stoich')
    expect(whole(1200, 95, 50, 'rich')).toBeGreaterThanOrEqual(limit(1200, 95, 50))
    expect(limit(1000, 95, 50)).toBeLessThan(limit(1000, 60, 50))
    expect(limit(1000, 95, 50)).toBeLessThanOrEqual(limit(3000, 95, 50))
    expect(limit(1000, 95, 70)).toBeLessThan(limit(1000, 95, 30))
    const tight = knockLimit({ ...car, compressionRatio: 10.5, octaneRon: 91 })
    expect(tight(1500, 95, 50, 'stoich')).toBeLessThan(limit(1500, 95, 50) - 5)
  })
})
