const GAMMA = 1.4
/** over this pressure ratio the law's slope runs away to infinity, so that the rest is a straight line to zero */
const ORIFICE_LINEAR_FROM = 0.98

/**
 * Flow function of a compressible orifice: mass flow = area x p0 / sqrt(R T0) x psi(p / p0), constant below the critical ratio.
 * @param ratio pressure behind over pressure before
 * @source Heywood, Internal Combustion Engine Fundamentals, appendix C, equations C.8 and C.9
 */
export function orificePsi(ratio: number): number {
  const critical = (2 / (GAMMA + 1)) ** (GAMMA / (GAMMA - 1))
  const x = Math.max(critical, Math.min(ratio, ORIFICE_LINEAR_FROM))
  const value = Math.sqrt(((2 * GAMMA) / (GAMMA - 1)) * (x ** (2 / GAMMA) - x ** ((GAMMA + 1) / GAMMA)))
  return ratio <= ORIFICE_LINEAR_FROM ? value : (value * Math.max(0, 1 - ratio)) / (1 - ORIFICE_LINEAR_FROM)
}

/**
 * Open share of a butterfly's bore, from its share of the pedal's travel: 1 - cos(angle) / cos(shut).
 * @param shutDeg angle of the shut plate from square across the bore, deg
 * @source Heywood, equation 7.18 without its shaft terms
 */
export function plateShare(throttlePct: number, shutDeg = 0): number {
  const shut = (shutDeg * Math.PI) / 180
  return 1 - Math.cos(shut + (throttlePct / 100) * (Math.PI / 2 - shut)) / Math.cos(shut)
}
