/** What decides at Survey. Usual workshop practice and handbook 01; the maker's sheet wins. */
/** Compression of the cylinders may lie so far apart, % of the best: more is a tired engine. */
export const COMPRESSION_SPREAD_PCT = 15
/** Leak-down of a sound cylinder at most, %. */
export const LEAK_DOWN_PCT = 20
/** Sideways play of a distributor shaft, mm: more scatters the spark. */
export const SHAFT_PLAY_MM = 0.1
/** Displacement entered and that of bore and stroke agree within, %: an overbore is more. */
export const DISPLACEMENT_AGREES_PCT = 1
/** Battery while cranking at least, V: units reset near 8 V, and a volt is lost on the way. */
export const CRANKING_LEAST_V = 9.5
/** Battery at rest at least, V: below it is not charged. */
export const REST_LEAST_V = 12.2
/** Circumference entered and that of the size agree within this share. */
export const TYRE_AGREES_SHARE = 0.04
/** Warm idle manifold pressure up to which a cam counts as stock, mild, hot, kPa; above it is wild (handbook 01). */
export const STOCK_BELOW_KPA = 40
export const MILD_TO_KPA = 50
export const HOT_TO_KPA = 62
/** Valve overlap at 1.27 mm lift from which a cam is mild, hot, wild, crank degrees: our own bands, wide on purpose. */
export const MILD_FROM_DEG = -10
export const HOT_FROM_DEG = 5
export const WILD_FROM_DEG = 25
