/** What decides at Wiring (handbook 04). */
/** Voltage a circuit may lose from its source, by what it feeds, V. */
export const DROP_V = { unit: 0.2, pump: 0.5, sensorGround: 0.02, coil: 0.3, fan: 0.5, load: 0.5, ground: 0.1 } as const
/** What joints add, ohm: a crimp, a pin of a connector, contacts of a relay. */
export const JOINT_OHM = { crimp: 0.001, pin: 0.003, relay: 0.005 } as const
/** Air around a wire unless measured, degC. */
export const BAY_C = 80
export const ELSEWHERE_C = 40
/** No thinner wire than this is laid: it breaks, mm2. */
export const LEAST_AREA_MM2 = 0.5
/** Current that an output of a control unit switches by itself, A; its own sheet goes first. */
export const OUTPUT_A = 2
/** A plan sees no heights and no bends: the way on the car is so many times as long, until it is measured. */
export const PLAN_TO_CAR = 1.25
/** Wire left over at each end for a second termination, mm, and the step it is cut in, mm. */
export const LOOP_MM = 150
export const CUT_STEP_MM = 50
/** Distance a run keeps, mm: from plug leads and coil, from the exhaust (or a sleeve), from what turns. */
export const KEEP_MM = { highTension: 75, exhaust: 100, moving: 50 } as const
/** From this angle to a plug lead a run crosses it; under it, it runs along, degrees. */
export const CROSSES_DEG = 60
/** An engine rocks on its mounts by so much: a wire to it has that over its straight way, mm. */
export const ROCK_MM = 40
/** The unit stands so far from the coil, mm. */
export const UNIT_FROM_COIL_MM = 300
/** Of the keyed supply: what a wire may lose under a lamp before it is a poor joint, and from where it is fed over a resistor, V. */
export const POOR_JOINT_V = 0.5
export const RESISTOR_V = 2
/** A wire under this is dead, V. */
export const DEAD_V = 1
/** Ground drops: unit to battery; engine to battery while cranking, V. */
export const UNIT_GROUND_V = 0.1
export const ENGINE_GROUND_V = 0.3
/** Volts at the unit while cranking, and where most units reset, V. */
export const CRANKING_AT_UNIT_V = 9.5
export const USUAL_RESET_V = 8
/** Draw of a parked car, A. */
export const PARKED_A = 0.05
/** Resistance to ground of a circuit before its fuse goes in, with its loads unplugged, ohm. */
export const INSULATION_OHM = 10_000
/** A relay's contacts closed, V at its load; a fuse and its holder, V. */
export const RELAY_DROP_V = 0.2
export const FUSE_DROP_V = 0.1
/** A bus: resistance across it with both ends in place, ohm; a stub and the whole, m. */
export const BUS_OHM = { least: 54, most: 66 } as const
export const BUS_STUB_M = 0.3
export const BUS_M = 20
/** Share of a battery's charge that may be used before it no longer starts the car, and its charge while not told, Ah. */
export const USABLE_CHARGE = 0.5
export const USUAL_BATTERY_AH = 50
/** Less time than this from a full battery with everything on at idle is told, minutes. */
export const LEAST_DRAIN_MIN = 60
/** A sender's curve lies within this share of its range at each calibration point. */
export const SENDER_FIT_SHARE = 0.03
/** Measured and planned length of a wire agree within this share. */
export const LENGTH_AGREES = 0.25
