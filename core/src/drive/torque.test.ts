import { describe, expect, it } from 'vitest'
import { Random } from '../kernel/random.ts'
import { movedKg, roadForceN, type RoadCar, rpmAt, speedKmhAt, wheelNPerNm } from './car.ts'
import type { LoadScale } from './load.ts'
import { asRolled, torqueMap } from './torque.ts'

const car: RoadCar = {
  massKg: 1000,
  gears: [3.4, 2, 1.36, 1],
  axle: 4,
  circumferenceM: 2,
  frontalM2: 2,
  dragCoefficient: 0.45,
  automatic: false,
  airKgM3: 1.2,
}
/** filled to 80 % at every pressure */
const scale: LoadScale = {
  by: 'pressure',
  rpm: [500, 6000],
  axis: [20, 100],
  airKpa: (_, mapKpa) => 0.8 * mapKpa,
  mapKpa: (_, mapKpa) => mapKpa,
}
const sheet = { displacementCc: 2000, compressionRatio: 8.5, barometerKpa: 100, scale }

describe('the car on the road, by hand', () => {
  it('3,000 rpm in second of 2 on an axle of 4, two metres a turn: 3,000 / 8 x 2 x 60 / 1,000 = 45 km/h, and back', () => {
    expect(speedKmhAt(car, 3000, 2)).toBeCloseTo(45, 9)
    expect(rpmAt(car, 45, 2)).toBeCloseTo(3000, 9)
  })
  it('a converter that slips by 5 % turns the engine 5 % faster', () =>
    expect(rpmAt({ ...car, automatic: true }, 45, 2)).toBeCloseTo(3150, 6))
  it('1 Nm in second: 8 x 0.93 / (2 m / 2 pi) = 23.37 N', () => expect(wheelNPerNm(car, 2)).toBeCloseTo((8 * 0.93 * 2 * Math.PI) / 2, 9))
  it('what turns adds 1.04 + 0.0025 x 64 - 1 of the mass in second: 1,200 kg', () => expect(movedKg(car, 2)).toBeCloseTo(1200, 9))
})

describe('torque without a log', () => {
  // air at 100 kPa: 0.8 x 100 x 2 L / (287.05 x 318.15 K) = 1.752 g; x 43.5 MJ / 14.7 x 0.75 (1 - 8.5^-0.3) = 0.3553 -> 1,842 J over 4 pi = 146.6 Nm
  // less (97 + 15 x 3 + 5 x 9 + 0) kPa x 2 L / 4 pi = 29.8 Nm
  it('two litres at 3,000 rpm wide open: 116.8 Nm by hand', () => {
    const map = torqueMap(sheet, null)
    expect(map.torqueNm(3000, 100)).toBeCloseTo(116.8, 0)
    expect(map.fittedS).toBe(0)
  })
  it('the load for a torque gives that torque, and none is named beyond what the engine has', () => {
    const map = torqueMap(sheet, null)
    const load = map.loadFor(2500, 40)!
    expect(map.torqueNm(2500, load)).toBeCloseTo(40, 6)
    expect(map.loadFor(2500, 150)).toBeNull()
  })
})

describe('torque fitted to a log with road speed', () => {
  /** a drive in second and third with the pressure moved slowly, by an engine of other work and friction than the textbook's, on level or sloping roads */
  function driven(work: number, friction: number, gradePct: (s: number) => number, seconds = 900) {
    const book = torqueMap(sheet, null)
    const loss = (rpm: number, map: number) => ((97 + 15 * (rpm / 1000) + 5 * (rpm / 1000) ** 2 + 100 - map) * 2) / (4 * Math.PI)
    const torque = (rpm: number, map: number) => work * (book.torqueNm(rpm, map) + loss(rpm, map)) - friction * loss(rpm, map)
    const n = seconds * 10
    const log = {
      timeS: new Float64Array(n),
      channels: { rpm: new Float32Array(n), mapKpa: new Float32Array(n), speedKmh: new Float32Array(n) },
    }
    const noise = new Random(3)
    let kmh = 45
    for (let i = 0; i < n; i++) {
      const s = i / 10
      const gear = Math.floor(s / 150) % 2 ? 3 : 2
      const rpm = rpmAt(car, kmh, gear)
      const level = roadForceN(car, kmh, 0) / wheelNPerNm(car, gear)
      // a driver who keeps the speed between 35 and 70 by a slow hand
      const wanted = level + 14 * Math.sin(s / 9) - 0.5 * (kmh - 52)
      let map = 40
      for (let k = 0; k < 30; k++) map += 0.5 * (wanted - torque(rpm, map))
      map = Math.min(95, Math.max(20, map))
      log.timeS[i] = s
      log.channels.rpm[i] = rpm * (1 + 0.001 * noise.normal())
      log.channels.mapKpa[i] = map
      log.channels.speedKmh[i] = kmh
      kmh += (3.6 * (torque(rpm, map) * wheelNPerNm(car, gear) - roadForceN(car, kmh, gradePct(s))) * 0.1) / movedKg(car, gear)
    }
    return log
  }
  it('finds an engine that works 12 % less and rubs 20 % more than the textbook, on the level', () => {
    const map = torqueMap(
      sheet,
      car,
      driven(0.88, 1.2, () => 0),
    )
    expect(map.fittedS).toBeGreaterThan(600)
    // torque at the loads that were driven is what counts: within 3 Nm at two places
    const truth = (rpm: number, kpa: number) => {
      const loss = ((97 + 15 * (rpm / 1000) + 5 * (rpm / 1000) ** 2 + 100 - kpa) * 2) / (4 * Math.PI)
      return 0.88 * (torqueMap(sheet, null).torqueNm(rpm, kpa) + loss) - 1.2 * loss
    }
    for (const [rpm, kpa] of [
      [2500, 45],
      [3500, 60],
    ])
      expect(Math.abs(map.torqueNm(rpm, kpa) - truth(rpm, kpa))).toBeLessThan(3)
  })
  it('a road that climbs by 1.5 % all the way is not taken for a weak engine', () => {
    const level = torqueMap(
      sheet,
      car,
      driven(1, 1, () => 0),
    )
    const climbing = torqueMap(
      sheet,
      car,
      driven(1, 1, () => 1.5),
    )
    expect(Math.abs(climbing.work.scale - level.work.scale)).toBeLessThan(0.12)
  })
  it('a tyre that rolls 6 % less than its size says is found from the gears, and one as told stays', () => {
    const log = driven(1, 1, () => 0)
    expect(asRolled({ ...car, circumferenceM: 2.12 }, log).circumferenceM).toBeCloseTo(2, 1)
    expect(Math.abs(asRolled({ ...car, circumferenceM: 2.12 }, log).circumferenceM / 2 - 1)).toBeLessThan(0.015)
    expect(asRolled(car, log).circumferenceM).toBeCloseTo(2, 2)
    expect(asRolled({ ...car, axle: 5.1 }, log).circumferenceM).toBe(2)
  })
  it('a log without speed, or of another gearing, fits nothing', () => {
    const log = driven(1, 1, () => 0, 60)
    expect(torqueMap(sheet, car, { ...log, channels: { rpm: log.channels.rpm, mapKpa: log.channels.mapKpa } }).fittedS).toBe(0)
    expect(torqueMap(sheet, { ...car, axle: 5.1 }, log).fittedS).toBe(0)
  })
})
