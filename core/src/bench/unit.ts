import { bilinear } from '../tune/axes.ts'
import { airPerCylinderG, chargeTemperatureC, pulseMs } from '../tune/fuel-equation.ts'
import { alongCurve, type TuneDocument } from '../tune/tune.ts'

/** What the control unit can see. */
export interface UnitInputs {
  rpm: number
  mapKpa: number
  throttlePct: number
  coolantC: number
  intakeAirC: number
  batteryV: number
  lambda: number | null
  keyOn: boolean
  floodClear: boolean
}

/** What it does about it. */
export interface UnitOutputs {
  pulseMs: number
  advanceDegBtdc: number
  idleValvePct: number
  pumpOn: boolean
  fuelCut: boolean
  correctionPct: number
  enrichmentPct: number
  lambdaTarget: number
  fanOn: boolean
}

export const UNIT_TICK_S = 0.005

const CRANK_TO_RUN_RPM = 400
const SHUT_PCT = 1.5
const PUMP_AFTER_STALL_S = 1.5

/** The simulated control unit: speed density from the tune under test, with closed loop, idle valve and spark, enrichments, cuts, pump and fan. */
export class ControlUnit {
  readonly out: UnitOutputs = {
    pulseMs: 0,
    advanceDegBtdc: 0,
    idleValvePct: 0,
    pumpOn: false,
    fuelCut: false,
    correctionPct: 0,
    enrichmentPct: 0,
    lambdaTarget: 1,
    fanOn: false,
  }
  /** timing held at one value for the light; null follows the table */
  fixedAdvanceDeg: number | null = null
  injectorsOn = true
  private onS = 0
  private runS = 0
  private stoppedS = 0
  private running = false
  private firings = 0
  private accelPct = 0
  private lastThrottlePct = 0
  private idleIntegralPct = 0
  private loopPct = 0
  private smoothRpm = 0
  private turned = false

  constructor(public tune: TuneDocument) {}

  reset(): void {
    this.onS = this.runS = this.stoppedS = this.firings = this.accelPct = this.idleIntegralPct = this.loopPct = 0
    this.running = this.turned = false
    this.fixedAdvanceDeg = null
    Object.assign(this.out, {
      pulseMs: 0,
      pumpOn: false,
      fuelCut: false,
      correctionPct: 0,
      enrichmentPct: 0,
      fanOn: false,
      idleValvePct: 0,
    })
  }

  /** Pump fuse put in: the unit primes as at key-on. */
  primeAgain(): void {
    this.onS = 0
  }

  tick(input: UnitInputs): UnitOutputs {
    const dt = UNIT_TICK_S
    const { out } = this
    const { parameters: p, axes, tables } = this.tune
    if (!input.keyOn) {
      if (this.onS > 0) this.reset()
      return out
    }
    this.onS += dt
    const { rpm, mapKpa, throttlePct, coolantC } = input
    const turning = rpm > 40
    if (!this.running && rpm > CRANK_TO_RUN_RPM) {
      this.running = true
      this.runS = 0
    }
    if (this.running && rpm < 150) {
      this.running = false
      this.loopPct = 0
    }
    this.runS += this.running ? dt : 0
    this.stoppedS = turning ? 0 : this.stoppedS + dt
    this.firings = turning ? this.firings + (rpm / 120) * p.cylinders * dt : 0
    this.smoothRpm += (rpm - this.smoothRpm) * 0.08

    this.turned = turning || (this.turned && this.stoppedS < PUMP_AFTER_STALL_S)
    out.pumpOn = this.onS < p.primeS || this.turned
    out.fanOn = out.fanOn ? coolantC > p.fanOffC : coolantC > p.fanOnC

    const target = alongCurve(p.idleTargetRpm, coolantC)
    const shut = throttlePct < SHUT_PCT
    const idling = shut && this.running && this.smoothRpm < target + 350
    this.idleValve(idling, shut, target, coolantC, dt)
    this.spark(idling, target, rpm, mapKpa)

    out.lambdaTarget = bilinear(axes, tables.lambdaTarget, rpm, mapKpa)
    out.enrichmentPct = this.enrichment(throttlePct, coolantC, dt)
    this.closedLoop(input, dt)
    out.fuelCut =
      this.running && (rpm > p.revLimitRpm || (shut && this.runS > 3 && (out.fuelCut ? rpm > p.cutReturnRpm : rpm > p.cutAboveRpm)))
    const cleared = input.floodClear && !this.running && throttlePct >= p.floodClearPct
    const synchronised = this.running || this.firings > p.cylinders
    out.pulseMs = !synchronised || out.fuelCut || cleared || !this.injectorsOn ? 0 : this.pulse(input)
    return out
  }

  private pulse(input: UnitInputs): number {
    const { parameters: p, axes, tables } = this.tune
    const { rpm, mapKpa, coolantC, intakeAirC, batteryV } = input
    const charge = chargeTemperatureC(intakeAirC, coolantC, p.chargeHeatShare)
    const air = airPerCylinderG(bilinear(axes, tables.ve, rpm, mapKpa), mapKpa, charge, p.displacementCc / p.cylinders) * p.cylinders
    const stoich = air / p.stoichAfr
    const fuel = this.running
      ? (stoich / this.out.lambdaTarget) * (1 + this.out.enrichmentPct / 100) * (1 + this.out.correctionPct / 100)
      : stoich * (1 + (alongCurve(p.crankingPct, coolantC) / 100 - 1) * Math.max(0, 1 - this.firings / p.crankingDecayFirings))
    return pulseMs(fuel, p, batteryV)
  }

  private enrichment(throttlePct: number, coolantC: number, dt: number): number {
    const p = this.tune.parameters
    const rate = Math.max(0, throttlePct - this.lastThrottlePct) / dt
    this.lastThrottlePct = throttlePct
    const cold = 1 + (p.accelColdFactor - 1) * Math.min(1, Math.max(0, (75 - coolantC) / 75))
    this.accelPct = Math.max(
      this.accelPct * (1 - dt / p.accelDecayS),
      rate > 15 ? Math.min(120, (p.accelPctPer100 * cold * rate) / 100) : 0,
    )
    const after = alongCurve(p.afterStartPct, coolantC) * Math.max(0, 1 - this.runS / p.afterStartS)
    return this.running ? alongCurve(p.warmupPct, coolantC) + after + this.accelPct : 0
  }

  private idleValve(idling: boolean, shut: boolean, target: number, coolantC: number, dt: number): void {
    const base = alongCurve(this.tune.parameters.idleValvePct, coolantC)
    const error = target - this.smoothRpm
    if (idling && this.runS > 1.5) this.idleIntegralPct = Math.min(60, Math.max(-base, this.idleIntegralPct + error * 0.012 * dt * 2))
    const proportional = idling ? error * 0.012 : 0
    // a closing throttle is caught by a valve that stands a little open
    const dashpot = shut ? 0 : 4
    this.out.idleValvePct = Math.min(100, Math.max(0, base + this.idleIntegralPct + proportional + dashpot + (this.running ? 0 : 12)))
  }

  private spark(idling: boolean, target: number, rpm: number, mapKpa: number): void {
    const { parameters: p, axes, tables } = this.tune
    if (!this.running) this.out.advanceDegBtdc = p.crankingAdvanceDeg
    else {
      const table = bilinear(axes, tables.spark, rpm, mapKpa)
      const catching = idling ? Math.min(6, Math.max(-6, (target - rpm) * 0.03)) : 0
      this.out.advanceDegBtdc = table + catching
    }
    if (this.fixedAdvanceDeg !== null) this.out.advanceDegBtdc = this.fixedAdvanceDeg
  }

  private closedLoop(input: UnitInputs, dt: number): void {
    const p = this.tune.parameters
    const active =
      this.running &&
      input.lambda !== null &&
      input.coolantC >= p.loopMinCoolantC &&
      this.runS > p.loopDelayS &&
      input.mapKpa < p.loopMaxMapKpa &&
      input.rpm >= p.loopFloorRpm &&
      !this.out.fuelCut &&
      this.accelPct < 3
    if (active) {
      const error = input.lambda! / this.out.lambdaTarget - 1
      this.loopPct = Math.min(p.loopAuthorityPct, Math.max(-p.loopAuthorityPct, this.loopPct + error * 100 * 0.6 * dt))
    } else this.loopPct *= 1 - dt / 4
    this.out.correctionPct = this.loopPct
  }
}
