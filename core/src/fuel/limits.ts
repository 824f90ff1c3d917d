/** What decides at Fuel (handbook 02). */
/** Velocity in a feed or return line at most, m/s: faster foams and loses pressure. */
export const FEED_LIMIT_M_S = 3
/** Velocity before the pump at most, m/s. */
export const SUCTION_LIMIT_M_S = 1
/** Pump inlet: below this margin over vapour pressure the fuel boils in the pump's eye and flow collapses, kPa. */
export const INLET_STOP_KPA = 10
/** Below this margin a hot day is near, kPa. */
export const INLET_WARN_KPA = 20
/** A line nearer to the exhaust without a shield is a stop, mm. */
export const EXHAUST_MM = 100
/** Mesh of the filter after the pump at most, µm; as fine as this before the pump it starves it. */
export const FINE_MICRON = 40
/** Draw of a pump and its curve agree within this share. */
export const DRAW_TOLERANCE = 0.25
/** A second look at the joints falls due after so many days. */
export const RECHECK_DAYS = 7
/** Share of the pressure that should still stand after ten minutes, %: below, hot starts are long. Our own limit. */
export const KEPT_PCT = 70
/** A wide-open regulator must leave the rail under this share of the set pressure. */
export const RETURN_SHARE = 0.9

/** A joint seen dry counts at this share of the set pressure and no further from it (handbook 02: look at it at pressure). */
export const JOINT_PRESSURE_SHARE = 0.1
/** Proof of joints in closed spaces: times the highest working pressure, and for how long (handbook 02). */
export const PROOF_OVER_WORKING = 1.2
export const PROOF_MINUTES = 10
/** A regulator's port in the wrong place that takes more fuel than this from a loaded engine is a stop, %. */
export const LEAN_UNDER_LOAD_PCT = 2
