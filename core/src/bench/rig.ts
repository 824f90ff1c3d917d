import { plateShare } from '../air/index.ts'
import { STUCK_SHARE } from './fitup.ts'
import { alongCurve, CoreError, Random } from '../kernel/index.ts'
import type { EngineState, Frame } from '../start/index.ts'
import { SensorSet, type TuneDocument, usualSensors } from '../tune/index.ts'
import { Boost, turbineKpa } from './boost.ts'
import { exhaustKpaAt } from './breathing.ts'
import type { BenchCar } from './car.ts'
import { chargeHeatShare, trueResidual, veGrid } from './ve-grid.ts'
import { Crank } from './crank.ts'
import { type Consumers, Electrics } from './electrics.ts'
import { MixtureSensor } from './exhaust.ts'
import { type Condition, soundCondition } from './condition.ts'
import { type BenchChoices, conditionOf } from './faults.ts'
import { FuelPath } from './fuel-path.ts'
import { Heat } from './heat.ts'
import { type BenchIgnition, lightSeenDeg, sparkAtDeg, sparksOf } from './ignition.ts'
import { Inlet } from './inlet.ts'
import { knockLimit, type KnockLimit } from './knock.ts'
import { converterNm, CRITICAL_FLOW, fmepKpa, idealShare, wallShare } from './physics.ts'
import type { BenchRail } from './rail.ts'
import { countFactor, pulseReaches } from './speed-count.ts'
import { boiling } from './vapour.ts'
import { ControlUnit, type Signals, UNIT_TICK_S, type UnitInputs } from './unit.ts'

export const STEP_S = 0.001
/** what the unit lets a plate open whose pedal it does not believe, %, and the way of a plate from shut to open, deg */
const LIMP_PCT = 12
const WAY_DEG = 84
/** a plate that has not moved for so long lets go in a jump, s */
const COMES_TO_REST_S = 0.2
/** temperatures are read every so many ticks of the unit, and what the cylinders do with a spark every few */
const SLOW_TICKS = 20
const FEW_TICKS = 4
/** resets by interference, and how long each takes */
const RESETS_PER_S = 0.05
const RESET_S = 0.4
/** the unit goes off under this, and a bad earth takes from what it gets */
const DROPS_UNDER_V = 11
/** throttle screw: share of the warm idle's air, and of the pedal's travel at the sensor, for each turn */
const SCREW_AIR = 0.3
const SCREW_PCT = 0.8
/** how late a sound idle valve follows, s */
const VALVE_LAG_S = 0.12
/** pressure pulses that a port above the plates does not pass on */
const PORTED_OPENS_PCT = 6
/** water burns nothing, and this much of it drowns a fire besides, as a share of the heat */
const WATER_QUENCHES = 0.5
/** nitrous brings the oxygen of so much of full power's air, with its own fuel at this lambda, from this throttle and speed on */
const NITROUS = { airShare: 0.25, lambda: 0.8, fromThrottlePct: 90, fromRpm: 2000 }
/** what passes a hole at a deep vacuum, where the flow no longer grows */
const CHOKED = CRITICAL_FLOW.at(0.3)
/** air of a warm idle against full power's, for what a canister gives */
const IDLE_AIR_SHARE = 0.025
/** the canister is emptied warm, for so long in so long, s */
const PURGE = { fromCoolantC: 65, openS: 45, everyS: 110 }
/** air flow that halves the warming of a sensor in the heat, against full power's, and how slowly it follows, s */
const SOAK_FLOW_SHARE = 0.06
const SOAK_S = 40
/** a litre of ethanol wants so much less air than one of petrol */
const ETHANOL_AIR_SHARE = 0.64
/** a dead spot of the throttle sensor is this wide to each side, % */
const DEAD_SPOT_PCT = 3

/** A frame of the bench: its unit tells everything but a mixture before the sensor is hot. */
export type BenchFrame = { [K in keyof Frame]: K extends 'lambda' ? Frame[K] : NonNullable<Frame[K]> }

/**
 * The test bench: one deterministic engine with its control unit, stepped at 1 ms. Its parts are worth reading one by one: air (`inlet.ts`), fuel
 * (`fuel-path.ts`, `rail.ts`), crank and cylinders (`crank.ts`), knock (`knock.ts`), exhaust sensor (`exhaust.ts`), heat (`heat.ts`), battery
 * (`electrics.ts`), ignition (`ignition.ts`), control unit (`unit.ts`). `docs/bench.md` has the equations. Same seed and commands, same numbers.
 */
export class Bench {
  readonly unit: ControlUnit
  readonly inlet: Inlet
  readonly fuel: FuelPath
  readonly crank: Crank
  readonly sensor: MixtureSensor
  readonly heat: Heat
  readonly electrics = new Electrics()
  private readonly random: Random
  private readonly stepS: number
  private readonly tickSteps: number
  private readonly fitted: SensorSet
  private readonly knock: KnockLimit
  private readonly ideal: number
  private readonly boost: Boost
  private steps = 0
  private ticks = 0
  private backAtS = 0
  private readonly signals: Signals = { mapV: 1, throttleV: 0.5, coolantOhm: 2500, airOhm: 2500, lambdaV: null }
  private readonly input: UnitInputs = {
    rpm: 0,
    mapKpa: 0,
    throttlePct: 0,
    coolantC: 0,
    intakeAirC: 0,
    batteryV: 12.6,
    lambda: null,
    keyOn: false,
    inGear: false,
    nitrous: false,
  }
  private readonly consumers: Consumers = {
    keyOn: false,
    cranking: false,
    rpm: 0,
    pumpOn: false,
    fanOn: false,
    crankingV: null,
    groundOhm: 0,
  }
  /** what is really there of the ignition; null: every spark comes as commanded */
  ignition: BenchIgnition | null = null
  /** the fuel circuit; null: the plan's pressure, whatever is used */
  rail: BenchRail | null = null
  /** what unit feed and unit ground have over the usual wires, by what was told to be there, ohm */
  wires = { feedOhm: 0, groundOhm: 0 }
  /** what is wrong with the car, for instruments too that look at the thing itself */
  condition: Readonly<Condition> = soundCondition
  private zeroPct = 0
  /** where the idle valve really is, % */
  private valvePct = 0
  /** where a plate that sticks stands, %, and since when it has, s */
  private stuckAt = { pct: 0, sinceS: 0 }
  /** the unit has its supply: without it nothing is sent */
  linkUp = true
  keyOn = false
  starter = false
  pumpInhibited = false
  /** where the pedal is */
  throttlePct = 0
  /** turns of the throttle screw from where it was set, open positive */
  screwTurns = 0
  /** a hand over the idle valve's port */
  valveBlocked = false
  /** lever of an automatic in a gear; the turbine stands while the car is held */
  inGear = false
  turbineRpm = 0
  loadNm = 0
  oilKpa = 0
  /** the bottle is open: it flows at full throttle */
  nitrousArmed = false
  private nitrousAirKgS = 0
  private purgeGps = 0
  private runnerKgS = 0
  private readonly idleFuelGps: number

  constructor(
    readonly car: BenchCar,
    tune: TuneDocument,
    start: { coolantC?: number; stepS?: number } = {},
  ) {
    this.stepS = start.stepS ?? STEP_S
    this.tickSteps = Math.round(UNIT_TICK_S / this.stepS)
    this.unit = new ControlUnit(tune)
    this.random = new Random(car.seed ^ 0xbe7c)
    this.fitted = new SensorSet(usualSensors(car.highestMapKpa))
    this.knock = knockLimit(car)
    this.ideal = idealShare(car.compressionRatio)
    this.heat = new Heat(car, start.coolantC ?? car.ambientC)
    this.boost = new Boost(car.blower, car.barometerKpa, car.breathing.fullKgS, car.powerRpm)
    this.inlet = new Inlet(car, this.chargeK())
    this.fuel = new FuelPath(car)
    this.crank = new Crank(car)
    this.sensor = new MixtureSensor(car)
    this.idleFuelGps = (IDLE_AIR_SHARE * car.breathing.fullKgS * 1000) / car.fuel.stoichAfr
    this.refresh()
  }

  /** Sets what is wrong with the car from now on; fuel already in a flooded engine is put there. */
  setFaults(faults: BenchChoices | undefined): void {
    const was = this.condition
    this.condition = conditionOf(faults)
    if (!was.flooded && this.condition.flooded) {
      this.fuel.flood()
      this.crank.soak()
    }
    const { camLateDeg, exhaustBlockedTimes } = this.condition
    if (camLateDeg !== was.camLateDeg || exhaustBlockedTimes !== was.exhaustBlockedTimes)
      this.inlet.breathing = { ve: veGrid(this.car, camLateDeg, exhaustBlockedTimes) }
    this.refresh()
  }

  get timeS(): number {
    return this.steps * this.stepS
  }
  get rpm(): number {
    return this.crank.rpm
  }
  get state(): EngineState {
    return !this.keyOn ? 'off' : this.starter && this.rpm < 380 ? 'cranking' : this.rpm > 150 ? 'running' : 'key-on'
  }
  get mapKpa(): number {
    return this.inlet.mapKpa
  }
  /** Bangs and knock so far, by where they came from. */
  get heard(): Crank['heard'] {
    return this.crank.heard
  }
  /** Whether an injector is heard to click when the unit opens it alone. */
  clicks(injector: number): boolean {
    const last = this.car.injectors
    const { injectorsConnected, lastCylinderShare } = this.condition
    return injectorsConnected && injector <= last && !(injector === last && lastCylinderShare <= 0)
  }
  /** What the plugs look like when they are taken out now. */
  plugs(): 'wet' | 'dry' {
    return this.crank.wet ? 'wet' : 'dry'
  }

  /** Advances the bench; the share of real time is the caller's business. */
  run(seconds: number): void {
    const steps = Math.round(seconds / this.stepS)
    for (let i = 0; i < steps; i++) this.step()
  }

  private step(): void {
    const { inlet, fuel, crank } = this
    const dt = this.stepS
    if (this.steps++ % this.tickSteps === 0) this.tick()
    const rpm = crank.rpm
    inlet.step(dt, rpm)
    fuel.step(dt, this.unit.out.pumpOn && !this.pumpInhibited, rpm, inlet.outKgS)
    const takenNm = this.inGear ? converterNm(rpm, this.turbineRpm, this.car.displacementM3).takesNm : 0
    const starterV = this.starter && this.keyOn ? this.electrics.batteryV : null
    const extraKgS = this.nitrousAirKgS
    const extraGps = extraKgS === 0 ? 0 : (extraKgS * 1000) / (this.car.fuel.stoichAfr * NITROUS.lambda)
    const fuelGps = fuel.arrivingGps + extraGps + (rpm > 300 ? this.purgeGps : 0)
    crank.step(dt, inlet.outKgS + extraKgS + this.runnerKgS, fuelGps, inlet.mapKpa, this.loadNm + takenNm, starterV)
    this.sensor.step(dt, crank.portPhi, rpm, inlet.outKgS)
    if (this.steps % this.tickSteps === 0) this.settle(UNIT_TICK_S)
  }

  /** Fuel for its air of the charge that leaves now, over stoichiometric: what no sensor tells so soon, for holding a verdict against. */
  get chargePhi(): number {
    return this.crank.portPhi
  }

  private chargeK(): number {
    const { heat, car } = this
    const airC = heat.intakeC + this.riseK
    const share =
      chargeHeatShare(car.chargeHeat, this.inlet ? this.inlet.outKgS / car.breathing.fullKgS : 0) + this.condition.chargeHeatsMore
    return airC + share * (heat.coolantC - airC) + 273.15
  }

  /** Where the cable asks the plate to be, % of the pedal's travel. */
  private get pulledPct(): number {
    const { trackSupplyLost, linkageShortDeg } = this.condition
    return Math.min(this.throttlePct, trackSupplyLost ? LIMP_PCT : 100 * (1 - linkageShortDeg / WAY_DEG))
  }
  /** Where the plate really is: where it is pulled to, and the screw holds it open a little. */
  private get platePct(): number {
    const { plateStuck, plateSticksPct } = this.condition
    return plateStuck ? 100 * STUCK_SHARE : plateSticksPct > 0 ? this.stuckAt.pct : this.pulledPct
  }
  /** A plate that sticks comes back that much short, since only its spring pulls; from rest it lets go in a jump, once the cable pulls that far beyond. */
  private movePlate(): void {
    const by = this.condition.plateSticksPct
    const { pct, sinceS } = this.stuckAt
    const holds = this.timeS - sinceS > COMES_TO_REST_S ? by : 0
    const next = this.pulledPct > pct + holds ? this.pulledPct : Math.min(pct, this.pulledPct + by)
    if (next !== pct) this.stuckAt = { pct: next, sinceS: this.timeS }
  }
  private get screwOpenTurns(): number {
    return this.screwTurns + this.condition.screwOpenTurns
  }
  /** What the throttle sensor's own angle is, before the zero that was learned is taken off. */
  private get sensorPct(): number {
    return this.platePct + SCREW_PCT * this.screwOpenTurns + this.condition.throttleZeroPct
  }
  /** Learns the throttle's zero where it rests now. */
  learnZero(): void {
    this.zeroPct = this.sensorPct
  }

  private tick(): void {
    const { input, signals, heat, electrics, fitted, condition, fuel } = this
    const unitV = electrics.batteryV - electrics.groundLiftV - (condition.feedOhm + this.wires.feedOhm) * electrics.loadA
    this.movePlate()
    // plug sparks beside the loom, or a plug not latched, reset the unit now and then; it is back after a moment and begins anew
    if (
      (this.ignition?.fault('interference') || condition.looseUnitPlug) &&
      this.rpm > 60 &&
      this.random.next() < RESETS_PER_S * UNIT_TICK_S
    )
      this.backAtS = this.timeS + RESET_S
    const dead = this.starter && (!condition.keyedWhileCranking || (!condition.holdsSupplyWhileCranking && unitV < DROPS_UNDER_V))
    this.linkUp = !dead && this.timeS >= this.backAtS
    const seen = condition.speedSignal && (!this.ignition || pulseReaches(this.ignition, this.rpm))
    input.rpm = seen ? this.rpm : 0
    input.batteryV = unitV
    input.keyOn = this.keyOn && this.linkUp
    input.inGear = this.inGear
    input.nitrous = this.nitrousAirKgS > 0
    const lift = electrics.groundLiftV
    const offHose = condition.mapHose === 'off' || (condition.mapHose === 'above-plates' && this.platePct < PORTED_OPENS_PCT)
    signals.mapV = fitted.mapV(condition.mapStuckKpa ?? (offHose ? this.car.barometerKpa : this.hoseKpa())) + lift
    const worn = condition.throttleDeadSpotPct
    signals.throttleV =
      worn !== null && Math.abs(this.platePct - worn) < DEAD_SPOT_PCT ? 0 : fitted.throttleV(this.sensorPct - this.zeroPct) + lift
    if (this.ticks++ % SLOW_TICKS === 0) {
      const coolantC = condition.coolantStuckC ?? heat.coolantC + condition.coolantOffK
      const airC = heat.intakeC + this.riseK + condition.intakeAirOffK + this.soakedK(SLOW_TICKS * UNIT_TICK_S)
      signals.coolantOhm = fitted.coolantOhm(condition.sensorPinsSwapped ? airC : coolantC)
      signals.airOhm = fitted.airOhm(condition.sensorPinsSwapped ? coolantC : airC)
    }
    const { lambda } = this.sensor
    signals.lambdaV = lambda === null ? null : fitted.lambdaV(lambda)
    this.unit.read(signals, input)
    this.unit.tick(input)
    const primeMs = this.unit.takePrimeMs()
    if (primeMs > 0) fuel.squirt(this.openMs(primeMs) * this.car.injectorGPerMs * this.car.injectors * this.fuelShare)
    this.refresh()
    this.sensor.heat(UNIT_TICK_S, this.keyOn, this.inlet.outKgS)
  }

  private hoseLateKpa = 0
  /** What the hose brings to the unit's sensor: late where it is pinched, part of the air outside where it leaks. */
  private hoseKpa(): number {
    const { mapLagS, mapLeakShare } = this.condition
    const { mapKpa } = this.inlet
    this.hoseLateKpa = mapLagS > 0 ? this.hoseLateKpa + ((mapKpa - this.hoseLateKpa) * UNIT_TICK_S) / mapLagS : mapKpa
    return this.hoseLateKpa + mapLeakShare * (this.car.barometerKpa - this.hoseLateKpa)
  }
  private soakK = 0
  /** What a sensor that stands in the heat reads beyond the air: much while the stream is still, less in a fast one, never at once. */
  private soakedK(dt: number): number {
    const still = 1 / (1 + this.inlet.outKgS / (SOAK_FLOW_SHARE * this.car.breathing.fullKgS))
    const wanted = this.condition.airSoakShare * still * Math.max(0, this.heat.coolantC - this.heat.intakeC)
    this.soakK += ((wanted - this.soakK) * dt) / SOAK_S
    return this.soakK
  }

  /** What changes slowly against a step, worked out once for each tick of the unit. */
  private refresh(): void {
    const { car, inlet, fuel, crank, sensor, heat, condition } = this
    const { out } = this.unit
    const rpm = this.rpm
    const cold = Math.min(1, Math.max(0, (80 - heat.coolantC) / 90))
    inlet.chargeK = this.chargeK()
    inlet.openShare = plateShare(this.platePct, car.plateShutDeg)
    inlet.breathes = condition.breathesShare
    this.blow(UNIT_TICK_S)
    const flows = this.nitrousArmed && this.throttlePct > NITROUS.fromThrottlePct && rpm > NITROUS.fromRpm
    this.nitrousAirKgS = flows ? car.breathing.fullKgS * NITROUS.airShare : 0
    const idleAreaM2 = car.plateLeakM2 + 0.25 * car.idleValveAreaM2
    this.valvePct += ((out.idleValvePct - this.valvePct) * UNIT_TICK_S) / (VALVE_LAG_S * condition.idleValveSlow)
    const valvePct = condition.idleValveMoves && !this.valveBlocked ? this.valvePct : 0
    inlet.fixedAreaM2 =
      Math.max(0.02 * idleAreaM2, car.plateLeakM2 + SCREW_AIR * idleAreaM2 * this.screwOpenTurns) +
      car.idleValveAreaM2 * (valvePct / 100) +
      idleAreaM2 * condition.vacuumLeakShare +
      car.openPortsM2

    this.runnerKgS =
      condition.runnerLeakShare > 0 && rpm > 60
        ? condition.runnerLeakShare * IDLE_AIR_SHARE * car.breathing.fullKgS * (CRITICAL_FLOW.at(inlet.mapKpa / car.barometerKpa) / CHOKED)
        : 0
    fuel.tick(cold, rpm)
    fuel.gPerCycle = this.openMs(out.pulseMs) * car.injectorGPerMs * this.fuelShare * car.injectors * out.openings
    const railKpa = this.rail ? this.rail.at(this.electrics.batteryV, fuel.useLph) : car.basePressureKpa
    const vapour = condition.vapourLossShare > 0 ? boiling(heat.coolantC, car.ambientC, car.barometerKpa) : 0
    fuel.wantedKpa = condition.pumpRuns ? railKpa * condition.pressureShare * (1 - vapour * condition.vapourLossShare) : 0
    fuel.overOutletKpa = this.rail ? this.rail.overOutletKpa(inlet.mapKpa) : 0

    // oil is thick in a cold engine
    crank.frictionKpa = fmepKpa(rpm, car.breathing.strokeM, inlet.mapKpa) * car.frictionScale * (1 + 0.6 * cold)
    crank.exhaustKpa =
      exhaustKpaAt(car.breathing, car.barometerKpa, inlet.outKgS, condition.exhaustBlockedTimes) +
      turbineKpa(car.blower, this.boost.overKpa)
    crank.residual = trueResidual(inlet.breathing, rpm, inlet.mapKpa)
    crank.sharing = 1 + (car.coldSharing - 1) * cold
    crank.thermalShare = this.ideal * wallShare(rpm) * (1 - WATER_QUENCHES * condition.waterShare)
    crank.advanceDeg = this.trueAdvanceDeg()
    if (this.ticks % FEW_TICKS === 0) {
      const chargeC = inlet.chargeK - 273.15
      crank.knockLimitDeg.stoich = this.knock(rpm, inlet.mapKpa, chargeC, 'stoich')
      crank.knockLimitDeg.rich = this.knock(rpm, inlet.mapKpa, chargeC, 'rich')
      crank.lean = condition.lastCylinderShare < 1 ? { place: car.cylinders - 1, share: condition.lastCylinderShare } : null
      crank.sparks = this.ignition ? sparksOf(this.ignition, crank.advanceDeg, inlet.mapKpa) : null
    }

    sensor.slow = condition.sensorLag
    sensor.reads = condition.sensorReadsShare * (1 + (condition.sensorDriftPerMin * this.timeS) / 60)
    sensor.stuckAt = condition.sensorStuckLambda
    sensor.leakShare = condition.exhaustLeakShare
    sensor.heated = condition.sensorHeated
    this.unit.frozen = condition.learningFrozen
    this.unit.forgetful = condition.learnedForgotten
    this.unit.poisonPct = condition.poisonedCellPct
    this.purgeGps = this.purging() ? condition.purgeShare * this.idleFuelGps : 0
  }

  /** What of an opening passes fuel through the injectors this car has. */
  private openMs(pulseMs: number): number {
    const deadMs = alongCurve(this.car.deadTimeMs, this.electrics.batteryV) + this.condition.deadTimeOffMs
    return pulseMs > 0 ? Math.max(0, pulseMs - deadMs) : 0
  }
  /** Flow of its injectors against what was planned, and what of it burns. */
  private get fuelShare(): number {
    const { injectorsConnected, injectorShare, waterShare, ethanolShare } = this.condition
    return injectorsConnected ? injectorShare * (1 - waterShare) * (1 - (1 - ETHANOL_AIR_SHARE) * ethanolShare) : 0
  }
  private purging(): boolean {
    return this.condition.purgeShare > 0 && this.heat.coolantC > PURGE.fromCoolantC && this.timeS % PURGE.everyS < PURGE.openS
  }
  private riseK = 0
  private blow(dt: number): void {
    const { car, boost, inlet } = this
    if (!car.blower) return
    boost.gateShare = this.condition.boostTimes
    boost.step(dt, inlet.outKgS, this.rpm)
    const airK = car.ambientC + 273.15
    this.riseK = boost.riseK(airK)
    inlet.beforeKpa = boost.beforeKpa
    inlet.afterTimes = boost.afterTimes
    inlet.beforeK = airK + (car.blower.place === 'blow-through' ? this.riseK : 0)
    inlet.refresh()
    this.crank.accessoryNm = car.accessoryNm + boost.beltW(inlet.outKgS, airK) / Math.max(20, this.crank.omega)
  }

  /** Crank degrees BTDC at which the spark really comes: the unit counts from where it believes the pulse is. */
  trueAdvanceDeg(rpm = this.rpm): number {
    const commanded = this.unit.out.advanceDegBtdc
    return this.ignition ? sparkAtDeg(this.ignition, rpm, this.mapKpa, commanded) : commanded
  }

  private settle(dt: number): void {
    const { out } = this.unit
    const rpm = this.rpm
    this.heat.step(dt, this.fuel.arrivingGps, this.inlet.outKgS, out.fanOn)
    const { consumers, condition } = this
    consumers.keyOn = this.keyOn
    consumers.cranking = this.starter && rpm < 330
    consumers.rpm = rpm
    consumers.pumpOn = out.pumpOn
    consumers.fanOn = out.fanOn
    consumers.crankingV = condition.crankingV
    consumers.groundOhm = Math.max(0, condition.groundOhm + this.wires.groundOhm)
    this.electrics.step(dt, consumers, this.car)
    const oilKpa = rpm > 50 && condition.oilPressure ? Math.min(420, 60 + rpm * 0.14) : 0
    this.oilKpa += ((oilKpa - this.oilKpa) * dt) / 0.7
  }

  /** What the unit reports now, with the noise of its sensors. */
  frame(): BenchFrame {
    const noise = (size: number) => size * this.random.normal()
    const { input } = this
    const { out } = this.unit
    return {
      timeS: Math.round(this.timeS * 1000) / 1000,
      state: this.state,
      rpm: input.rpm > 20 ? Math.max(0, this.rpm * countFactor(this.ignition, this.random) + noise(this.starter ? 6 : 5)) : 0,
      mapKpa: input.mapKpa + noise(0.25),
      throttlePct: input.throttlePct,
      lambda: input.lambda === null ? null : input.lambda * (1 + noise(0.004)),
      lambdaTarget: out.lambdaTarget,
      coolantC: input.coolantC + noise(0.1),
      intakeAirC: input.intakeAirC + noise(0.1),
      batteryV: input.batteryV + noise(0.03),
      correctionPct: out.correctionPct,
      learnedPct: out.learnedPct,
      enrichmentPct: out.enrichmentPct,
      pulseMs: out.pulseMs,
      advanceDegBtdc: out.advanceDegBtdc,
      idleValvePct: out.idleValvePct,
      fuelCut: out.fuelCut ? 1 : 0,
      pumpOn: this.keyOn && out.pumpOn && !this.pumpInhibited,
      fuelPressureKpa: Math.max(0, this.fuel.railKpa + noise(1)),
      oilPressureKpa: Math.max(0, this.oilKpa + noise(2)),
      faultFlags: [...this.unit.flags],
      ...(this.unit.injectorsOn ? {} : { fuelHeld: true }),
    }
  }

  /** Whether the first cylinder's lead carries a spark at all: the unit must see the crank, and the coil work. */
  get flashes(): boolean {
    const seen = this.condition.speedSignal && (!this.ignition || pulseReaches(this.ignition, this.rpm))
    return this.linkUp && seen && (!this.ignition || sparksOf(this.ignition, this.crank.advanceDeg, this.mapKpa)[0].reach > 0)
  }

  /**
   * The bench's timing light: what a person reads on the damper, +-0.5 degrees.
   * @throws CoreError NOT_ALLOWED when the crank does not turn
   */
  timingLight(): { rpm: number; observedDeg: number; commandedDeg: number } {
    if (this.rpm < 60) throw new CoreError('NOT_ALLOWED', 'timing light', 'the crank is not turning')
    if (!this.flashes) throw new CoreError('NOT_ALLOWED', 'timing light', 'it does not flash: there is no spark in this lead')
    const commanded = this.unit.out.advanceDegBtdc
    const trueDeg = this.trueAdvanceDeg()
    return {
      rpm: Math.round(this.rpm / 10) * 10,
      observedDeg: Math.round((this.ignition ? lightSeenDeg(this.ignition, trueDeg, this.rpm, this.random) : trueDeg) * 10) / 10,
      commandedDeg: Math.round(commanded * 10) / 10,
    }
  }
}
