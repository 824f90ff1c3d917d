/** What decides at Learn (handbook 07). */
/** Share of driving time that must be proven before the station is cleared, and the error that may be left, %. */
export const CONVERGED_TIME_PCT = 80
export const CONVERGED_RMS_PCT = 3
/** A cell is proven after so many used seconds, with at most this standard error and this error left, %. */
export const PROVEN_SECONDS = 3
export const PROVEN_SE_PCT = 1
export const PROVEN_ERROR_PCT = 3
/** Leaner than target by this at high load for so long is unsafe; high load is over this share of the barometer. */
export const UNSAFE_OVER_LAMBDA = 0.05
export const UNSAFE_BAROMETER_SHARE = 0.85
export const UNSAFE_RUN_S = 0.5
/** What a unit holds at a settled cell moved by less than this since the visit before, %. */
export const SETTLED_MOVED_PCT = 1
/** What is left is known to within this from one log: settled is said so far inside the limit, %. */
export const REMAINDER_UNSURE_PCT = 0.5
/** Neighbours further apart in what was learned than this are no engine's, %. */
export const LEARNED_STEP_PCT = 8
/** Learned within this of the limit counts as at it, % ; and for so much of the time it is told. */
export const NEAR_LIMIT_PCT = 0.5
export const AT_LIMIT_SHARE = 0.15
/** Lean rising this much from the highest to the lowest flow is no table's, %, when it is so many times its own uncertainty. */
export const LOW_FLOW_LEAN_PCT = 26
export const LOW_FLOW_SIGMAS = 4
/** A constant of this size is worth mending, %, when it is so many times its own uncertainty. */
export const CONSTANT_PCT = 8
export const CONSTANT_SIGMAS = 2.5
/** The need drifts over one log by more than this, %. */
export const DRIFT_PCT = 4
/** Two mixture meters that look at the same gas agree within, %. */
export const METERS_AGREE_PCT = 4
/** Two banks are compared over at least so much steady running, s. */
export const BANKS_SECONDS = 30
/** Of what is left at a cell so much is lambda itself off its target: then no trim works there; seen over so long, s. */
export const UNCORRECTED_SHARE = 0.5
export const UNCORRECTED_S = 10
/** From so much of the used time in such cells on, the base comes before more driving. */
export const UNCORRECTED_TIME_SHARE = 0.1
/** Less than this of used driving says nothing of a whole car, s. */
export const SETTLED_FROM_S = 150
/** What was learned is settled when this much is left, %: a trim finds the rest. */
export const SETTLED_TO_PCT = 2
/** Delivered fuel stays within this when a constant is mended, %. */
export const MENDED_WITHIN_PCT = 0.5
/** The mean of what is learned that moves by more than this from drive to drive, three times the same way, drifts, %. */
export const DRIFTING_PCT = 1.5
/** Blocks of seconds at one place that differ by more than this from each other, rms %, tell of something that comes and goes. */
export const COMES_AND_GOES_PCT = 2
/** A shut throttle reads under this, %. */
export const SHUT_THROTTLE_PCT = 1.5
/** Most a cell may change in one pass, % (step 8): a second log confirms the rest. */
export const MAX_CHANGE_PCT = 10
/** A correction is never leaner than a neighbour's by more than this, %; an unsafe cell is given so much beyond what it wants, %. */
export const STEP_PCT = 8
export const UNSAFE_MARGIN_PCT = 3
/** From this share of the barometer, or this throttle, %, on a cell that was not driven is never leaned. */
export const HIGH_LOAD_SHARE = 0.75
export const HIGH_THROTTLE_PCT = 40
/** A correction of this size everywhere alike is a constant, %. */
export const UNIFORM_MIN_PCT = 3
/** Lean over steady running by this is told, %. */
export const LEAN_STEADY_PCT = 4
/** Correction at its limit for more than this share of the time is told. */
export const SATURATED_SHARE = 0.1
/** A log that turns faster than so many times the engine's own limit, or shows so much pressure over air and boost, kPa, may be another car's. */
export const OVER_REDLINE = 1.3
export const OVER_AIR_KPA = 20
/** Of what an answer leaves: a learning cell costs little up to this share of the unit's limit, so much of the square of what it has to learn. */
export const LEARNED_EASILY_SHARE = 0.5
export const LEARNED_WEIGHT = 0.01
/** Lean under load where the loop is open costs so many times as much as rich. */
export const LEAN_WEIGHT = 10
/** An answer is worth mending when it takes off so much of that cost, %^2: 12 % that is learned everywhere where 20 % may be, or 7 % in an eighth of the driving that is not. */
export const ANSWER_WORTH_PCT2 = 6
/** Once it was mended: 15 % that is learned everywhere, or 14 % in an eighth of the driving that is not. */
export const AGAIN_WORTH_PCT2 = 25
