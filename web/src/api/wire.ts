/** The answers the board reads, in a part of their own: the first screen does not wait for the schemas of all others. */
export { Board, BuildAnswer } from '@vectum/core'
