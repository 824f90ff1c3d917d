/** A mark tells of so long before it and after it, s (handbook 10): who feels something presses late. */
export const FELT_BACK_S = 3
export const FELT_ON_S = 1
/** A foot that moves the throttle by so much in half a second made a step, %. */
export const OPENED_PCT = 8
export const OPENED_WITHIN_S = 0.5
/** Leaner or richer than target by this is what a stumble is made of, lambda. */
export const LEAN_LAMBDA = 0.06
export const RICH_LAMBDA = 0.08
/** Speed that comes and goes by so much about its own slope with a still foot surges, rpm. */
export const SURGE_RPM = 60
