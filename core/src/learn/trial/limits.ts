/** Advances of the first five holds stand so far apart, ° (handbook 10). */
export const TRIAL_STEP_DEG = 3
export const FIRST_HOLDS = 5
/** The least advance wanted is that within this of the best torque, %. */
export const NEAR_BEST_PCT = 1
/** Mean torque of a hold repeats to this, %; the throttle that holds a speed, by hand on a grade, to less. */
export const TORQUE_REPEATS_PCT = 0.3
export const THROTTLE_REPEATS_PCT = 1
/** At the first knock the spark goes back by this, and no hold is made over it again, °. */
export const KNOCK_BACK_DEG = 4
/** Holds are compared with coolant and air alike within these, °C. */
export const ALIKE_COOLANT_C = 5
export const ALIKE_INTAKE_C = 8
/** Known well enough: one standard deviation of the least advance, °. */
export const KNOWN_DEG = 0.9
/** So many holds and no answer: the torque scatters too much, and holding on wears the engine. */
export const MOST_HOLDS = 16
/** Never further over what the map holds, °: what is gained there is not worth the risk. */
export const MOST_OVER_DEG = 12
/** Nor further under it, °: a late spark heats the exhaust. */
export const MOST_UNDER_DEG = 15
/** What a neighbour takes of a cell's change. */
export const NEIGHBOUR_SHARE = 0.5
