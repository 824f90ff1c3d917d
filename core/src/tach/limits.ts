/** What decides about a tachometer (handbook 03). */
/** It shows the truth within this share. */
export const SHOWN_TOLERANCE = 0.04
/** A needle that takes longer to follow misleads, s. */
export const SLOW_NEEDLE_S = 0.6
