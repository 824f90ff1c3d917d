/** What the plan shows, in shares of the wheelbase: the whole car, or the bay alone. */
export const WHOLE = [-0.26, 1.34] as const
export const BAY = [-0.22, 0.47] as const
/** the whole car's share that a drawing to scale is as wide as */
export const PLAN_WIDTH = WHOLE[1] - WHOLE[0]
