/** Two logs differ when the error left differs by so much, points of % rms: less is the road and the day. Own figure. */
export const MOVED_PCT = 1
/** A change that is put back alone was the cause when so much of what moved goes back with it, and was not when so little does. Own figures. */
export const CAUSE_SHARE = 0.67
export const NO_CAUSE_SHARE = 0.33
