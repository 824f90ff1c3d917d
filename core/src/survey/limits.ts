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
/** A battery at rest under this is one of 6 V, and a 12 V system never cranks under this, V. */
export const SIX_VOLT_REST_V = 8
export const SIX_VOLT_CRANKING_V = 6
/** Compression of a sound engine of the time at least, gauge, all plugs out, kPa. */
export const LEAST_COMPRESSION_KPA = 600
/** Weather moves the barometer by so much about the standard air of an altitude, kPa. */
export const BAROMETER_AGREES_KPA = 5
/** Power a litre of road engines without boost, from the weakest side-valve to the strongest racing one, kW. */
export const KW_PER_LITRE = { least: 8, most: 120 }
export const ONE_CYLINDER_CC = { least: 120, most: 1150 }
/** Later timing makes up for so much missing octane, RON. */
export const ANTIKNOCK_SPARE_RON = 8
/** An engine never idles with less pressure in its manifold, kPa. */
export const LEAST_IDLE_MAP_KPA = 12
/** A merge further from the head delays and cools what the sensor reads, mm. */
export const FAR_MERGE_MM = 1000
/** Exhaust gas at idle in a usual pipe, mm/s: 10 g/s at 400 degC in 40 mm of bore. */
export const IDLE_GAS_MM_S = 15_000
