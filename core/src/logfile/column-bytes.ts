/**
 * A column as it is stored and sent: little-endian floats with bytes of like weight together (all lowest bytes first), which a general
 * compressor packs about twice as well. 64 bit for time, 32 bit for every other channel; `docs/formats.md` shows the layout.
 */
export function shuffleColumn(values: Float32Array | Float64Array): Uint8Array {
  const words = new Uint32Array(values.buffer, values.byteOffset, values.byteLength / 4)
  const perValue = values.BYTES_PER_ELEMENT / 4
  const n = values.length
  const shuffled = new Uint8Array(values.byteLength)
  // a word at a time: byte by byte takes four times as long
  for (let w = 0; w < perValue; w++) {
    const at = w * 4 * n
    for (let i = 0; i < n; i++) {
      const word = words[i * perValue + w]
      shuffled[at + i] = word
      shuffled[at + n + i] = word >>> 8
      shuffled[at + 2 * n + i] = word >>> 16
      shuffled[at + 3 * n + i] = word >>> 24
    }
  }
  return shuffled
}

function unshuffle(shuffled: Uint8Array, size: 4 | 8): ArrayBuffer {
  const perValue = size / 4
  const n = shuffled.length / size
  const words = new Uint32Array(n * perValue)
  for (let w = 0; w < perValue; w++) {
    const at = w * 4 * n
    for (let i = 0; i < n; i++)
      words[i * perValue + w] =
        shuffled[at + i] | (shuffled[at + n + i] << 8) | (shuffled[at + 2 * n + i] << 16) | (shuffled[at + 3 * n + i] << 24)
  }
  return words.buffer
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
