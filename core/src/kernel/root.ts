/**
 * Root of a function between two points, by the Illinois variant of false position: keeps the bracket, converges faster than bisection.
 * When both ends have the same sign the end nearer to zero is returned: the caller has asked for a point outside what is possible.
 * @param f continuous
 * @returns x where f is zero, to about 1e-11 of the bracket
 * @source Dowell and Jarratt, BIT 11 (1971), the "Illinois" modification
 */
export function rootBetween(f: (x: number) => number, low: number, high: number): number {
  let a = low
  let b = high
  let fa = f(a)
  let fb = f(b)
  if (fa === 0) return a
  if (fb === 0) return b
  if (fa > 0 === fb > 0) return Math.abs(fa) < Math.abs(fb) ? a : b
  const tolerance = 1e-11 * Math.max(Math.abs(low), Math.abs(high), 1)
  let side = 0
  for (let i = 0; i < 200; i++) {
    // every third step halves, so that a function with a corner cannot stall the secant
    const x = i % 3 === 2 ? (a + b) / 2 : (a * fb - b * fa) / (fb - fa)
    const fx = f(x)
    if (fx === 0 || Math.abs(b - a) <= tolerance) return x
    if (fx > 0 === fb > 0) {
      b = x
      fb = fx
      if (side === -1) fa /= 2
      side = -1
    } else {
      a = x
      fa = fx
      if (side === 1) fb /= 2
      side = 1
    }
  }
  return (a + b) / 2
}
