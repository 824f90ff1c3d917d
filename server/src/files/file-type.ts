import { fileTypeFromBuffer } from 'file-type'

/** Kinds of file that are taken, told by their content, not by their name. */
const TAKEN = new Set(['image/jpeg', 'image/png', 'image/webp', 'application/pdf'])
const LOOKED_AT = 4096

/** Media type of a file by its content; plain text when nothing in its beginning is binary; null when it is not taken. */
export async function takenType(bytes: Uint8Array): Promise<string | null> {
  const known = await fileTypeFromBuffer(bytes)
  // marked-up text is text
  if (known && known.mime !== 'application/xml') return TAKEN.has(known.mime) ? known.mime : null
  const start = bytes.subarray(0, LOOKED_AT)
  return start.length > 0 && start.every((b) => b === 9 || b === 10 || b === 13 || (b >= 32 && b !== 127)) ? 'text/plain' : null
}
