import { bilinear, nearestIndex, tableSpecs, type TuneDocument, withTable } from '../../tune/index.ts'
import { NEIGHBOUR_SHARE } from './limits.ts'

export interface SparkChange {
  rpm: number
  mapKpa: number
  fromDeg: number
  toDeg: number
}
/** The cell of the map that a held state belongs to. */
const trialCell = ({ axes }: Pick<TuneDocument, 'axes'>, rpm: number, mapKpa: number) => ({
  i: nearestIndex(axes.rpm, rpm),
  j: nearestIndex(axes.mapKpa, mapKpa),
})
/** Advance that the map holds at a place, to a tenth, crank degrees BTDC. */
export const mapAdvanceDeg = ({ axes, tables }: Pick<TuneDocument, 'axes' | 'tables'>, rpm: number, mapKpa: number): number =>
  Math.round(10 * bilinear(axes, tables.spark, rpm, mapKpa)) / 10

/**
 * Puts the result of a trial into the spark map: the cell takes all of it, each neighbour half. An earlier spark is never carried to a higher
 * load, where nobody listened for knock; a later one goes to all neighbours.
 * @param resultDeg what the trial came to, crank degrees BTDC
 * @returns the tune with its changes, of which the first is the cell's own
 */
export function takeTrial(
  tune: TuneDocument,
  { rpm, mapKpa, resultDeg }: { rpm: number; mapKpa: number; resultDeg: number },
): { tune: TuneDocument; changes: SparkChange[] } {
  const { axes } = tune
  const nr = axes.rpm.length
  const { i, j } = trialCell(tune, rpm, mapKpa)
  const moveDeg = resultDeg - mapAdvanceDeg(tune, rpm, mapKpa)
  const spark = [...tune.tables.spark]
  const changes: SparkChange[] = []
  const put = (x: number, y: number, share: number) => {
    if (x < 0 || y < 0 || x >= nr || y >= axes.mapKpa.length || (moveDeg > 0 && y > j)) return
    const at = y * nr + x
    const { min, max } = tableSpecs.spark
    const toDeg = Math.min(max, Math.max(min, Math.round((spark[at] + share * moveDeg) * 10) / 10))
    if (toDeg !== spark[at]) changes.push({ rpm: axes.rpm[x], mapKpa: axes.mapKpa[y], fromDeg: spark[at], toDeg })
    spark[at] = toDeg
  }
  put(i, j, 1)
  put(i - 1, j, NEIGHBOUR_SHARE)
  put(i + 1, j, NEIGHBOUR_SHARE)
  put(i, j - 1, NEIGHBOUR_SHARE)
  put(i, j + 1, NEIGHBOUR_SHARE)
  return { tune: withTable(tune, 'spark', spark, `spark trial at ${rpm.toFixed(0)} rpm, ${mapKpa.toFixed(0)} kPa`), changes }
}
