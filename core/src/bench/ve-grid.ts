import { turbineKpa } from './boost.ts'
import { breathe, type Breathing, exhaustKpaAt } from './breathing.ts'
import type { BenchCar } from './car.ts'
import { R_GAS } from './physics.ts'

const WARM_C = 86
/** over the outside air under the bonnet, K */
const WARM_AIR_K = 8
const VE_COLUMNS = 48
const VE_ROWS = 40
/** nothing is asked of the surface under these */
export const LEAST_RPM = 120
const LEAST_MAP_KPA = 12

export interface VeGrid {
  rpmStep: number
  mapStep: number
  columns: number
  rows: number
  cells: Float64Array
  residual: Float64Array
}

/** VE and residual of the whole map, with the cam a tooth late or the exhaust blocked. */
export function veGrid(car: Omit<BenchCar, 've'>, camLateDeg = 0, blocked = 1): VeGrid {
  const topRpm = car.redlineRpm * 1.15
  const topKpa = Math.max(120, car.highestMapKpa * 1.2)
  const [columns, rows] = [VE_COLUMNS, VE_ROWS]
  const cells = new Float64Array(columns * rows)
  const residual = new Float64Array(columns * rows)
  const b = camLateDeg === 0 ? car.breathing : { ...car.breathing, camLateDeg }
  for (let row = 0; row < rows; row++)
    for (let column = 0; column < columns; column++) {
      const rpm = Math.max(LEAST_RPM, (column * topRpm) / (columns - 1))
      const mapKpa = Math.max(LEAST_MAP_KPA, (row * topKpa) / (rows - 1))
      const at = breatheAt(car, b, rpm, mapKpa, blocked)
      cells[row * columns + column] = at.vePct * car.unexplained(rpm, mapKpa)
      residual[row * columns + column] = at.residual
    }
  return { rpmStep: topRpm / (columns - 1), mapStep: topKpa / (rows - 1), columns, rows, cells, residual }
}

/** Exhaust pressure and breathing hang on each other: twice round is enough. */
export function breatheAt(
  car: Pick<BenchCar, 'barometerKpa' | 'blower' | 'displacementM3' | 'ambientC' | 'chargeHeat'>,
  b: Breathing,
  rpm: number,
  mapKpa: number,
  blocked = 1,
) {
  const turbine = turbineKpa(car.blower, mapKpa - car.barometerKpa)
  let at = { vePct: 80, residual: 0.1 }
  let kgS = 0
  for (let round = 0; round < 2; round++) {
    kgS = airKgSOf(at.vePct, car.displacementM3, rpm, mapKpa, warmChargeK(car, kgS / b.fullKgS))
    at = breathe(b, rpm, mapKpa, exhaustKpaAt(b, car.barometerKpa, kgS, blocked) + turbine, warmChargeK(car, kgS / b.fullKgS))
  }
  return at
}

export const airKgSOf = (vePct: number, displacementM3: number, rpm: number, mapKpa: number, chargeK: number): number =>
  ((vePct / 100) * mapKpa * 1000 * displacementM3 * (rpm / 120)) / (R_GAS * chargeK)
/** Share of the coolant's heat that the charge takes on: much while it hardly moves, little in a fast stream. */
export const chargeHeatShare = ({ still, full }: BenchCar['chargeHeat'], flowShare: number): number =>
  full + (still - full) * Math.exp(-4 * Math.max(0, flowShare))
export function warmChargeK(car: Pick<BenchCar, 'ambientC' | 'chargeHeat'>, flowShare: number): number {
  const airC = car.ambientC + WARM_AIR_K
  return airC + chargeHeatShare(car.chargeHeat, flowShare) * (WARM_C - airC) + 273.15
}

/** True VE, %, at an operating point; bilinear on the even grid, clamped. */
export const trueVe = (car: Pick<BenchCar, 've'>, rpm: number, mapKpa: number): number => onGrid(car.ve, car.ve.cells, rpm, mapKpa)
/** Share of burnt gas in the charge at an operating point. */
export const trueResidual = (car: Pick<BenchCar, 've'>, rpm: number, mapKpa: number): number => onGrid(car.ve, car.ve.residual, rpm, mapKpa)

function onGrid({ rpmStep, mapStep, columns, rows }: VeGrid, cells: Float64Array, rpm: number, mapKpa: number): number {
  let x = rpm / rpmStep
  let y = mapKpa / mapStep
  if (x < 0) x = 0
  else if (x > columns - 1.0001) x = columns - 1.0001
  if (y < 0) y = 0
  else if (y > rows - 1.0001) y = rows - 1.0001
  const xi = x | 0
  const yi = y | 0
  const u = x - xi
  const v = y - yi
  const a = yi * columns + xi
  const low = cells[a] + (cells[a + 1] - cells[a]) * u
  const high = cells[a + columns] + (cells[a + columns + 1] - cells[a + columns]) * u
  return low + (high - low) * v
}
