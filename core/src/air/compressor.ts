/** (kappa - 1) / kappa of air */
const EXPONENT = 0.2857
/**
 * What compression warms air by, K.
 * @param pressureRatio outlet over inlet pressure, absolute
 * @param efficiency isentropic, 0 to 1
 * @source Heywood, Internal Combustion Engine Fundamentals, section 6.8.2, equation 6.40
 */
export const compressorRiseK = (pressureRatio: number, airK: number, efficiency: number): number =>
  (airK * (Math.max(1, pressureRatio) ** EXPONENT - 1)) / efficiency
