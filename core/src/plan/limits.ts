/** What decides in the plan (handbook 01 and 02). */
/** Full-load depression allowed across the throttle, kPa. */
export const THROTTLE_DROP_KPA = 5
/** From this compression ratio a curve by load gains, and little mixture spread is forgiven. */
export const HIGH_COMPRESSION = 9.5
/** Injectors that one output drives at most. */
export const INJECTORS_PER_OUTPUT = 4
/** An alternator is not run above this share of its rating for long. */
export const ALTERNATOR_SHARE = 0.8
/** Air of a told power and that of displacement, cam and redline agree within this share: each is good to about a sixth. */
export const AIR_AGREES_SHARE = 0.35
