/** What decides at Spark (handbook 03). */
/** Degrees by which a usual trigger jitters, taken off the lead. */
export const TRIGGER_JITTER_DEG = 2
/** Offered over the least lead that is enough, crank degrees. */
export const SPARE_LEAD_DEG = 0.5
/** The zero mark may be off by so much before it must be dealt with, crank degrees. */
export const ZERO_TOLERANCE_DEG = 1
/** Every light reading stands within so many degrees of what the unit says. */
export const TIMING_PROVED_DEG = 1
/** Readings at one speed that scatter more contradict each other, degrees. */
export const MAX_SCATTER_DEG = 1.5
/** A fit with more left over is no straight line, degrees. */
export const MAX_RESIDUAL_DEG = 1
/** The reference is known well enough within this standard error, degrees. */
export const GOOD_REFERENCE_SE_DEG = 0.5
/** The delay is known well enough within this standard error, microseconds. */
export const GOOD_DELAY_SE_US = 35
/** Overlap of rotor and terminal under this is thin, distributor degrees. */
export const THIN_OVERLAP_DIST_DEG = 1.5
/** Play of the drive over this wants the distributor out, crank degrees. */
export const WORN_SLACK_DEG = 5
/** The cranking peak stands at least so many times over the noise. */
export const THRESHOLD_RATIO = 2
/** Jitter of a scope record over this is told, crank degrees rms. */
export const MUCH_JITTER_DEG = 0.7
/** Boost from which a colder plug is asked for, kPa. */
export const COLDER_FROM_KPA = 50
/** What the coil reaches should be so many times what the gap wants. */
export const SPARE_VOLTAGE_SHARE = 1.4
/** Measured and computed coil current agree within this share. */
export const CLAMP_SHARE = 0.1
/** A tune that sweeps so little beyond the entered range is no matter, degrees. */
export const SWEPT_AGREES_DEG = 0.5
