import { createHash, randomBytes, randomInt, scrypt, timingSafeEqual } from 'node:crypto'
import { promisify } from 'node:util'
import { CODE_LENGTH, CODE_LETTERS } from '@vectum/core'

/** RFC 7914 with the cost of the OWASP Password Storage Cheat Sheet: N = 2^15, r = 8, p = 3, 32 MB a try. */
const COST = { N: 2 ** 15, r: 8, p: 3, maxmem: 64 * 1024 * 1024 } as const
const KEY_BYTES = 32
const derive = promisify(scrypt) as (secret: string, salt: Buffer, length: number, cost: typeof COST) => Promise<Buffer>

// 32 MB each: a rush of sign-ins waits in a row instead of filling the memory
let last: Promise<unknown> = Promise.resolve()
function oneAtATime<T>(work: () => Promise<T>): Promise<T> {
  const mine = last.then(work)
  last = mine.catch(() => {})
  return mine
}
/** The same letters typed on two keyboards are the same secret: Unicode NFKC. */
const bytesOf = (secret: string, salt: Buffer) => oneAtATime(() => derive(secret.normalize('NFKC'), salt, KEY_BYTES, COST))

export async function hashSecret(secret: string): Promise<string> {
  const salt = randomBytes(16)
  return `scrypt$${salt.toString('base64url')}$${(await bytesOf(secret, salt)).toString('base64url')}`
}
/** Whether a secret is the one that was hashed. Null, for somebody who is not there, takes as long and is never right. */
export async function isSecret(secret: string, hashed: string | null): Promise<boolean> {
  const [, salt, key] = (hashed ?? `scrypt$${'A'.repeat(22)}$${'A'.repeat(43)}`).split('$')
  const same = timingSafeEqual(await bytesOf(secret, Buffer.from(salt, 'base64url')), Buffer.from(key, 'base64url'))
  return same && hashed !== null
}

/** 256 random bits: kept by the client, of which the database holds only the hash. */
export const newToken = (): string => randomBytes(32).toString('base64url')
export const hashToken = (token: string): string => createHash('sha256').update(token).digest('hex')
/** Compares in constant time, also when the lengths differ. */
export const sameToken = (given: string, wanted: string): boolean =>
  timingSafeEqual(createHash('sha256').update(given).digest(), createHash('sha256').update(wanted).digest())
/** 48 bits of chance, valid for minutes, once. */
export const newCode = (): string => Array.from({ length: CODE_LENGTH }, () => CODE_LETTERS[randomInt(CODE_LETTERS.length)]).join('')
