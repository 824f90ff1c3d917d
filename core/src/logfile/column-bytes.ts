/**
 * A column as it is stored and sent: little-endian floats with bytes of like weight together (all lowest bytes first), which a general
 * compressor packs about twice as well. 64 bit for time, 32 bit for every other channel; `docs/formats.md` shows the layout.
 */
export function shuffleColumn(values: Float32Array | Float64Array): Uint8Array {
  const size = values.BYTES_PER_ELEMENT
  const bytes = new Uint8Array(values.buffer, values.byteOffset, values.byteLength)
  const n = values.length
  const shuffled = new Uint8Array(bytes.length)
  for (let b = 0; b < size; b++) for (let i = 0; i < n; i++) shuffled[b * n + i] = bytes[i * size + b]
  return shuffled
}

const unshuffle = (shuffled: Uint8Array, size: number): ArrayBuffer => {
  const n = shuffled.length / size
  const bytes = new Uint8Array(shuffled.length)
  for (let b = 0; b < size; b++) for (let i = 0; i < n; i++) bytes[i * size + b] = shuffled[b * n + i]
  return bytes.buffer
}

/** A log's time and channels from its stored columns, already decompressed. */
export function columnsToLog(columns: Iterable<{ channel: string; shuffled: Uint8Array }>): {
  timeS: Float64Array
  channels: Record<string, Float32Array>
} {
  let timeS: Float64Array = new Float64Array(0)
  const channels: Record<string, Float32Array> = {}
  for (const { channel, shuffled } of columns)
    if (channel === 'timeS') timeS = new Float64Array(unshuffle(shuffled, 8))
    else channels[channel] = new Float32Array(unshuffle(shuffled, 4))
  return { timeS, channels }
}
