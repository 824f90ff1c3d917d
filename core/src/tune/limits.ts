/** What decides about a tune (handbook 05). */
/** Target lambda at full load at most: leaner burns pistons. */
export const MAX_FULL_LOAD_LAMBDA = 0.92
/** Full load begins at this share of the barometer. */
export const FULL_LOAD_SHARE = 0.92
/** A kink of VE over speed or load of more than this is no engine's, % of VE. */
export const ROUGH_PCT = 12
/** What a log taught may step more: engines do, and a log has seen it, % of VE. */
export const ROUGH_LEARNED_PCT = 22
/** Under this share of the barometer there is only overrun, where fuel is cut: no kink there is felt. */
export const ROUGH_FROM_SHARE = 0.3
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
/** VE at full load may lie so far under and over what the papers ask for, as shares: engines differ by less. */
export const LEAN_OF_PAPERS = 0.18
export const RICH_OF_PAPERS = 0.3
/** VE by throttle wide open may lie so far under them: the plates take a part. */
export const RUNNER_LEAN = 0.25
/** VE at part load may lie so far from the computed tune, as a share. */
export const PART_LOAD_OFF = 0.5
/** Spark at idle and in cruise, degrees BTDC. */
export const IDLE_SPARK_DEG: readonly [number, number] = [5, 30]
export const CRUISE_SPARK_DEG: readonly [number, number] = [20, 48]
/** Full-load spark so far under its guard burns in the exhaust, degrees. */
export const FULL_SPARK_LATE_DEG = 14
/** Target lambda at idle and in cruise; at full load it is never richer. */
export const IDLE_LAMBDA_BAND: readonly [number, number] = [0.82, 1.06]
export const CRUISE_LAMBDA_BAND: readonly [number, number] = [0.93, 1.07]
export const LEAST_FULL_LAMBDA = 0.72
