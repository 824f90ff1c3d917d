/** What the first page reads, in a part of its own: it does not wait for the schemas of all others. */
export { Board, Me } from '@vectum/core'
