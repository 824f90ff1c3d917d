/** (kappa - 1) / kappa of air */
const EXPONENT = 0.2857
const BLOWER_EFFICIENCY = 0.65
/** what an intercooler leaves of the rise */
const COOLED_LEAVES = 0.4
/**
 * What compression warms air by, K.
 * @param pressureRatio outlet over inlet pressure, absolute
 * @param efficiency isentropic, 0 to 1
 * @source Heywood, Internal Combustion Engine Fundamentals, section 6.8.2, equation 6.40
 */
export const compressorRiseK = (pressureRatio: number, airK: number, efficiency: number): number =>
  (airK * (Math.max(1, pressureRatio) ** EXPONENT - 1)) / efficiency
/** Rise of the air behind a usual road-car blower, K, before any intercooler and after it. */
export function blowerRiseK(pressureRatio: number, airK: number, cooled: boolean): { atBlowerK: number; atEngineK: number } {
  const atBlowerK = compressorRiseK(pressureRatio, airK, BLOWER_EFFICIENCY)
  return { atBlowerK, atEngineK: atBlowerK * (cooled ? COOLED_LEAVES : 1) }
}
