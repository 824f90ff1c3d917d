import { type Cause, causes, type CauseStation, type Sign, type Signs, signValues, soundShows, tests } from './causes.ts'
import { LEAST_GAIN_PER_MINUTE } from './limits.ts'

/** The next thing to look at, with the minutes it takes. */
export interface NextTest {
  sign: Sign
  text: string
  station: CauseStation
  minutes: number
}

const leastShare = 0.01
/** Causes by how well they explain the signs (naive Bayes over independent signs, handbook 08), likeliest first; shares sum to 1. */
export function rankCauses(signs: Signs): { cause: Cause; share: number }[] {
  const known = (Object.entries(signs) as [Sign, string | undefined][]).filter(([, value]) => value !== undefined)
  const weighed = causes.map((cause) => {
    let weight = cause.prior
    for (const [sign, value] of known) {
      const of = (cause.shows[sign] ?? soundShows[sign]) as Record<string, number>
      weight *= Math.max(leastShare, of[value!] ?? 0)
    }
    return { cause, share: weight }
  })
  const sum = weighed.reduce((a, w) => a + w.share, 0)
  return weighed.map((w) => ({ ...w, share: w.share / sum })).sort((a, b) => b.share - a.share)
}

/**
 * The test that tells the likeliest causes apart most cheaply: expected loss of doubt (entropy) for each minute, among signs nobody has looked at.
 * @returns null when one cause is clear, or nothing is left to look at
 */
export function nextTest(signs: Signs): NextTest | null {
  const ranked = rankCauses(signs)
  const doubt = (list: { share: number }[]) => list.reduce((a, { share }) => a - (share > 0 ? share * Math.log2(share) : 0), 0)
  const before = doubt(ranked)
  let best: { sign: Sign; perMinute: number } | null = null
  for (const [sign, test] of Object.entries(tests) as [Sign, (typeof tests)[Sign] & object][]) {
    if (signs[sign] !== undefined || !usefulNow(sign, signs)) continue
    let after = 0
    for (const value of signValues[sign]) {
      const chance = ranked.reduce((a, { cause, share }) => {
        const of = (cause.shows[sign] ?? soundShows[sign]) as Record<string, number>
        return a + share * Math.max(leastShare, of[value] ?? 0)
      }, 0)
      after += chance * doubt(rankCauses({ ...signs, [sign]: value }))
    }
    const perMinute = (before - after) / test.minutes
    if (perMinute > LEAST_GAIN_PER_MINUTE && (!best || perMinute > best.perMinute)) best = { sign, perMinute }
  }
  return best && testOf(best.sign)
}
export function testOf(sign: Sign): NextTest {
  const { step, minutes, station } = tests[sign]!
  return { sign, text: step, minutes, station }
}
/** ports only get warm where it runs on, and the light only flashes with a signal */
const usefulNow = (sign: Sign, { fired, speed }: Signs): boolean =>
  sign === 'ports' ? fired === 'rough' || fired === 'runs' : sign === 'light' ? speed !== 'none' : true
