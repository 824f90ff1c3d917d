/** What decides about the unit (handbook 10). */
/** The key is off for so long before what it holds is read: a unit takes its time to write and to go to sleep, s. */
export const KEY_OFF_S = 10
/** A typed value is the one sent when it lies within this share of the question's step. */
export const SAME_STEPS = 0.51
/** Tables read back may differ from those sent by this share of the step they are written in. */
export const SAME_CELL_STEPS = 0.6
