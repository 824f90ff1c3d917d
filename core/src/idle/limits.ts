/** What decides at Idle (handbook 06, 10). */
/** An engine that turns slower does not idle, rpm. */
export const IDLE_MIN_RPM = 300
/** and one that turns so much over its target, or faster than this without one, is driven, rpm */
export const IDLE_OVER_RPM = 1300
export const IDLE_MAX_RPM = 2000
/** A throttle that rests under this is shut; one that rests further open is not, %. */
export const SHUT_PCT = 2.5
/** and further open than this it is held, not shut, % */
export const HELD_PCT = 8
/** it rests where it does not move by more than this, % */
export const RESTS_WITHIN_PCT = 0.8
/** a plate that rests so far apart from time to time sticks, % */
export const STICKS_PCT = 1.5
/** when it never came back for so long, s */
export const STAYED_S = 20
/** a throttle that leaves its rest by more than this in one reading catches, % */
export const CATCHES_PCT = 3
/** and one that leaves it by more than this was kicked open, % */
export const CATCH_MOST_PCT = 8
/** what goes on opening by more than this share of it each reading was a foot; so many slow openings tell, own figures */
export const CATCH_KICK_SHARE = 1 / 3
export const CATCH_OPENINGS = 4
/** Warm from this coolant, °C. */
export const WARM_C = 70
/** A valve under this is shut, %; over this it has little left to add. */
export const VALVE_SHUT_PCT = 2.5
export const VALVE_WIDE_PCT = 50
/** Where the valve of a warm idle belongs, %: it can give and take. */
export const VALVE_BAND_PCT: readonly [number, number] = [3, 10]
/** A swing over this is hunting, rpm, when so much of its power is in one period. */
export const HUNT_RPM = 25
export const HUNT_SHARE = 0.45
/** swings of lambda and of the valve, %, that weigh alike when it is asked which of them drives the speed */
export const SWING_LAMBDA = 0.03
export const SWING_VALVE_PCT = 3
/** A speed so far off its target is off, rpm. */
export const OFF_TARGET_RPM = 50
/** and so far over it that nothing else is looked at first, rpm */
export const FAR_OVER_RPM = 150
/** Speed apart from the usual by this is coasting, not idle, rpm. */
export const COAST_OVER_RPM = 260
/** Speed rougher than this from reading to reading is a cylinder that misses, rpm rms, when the mixture flickers by so much with it. */
export const ROUGH_RPM = 8
export const FLICKER_LAMBDA = 0.03
/** and this rough without a mixture to look at, rpm rms */
export const ROUGH_ALONE_RPM = 25
/**
 * Mixture off its target by this is lean or rich, lambda; and a correction that holds it there by more than this, %: a base tune that nothing was
 * learned on yet is off by less. From the smaller one on it is said beside a good idle.
 */
export const MIXTURE_OFF = 0.05
export const CORRECTION_OFF_PCT = 15
export const CORRECTION_SAID_PCT = 6
/** A loop that may correct by less says nothing by standing at its limit, %. */
export const LEAST_AUTHORITY_PCT = 8
/** A correction that is so much more at idle than off it is fooled by air at the sensor, %: a table not yet learned is off by less. */
export const FOOLED_OVER_PCT = 15
/** Idle valve at its allowed reach within this, %. */
export const AT_LIMIT_WITHIN_PCT = 0.8
/** Idle seconds wanted for a verdict, and for a run to count, s. */
export const MIN_TOTAL_S = 30
export const MIN_RUN_S = 10
/** Rows further apart than this do not show a swing of one second, s (Nyquist: two readings a period). */
export const MAX_STEP_S = 0.5
/** So long after the throttle came to rest the engine is still coming down, s. */
export const COMES_DOWN_S = 3

/** Most that the speed may fall as a gear goes in, and as the fan comes on, rpm, and how soon it is back, s. */
export const GEAR_DROP_RPM = 100
export const FAN_DROP_RPM = 75
export const BACK_WITHIN_S = 2
/** Three warm idles of different days agree within these. */
export const SAME_VALVE_PCT = 2
export const SAME_RPM = 30
export const WARM_IDLES = 3
/** A shut throttle reads zero within this after it was learned, %. */
export const ZERO_WITHIN_PCT = 0.5
/** Phase margin under which a controller rings, and the one that moves aim at, degrees. */
export const LEAST_MARGIN_DEG = 30
export const AIM_MARGIN_DEG = 55
/** With the valve out of play the screw alone holds this share of the target. */
export const PLATE_SHARE = 0.85
/** A hose that is clamped and changes the speed by this leaks, rpm; or the pressure by this, kPa. */
export const HOSE_RPM = 30
export const HOSE_KPA = 1
/** A cold start is good within these: seconds to fire, dip after it, overshoot, and time until steady. */
export const FIRES_WITHIN_S = 2
export const DIP_RPM = 150
export const OVERSHOOT_RPM = 500
export const STEADY_WITHIN_S = 8
/** A mixture after firing that is lean, one too rich to burn well in a cold engine, and what its fuel is led to, lambda. Own figures. */
export const LEAN_AFTER = 1.05
export const RICH_AFTER = 0.72
export const AIM_AFTER = 0.85
/** After-start fuel changes by no less and no more than this at once, points. */
export const AFTER_START_PCT = 10
export const MOST_AFTER_START_PCT = 30
/** The valve's start moves by what it moved until the speed stood, no less and no more than this, %. */
export const LEAST_VALVE_PCT = 5
export const MOST_VALVE_PCT = 15
/** Cranking so many times as long as is good is far off: its fuel changes by a quarter. */
export const LONG_TIMES = 2
