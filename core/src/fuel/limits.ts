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
/** A lift pump that falls short at full power must leave this much time in the sump, s: a long hill. */
export const LIFT_LASTS_S = 60
/** What the best place of a pump would add to its inlet, kPa: a metre of fuel. Heights nobody measured are given it before they stop anyone. */
export const HEIGHT_SPARE_KPA = 7
/** An hour of idling on the hottest day must leave the margin of the pump's inlet; gone within so many minutes it is a stop. */
export const IDLING_MIN = 60
export const IDLING_STOP_MIN = 10
/** Fuel in the rail twenty minutes after a hot stop, degC: soaked through by the manifold. A usual figure; a probe on the rail wins. */
export const SOAKED_RAIL_C = 85
/** A pump measured into a can must come within this share of its curve. */
export const DELIVERY_SHARE = 0.9
