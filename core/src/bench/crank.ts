import { Random } from '../kernel/index.ts'
import type { BenchCar } from './car.ts'
import { dilutionShare } from './fit-car.ts'
import type { SparkOfCylinder } from './ignition.ts'
import { bestAdvanceDeg, burnShare, type CycleInput, indicatedWorkJ } from './physics.ts'

/** below this a piston does not carry the crank over the next compression, rpm */
const CARRIES_RPM = 60
/** no-load speed of the starter at its nominal voltage, and that voltage */
const STARTER = { freeRpm: 330, freeV: 10.4, torqueV: 10.7 }
/** share of the wrong sparks that find something to bang */
const BANG_SHARE = 0.3
/** degrees past the knock limit at which every second cycle knocks */
const KNOCK_HALF_DEG = 3
/** oxygen that a cycle without fire leaves makes the gas read this much leaner, as a share of its own mixture */
const UNBURNT_READS = 0.35

const SHORT_MEMORY = 0.02
/** a charge lit so early at so slow a crank pushes the piston back: from so many degrees, more with speed, and surely so many later */
const KICK = { belowRpm: 350, fromDeg: 14, degPerRpm: 1 / 40, surelyDeg: 12, share: 0.7 }
/** fuel that stays on a plug of a cycle without fire, what a fire and a breath of air leave of it, as shares */
const WETTING = { stays: 0.8, fire: 0.6, air: 0.97 }
/** wet to see, and wet enough that every second spark leaks away, g for each litre of the cylinder */
const WET_G_PER_L = 0.3
const FOULED_G_PER_L = 1.3
/** a plug drinks no more than this, g for each litre */
const SOAKED_G_PER_L = 3
/** how fast sparks fail past the coil's reach: at 0.9 of the voltage about half */
const SPARK_FADE = 6

/** What is heard beside the engine, which no logger writes down. */
export type Heard = 'inlet' | 'exhaust' | 'kick' | 'knock'
const ALL_FINE: SparkOfCylinder = { inTime: true, bang: null, reach: Infinity }

/**
 * How unlike one cycle's work is to the next, as a share: little under load, much with burnt gas or a thin mixture.
 * Source: Heywood, section 9.4.2 (coefficient of variation of indicated pressure; about 2 % under load, near 10 % at idle).
 */
const cyclicSpread = (residual: number, phi: number): number =>
  Math.min(0.15, 0.015 + 0.25 * Math.max(0, residual - 0.08) + 0.25 * Math.max(0, 0.95 - phi))

/**
 * Crank, pistons and flywheel. Cylinders fire one after the other, each at its own exact crank angle within a step: a cylinder's work comes from the
 * air and fuel that went in since the one before, and is spread over the angle to the next. Whether a thin or fat charge burns at all is drawn from
 * the seed, cycle by cycle; friction, pumping and load take from it at every step. Rigid crank: J domega/dt = sum of torques.
 */
export class Crank {
  omega = 0
  /** degrees turned since the start */
  angleDeg = 0
  /** torque of the cylinder that is working now, and what is left of it at the flywheel */
  indicatedNm = 0
  brakeNm = 0
  /** mixture leaving the port now, fuel-air equivalence ratio */
  portPhi = 0
  readonly heard: Record<Heard, number> = { inlet: 0, exhaust: 0, kick: 0, knock: 0 }
  /** cycles without fire so far, by place in the firing order */
  readonly misfires: number[]
  /** share of the last hundred or so cycles without fire, and their mean mixture */
  missShare = 0
  meanPhi = 0
  /** heat left on each exhaust port, K over the coolant, by place in the firing order */
  readonly portK: number[]
  /** fuel lying on each plug, g, by place in the firing order */
  readonly wetG: number[]
  /** energy since the start, J: from the pistons, into friction with pumping and accessories, into the load, from the starter */
  readonly energyJ = { indicated: 0, lost: 0, load: 0, starter: 0 }
  /** set at each tick of the unit */
  thermalShare = 0.3
  advanceDeg = 10
  /** earliest spark without knock, crank degrees BTDC, of a charge at lambda 1 and of one at 0.85 */
  knockLimitDeg = { stoich: 90, rich: 90 }
  accessoryNm = 0
  frictionKpa = 0
  exhaustKpa: number
  /** burnt gas in the charge now, as a share */
  residual = 0.1
  /** how unevenly fuel is shared out just now, times the warm manifold */
  sharing = 1
  sparks: readonly SparkOfCylinder[] | null = null
  /** place in the firing order of a lean cylinder, and what it gets of its fuel */
  lean: { place: number; share: number } | null = null

  private readonly random: Random
  private readonly cyclic: Random
  private readonly intervalDeg: number
  private nextFireDeg: number
  private place = 0
  private atStarter = false
  private airG = 0
  private fuelG = 0
  private readonly cycle: CycleInput

  constructor(private readonly car: BenchCar) {
    this.random = new Random(car.seed ^ 0xf17e)
    this.cyclic = new Random(car.seed ^ 0xc7c1)
    this.intervalDeg = 720 / car.cylinders
    this.nextFireDeg = this.intervalDeg
    this.misfires = new Array<number>(car.cylinders).fill(0)
    this.portK = new Array<number>(car.cylinders).fill(0)
    this.wetG = new Array<number>(car.cylinders).fill(0)
    this.exhaustKpa = car.barometerKpa
    this.accessoryNm = car.accessoryNm
    this.cycle = {
      airG: 0,
      fuelG: 0,
      stoichAfr: car.fuel.stoichAfr,
      heatJKg: car.fuel.heatJKg,
      thermalShare: 0.3,
      advanceDeg: 10,
      bestAdvanceDeg: 20,
    }
  }

  get rpm(): number {
    return (this.omega * 30) / Math.PI
  }
  /** Fuel is seen on the plugs when they are taken out. */
  get wet(): boolean {
    return this.wetG.reduce((sum, g) => sum + g, 0) > WET_G_PER_L * this.car.displacementM3 * 1000
  }
  /** Every plug soaked, as after long cranking that did not fire. */
  soak(): void {
    this.wetG.fill((SOAKED_G_PER_L * 0.7 * this.car.displacementM3 * 1000) / this.car.cylinders)
  }

  step(dt: number, airKgS: number, fuelGps: number, mapKpa: number, loadNm: number, starterV: number | null): void {
    const { car } = this
    const rpm = this.rpm
    this.atStarter = starterV !== null
    const stepDeg = (this.omega * 180 * dt) / Math.PI
    let leftDeg = stepDeg
    let indicated = 0
    // most steps have no firing in them; a fast engine has several
    while (leftDeg >= this.nextFireDeg - this.angleDeg && leftDeg > 0) {
      const share = (this.nextFireDeg - this.angleDeg) / stepDeg
      indicated += this.indicatedNm * share
      this.airG += airKgS * 1000 * dt * share
      this.fuelG += fuelGps * dt * share
      leftDeg -= this.nextFireDeg - this.angleDeg
      this.angleDeg = this.nextFireDeg
      this.nextFireDeg += this.intervalDeg
      this.fire(rpm, mapKpa)
    }
    const rest = stepDeg > 0 ? leftDeg / stepDeg : 1
    indicated += this.indicatedNm * rest
    this.airG += airKgS * 1000 * dt * rest
    this.fuelG += fuelGps * dt * rest
    this.angleDeg += leftDeg
    if (rpm < CARRIES_RPM) {
      indicated = 0
      this.indicatedNm = 0
    }

    const meanKpa = this.frictionKpa + this.exhaustKpa - mapKpa
    const dragNm = this.omega > 0.5 ? (meanKpa * 1000 * car.displacementM3) / (4 * Math.PI) + this.accessoryNm : 0
    const starterNm =
      starterV === null
        ? 0
        : car.starterNm * Math.max(0, 1 - rpm / (STARTER.freeRpm * (starterV / STARTER.freeV))) * (starterV / STARTER.torqueV) ** 2
    this.brakeNm = indicated - dragNm
    const loaded = this.omega > 0.5 ? loadNm : 0
    const turned = this.omega * dt
    const { energyJ } = this
    energyJ.indicated += indicated * turned
    energyJ.lost += dragNm * turned
    energyJ.load += loaded * turned
    energyJ.starter += starterNm * turned
    this.omega = Math.max(0, this.omega + ((indicated - dragNm - loaded + starterNm) / car.inertiaKgM2) * dt)
  }

  private fire(rpm: number, mapKpa: number): void {
    const { car, cycle, place } = this
    this.place = (place + 1) % car.cylinders
    const airG = this.airG * car.airShares[place]
    const shared = 1 + (car.fuelShares[place] - 1) * this.sharing
    const fuelG = this.fuelG * shared * (this.lean?.place === place ? this.lean.share : 1)
    this.airG = this.fuelG = 0
    this.indicatedNm = 0
    if (airG <= 0) {
      this.portPhi = 0
      return
    }
    const phi = (fuelG * car.fuel.stoichAfr) / airG
    const spark = this.sparks?.[place] ?? ALL_FINE
    const share = burnShare(1 / phi, this.residual)
    const litres = (car.displacementM3 * 1000) / car.cylinders
    const fouled = this.wetG[place] / (FOULED_G_PER_L * litres)
    const leaks = fouled > 0.5 && this.random.next() < 1 - 0.5 ** (2 * fouled - 1)
    const jumps = !leaks && (spark.reach >= 1 || this.random.next() < spark.reach ** SPARK_FADE)
    const burns = spark.inTime && jumps && share > 0 && (share === 1 || this.random.next() < share)
    this.portPhi = burns ? phi : phi * UNBURNT_READS
    this.missShare += ((burns ? 0 : 1) - this.missShare) * SHORT_MEMORY
    this.meanPhi += (phi - this.meanPhi) * SHORT_MEMORY
    const best = bestAdvanceDeg(rpm, mapKpa, car.barometerKpa)
    const heatedK = burns ? 420 + 55 * (rpm / 1000) - 220 * Math.abs(1 / phi - 1) + 3 * Math.max(0, best - this.advanceDeg) : 0
    this.wetG[place] = burns
      ? this.wetG[place] * WETTING.fire
      : Math.min(SOAKED_G_PER_L * litres, this.wetG[place] * WETTING.air + WETTING.stays * fuelG)
    this.portK[place] += (heatedK - this.portK[place]) * SHORT_MEMORY
    if (!burns) {
      this.misfires[place]++
      if (!spark.inTime && spark.bang && fuelG > 0 && rpm > CARRIES_RPM && this.random.next() < BANG_SHARE) this.heard[spark.bang]++
      return
    }
    cycle.airG = airG
    cycle.fuelG = fuelG
    cycle.thermalShare = this.thermalShare * car.workScale * dilutionShare(car, this.residual)
    cycle.advanceDeg = this.advanceDeg
    cycle.bestAdvanceDeg = best
    // work of one cylinder over the angle to the next: W / (4 pi / cylinders)
    const unlike = 1 + cyclicSpread(this.residual, phi) * Math.min(2.5, Math.max(-2.5, this.cyclic.normal()))
    this.indicatedNm = (Math.max(0, unlike) * indicatedWorkJ(cycle) * car.cylinders) / (4 * Math.PI)
    const earlyDeg = this.advanceDeg - KICK.fromDeg - rpm * KICK.degPerRpm
    if (earlyDeg > 0 && this.atStarter && rpm < KICK.belowRpm && this.random.next() < earlyDeg / KICK.surelyDeg) {
      this.indicatedNm *= -KICK.share
      this.heard.kick++
      return
    }
    const { stoich, rich } = this.knockLimitDeg
    const limitDeg = stoich + (rich - stoich) * Math.min(1.6, Math.max(-0.3, (1 - 1 / phi) / 0.15))
    const overDeg = this.advanceDeg - limitDeg
    if (overDeg > 0 && this.random.next() < overDeg / (overDeg + KNOCK_HALF_DEG)) this.heard.knock++
  }
}
