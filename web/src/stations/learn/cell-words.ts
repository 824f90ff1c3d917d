import type { LearnCell } from '@vectum/core'

/** Where a cell stands, in words. */
export const cellWords: Record<LearnCell['state'], string> = {
  proven: 'proven',
  'needs-correction': 'needs correction',
  thin: 'thin',
  'passed-through': 'passed through only',
  untouched: 'untouched',
  unsafe: 'unsafe here',
}
