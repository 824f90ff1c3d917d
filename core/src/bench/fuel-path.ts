import type { BenchCar } from './car.ts'

/** fuel in a flooded engine, and from which its plugs come out wet, g for each litre */
const FLOOD_G_PER_L = 5
const WET_G_PER_L = 0.6
/** air that carries off all but a third of a pool, kg */
const POOL_AIR_KG = 0.06
const RAIL_RISE_S = 0.25
const RAIL_HOLD_S = 900

/** Rail, injectors, wall film and what lies in a flooded engine. Film: Aquino's X-tau model (SAE 810494). */
export class FuelPath {
  railKpa = 0
  useLph = 0
  /** burnable fuel on its way into the cylinders now, g/s */
  arrivingGps = 0
  /** set at each tick of the unit */
  gPerCycle = 0
  wantedKpa = 0
  overOutletKpa = 0
  cold = 0
  private filmG = 0
  private poolG = 0
  private filmShare = 0.12
  private evaporateS = 0.18
  private lostShare = 0

  constructor(private readonly car: BenchCar) {}

  flood(): void {
    this.poolG = FLOOD_G_PER_L * this.litres
  }
  private get litres(): number {
    return this.car.displacementM3 * 1000
  }
  get wet(): boolean {
    return this.filmG + this.poolG > WET_G_PER_L * this.litres
  }
  get anyFuel(): boolean {
    return this.filmG > 0
  }

  /** @param cold 0 at 80 degC to 1 at -10 degC: film and loss to the walls grow, the loss far more while the air hardly moves */
  tick(cold: number, rpm: number): void {
    this.cold = cold
    this.filmShare = 0.12 + 0.3 * cold
    this.evaporateS = 0.18 + 0.9 * cold
    this.lostShare = cold * (0.28 + 0.45 * Math.exp(-((rpm / 350) ** 2)))
  }

  step(dt: number, pumping: boolean, rpm: number, airOutKgS: number): void {
    const { car } = this
    this.railKpa += pumping ? ((this.wantedKpa - this.railKpa) * dt) / RAIL_RISE_S : (-this.railKpa * dt) / RAIL_HOLD_S
    const injectedGps =
      this.gPerCycle > 0 && rpm > 30
        ? (this.gPerCycle * Math.sqrt(Math.max(0, this.railKpa + this.overOutletKpa) / car.basePressureKpa) * rpm) / 120
        : 0
    this.useLph = (injectedGps * 3.6) / car.fuel.densityKgL
    const evaporating = this.filmG / this.evaporateS
    this.filmG += (this.filmShare * injectedGps - evaporating) * dt
    const pooled = this.poolG > 1e-6 ? Math.min(this.poolG / dt, (this.poolG * airOutKgS) / POOL_AIR_KG) : 0
    this.poolG -= pooled * dt
    this.arrivingGps = ((1 - this.filmShare) * injectedGps + evaporating) * (1 - this.lostShare) + pooled
  }
}
