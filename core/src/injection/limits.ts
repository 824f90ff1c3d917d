/** What decides about injectors (handbook 01 and 02); the part's own sheet wins. */
/** Margin of the pump over demand, %. */
export const PUMP_MARGIN_PCT = 25
/** Duty limit that is the injectors' one margin, %. */
export const MAX_DUTY_PCT = 85
/** Opening time, dead time included, below which injectors meter badly, and from which they meter evenly, ms. */
export const LINEAR_LIMIT_MS: readonly [number, number] = [1, 1.5]
/** Share by which a pressure may differ from what the tune counts on; 4 % of pressure is 2 % of fuel. */
export const PRESSURE_TOLERANCE = 0.04
