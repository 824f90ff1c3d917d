/**
 * Cholesky factor of a symmetric positive definite matrix, in place: its lower half becomes L with A = L Lt.
 * @param a n x n, row by row; only its lower half is read
 * @source Golub and Van Loan, Matrix Computations, section 4.2
 */
export function factorSpd(a: Float64Array, n: number): void {
  for (let j = 0; j < n; j++) {
    const rj = j * n
    let d = a[rj + j]
    for (let k = 0; k < j; k++) d -= a[rj + k] * a[rj + k]
    const root = Math.sqrt(d)
    a[rj + j] = root
    for (let i = j + 1; i < n; i++) {
      const ri = i * n
      let v = a[ri + j]
      for (let k = 0; k < j; k++) v -= a[ri + k] * a[rj + k]
      a[ri + j] = v / root
    }
  }
}

/** Solves L z = b for a factor of `factorSpd`: what a vector is when the noise that the matrix tells of has become white. */
export function whitened(factor: Float64Array, b: ArrayLike<number>): Float64Array {
  const z = Float64Array.from(b)
  const n = z.length
  for (let i = 0; i < n; i++) {
    const ri = i * n
    let v = z[i]
    for (let k = 0; k < i; k++) v -= factor[ri + k] * z[k]
    z[i] = v / factor[ri + i]
  }
  return z
}

/**
 * Inverse and solution of a symmetric positive definite system by Cholesky factors.
 * @param a n x n, row by row, is overwritten; only its lower half is read
 * @param withInverse false leaves the diagonal of the inverse out, which costs as much as the rest
 * @returns solution and the diagonal of the inverse
 * @source Golub and Van Loan, Matrix Computations, section 4.2
 */
export function solveSpd(a: Float64Array, b: Float64Array, withInverse = true): { x: Float64Array; inverseDiagonal: Float64Array } {
  const n = b.length
  factorSpd(a, n)
  const x = whitened(a, b)
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
