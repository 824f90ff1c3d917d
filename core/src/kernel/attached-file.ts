/** A photo or file kept with a build: what it shows is an item of the survey, a joint, a part. */
export interface AttachedFile {
  id: string
  item: string
  name: string
  type: string
  size: number
  thumb: boolean
  who: string
  createdAt: string
}
export const MAX_FILE_BYTES = 12 * 1024 * 1024
export const MAX_THUMB_BYTES = 96 * 1024
export const MAX_BUILD_FILES = 300

/** Kinds of file that are taken, told by their first bytes, not by their name. */
const signatures: { type: string; test: (bytes: Uint8Array) => boolean }[] = [
  { type: 'image/jpeg', test: (b) => b[0] === 0xff && b[1] === 0xd8 && b[2] === 0xff },
  { type: 'image/png', test: (b) => [0x89, 0x50, 0x4e, 0x47, 0x0d, 0x0a, 0x1a, 0x0a].every((byte, i) => b[i] === byte) },
  { type: 'image/webp', test: (b) => text(b, 0, 4) === 'RIFF' && text(b, 8, 12) === 'WEBP' },
  { type: 'application/pdf', test: (b) => text(b, 0, 5) === '%PDF-' },
]
const text = (bytes: Uint8Array, from: number, to: number): string => String.fromCharCode(...bytes.subarray(from, to))

/** Media type of a file by its content; plain text when nothing in its beginning is binary; null when it is not taken. */
export function fileType(bytes: Uint8Array): string | null {
  const known = signatures.find((s) => s.test(bytes))
  if (known) return known.type
  const start = bytes.subarray(0, 4096)
  return start.length > 0 && start.every((b) => b === 9 || b === 10 || b === 13 || (b >= 32 && b !== 127)) ? 'text/plain' : null
}
