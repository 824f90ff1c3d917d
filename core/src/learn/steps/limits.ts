/** A step: the throttle opens by so much within so long, after so long at rest. Own figures. */
export const STEP_OPENS_PCT = 8
export const STEP_WITHIN_S = 0.5
export const STILL_BEFORE_S = 1
export const STILL_WITHIN_PCT = 1.5
/** and it stays open for so long, by so much of what it opened */
export const HELD_S = 2
export const HELD_SHARE = 0.6
/** Warm from here on: colder the walls hold more. */
export const STEP_WARM_C = 70
/** So many alike make a mean that can be acted on; it is known to so much, %·s, or nothing is said. */
export const LEAST_STEPS = 5
export const KNOWN_TO_PCT_S = 1.5
/** Under this nobody feels it: 10 % lean for a fifth of a second. Own figure. */
export const RIGHT_PCT_S = 2
/** The fuel for a step changes by no more than this in one pass, as a factor. */
export const MOST_TIMES = 2
/** A tune holds no more fuel than this for a throttle or a pressure that moves by 100 in a second, %. */
export const ACCEL_MOST_PCT = 400
/** The map lacks alike before and after a step, within so much, %: else its own error is most of what a step shows, and it is learned first. Own figure. */
export const MAP_APART_PCT = 4
/** The foot moves when it opens by so much from one row to the next, %; a stretch with fewer rows tells nothing. */
export const MOVES_PCT = 0.5
export const LEAST_ROWS = 4
/** What the map lacks at the new place is read from here on, s after the foot moved; the first part of a step ends here. */
export const SETTLED_FROM_S = 1.6
export const FIRST_S = 0.6
/** A pressure that rises by less between the two places tells no way from one to the other, kPa: then the new one counts from so many seconds on, for gas on its way and the sensor. */
export const LEAST_RISE_KPA = 3
export const ARRIVES_S = 0.25
/** Steps of an engine nearer to warm than this share of the way from 75 degC to 0 tell nothing of its factor; a tune holds no larger one. */
export const LEAST_COLD_SHARE = 0.25
export const MOST_COLD_FACTOR = 6
/** How long fuel for a step lasts is tried from an eighth of what stands to eight times as much, so many to a doubling. */
export const LENGTHS_AN_OCTAVE = 3
export const OCTAVES = 3
/** Its longest over its shortest, for a length that is said to be right. */
export const KNOWN_TO_TIMES = 4
/** How late the sensor may show what was burnt, and how much it mixes, s. */
export const LATE_S = [0, 0.05, 0.1, 0.15, 0.2, 0.3]
export const MIXES_S = [0.05, 0.1, 0.2, 0.3]
/** A row that gives so much more than what decays from the row before is a kick of its own, %. */
export const KICK_PCT = 0.3
/** The shortest that a tune holds, and the longest that is proposed, s: the film of a port at -10 degC dries in about a second. Own figure. */
export const LEAST_LENGTH_S = 0.05
export const MOST_LENGTH_S = 1.2
