import type { StretchFate } from '@vectum/core'

/** What became of a stretch or a row of a log, in words. */
export const fateWords: Record<StretchFate, string> = {
  used: 'used',
  cold: 'too cold, or just started',
  moving: 'not steady',
  cut: 'fuel cut',
  other: 'cranking, a gap, or out of range',
}
