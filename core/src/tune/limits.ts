/** What decides about a tune (handbook 05). */
/** Target lambda at full load at most: leaner burns pistons. */
export const MAX_FULL_LOAD_LAMBDA = 0.92
/** Full load begins at this share of the barometer. */
export const FULL_LOAD_SHARE = 0.92
/** A kink of VE over speed or load of more than this is no engine's, % of VE. */
export const ROUGH_PCT = 12
/** Duty over this leaves an injector no time to close, %. */
export const DUTY_STOP_PCT = 95
/** The tune's fuel and the power agree within, %. */
export const FUEL_AGREES_PCT = 10
/** A rev limit may stand so far over the redline, as a factor. */
export const REV_LIMIT_FACTOR = 1.02
/** Least speed for closed loop with a hot and a wild cam, rpm: overlap fools the sensor below. */
export const HOT_LOOP_FLOOR_RPM = 1200
export const WILD_LOOP_FLOOR_RPM = 2200
/** Over this manifold pressure more load never wants an earlier spark, kPa. */
export const LOADED_KPA = 60
/** By so much it may still rise from row to row, degrees. */
export const RISE_DEG = 0.3
/** Every injector takes so long to open, ms at 14 V. */
export const LEAST_DEAD_MS = 0.1
/** A catalyst wants lambda 1 in cruise within this. */
export const CATALYST_BAND = 0.015
/** The pressure sensor tells so much more than the engine gives, kPa. */
export const SENSOR_SPARE_KPA = 3
/** Shut and open of the throttle lie at least so far apart, V. */
export const THROTTLE_SPAN_V = 1
/** Until timing is proved nobody needs more speed than the light does, rpm. */
export const PROVISIONAL_LIMIT_RPM = 3000
