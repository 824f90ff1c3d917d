import { CoreError } from '../kernel/index.ts'

/** Practice values for thin-wall copper with 105 degC insulation, one wire in free air at 25 degC: mm2, A. A cable maker's sheet goes first. */
const IN_FREE_AIR: readonly (readonly [areaMm2: number, amps: number])[] = [
  [0.35, 7],
  [0.5, 11],
  [0.75, 14],
  [1, 16.5],
  [1.5, 21],
  [2, 25],
  [2.5, 29],
  [3, 33],
  [4, 39],
  [6, 50],
  [10, 70],
  [16, 95],
  [25, 125],
  [35, 155],
]
/** The end slopes of the table carry so far, mm2. */
const AREA_MM2 = { least: 0.22, most: 70 } as const
/** What the insulation bears, and how far the table's current warms a lone wire, K. */
export const INSULATION_C = 105
const TABLE_RISE_K = 35
/** Share of its current that a wire keeps among so many loaded ones. */
const IN_BUNDLE: readonly (readonly [upTo: number, share: number])[] = [
  [1, 1],
  [3, 0.85],
  [7, 0.75],
  [15, 0.65],
  [Infinity, 0.55],
]
/** A wire is loaded from this share of its own ampacity. */
export const LOADED_FROM_SHARE = 0.3

export const bundleShare = (loadedWires: number): number => IN_BUNDLE.find(([upTo]) => loadedWires <= upTo)![1]

/**
 * Current that a copper wire bears, A: the table by log-log interpolation, less what the air around it and its neighbours take.
 * @param loadedWires in the bundle, this one counted
 * @throws CoreError OUT_OF_RANGE outside 0.22 to 70 mm2, and in air of 105 degC or more
 * @source practice values for thin-wall automotive cable; heat by I^2 R against a rise of 35 K
 */
export function ampacityA({ areaMm2, ambientC, loadedWires = 1 }: { areaMm2: number; ambientC: number; loadedWires?: number }): number {
  if (!(areaMm2 >= AREA_MM2.least && areaMm2 <= AREA_MM2.most))
    throw new CoreError('OUT_OF_RANGE', 'areaMm2', `must be ${AREA_MM2.least} to ${AREA_MM2.most} mm2`)
  if (!(ambientC < INSULATION_C))
    throw new CoreError('OUT_OF_RANGE', 'ambientC', `must be under ${INSULATION_C} degC, what the insulation bears`)
  return freeAirA(areaMm2) * Math.min(1, Math.sqrt((INSULATION_C - ambientC) / TABLE_RISE_K)) * bundleShare(loadedWires)
}

const worked = new Map<number, number>()
function freeAirA(areaMm2: number): number {
  const known = worked.get(areaMm2)
  if (known !== undefined) return known
  const next = IN_FREE_AIR.findIndex(([area]) => area >= areaMm2)
  const k = Math.max(1, next < 0 ? IN_FREE_AIR.length - 1 : next)
  const [[a0, i0], [a1, i1]] = [IN_FREE_AIR[k - 1], IN_FREE_AIR[k]]
  const free = i0 * (areaMm2 / a0) ** (Math.log(i1 / i0) / Math.log(a1 / a0))
  worked.set(areaMm2, free)
  return free
}
