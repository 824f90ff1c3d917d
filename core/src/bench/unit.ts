import { airPerCylinderG, chargeTemperatureC, pulseMs } from '../injection/index.ts'
import { alongCurve } from '../kernel/index.ts'
import { accelColdShare, bilinear, runnerShare, SENSOR_MAX_V, SENSOR_MIN_V, SensorSet, type TuneDocument } from '../tune/index.ts'
import { type Learning, UnitMemory, usualLearning } from './unit-memory.ts'

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
  /** lever of an automatic in a gear */
  inGear: boolean
  /** nitrous flows */
  nitrous: boolean
}

/** What it does about it. */
export interface UnitOutputs {
  pulseMs: number
  /** openings of each injector in one cycle, as the unit was told */
  openings: number
  advanceDegBtdc: number
  idleValvePct: number
  pumpOn: boolean
  fuelCut: boolean
  correctionPct: number
  learnedPct: number
  enrichmentPct: number
  lambdaTarget: number
  fanOn: boolean
}

export const UNIT_TICK_S = 0.005

/** What comes in on the unit's wires. */
export interface Signals {
  mapV: number
  throttleV: number
  coolantOhm: number
  airOhm: number
  lambdaV: number | null
}

const CRANK_TO_RUN_RPM = 400
const SHUT_PCT = 1.5
const PUMP_AFTER_STALL_S = 1.5
const RATE_S = 0.1
/** it learns where speed, pressure and throttle have stood still for so long: the loop has had time to find what is missing here */
const STEADY_RPM = 60
const STEADY_KPA = 2
const STEADY_S = 3
const SETTLING_S = 0.5
const MAX_ACCEL_PCT = 60
/** idle learning: from so long after the start, within so much of the target, and mostly in so long */
const ADAPTS_AFTER_S = 5
const ADAPTS_WITHIN_RPM = 60
const ADAPTS_IN_S = 25
/** and what it gathered is let go over so long when the speed is no idle's, s */
const LETS_GO_S = 4
/** how much of each tick's change of speed it takes for the slope: noise must not shake the valve */
const SLOPE_SHARE = 0.05
/** the prime pulse waits for pressure */
const PRIME_PULSE_AFTER_S = 0.8
/** after a cut for too much boost, so far under it fuel comes back, kPa */
const BOOST_BACK_KPA = 8
/** how far spark is drawn back when the speed reaches its limit */
const SOFT_RETARD_DEG = 15

/** The simulated control unit: speed density from the tune under test, with closed loop, idle valve and spark, enrichments, cuts, pump and fan. */
export class ControlUnit {
  readonly out: UnitOutputs = {
    pulseMs: 0,
    openings: 1,
    advanceDegBtdc: 0,
    idleValvePct: 0,
    pumpOn: false,
    fuelCut: false,
    correctionPct: 0,
    learnedPct: 0,
    enrichmentPct: 0,
    lambdaTarget: 1,
    fanOn: false,
  }
  /** timing held at one value for the light; null follows the table */
  fixedAdvanceDeg: number | null = null
  injectorsOn = true
  private primed = false
  private overboost = false
  private onS = 0
  private runS = 0
  private stoppedS = 0
  private running = false
  private firings = 0
  private accelPct = 0
  private slowThrottlePct = 0
  private idleIntegralPct = 0
  private rpmPerS = 0
  /** what it has learned of the idle valve, %: kept with the key off */
  idleAdaptedPct = 0
  adaptsIdle = false
  private loopPct = 0
  private smoothRpm = 0
  private turned = false
  private slowMapKpa = 0
  private settlingMapKpa = 0
  private steadyS = 0
  private current!: TuneDocument
  private memory!: UnitMemory
  private learning: Learning = usualLearning
  private memoryAxes: { rpm?: readonly number[]; mapKpa?: readonly number[] } = {}
  /** learning is held where it is */
  frozen = false
  /** it loses what it learned as its key goes off; or puts it into its base then */
  forgetful = false
  foldsIntoBase = false
  private lastCoolantOhm = 0
  private lastAirOhm = 0
  private coolantC = 0
  private airC = 0
  private sensors!: SensorSet
  /** flags of its self-checks, kept until the key goes off */
  readonly flags = new Set<string>()

  constructor(tune: TuneDocument) {
    this.tune = tune
  }
  get tune(): TuneDocument {
    return this.current
  }
  set tune(tune: TuneDocument) {
    if (this.current === tune) return
    // what was learned on another table is not true of this one
    const anew = !this.current || JSON.stringify(this.current.tables.ve) !== JSON.stringify(tune.tables.ve)
    this.current = tune
    if (anew) this.memory = this.emptyMemory()
    this.sensors = new SensorSet(tune.parameters)
    this.lastCoolantOhm = this.lastAirOhm = 0
  }

  private emptyMemory(): UnitMemory {
    return new UnitMemory(this.current.axes.rpm.at(-1)!, this.memoryAxes)
  }
  /** How this unit learns: as it was said to, else as far as its tune lets it. Other axes begin with nothing learned. */
  setLearning(learning: Partial<Learning>, axes: { rpm?: readonly number[]; mapKpa?: readonly number[] } = {}): void {
    this.learning = { ...usualLearning, ...learning }
    if (JSON.stringify(axes) === JSON.stringify(this.memoryAxes)) return
    this.memoryAxes = axes
    this.memory = this.emptyMemory()
  }
  /** What it has learned, with the axes it is held on. */
  get learned(): { rpm: readonly number[]; mapKpa: readonly number[]; pct: readonly number[] } {
    return { ...this.memory.axes, pct: this.memory.learnedPct }
  }
  recallLearned(pct: readonly number[]): void {
    this.memory.recall(pct)
  }
  forgetLearned(): void {
    this.memory.forget()
  }
  /** A cell that goes on holding what it once learned wrongly, %; null: none. */
  set poisonPct(pct: number | null) {
    this.memory.poison(pct)
  }

  /** What the unit takes its sensors to say, by the sensor values of its tune, and which of them are beyond belief. */
  read(signals: Signals, into: UnitInputs): void {
    const { sensors } = this
    into.mapKpa = sensors.mapKpa(signals.mapV)
    into.throttlePct = Math.min(100, Math.max(0, sensors.throttlePct(signals.throttleV)))
    // logarithms are slow, temperatures too
    if (signals.coolantOhm !== this.lastCoolantOhm) {
      this.lastCoolantOhm = signals.coolantOhm
      this.coolantC = sensors.coolantC(signals.coolantOhm)
    }
    if (signals.airOhm !== this.lastAirOhm) {
      this.lastAirOhm = signals.airOhm
      this.airC = sensors.airC(signals.airOhm)
    }
    into.coolantC = this.coolantC
    into.intakeAirC = this.airC
    into.lambda = signals.lambdaV === null ? null : sensors.lambda(signals.lambdaV)
    if (!into.keyOn) return
    if (signals.throttleV < SENSOR_MIN_V || signals.throttleV > SENSOR_MAX_V) this.flags.add('throttle-range')
    if (signals.mapV <= SENSOR_MIN_V || signals.mapV >= SENSOR_MAX_V) this.flags.add('map-range')
    if (into.coolantC < -38 || into.coolantC > 135) this.flags.add('coolant-range')
    if (into.intakeAirC < -38 || into.intakeAirC > 100) this.flags.add('air-range')
    if (into.batteryV > 16 || into.batteryV < 5.5) this.flags.add('supply-range')
  }

  reset(): void {
    this.onS = this.runS = this.stoppedS = this.firings = this.accelPct = this.idleIntegralPct = this.loopPct = this.rpmPerS = 0
    this.running = this.turned = this.primed = this.overboost = false
    this.fixedAdvanceDeg = null
    this.flags.clear()
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
    this.primed = false
  }
  /** The prime pulse that is due now, ms; each key-on gives one. */
  takePrimeMs(): number {
    if (this.primed || this.onS < PRIME_PULSE_AFTER_S || this.running || !this.injectorsOn) return 0
    this.primed = true
    return this.tune.parameters.primeMs
  }

  tick(input: UnitInputs): UnitOutputs {
    const dt = UNIT_TICK_S
    const { out } = this
    const { parameters: p, axes, tables } = this.tune
    if (!input.keyOn) {
      if (this.onS > 0) {
        if (this.forgetful) this.idleAdaptedPct = 0
        if (this.forgetful) this.memory.forget()
        else if (this.foldsIntoBase) this.memory.fold()
        this.reset()
      }
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
    const before = this.smoothRpm
    this.smoothRpm += (rpm - before) * 0.08
    this.rpmPerS += ((this.smoothRpm - before) / dt - this.rpmPerS) * SLOPE_SHARE

    this.turned = turning || (this.turned && this.stoppedS < PUMP_AFTER_STALL_S)
    out.pumpOn = this.onS < p.primeS || this.turned
    out.fanOn = out.fanOn ? coolantC > p.fanOffC : coolantC > p.fanOnC

    const target = alongCurve(p.idleTargetRpm, coolantC) + (input.inGear ? p.idleInGearRpm : 0) + (out.fanOn ? p.idleFanRpm : 0)
    const shut = throttlePct < SHUT_PCT
    const idling = shut && this.running && this.smoothRpm < target + 350
    this.idleValve(idling, shut, target, input, dt)
    this.spark(idling, target, rpm, mapKpa, input)

    out.lambdaTarget = bilinear(axes, tables.lambdaTarget, rpm, mapKpa)
    out.enrichmentPct = this.enrichment(throttlePct, mapKpa, coolantC, dt)
    this.closedLoop(input, dt)
    out.openings = p.injectionsPerCycle
    this.overboost = mapKpa > p.overboostKpa - (this.overboost ? BOOST_BACK_KPA : 0)
    out.fuelCut =
      this.running &&
      (rpm > p.revLimitRpm || this.overboost || (shut && this.runS > 3 && (out.fuelCut ? rpm > p.cutReturnRpm : rpm > p.cutAboveRpm)))
    const cleared = !this.running && throttlePct >= p.floodClearPct
    const synchronised = this.running || this.firings > p.cylinders
    out.pulseMs = !synchronised || out.fuelCut || cleared || !this.injectorsOn ? 0 : this.pulse(input)
    return out
  }

  private pulse(input: UnitInputs): number {
    const { parameters: p, axes, tables } = this.tune
    const { rpm, mapKpa, coolantC, intakeAirC, batteryV } = input
    const charge = chargeTemperatureC(intakeAirC, coolantC, p.chargeHeatShare)
    const cylinderCc = p.displacementCc / p.cylinders
    let air = airPerCylinderG(bilinear(axes, tables.ve, rpm, mapKpa), mapKpa, charge, cylinderCc) * p.cylinders
    const { runner } = this.tune
    if (runner) {
      const share = runnerShare(runner, input.throttlePct)
      const ve = bilinear({ rpm: axes.rpm, mapKpa: runner.throttlePct }, runner.ve, rpm, input.throttlePct)
      air += share * (airPerCylinderG(ve, p.barometerKpa, charge, cylinderCc) * p.cylinders - air)
    }
    const stoich = air / p.stoichAfr
    const fuel = this.running
      ? (stoich / this.out.lambdaTarget) *
        (1 + this.out.enrichmentPct / 100) *
        (1 + this.out.correctionPct / 100) *
        (1 + this.out.learnedPct / 100) *
        (1 + this.memory.foldedAt(rpm, mapKpa) / 100)
      : stoich * (1 + (alongCurve(p.crankingPct, coolantC) / 100 - 1) * Math.max(0, 1 - this.firings / p.crankingDecayFirings))
    return pulseMs(fuel, p, batteryV)
  }

  private enrichment(throttlePct: number, mapKpa: number, coolantC: number, dt: number): number {
    const p = this.tune.parameters
    // rates over the filter's time, as a unit takes them, so that one jump of a sensor is no kick of fuel
    const rate = Math.max(0, throttlePct - this.slowThrottlePct) / RATE_S
    this.slowThrottlePct += ((throttlePct - this.slowThrottlePct) * dt) / RATE_S
    const mapRate = Math.max(0, mapKpa - this.slowMapKpa) / RATE_S
    this.slowMapKpa += ((mapKpa - this.slowMapKpa) * dt) / RATE_S
    const cold = 1 + (p.accelColdFactor - 1) * accelColdShare(coolantC)
    this.accelPct = Math.max(
      this.accelPct * (1 - dt / p.accelDecayS),
      rate > 15 ? Math.min(MAX_ACCEL_PCT, (cold * (p.accelPctPer100 * rate + p.accelMapPctPer100 * mapRate)) / 100) : 0,
    )
    const after = alongCurve(p.afterStartPct, coolantC) * Math.max(0, 1 - this.runS / p.afterStartS)
    return this.running ? alongCurve(p.warmupPct, coolantC) + after + this.accelPct : 0
  }

  private idleValve(idling: boolean, shut: boolean, target: number, { coolantC, inGear }: UnitInputs, dt: number): void {
    const { parameters: p } = this.tune
    const loads = (this.out.fanOn ? p.idleFanValvePct : 0) + (inGear ? p.idleGearValvePct : 0)
    const base = alongCurve(p.idleValvePct, coolantC) + loads
    const error = target - this.smoothRpm
    if (idling && this.runS > 1.5)
      this.idleIntegralPct = this.withinReach(this.idleIntegralPct + (p.idleIntegralPctS / 100) * error * dt, base)
    // a speed it does not take for an idle is no reason to hold what it gathered
    else if (this.running && shut) this.idleIntegralPct *= 1 - dt / LETS_GO_S
    if (idling && this.runS > ADAPTS_AFTER_S && Math.abs(error) < ADAPTS_WITHIN_RPM && !this.frozen) this.adapt(dt)
    const proportional = idling ? (p.idleGainPct / 100) * error - (p.idleDampingPct / 100) * this.rpmPerS : 0
    // a closing throttle is caught by a valve that stands a little open
    const dashpot = shut ? 0 : 4
    this.out.idleValvePct = Math.min(
      100,
      Math.max(0, base + this.idleAdaptedPct + this.idleIntegralPct + proportional + dashpot + (this.running ? 0 : 12)),
    )
  }
  /** What its own moves may bring the valve to: no further from its start than allowed, and not past shut. */
  private withinReach(integralPct: number, basePct: number): number {
    const { idleAdaptMostPct: most } = this.tune.parameters
    const moved = Math.min(most, Math.max(-Math.min(most, basePct), integralPct + this.idleAdaptedPct))
    return moved - this.idleAdaptedPct
  }
  /** What holds the speed for long goes over into what is kept with the key off; the valve stands where it stood. */
  private adapt(dt: number): void {
    if (!this.adaptsIdle) return
    const moved = (this.idleIntegralPct * dt) / ADAPTS_IN_S
    this.idleAdaptedPct += moved
    this.idleIntegralPct -= moved
  }

  private spark(idling: boolean, target: number, rpm: number, mapKpa: number, { intakeAirC, nitrous }: UnitInputs): void {
    const { parameters: p, axes, tables } = this.tune
    if (!this.running) this.out.advanceDegBtdc = p.crankingAdvanceDeg
    else {
      const table = bilinear(axes, tables.spark, rpm, mapKpa)
      const most = p.idleSparkMostDeg
      const catching = idling ? Math.min(most, Math.max(-most, ((target - rpm) * p.idleSparkDegPer100) / 100)) : 0
      const over = Math.min(1, Math.max(0, (rpm - (p.revLimitRpm - p.revSoftBelowRpm)) / Math.max(1, p.revSoftBelowRpm)))
      const hot = p.airRetardDegPerK * Math.max(0, intakeAirC - p.airRetardFromC)
      this.out.advanceDegBtdc = table + catching - SOFT_RETARD_DEG * over - hot - (nitrous ? p.nitrousRetardDeg : 0)
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
      this.loopPct = Math.min(p.loopAuthorityPct, Math.max(-p.loopAuthorityPct, this.loopPct + error * 100 * p.loopGainPctS * dt))
    } else this.loopPct *= 1 - dt / 4
    this.out.correctionPct = this.loopPct
    const { learning } = this
    const mostPct = learning.mostPct ?? p.learnAuthorityPct
    if (mostPct > 0) {
      // only what stands still is worth remembering
      this.settlingMapKpa += ((input.mapKpa - this.settlingMapKpa) * dt) / SETTLING_S
      const still =
        active &&
        this.accelPct < 1 &&
        Math.abs(input.rpm - this.smoothRpm) < STEADY_RPM &&
        Math.abs(input.mapKpa - this.settlingMapKpa) < STEADY_KPA
      this.steadyS = still ? this.steadyS + dt : 0
      const steady = this.steadyS > STEADY_S
      const allowed = input.coolantC >= learning.fromCoolantC && input.rpm >= learning.fromRpm && input.mapKpa <= learning.toMapKpa
      if (steady && allowed && !this.frozen)
        this.memory.learn(input.rpm, input.mapKpa, this.loopPct, { mostPct, settleS: learning.settleS }, dt)
      this.out.learnedPct = this.running ? this.memory.at(input.rpm, input.mapKpa) : 0
    } else this.out.learnedPct = 0
  }
}
