/** What a cold engine burns stands between its target and so much richer, %: leaner it stumbles, richer it washes its bores and wets its plugs. Own figures. */
export const LEAN_PCT = 2
export const RICH_PCT = 8
/** Where it is off, so much richer than its target is aimed at, %: the middle of those. */
export const AIM_RICHER_PCT = 3
/** A band of coolant, degC, is told by so many seconds of it; the mean over one is known to so much, %, or nothing is said. */
export const BAND_C = 10
export const BAND_LEAST_S = 8
export const KNOWN_TO_PCT = 1.5
/** Readings nearer to each other than this are not independent, s. */
export const BLOCK_S = 3
/** A place of the map is known by so many seconds of the warm engine near it. */
export const MAP_LEAST_S = 2
/** The fuel for a cold engine changes by no more than this in one pass, %. */
export const PASS_PCT = 12
/** A tune holds no more fuel for a cold engine than this, %. */
export const WARM_UP_MOST_PCT = 200
