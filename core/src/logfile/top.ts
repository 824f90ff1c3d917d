const MOST_LOOKED_AT = 20_000
const TOP_SHARE = 0.998

/** The highest value of a channel that lasts: a few spikes do not make it; null where there is none. */
export function topOf(values: Float32Array | undefined): number | null {
  if (!values) return null
  const every = Math.max(1, Math.floor(values.length / MOST_LOOKED_AT))
  const looked = Float32Array.from({ length: Math.ceil(values.length / every) }, (_, k) => values[k * every])
    .filter((v) => v === v)
    .sort()
  return looked.length ? looked[Math.floor(TOP_SHARE * (looked.length - 1))] : null
}
