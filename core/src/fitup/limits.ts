/** What decides at Fit-up (handbook 04). */
/** Passes in which a flange is drawn down after the bolts were run in by hand, as shares of the torque. */
export const PASS_SHARES = [1 / 3, 2 / 3, 1] as const
/** A torque that was set agrees with the one wanted within this share. */
export const TORQUE_AGREES = 0.05
/** Share of a bolt's proof load that it is drawn to where it is to be used again. */
export const OF_PROOF = 0.75
/** Share of what thread and lug bear that may be used: the last thread and the edge bear less than the sum. */
export const OF_LUG = 0.5
/** Thread in its lug, in diameters: light alloy, and iron or steel. */
export const ENGAGEMENT = { 'light-alloy': 1.5, 'cast-iron': 1, steel: 1 } as const
/** A face is flat: largest feeler under a straightedge, mm. */
export const FLAT_MM = 0.1
/** Inner bore of a port: booster and crankcase ventilation want a large one, anything else a small one, mm. */
export const LARGE_PORT_MM = 8
export const SMALL_PORT_MM = 3
/** Hose of a pressure sensor, mm. */
export const MAP_HOSE_MM = 600
/** A booster's reservoir holds so many applications, after which so much vacuum is left, kPa. */
export const STROKES = 3
export const LEFT_KPA = 30
/** Of the air that is to come at a gentle cruise, what the first tenth of the pedal may give, share: an ordinary round lever gives 0.4 (own figure). */
export const TIP_IN_PEDAL = 0.1
export const TIP_IN_AIR = 0.5
/** Full throttle with the pedal on the carpet: the plate's angle, deg, and how much of the pedal may be left over, share. */
export const FULL_DEG = 85
export const LEFT_OVER = 0.1
/** A gearbox cable is drawn by what its sheet wants within so much, mm. */
export const CABLE_MM = 1.5
/** Springs that each shut it alone. */
export const SPRINGS = 2
/** A jump of the throttle sensor at tip-in that is felt, %. */
export const JUMP_PCT = 3
/** Shafts that open together differ by no more, deg. */
export const SHAFTS_DEG = 1
/** What the engine lifts on its mounts under the bonnet, mm. */
export const LIFT_MM = 20
/** The exhaust sensor: from the port, from the open end, mm; its axis above horizontal, deg. */
export const SENSOR_FROM_PORT_MM = { least: 300, most: 900 } as const
export const SENSOR_FROM_END_MM = 450
export const SENSOR_DEG = { drains: 10, least: 0 } as const
/** Gas at the sensor under which water stays in the pipe at idle, degC. */
export const SENSOR_DRY_C = 120
/** End float of a fuel rail between its seats, mm. */
export const RAIL_FLOAT_MM = { least: 0.3, most: 1.5 } as const
/** Throttles breathe alike within this share of their mean. */
export const BALANCE_SHARE = 0.05
/** Electronic throttle: tracks against each other, %; noise of one, % rms; spikes a minute; a spike's size, %. */
export const TRACKS_PCT = 5
export const NOISE_PCT = 0.5
export const SPIKES_PER_MIN = 1
export const SPIKE_PCT = 2
/** What an unplugged pedal leaves of the plate, %, and how soon, s. */
export const LIMP_PCT = 15
export const LIMP_S = 1
/** Hottest place of a control unit, degC. */
export const UNIT_MOST_C = 70
