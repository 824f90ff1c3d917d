/** Ratings that are made, A: blades, and from 50 A bolted ones. */
export const FUSES_A = [1, 2, 3, 4, 5, 7.5, 10, 15, 20, 25, 30, 35, 40, 50, 60, 80, 100, 125, 150, 200] as const
/** Steady current is at most 80 % of a fuse's rating. */
const FUSE_OVER = 1.25
/** From so many times its rating a blade opens in a few tenths of a second: a start surge stays under it. */
const SURGE_OF_FUSE = 3.5

export const isStandardFuse = (amps: number): boolean => (FUSES_A as readonly number[]).includes(amps)

/** The least standard fuse for a load, A; null when none is made so large. */
export const fuseFor = (continuousA: number, surgeA: number): number | null =>
  FUSES_A.find((rating) => rating >= FUSE_OVER * continuousA - 1e-9 && surgeA <= SURGE_OF_FUSE * rating + 1e-9) ?? null
