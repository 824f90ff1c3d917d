/** Apart from what the board itself reads, so that the first page does not wait for the schemas of a whole build. */
export { BuildAnswer } from '@vectum/core'
