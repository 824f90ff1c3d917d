import { CoreError } from '../calc/errors.ts'
import { chargeTemperatureC } from '../tune/fuel-equation.ts'
import { alongCurve, type TuneDocument } from '../tune/tune.ts'
import { trueVe, type BenchCar } from './car.ts'
import { faultSize, type BenchChoices } from './faults.ts'
import { lightSeenDeg, sparkAtDeg, type BenchIgnition } from './ignition.ts'
import { strokesAsLed } from '../spark/lead-swap.ts'
import { bestAdvanceDeg, CRITICAL_FLOW, fmepKpa, indicatedWorkJ, R_GAS, thermalShare, type CycleInput } from './physics.ts'
import type { BenchRail } from './rail.ts'
import { Random } from './random.ts'
import { ControlUnit, UNIT_TICK_S } from './unit.ts'

export const STEP_S = 0.001
/** mean gas temperature between port and sensor, K */
const EXHAUST_K = 750
const RING = 4096
const OFF_RICH_LAMBDA_LIMIT = 2.2
const SENSOR_WARM_S = 18
const DROPS_UNDER_V = 11
/** fuel on the walls of a flooded engine, and from which its plugs come out wet, g for each litre */
const FLOOD_G_PER_L = 5
/** air that carries off all but a third of a pool, kg */
const POOL_AIR_KG = 0.06
const WET_G_PER_L = 0.6
/** between these a spark still burns its own charge, crank degrees before and after top centre */
const EARLIEST_DEG = 70
const LATEST_DEG = 25
/** about overlap both valves are open: a bang there goes back through the inlet */
const OVERLAP_DEG = 40
/** share of the wrong sparks that find something to bang */
const BANG_SHARE = 0.3
/** share of the frames in which interference falsifies the count */
const SPIKE_SHARE = 0.03

/** What is heard beside the engine, which no logger writes down. */
export type Heard = 'inlet' | 'exhaust' | 'kick'

export type EngineState = 'off' | 'key-on' | 'cranking' | 'running'

/** One frame of the live stream: what a logger on the car would see, and nothing it could not. */
export interface Frame {
  timeS: number
  state: EngineState
  rpm: number
  mapKpa: number
  throttlePct: number
  /** null until the sensor is hot */
  lambda: number | null
  lambdaTarget: number
  coolantC: number
  intakeAirC: number
  batteryV: number
  correctionPct: number
  enrichmentPct: number
  pulseMs: number
  advanceDegBtdc: number
  idleValvePct: number
  fuelCut: number
  pumpOn: boolean
  fuelPressureKpa: number
  oilPressureKpa: number
  faultFlags: string[]
}

/**
 * The test bench: one deterministic engine with its control unit, stepped at 1 ms. Mean-value model: manifold filling against compressible
 * throttle flow (isothermal), the engine's own VE, torque from fuel that finds air, friction and pumping, inertia, starter, wall film, exhaust
 * transport and sensor lag, coolant, battery. `docs/bench.md` has the equations. Same seed and commands, same numbers.
 */
export class Bench {
  readonly unit: ControlUnit
  /** bangs so far, by where they came from */
  readonly heard: Record<Heard, number> = { inlet: 0, exhaust: 0, kick: 0 }
  private readonly random: Random
  private readonly stepS: number
  private readonly tickSteps: number
  private steps = 0
  private omega = 0
  private airKg = 0
  private coolantC: number
  private intakeC: number
  private filmG = 0
  /** liquid fuel lying in a flooded engine, g */
  private poolG = 0
  private railKpa = 0
  private batteryV = 12.6
  private sensorPhi = 0
  private sensorHeatS = 0
  private readonly exhaustPhi = new Float32Array(RING)
  private readonly unitInput = {
    rpm: 0,
    mapKpa: 0,
    throttlePct: 0,
    coolantC: 0,
    intakeAirC: 0,
    batteryV: 12.6,
    lambda: null as number | null,
    keyOn: false,
    floodClear: true,
  }
  private readonly cycle: CycleInput
  private readonly slow = {
    chargeK: 300,
    throttleShare: 0,
    fixedAreaM2: 0,
    flowKgSM2: 0,
    cold: 0,
    lostShare: 0,
    thermalShare: 0.3,
    gPerCycle: 0,
    trueAdvanceDeg: 10,
    railKpa: 0,
    overOutletKpa: 0,
    sparkShare: 1,
  }
  /** what is really there of the ignition; null: every spark comes as commanded */
  ignition: BenchIgnition | null = null
  /** the fuel circuit; null: the plan's pressure, whatever is used */
  rail: BenchRail | null = null
  private useLph = 0
  private faults: BenchChoices = {}
  /** the unit has its supply: without it nothing is sent */
  linkUp = true
  keyOn = false
  starter = false
  pumpInhibited = false
  throttlePct = 0
  loadNm = 0
  oilKpa = 0
  /** sums kept for the mass balance: air in through the throttle, out into the cylinders, and what the manifold holds, kg */
  airInKg = 0
  airOutKg = 0

  constructor(
    readonly car: BenchCar,
    tune: TuneDocument,
    start: { coolantC?: number; stepS?: number } = {},
  ) {
    this.stepS = start.stepS ?? STEP_S
    this.tickSteps = Math.round(UNIT_TICK_S / this.stepS)
    this.unit = new ControlUnit(tune)
    this.random = new Random(car.seed ^ 0xbe7c)
    this.coolantC = start.coolantC ?? car.ambientC
    this.intakeC = car.ambientC
    this.cycle = {
      airG: 0,
      fuelG: 0,
      stoichAfr: car.fuel.stoichAfr,
      heatJKg: car.fuel.heatJKg,
      thermalShare: 0.3,
      advanceDeg: 10,
      bestAdvanceDeg: 20,
    }
    this.refreshSlow()
    this.airKg = (car.barometerKpa * 1000 * car.manifoldM3) / (R_GAS * this.slow.chargeK)
  }

  /** Sets what is wrong with the car from now on; fuel already in a flooded engine is put there. */
  setFaults(faults: BenchChoices | undefined): void {
    const was = faultSize(this.faults, 'flooded')
    this.faults = faults ?? {}
    if (was === null && this.fault('flooded') !== null) this.poolG = FLOOD_G_PER_L * this.car.displacementM3 * 1000
    this.refreshSlow()
  }
  private fault(id: Parameters<typeof faultSize>[1]): number | null {
    return faultSize(this.faults, id)
  }
  /** What the plugs look like when they are taken out now. */
  plugs(): 'wet' | 'dry' {
    return this.filmG + this.poolG > WET_G_PER_L * this.car.displacementM3 * 1000 ? 'wet' : 'dry'
  }

  get timeS(): number {
    return this.steps * this.stepS
  }
  get rpm(): number {
    return (this.omega * 30) / Math.PI
  }
  get state(): EngineState {
    return !this.keyOn ? 'off' : this.starter && this.rpm < 380 ? 'cranking' : this.rpm > 150 ? 'running' : 'key-on'
  }
  get coolant(): number {
    return this.coolantC
  }
  /** air held in the manifold now, kg */
  get manifoldAirKg(): number {
    return this.airKg
  }
  get mapKpa(): number {
    return (this.airKg * R_GAS * this.slow.chargeK) / this.car.manifoldM3 / 1000
  }

  /** Advances the bench; the share of real time is the caller's business. */
  run(seconds: number): void {
    const steps = Math.round(seconds / this.stepS)
    for (let i = 0; i < steps; i++) this.step()
  }

  private step(): void {
    const { car } = this
    const { out } = this.unit
    const dt = this.stepS
    if (this.steps++ % this.tickSteps === 0) this.tickUnit()
    const rpm = (this.omega * 30) / Math.PI
    const slow = this.slow

    // manifold: linearised implicit step, so that a wide-open throttle is stable at 1 ms; the flows used are the flows stored
    const ambientPa = car.barometerKpa * 1000
    const fill = (R_GAS * slow.chargeK) / car.manifoldM3
    const mapPa = this.airKg * fill
    const ratio = mapPa / ambientPa
    const area = slow.fixedAreaM2 + car.throttleAreaM2 * slow.throttleShare
    const flow = area * slow.flowKgSM2
    const pumpPerS = ((trueVe(car, rpm, mapPa / 1000) / 100) * car.displacementM3 * rpm) / (120 * car.manifoldM3)
    const inKgS = flow * CRITICAL_FLOW.at(ratio)
    const inSlope = (flow * CRITICAL_FLOW.slope(ratio) * fill) / ambientPa
    const change = (dt * (inKgS - pumpPerS * this.airKg)) / (1 + dt * (pumpPerS - inSlope))
    const airOut = pumpPerS * (this.airKg + change)
    this.airKg += change
    this.airInKg += (inKgS + inSlope * change) * dt
    this.airOutKg += airOut * dt

    // fuel: rail pressure, injectors, wall film (Aquino's X-tau model)
    const pumping = out.pumpOn && !this.pumpInhibited
    this.railKpa += pumping ? ((slow.railKpa - this.railKpa) * dt) / 0.25 : (-this.railKpa * dt) / 900
    const cyclesPerS = rpm / 120
    const injectedGps =
      slow.gPerCycle > 0 && rpm > 30
        ? slow.gPerCycle * Math.sqrt(Math.max(0, this.railKpa + slow.overOutletKpa) / car.basePressureKpa) * cyclesPerS
        : 0
    this.useLph = (injectedGps * 3.6) / car.fuel.densityKgL
    const evaporating = this.filmG / (0.18 + 0.9 * slow.cold)
    const filmShare = 0.12 + 0.3 * slow.cold
    this.filmG += (filmShare * injectedGps - evaporating) * dt
    // a pool gives off its fuel with the air that goes over it
    const pooled = this.poolG > 1e-6 ? Math.min(this.poolG / dt, (this.poolG * airOut) / POOL_AIR_KG) : 0
    this.poolG -= pooled * dt
    const fuelGps = ((1 - filmShare) * injectedGps + evaporating) * (1 - slow.lostShare) + pooled

    // torque
    const mapKpa = (this.airKg * fill) / 1000
    let indicatedNm = 0
    let phi = 0
    if (cyclesPerS > 0.5) {
      const cycle = this.cycle
      cycle.airG = (airOut * 1000) / cyclesPerS
      cycle.fuelG = fuelGps / cyclesPerS
      phi = cycle.airG > 0 ? (cycle.fuelG * car.fuel.stoichAfr) / cycle.airG : 0
      cycle.thermalShare = slow.thermalShare
      cycle.advanceDeg = slow.trueAdvanceDeg
      cycle.bestAdvanceDeg = bestAdvanceDeg(rpm, mapKpa, car.barometerKpa)
      indicatedNm = (indicatedWorkJ(cycle) * slow.sparkShare) / (4 * Math.PI)
    }
    const meanKpa = fmepKpa(rpm) * car.frictionScale * (1 + 0.6 * slow.cold) + Math.max(0, car.barometerKpa + 2 - mapKpa)
    const dragNm = this.omega > 0.5 ? (meanKpa * 1000 * car.displacementM3) / (4 * Math.PI) + car.accessoryNm + this.loadNm : 0
    const starterNm =
      this.starter && this.keyOn ? car.starterNm * Math.max(0, 1 - rpm / (330 * (this.batteryV / 10.4))) * (this.batteryV / 10.7) ** 2 : 0
    this.omega = Math.max(0, this.omega + ((indicatedNm + starterNm - dragNm) / car.inertiaKgM2) * dt)

    // exhaust: what leaves the port now reaches the sensor one transport delay later, then its lag
    this.exhaustPhi[this.steps & (RING - 1)] = phi
    const volumeM3S = Math.max(1e-5, (airOut * R_GAS * EXHAUST_K) / ambientPa)
    const delaySteps = Math.min(RING - 2, Math.round(((rpm > 60 ? 100 / rpm : 1) + car.pipeM3 / volumeM3S) / dt))
    const arriving = this.exhaustPhi[(this.steps - delaySteps) & (RING - 1)]
    this.sensorPhi += ((arriving - this.sensorPhi) * dt) / car.sensorLagS

    if (this.steps % this.tickSteps === 0) this.heatAndVolts(fuelGps, rpm, airOut, UNIT_TICK_S)
  }

  /** What changes slowly against a step, worked out once for each tick of the unit. */
  private refreshSlow(): void {
    const { car, slow } = this
    const { out } = this.unit
    const rpm = this.rpm
    slow.chargeK = chargeTemperatureC(this.intakeC, this.coolantC, car.chargeHeatShare) + 273.15
    slow.throttleShare = 1 - Math.cos((this.throttlePct / 100) * (Math.PI / 2))
    const valvePct = this.fault('idle-valve-shut') === null ? out.idleValvePct : 0
    const leakM2 = ((car.plateLeakM2 + 0.25 * car.idleValveAreaM2) * (this.fault('vacuum-leak') ?? 0)) / 100
    slow.fixedAreaM2 = car.plateLeakM2 + car.idleValveAreaM2 * (valvePct / 100) + leakM2
    slow.flowKgSM2 = (car.barometerKpa * 1000) / Math.sqrt(R_GAS * (car.ambientC + 273.15))
    slow.cold = Math.min(1, Math.max(0, (80 - this.coolantC) / 90))
    // cold, part of the fuel never evaporates in time and is lost to the cylinder walls; far more while the air hardly moves
    slow.lostShare = slow.cold * (0.28 + 0.45 * Math.exp(-((rpm / 350) ** 2)))
    slow.thermalShare = thermalShare(car.compressionRatio, rpm)
    const { parameters } = this.unit.tune
    const openMs = Math.max(0, out.pulseMs - alongCurve(parameters.deadTimeMs, this.batteryV))
    slow.trueAdvanceDeg = this.trueAdvanceDeg()
    const flowShare = this.fault('injectors-dead') === null ? (this.fault('injector-size') ?? 100) / 100 : 0
    slow.gPerCycle = openMs * car.injectorGPerMs * flowShare * parameters.injectors * parameters.injectionsPerCycle
    const wantedKpa = this.rail ? this.rail.at(this.batteryV, this.useLph) : car.basePressureKpa
    slow.railKpa = this.fault('pump-dead') === null ? (wantedKpa * (this.fault('pressure-low') ?? 100)) / 100 : 0
    slow.overOutletKpa = this.rail ? this.rail.overOutletKpa(this.mapKpa) : 0
    this.misfires()
  }

  /** Crank degrees BTDC at which the spark really comes: the unit counts from where it believes the pulse is. */
  trueAdvanceDeg(rpm = this.rpm): number {
    const commanded = this.unit.out.advanceDegBtdc
    return this.ignition ? sparkAtDeg(this.ignition, rpm, this.mapKpa, commanded) : commanded
  }

  private heatAndVolts(fuelGps: number, rpm: number, airKgS: number, dt: number): void {
    const { car } = this
    const heatW = (fuelGps / 1000) * car.fuel.heatJKg * 0.28
    const opened = Math.min(1, Math.max(0, (this.coolantC - car.thermostatC) / 8))
    const lossWK = 18 + opened * 260 * car.displacementM3 * 1000 * (this.unit.out.fanOn ? 0.5 : 0.28)
    this.coolantC += ((heatW - lossWK * (this.coolantC - car.ambientC)) / car.heatCapacityJK) * dt
    const warmAir = car.ambientC + 12 * Math.min(1, Math.max(0, (this.coolantC - car.ambientC) / 60)) * (1 - Math.min(0.7, airKgS / 0.06))
    this.intakeC += ((warmAir - this.intakeC) * dt) / 60
    const load = (this.keyOn ? 3 : 0) + (this.unit.out.pumpOn ? 6 : 0) + (this.unit.out.fanOn ? 12 : 0)
    const charging = rpm > (car.dynamo ? 1100 : 450) && this.keyOn
    const target =
      this.starter && rpm < 330 ? (this.fault('battery-low') ?? 10.4) - 0.01 * load : charging ? 13.9 - 0.01 * load : 12.65 - 0.02 * load
    this.batteryV += ((target - this.batteryV) * dt) / 0.08
    this.oilKpa += (((rpm > 50 && this.fault('no-oil') === null ? Math.min(420, 60 + rpm * 0.14) : 0) - this.oilKpa) * dt) / 0.7
  }

  /** Cylinders whose spark falls outside their own compression give nothing and may bang; a spark far too early kicks back at cranking speed. */
  private misfires(): void {
    const { ignition, slow } = this
    slow.sparkShare = 1
    if (!ignition) return
    const strokes = strokesAsLed(ignition.firingOrder, ignition.order, slow.trueAdvanceDeg, ignition.fault('stroke-out') === null ? 0 : 360)
    const right = strokes.filter((s) => s.beforeDeg < EARLIEST_DEG || s.beforeDeg > 720 - LATEST_DEG)
    slow.sparkShare = right.length / strokes.length
    if (slow.sparkShare === 1 || this.rpm < 60 || this.filmG <= 0) return
    const bangs = (this.rpm / 120) * UNIT_TICK_S * BANG_SHARE
    for (const { stroke, beforeDeg } of strokes.filter((s) => !right.includes(s)))
      this.heard[
        stroke === 'intake' || (beforeDeg >= 360 && beforeDeg < 360 + OVERLAP_DEG) ? 'inlet' : stroke === 'compression' ? 'kick' : 'exhaust'
      ] += bangs
  }

  private tickUnit(): void {
    const input = this.unitInput
    this.linkUp = !(this.starter && this.fault('supply-drops') !== null && this.batteryV < DROPS_UNDER_V)
    input.rpm = this.fault('no-speed-signal') === null ? this.rpm : 0
    input.mapKpa = this.fault('map-hose-off') === null ? this.mapKpa : this.car.barometerKpa
    input.throttlePct = Math.min(100, this.throttlePct + (this.fault('throttle-zero') ?? 0))
    input.coolantC = this.coolantC + (this.fault('coolant-sensor') ?? 0)
    input.intakeAirC = this.intakeC
    input.batteryV = this.batteryV
    input.lambda = this.measuredLambda()
    input.keyOn = this.keyOn && this.linkUp
    this.unit.tick(input)
    this.refreshSlow()
    this.sensorHeatS = this.keyOn
      ? Math.min(SENSOR_WARM_S + 10, this.sensorHeatS + UNIT_TICK_S)
      : Math.max(0, this.sensorHeatS - UNIT_TICK_S)
  }

  private measuredLambda(): number | null {
    if (this.sensorHeatS < SENSOR_WARM_S) return null
    return this.sensorPhi < 1 / OFF_RICH_LAMBDA_LIMIT ? OFF_RICH_LAMBDA_LIMIT : Math.max(0.6, 1 / this.sensorPhi)
  }

  /** What the unit reports now, with the noise of its sensors. */
  frame(): Frame {
    const noise = (size: number) => size * this.random.normal()
    const { out } = this.unit
    const live = this.keyOn
    const lambda = this.measuredLambda()
    return {
      timeS: Math.round(this.timeS * 1000) / 1000,
      state: this.state,
      rpm: this.unitInput.rpm > 20 ? Math.max(0, this.rpm * this.interference() + noise(this.starter ? 6 : 5)) : 0,
      mapKpa: this.unitInput.mapKpa + noise(0.25),
      throttlePct: this.unitInput.throttlePct,
      lambda: lambda === null ? null : lambda * (1 + noise(0.004)),
      lambdaTarget: out.lambdaTarget,
      coolantC: this.unitInput.coolantC + noise(0.1),
      intakeAirC: this.intakeC + noise(0.1),
      batteryV: this.batteryV + noise(0.03),
      correctionPct: out.correctionPct,
      enrichmentPct: out.enrichmentPct,
      pulseMs: out.pulseMs,
      advanceDegBtdc: out.advanceDegBtdc,
      idleValvePct: out.idleValvePct,
      fuelCut: out.fuelCut ? 1 : 0,
      pumpOn: live && out.pumpOn && !this.pumpInhibited,
      fuelPressureKpa: Math.max(0, this.railKpa + noise(1)),
      oilPressureKpa: Math.max(0, this.oilKpa + noise(2)),
      faultFlags: [],
    }
  }

  /** With the loom beside the plug leads some counts of speed come out far too high. */
  private interference(): number {
    if (!this.ignition || this.ignition.fault('interference') === null) return 1
    return this.random.next() < SPIKE_SHARE ? 1.5 + 0.5 * this.random.next() : 1
  }

  /**
   * The bench's timing light: what a person reads on the damper, +-0.5 degrees.
   * @throws CoreError NOT_ALLOWED when the crank does not turn
   */
  timingLight(): { rpm: number; observedDeg: number; commandedDeg: number } {
    if (this.rpm < 60) throw new CoreError('NOT_ALLOWED', 'timing light', 'the crank is not turning')
    const commanded = this.unit.out.advanceDegBtdc
    const trueDeg = this.trueAdvanceDeg()
    return {
      rpm: Math.round(this.rpm / 10) * 10,
      observedDeg: Math.round((this.ignition ? lightSeenDeg(this.ignition, trueDeg, commanded, this.random) : trueDeg) * 10) / 10,
      commandedDeg: Math.round(commanded * 10) / 10,
    }
  }
}
