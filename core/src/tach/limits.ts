/** What decides about a tachometer (handbook 03). */
/** It shows the truth within this share. */
export const SHOWN_TOLERANCE = 0.04
/** Driven alone it is proved by so many looks, at frequencies so many times apart. */
export const DRIVEN_LOOKS = 2
export const DRIVEN_SPAN = 2
/** A needle that takes longer to follow misleads, s. */
export const SLOW_NEEDLE_S = 0.6
