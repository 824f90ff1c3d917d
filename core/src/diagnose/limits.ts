/** What decides when a log is diagnosed. */
/** Steady rows are looked at in blocks of so many seconds; a shorter one tells nothing; so many stand for a whole log. */
export const BLOCK_S = 4
export const LEAST_BLOCK_S = 0.8
export const MOST_BLOCKS = 120
/** Fewer blocks, or fewer seconds in them, tell nothing of causes. */
export const LEAST_BLOCKS = 12

/** A sign never speaks louder than this, in natural logs of a likelihood ratio. */
export const MOST_SIGN = 40
/** Faults that are together so likely make a log unsound. */
export const UNSOUND_LIKELIHOOD = 0.9
/** Likelihood ratio, as a natural log, from which a sign stands alone; and a constant or curve is taken out. */
export const UNSOUND_LOG_BAYES = 7
export const MENDED_LOG_BAYES = 4
/** From this on a trace's own sign stands alone. */
export const DECISIVE = 10
/** Smaller constants belong to the table, %, and those that leave more than this of what was wrong. */
export const LEAST_CONSTANT_PCT = 3
export const MENDED_LEAVES = 0.5
/** A fault that adds less than this to what was driven, rms %, is none yet. */
export const LEAST_FAULT_PCT = 2

/** A live sensor never stands within this share of its mean for so long while the engine goes through so much pressure and speed. */
export const STUCK_WINDOW_S = 120
export const STUCK_SD = 0.004
/** one that moves by more than this lives; so many windows after it did tell that it has stuck since */
export const MOVES_SD = 0.02
export const STUCK_AFTER_WINDOWS = 2
export const STUCK_KPA = 15
export const STUCK_RPM = 500
/** A fuel cut of this length shows on lambda as more than this. */
export const CUT_S = 1
export const CUT_SEEN_LAMBDA = 1.2
/** Delay of a sound sensor with its pipe at 2,000 rpm and 50 kPa, s, and how much it differs from car to car. */
export const SOUND_DELAY_S = 0.18
export const DELAY_SIGMA_S = 0.06
/** Pipe of a sound car, s rpm kPa, and how much it differs. */
export const SOUND_PIPE = 15_500
export const PIPE_SIGMA = 3500
/** Shake of a sound engine's speed from row to row with its logger's noise, rpm; jumps of lambda, as a share; how heavy their tail is. */
export const RIPPLE_STEP_S = 0.12
export const SOUND_SHAKE_RPM = 5.5
export const SHAKE_SIGMA = 0.22
/** Share of the rows that is looked at: the roughest few are gear changes. */
export const SHAKE_KEPT = 0.98
/** An engine idles under this speed with the throttle shut, % , and the car standing. */
export const IDLES_UNDER_RPM = 1100
export const SHUT_PCT = 1.5
export const STANDS_KMH = 3
export const SOUND_JUMP = 0.0075
export const JUMP_SIGMA = 0.3
export const SOUND_TAIL = 1.05
export const TAIL_SIGMA = 0.15
export const MOST_SIGMAS = 5
/** What a sound car shows twice lies within this of itself: delay, s; shake, jumps and tail, as natural logs; shut pressure as a share; lag of pressure, s. */
export const DELAY_REPEATS_S = 0.035
export const PIPE_REPEATS = 2000
export const SHAKE_REPEATS = 0.08
export const JUMP_REPEATS = 0.15
export const TAIL_REPEATS = 0.2
export const SHUT_REPEATS = 0.02
export const SHUT_CHANGED = 3
/** A thermostat holds its coolant as it did within this, K, by weather and load; from so much of a sign on it is no longer taken to be right. */
export const THERMOSTAT_REPEATS_K = 3
export const THERMOSTAT_MOVED = 1
export const MAP_LAG_REPEATS_S = 0.01
/** Manifold pressure over the barometer with the throttle shut at idle. */
export const SHUT_SHARE = 0.72
export const SHUT_SIGMA = 0.04
/** Changes of throttle and pressure over so long to each side, s; a foot that moves so much from a plate so far shut, %; so long in all, s. */
export const LAG_OVER_S = 0.1
export const LAG_FOOT_PCT = 4
export const LAG_FROM_PCT = 25
export const LEAST_LAG_S = 3
export const EARLY_MAP_S = 0.5
export const MOST_MAP_LAG_S = 2
/** How late a sound hose brings the pressure, s. */
export const SOUND_MAP_LAG_S = 0.015
export const MAP_LAG_SIGMA_S = 0.02
/** A warm engine's thermostat holds its coolant here, degC; after so long it has warmed up; then it stands within so much. */
export const THERMOSTAT_C = { low: 70, high: 106 }
export const WARMED_AFTER_S = 480
export const LEVELLED_K = 8
/** A cold engine and the air agree within this, K; cold is under so much, and air outside is seldom over so much, degC. */
export const COLD_C = 45
export const COLD_APART_K = 13
export const AIR_C = { low: -20, high: 65 }
/** Correction within this of its highest counts as at its limit, %; a limit is no smaller; share of the time, and what is still missing there, %. */
export const AT_LIMIT_PCT = 0.2
export const LEAST_LIMIT_PCT = 3
export const PEGGED_SHARE = 0.08
export const PEGGED_LEFT_PCT = 1.5
export const MOST_PEGGED = 10
/** A loop that may correct by so much, %, is wide; what its limit says on a first drive. */
export const WIDE_LIMIT_PCT = 20
export const PEGGED_WIDE = 1
/** A closed loop leaves so much, rms %; no first table does. */
export const LOOP_LEAVES_PCT = 1.2
/** seen over at least so much speed and pressure */
export const LOOP_OVER_RPM = 800
export const LOOP_OVER_KPA = 10
/** Pulses within this of what the tune asks for are that tune's, % rms; targets within this are, lambda. */
export const PULSE_APART_PCT = 2.5
export const TARGET_APART = 0.015
/** A mean further off than this is another engine or other injectors, %; one that is less, what a unit may have learned. */
export const OTHER_CAR_PCT = 22
/** Air that warms and cools with the flow by more than this is its sensor's own warmth, K: a sound one under a bonnet goes by less. */
export const SOAK_S = 40
export const SOAK_AFTER_S = 240
export const SOAK_GOES = -0.65
export const SOAK_SOUND_K = 5
export const SOAK_SIGMA_K = 1.2
export const LEARNED_MEAN_PCT = 8
