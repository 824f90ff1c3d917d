/** What decides at Idle (handbook 06). */
/** Idle lies between, rpm. */
export const IDLE_MIN_RPM = 300
export const IDLE_MAX_RPM = 1500
/** A valve under this is shut, %. */
export const VALVE_SHUT_PCT = 2.5
/** Warm from this coolant, °C. */
export const WARM_C = 70
/** A swing over this is hunting, rpm, when so much of its power is in one period. */
export const HUNT_RPM = 25
export const HUNT_SHARE = 0.45
/** Speed over the target by this is coasting, not idle, rpm. */
export const COAST_OVER_RPM = 260
/** Idle seconds wanted for a verdict, and for a run to count, s. */
export const MIN_TOTAL_S = 30
export const MIN_RUN_S = 10
/** Rows further apart than this do not show a swing of one second, s (Nyquist: two readings a period). */
export const MAX_STEP_S = 0.5
