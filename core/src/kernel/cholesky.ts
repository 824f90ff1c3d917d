/**
 * Cholesky factor of a symmetric positive definite matrix, in place: its lower half becomes L with A = L Lt.
 * @param a n x n, row by row; only its lower half is read
 * @source Golub and Van Loan, Matrix Computations, section 4.2
 */
export function factorSpd(a: Float64Array, n: number): void {
  for (let i = 0; i < n; i++) {
    const ri = i * n
    for (let j = 0; j <= i; j++) {
      const rj = j * n
      // four sums at once: each addition would else wait for the one before
      let [s0, s1, s2, s3] = [0, 0, 0, 0]
      let k = 0
      for (; k + 3 < j; k += 4) {
        s0 += a[ri + k] * a[rj + k]
        s1 += a[ri + k + 1] * a[rj + k + 1]
        s2 += a[ri + k + 2] * a[rj + k + 2]
        s3 += a[ri + k + 3] * a[rj + k + 3]
      }
      for (; k < j; k++) s0 += a[ri + k] * a[rj + k]
      const v = a[ri + j] - (s0 + s1 + s2 + s3)
      a[ri + j] = i === j ? Math.sqrt(v) : v / a[rj + j]
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

/** Solves A x = b for a factor of `factorSpd`. */
export function solveFactored(factor: Float64Array, b: ArrayLike<number>): Float64Array {
  const x = whitened(factor, b)
  const n = x.length
  for (let i = n - 1; i >= 0; i--) {
    let v = x[i]
    for (let k = i + 1; k < n; k++) v -= factor[k * n + i] * x[k]
    x[i] = v / factor[i * n + i]
  }
  return x
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
  const x = solveFactored(a, b)
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
