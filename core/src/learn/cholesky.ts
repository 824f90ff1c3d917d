/**
 * Inverse and solution of a symmetric positive definite system by Cholesky factors.
 * @param a n x n, row by row, is overwritten; only its lower half is read
 * @param withInverse false leaves the diagonal of the inverse out, which costs as much as the rest
 * @returns solution and the diagonal of the inverse
 * Source: Golub and Van Loan, Matrix Computations, section 4.2
 */
export function solveSpd(a: Float64Array, b: Float64Array, withInverse = true): { x: Float64Array; inverseDiagonal: Float64Array } {
  const n = b.length
  for (let j = 0; j < n; j++) {
    let d = a[j * n + j]
    for (let k = 0; k < j; k++) d -= a[j * n + k] ** 2
    const root = Math.sqrt(d)
    a[j * n + j] = root
    for (let i = j + 1; i < n; i++) {
      let v = a[i * n + j]
      const ri = i * n
      const rj = j * n
      for (let k = 0; k < j; k++) v -= a[ri + k] * a[rj + k]
      a[ri + j] = v / root
    }
  }
  const x = Float64Array.from(b)
  for (let i = 0; i < n; i++) {
    for (let k = 0; k < i; k++) x[i] -= a[i * n + k] * x[k]
    x[i] /= a[i * n + i]
  }
  for (let i = n - 1; i >= 0; i--) {
    for (let k = i + 1; k < n; k++) x[i] -= a[k * n + i] * x[k]
    x[i] /= a[i * n + i]
  }
  // diagonal of (L Lt)^-1 is the sum of squares down each column of L^-1
  const inverseDiagonal = new Float64Array(n)
  if (!withInverse) return { x, inverseDiagonal }
  const column = new Float64Array(n)
  for (let j = 0; j < n; j++) {
    column.fill(0)
    column[j] = 1 / a[j * n + j]
    let sum = column[j] ** 2
    for (let i = j + 1; i < n; i++) {
      let v = 0
      for (let k = j; k < i; k++) v -= a[i * n + k] * column[k]
      column[i] = v / a[i * n + i]
      sum += column[i] ** 2
    }
    inverseDiagonal[j] = sum
  }
  return { x, inverseDiagonal }
}
