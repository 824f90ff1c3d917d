import { fuels } from '../injection/index.ts'

const KPA_PER_PSI = 6.894757
const FUEL_20_C_K = 293.15

/** Volume expansion of petrol, 1/K: the density falls by 1 % in about 11 degC. Source: API MPMS 11.1, middle of the petrol range. */
const EXPANSION_PER_K = 0.00095
/** Kinematic viscosity of petrol at 20 degC, mm2/s (handbook 02), and how it falls with heat: Andrade's law, 0.44 mm2/s at 40 degC. */
const VISCOSITY_20C_MM2_S = 0.55
const ANDRADE_K = 1020
/** Specific heat of petrol, J/(kg K). Source: Heywood, table D.4. */
export const FUEL_HEAT_J_KGK = 2200

export interface Fluid {
  temperatureC: number
  densityKgM3: number
  viscosityMm2S: number
  /** true vapour pressure, kPa absolute */
  vapourKpa: number
}

/**
 * True vapour pressure of petrol from its Reid vapour pressure, kPa absolute. Within a few percent for motor petrol from 0 to 60 degC;
 * for ethanol blends only a guide.
 * @param rvpKpa Reid vapour pressure of the season's fuel, kPa
 * @source US EPA AP-42, section 7.1, correlation for refined petroleum stocks, distillation slope 3 degF per percent
 */
export function vapourPressureKpa(rvpKpa: number, temperatureC: number): number {
  const rankine = temperatureC * 1.8 + 32 + 459.6
  const logRvp = Math.log10(rvpKpa / KPA_PER_PSI)
  const rootSlope = Math.sqrt(3)
  const exponent =
    (0.7553 - 413 / rankine) * rootSlope * logRvp -
    (1.854 - 1042 / rankine) * rootSlope +
    (2416 / rankine - 2.013) * logRvp -
    8742 / rankine +
    15.64
  return Math.exp(exponent) * KPA_PER_PSI
}

/** Density (kg/m3), viscosity (mm2/s) and vapour pressure (kPa absolute) of a fuel at a temperature (degC). */
export function fluidAt(kind: keyof typeof fuels, temperatureC: number, rvpKpa: number): Fluid {
  return {
    temperatureC,
    densityKgM3: fuels[kind].densityKgL * 1000 * (1 - EXPANSION_PER_K * (temperatureC - 20)),
    viscosityMm2S: VISCOSITY_20C_MM2_S * Math.exp(ANDRADE_K * (1 / (temperatureC + 273.15) - 1 / FUEL_20_C_K)),
    vapourKpa: vapourPressureKpa(rvpKpa, temperatureC),
  }
}
