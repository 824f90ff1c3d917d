/** What decides at First start (handbook 06). */
/** What a healthy starter turns a warm or cold engine at, rpm. */
export const CRANK_RPM = { low: 120, high: 280 }
/** Degrees within which the mean of ten flashes must lie: speed varies within a turn while cranking. */
export const CRANK_LIGHT_DEG = 5
/** Oil pressure must stand after so long, s, and at least so high, kPa. */
export const OIL_S = 10
export const MIN_OIL_KPA = 30
/** Lean at high load for so long takes the pump away, s; high load is over this share of the barometer. */
export const LEAN_S = 0.5
export const HIGH_LOAD_SHARE = 0.85
/** Coolant over this stops the engine, °C. */
export const MAX_COOLANT_C = 112
/** Battery with the key on at least, V. */
export const MIN_BATTERY_V = 12.2
/** Manifold pressure with the engine still agrees with a barometer here within, and with standard air within, kPa. */
export const STATION_KPA = 2.5
export const ATMOSPHERE_KPA = 5
/** Coolant and intake air of a cold engine agree within, K. */
export const COLD_AGREE_K = 5
/** A hot mixture sensor in free air reads leaner than this, lambda. */
export const FREE_AIR_LAMBDA = 1.8
/** Throttle shut at most and open at least, %. */
export const SHUT_PCT = 2
export const OPEN_PCT = 97
/** A jump of the throttle from sample to sample over this is a worn spot, %. */
export const MAX_JUMP_PCT = 25
/** Two presses agree within, %. */
export const AGREE_PCT = 1
/** Key-ons with fuel from which it is told that it floods. */
export const MANY_PRIMES = 5
/** Battery while cranking under this, V, or slower than this, rpm: it turns too slowly. */
export const LOW_CRANK_V = 9
export const SLOW_CRANK_RPM = 100
/** Rail pressure under this share of what is wanted is missing. */
export const LOW_PRESSURE_SHARE = 0.8
/** A crank shorter than this tells nothing, s. */
export const LEAST_CRANK_S = 2
/** Manifold pressure that fell by less than this while it ran: the unit sees no vacuum, kPa. */
export const NO_VACUUM_KPA = 5
/** Throttle from which a unit clears a flooded engine, %. */
export const FLOOD_THROTTLE_PCT = 80
/** It ran when it was watched for so long with the foot off, s, over this speed, rpm, its speed within this share of its mean from lowest to highest. */
export const RAN_S = 20
export const RAN_RPM = 300
export const RAN_SPREAD = 0.3
/** Mixture that petrol burns at in a cold or warm idle, lambda: beyond it the sensor or the fuelling is not what it seems. */
export const RAN_LAMBDA = { low: 0.6, high: 1.3 }
/** Rail pressure under this share is none at all, and over this one too much. */
export const NO_PRESSURE_SHARE = 0.3
export const HIGH_PRESSURE_SHARE = 1.12
/** So many counts that their neighbours contradict make a ragged speed. */
export const RAGGED_COUNTS = 1
/** Coolant and air of an engine that has stood differ by less than this, K. */
export const COLD_APART_K = 8
/** At the starter so many times its own speed is a cylinder that fired; a starter turns at least at this, rpm. */
export const SPUTTER_TIMES = 1.5
export const LEAST_STARTER_RPM = 120
/** Speed of a running engine swings by this share of its mean: some cylinders do less. */
export const ROUGH_SPREAD = 0.16
/** Idle with the foot off over and under its target, as factors, and what a cold engine has more, rpm. */
export const HIGH_IDLE = 1.35
export const LOW_IDLE = 0.72
export const COLD_MORE_RPM = 350
/** A test is worth naming from so much doubt taken away for each minute, bits. */
export const LEAST_GAIN_PER_MINUTE = 0.005
/** An exhaust port so far under the others is of a cylinder that does not work, K (handbook 09: a silent injector 80 K, runners within 40). */
export const COOL_PORT_K = 60
