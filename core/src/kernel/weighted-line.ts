/**
 * Straight line y = a + b x by weighted least squares.
 * @param prior a belief about the slope that counts like an observation of it with this weight; left out, the data alone decide
 * @returns intercept, slope, and their variances for unit variance of y (without the prior)
 * @source normal equations of linear regression; Draper and Smith, Applied Regression Analysis
 */
export function weightedLine(x: readonly number[], y: readonly number[], w: readonly number[], prior?: { slope: number; weight: number }) {
  let s = 0
  let sx = 0
  let sy = 0
  let sxx = prior?.weight ?? 0
  let sxy = (prior?.weight ?? 0) * (prior?.slope ?? 0)
  for (let i = 0; i < x.length; i++) {
    s += w[i]
    sx += w[i] * x[i]
    sy += w[i] * y[i]
    sxx += w[i] * x[i] * x[i]
    sxy += w[i] * x[i] * y[i]
  }
  const det = s * sxx - sx * sx
  return { a: (sxx * sy - sx * sxy) / det, b: (s * sxy - sx * sy) / det, varA: sxx / det, varB: s / det }
}

/** Huber weights of residuals: 1 within k robust spreads (never taken smaller than `floor`), falling off beyond. */
export function huberWeights(residuals: readonly number[], k: number, floor: number): number[] {
  const sorted = residuals.map(Math.abs).sort((p, q) => p - q)
  const scale = Math.max(1.4826 * sorted[sorted.length >> 1], floor)
  return residuals.map((r) => Math.min(1, (k * scale) / Math.max(Math.abs(r), 1e-12)))
}
