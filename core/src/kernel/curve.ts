/** Value of a curve of [x, y] points, straight between them, held at the ends. */
export function alongCurve(points: readonly (readonly [number, number])[], x: number): number {
  if (x <= points[0][0]) return points[0][1]
  for (let i = 1; i < points.length; i++) {
    // indexed on purpose: destructuring here costs the bench a third of its speed
    const left = points[i - 1]
    const right = points[i]
    if (x <= right[0]) return left[1] + ((right[1] - left[1]) * (x - left[0])) / (right[0] - left[0])
  }
  return points[points.length - 1][1]
}

/**
 * A curve bent so that it passes at `y` at `x`, by the least that its points must move for it: the two around x share it by how near they are.
 * @source least squares with one condition; the points' shares of x are the weights of straight interpolation
 */
export function bentTo(points: readonly (readonly [number, number])[], x: number, y: number): [number, number][] {
  const right = points.findIndex(([px]) => px >= x)
  const shares = new Map<number, number>()
  if (right <= 0) shares.set(right === 0 ? 0 : points.length - 1, 1)
  else {
    const share = (x - points[right - 1][0]) / (points[right][0] - points[right - 1][0])
    shares.set(right - 1, 1 - share).set(right, share)
  }
  const squares = [...shares.values()].reduce((sum, share) => sum + share * share, 0)
  const missing = y - alongCurve(points, x)
  return points.map(([px, py], i) => [px, py + (missing * (shares.get(i) ?? 0)) / squares])
}

/** Smooth step from 0 at `from` to 1 at `to` (3 t^2 - 2 t^3), held at the ends. */
export const smooth = (from: number, to: number, x: number): number => {
  const t = Math.min(1, Math.max(0, (x - from) / (to - from)))
  return t * t * (3 - 2 * t)
}
