/** Fuels by kind: density at 20 degC, stoichiometric air-fuel ratio by mass, lower heating value, and what they ask for next to petrol at equal power. Source: Heywood, table D.4; ethanol blends by mass share. */
export const fuels = {
  petrol: { label: 'petrol', densityKgL: 0.745, stoichAfr: 14.7, heatMjKg: 43.5, bsfcFactor: 1 },
  e10: { label: 'E10', densityKgL: 0.75, stoichAfr: 14.1, heatMjKg: 41.8, bsfcFactor: 1.04 },
  e85: { label: 'E85', densityKgL: 0.782, stoichAfr: 9.8, heatMjKg: 29.2, bsfcFactor: 1.48 },
} as const

/** Brake specific consumption taken at full power, g/kWh of petrol: the middle of 275-305 natural and of 335-395 boosted (handbook 02). */
const BSFC_NATURAL_G_KWH = 290
const BSFC_BOOSTED_G_KWH = 365
/** Consumption of an engine on a fuel at full power, g/kWh. */
export const bsfcGKwh = (kind: keyof typeof fuels, boosted: boolean): number =>
  (boosted ? BSFC_BOOSTED_G_KWH : BSFC_NATURAL_G_KWH) * fuels[kind].bsfcFactor
/** Mixture at full power that such consumption stands for, lambda. */
export const POWER_LAMBDA = { natural: 0.87, boosted: 0.77 } as const
/** Dead time of a usual high-impedance injector at 14 V and how it grows as the battery falls; the part's own sheet wins. */
export const DEAD_TIME_14V_MS = 0.9
export const DEAD_TIME_SLOPE_MS_PER_V = -0.12
