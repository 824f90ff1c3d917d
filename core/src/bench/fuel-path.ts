import type { BenchCar } from './car.ts'

/** fuel in a flooded engine, g for each litre */
const FLOOD_G_PER_L = 5
/** air that carries off all but a third of a pool, kg */
const POOL_AIR_KG = 0.06
/** what port and manifold walls hold of liquid fuel, g for each litre */
const WALLS_G_PER_L = 0.35
const RAIL_RISE_S = 0.25
const RAIL_HOLD_S = 900

/** from this speed on the air takes fuel off the walls as it does running */
const MOVING_RPM = 120

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
  /** A pulse into a still engine: it lies on the walls until air moves over them; what they cannot hold runs on into the pool. */
  squirt(g: number): void {
    const passed = g * Math.sqrt(Math.max(0, this.railKpa) / this.car.basePressureKpa)
    const room = Math.max(0, WALLS_G_PER_L * this.litres - this.filmG)
    this.filmG += Math.min(room, passed)
    this.poolG += Math.max(0, passed - room)
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
    // a film in still air stays where it is
    const evaporating = (this.filmG / this.evaporateS) * Math.min(1, rpm / MOVING_RPM)
    this.filmG += (this.filmShare * injectedGps - evaporating) * dt
    const pooled = this.poolG > 1e-6 ? Math.min(this.poolG / dt, (this.poolG * airOutKgS) / POOL_AIR_KG) : 0
    this.poolG -= pooled * dt
    this.arrivingGps = ((1 - this.filmShare) * injectedGps + evaporating) * (1 - this.lostShare) + pooled
  }
}
