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

/** Smooth step from 0 at `from` to 1 at `to` (3 t^2 - 2 t^3), held at the ends. */
export const smooth = (from: number, to: number, x: number): number => {
  const t = Math.min(1, Math.max(0, (x - from) / (to - from)))
  return t * t * (3 - 2 * t)
}
