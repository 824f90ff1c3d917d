/** Two logs differ when the error left differs by so much, points of % rms: less is the road and the day. Own figure. */
export const MOVED_PCT = 1
/** A change that is put back alone was the cause when so much of what moved goes back with it, and was not when so little does. Own figures. */
export const CAUSE_SHARE = 0.67
export const NO_CAUSE_SHARE = 0.33
/** Two logs are compared when so much of the shorter one was driven at cells of the other. Own figure. */
export const LEAST_SHARED = 0.4
