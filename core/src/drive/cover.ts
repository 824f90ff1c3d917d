import { Random } from '../kernel/index.ts'

/** Something that can be driven, in whole portions, and what each portion gives. */
export interface CoverPiece {
  portionS: number
  /** what each further portion takes besides, s */
  againS: number
  mostPortions: number
  /** seconds that each portion gives, by index of the need */
  gives: readonly (readonly [need: number, seconds: number])[]
}
export interface CoverStep {
  piece: number
  portions: number
}
/** Seconds it takes to get from the end of one piece (null: standing) to where another is under way. */
export type Travel = (from: number | null, to: number) => number

const ENOUGH = 1e-6
/** Rounds of taking some pieces out and putting better ones in. */
const ROUNDS = 160
const TAKE_OUT = 4

const pieceSeconds = ({ portionS, againS }: CoverPiece, portions: number): number => portions * (portionS + againS) - againS

/** Seconds that a way through the pieces takes, getting there included. */
export function coverSeconds(pieces: readonly CoverPiece[], travel: Travel, steps: readonly CoverStep[]): number {
  let total = 0
  let from: number | null = null
  for (const { piece, portions } of steps) {
    total += travel(from, piece) + pieceSeconds(pieces[piece], portions)
    from = piece
  }
  return total
}

/** What is still missing of each need after the steps. */
function leftOf(pieces: readonly CoverPiece[], needs: readonly number[], steps: readonly CoverStep[]): number[] {
  const left = [...needs]
  for (const { piece, portions } of steps) for (const [need, s] of pieces[piece].gives) left[need] -= portions * s
  return left
}
const covered = (left: readonly number[]) => left.every((s) => s <= ENOUGH)

/** Where a piece costs least to be put between the others, and what it costs. */
function cheapestPlace(travel: Travel, steps: readonly CoverStep[], piece: number): { at: number; seconds: number } {
  let best = { at: 0, seconds: Infinity }
  for (let at = 0; at <= steps.length; at++) {
    const from = at > 0 ? steps[at - 1].piece : null
    const next = steps.at(at)
    const after = at < steps.length && next ? travel(piece, next.piece) - travel(from, next.piece) : 0
    const seconds = travel(from, piece) + after
    if (seconds < best.seconds) best = { at, seconds }
  }
  return best
}

/** Puts in what gives most for its time until every need is met: a new piece where it costs least, or more of one that is there. */
function fill(
  pieces: readonly CoverPiece[],
  needs: readonly number[],
  travel: Travel,
  start: readonly CoverStep[],
  random?: Random,
): CoverStep[] {
  const steps = start.map((s) => ({ ...s }))
  const left = leftOf(pieces, needs, steps)
  const portionsOf = new Int32Array(pieces.length)
  for (const { piece, portions } of steps) portionsOf[piece] += portions
  while (!covered(left)) {
    let best: { rate: number; piece: number; portions: number; at: number | null } | null = null
    for (let p = 0; p < pieces.length; p++) {
      const { gives, portionS, againS, mostPortions } = pieces[p]
      let useful = false
      for (const [need] of gives) if (left[need] > ENOUGH) useful = true
      if (!useful) continue
      const there = portionsOf[p] > 0
      const most = mostPortions - portionsOf[p]
      if (most <= 0) continue
      let put: { at: number | null; seconds: number } | null = there ? { at: null, seconds: 0 } : null
      const tried = new Set<number>()
      for (const [need, s] of gives) {
        if (left[need] <= ENOUGH) continue
        const portions = Math.min(most, Math.ceil((left[need] - ENOUGH) / s))
        if (tried.has(portions)) continue
        tried.add(portions)
        let gain = 0
        for (const [n, g] of gives) if (left[n] > ENOUGH) gain += Math.min(left[n], portions * g)
        const noise = random ? 0.75 + 0.5 * random.next() : 1
        // getting there takes at least nothing: most pieces are out of the race before their place is looked for
        const took = there ? portions * (portionS + againS) : pieceSeconds(pieces[p], portions)
        if (best && (gain * noise) / took <= best.rate) continue
        put ??= cheapestPlace(travel, steps, p)
        const rate = (gain / (put.seconds + took)) * noise
        if (!best || rate > best.rate) best = { rate, piece: p, portions, at: put.at }
      }
    }
    if (!best) return steps
    const { piece, portions, at } = best
    portionsOf[piece] += portions
    if (at === null) steps.find((s) => s.piece === piece)!.portions += portions
    else steps.splice(at, 0, { piece, portions })
    for (const [need, s] of pieces[piece].gives) left[need] -= portions * s
  }
  return trimmed(pieces, needs, steps)
}
/** Takes away portions, and whole pieces, that nothing needs any more; the dearest first. */
function trimmed(pieces: readonly CoverPiece[], needs: readonly number[], steps: readonly CoverStep[]): CoverStep[] {
  const kept = steps.map((s) => ({ ...s }))
  const left = leftOf(pieces, needs, kept)
  for (const step of [...kept].sort((a, b) => pieceSeconds(pieces[b.piece], b.portions) - pieceSeconds(pieces[a.piece], a.portions))) {
    let spare = step.portions
    for (const [need, s] of pieces[step.piece].gives) if (needs[need] > 0) spare = Math.min(spare, Math.floor((ENOUGH - left[need]) / s))
    spare = Math.max(0, spare)
    step.portions -= spare
    for (const [need, s] of pieces[step.piece].gives) left[need] += spare * s
  }
  return kept.filter((s) => s.portions > 0)
}
/** Shortest order found by moving single pieces and turning stretches round until nothing gains. */
function ordered(travel: Travel, steps: readonly CoverStep[]): CoverStep[] {
  let best = [...steps]
  const way = (list: readonly CoverStep[]) => list.reduce((sum, s, i) => sum + travel(i > 0 ? list[i - 1].piece : null, s.piece), 0)
  let length = way(best)
  for (let gained = true; gained;) {
    gained = false
    for (let i = 0; i < best.length; i++)
      for (let j = 0; j < best.length; j++) {
        if (i === j) continue
        const moved = best.filter((_, k) => k !== i)
        moved.splice(j, 0, best[i])
        const turned = i < j ? [...best.slice(0, i), ...best.slice(i, j + 1).reverse(), ...best.slice(j + 1)] : moved
        for (const list of [moved, turned]) {
          const seconds = way(list)
          if (seconds < length - ENOUGH) [best, length, gained] = [list, seconds, true]
        }
      }
  }
  return best
}

/** The same travel, looked up: it is asked for some million times. */
function tabled(travel: Travel, n: number): Travel {
  const table = new Float32Array((n + 1) * n)
  for (let from = -1; from < n; from++) for (let to = 0; to < n; to++) table[(from + 1) * n + to] = travel(from < 0 ? null : from, to)
  return (from, to) => table[((from ?? -1) + 1) * n + to]
}

/**
 * A short way through pieces of driving that gives every need its seconds: filled by what gives most for its time, trimmed, put in order, then
 * bettered by taking some pieces out and filling again, the same way every time. A need that no piece serves stays open.
 * Method: large neighbourhood search (Shaw 1998) over greedy weighted cover with cheapest insertion; order by 2-opt and single moves.
 * @param needs seconds wanted
 * @param travel seconds between pieces
 */
export function cover(pieces: readonly CoverPiece[], needs: readonly number[], way: Travel, rounds = ROUNDS): CoverStep[] {
  const travel = tabled(way, pieces.length)
  const reachable = needs.map((s, n) => (pieces.some((p) => p.gives.some(([need]) => need === n)) ? s : 0))
  let best = ordered(travel, fill(pieces, reachable, travel, []))
  let seconds = coverSeconds(pieces, travel, best)
  const random = new Random(1)
  for (let round = 0; round < rounds && best.length > 0; round++) {
    const out = new Set<number>()
    const first = Math.floor(random.next() * best.length)
    const several = 1 + Math.floor(random.next() * Math.min(TAKE_OUT, best.length))
    // neighbours on the way, or any
    for (let k = 0; k < several; k++) out.add(round % 2 === 0 ? (first + k) % best.length : Math.floor(random.next() * best.length))
    const tried = ordered(
      travel,
      fill(
        pieces,
        reachable,
        travel,
        best.filter((_, i) => !out.has(i)),
        round % 4 === 3 ? undefined : random,
      ),
    )
    const took = coverSeconds(pieces, travel, tried)
    if (took < seconds - ENOUGH && covered(leftOf(pieces, reachable, tried))) [best, seconds] = [tried, took]
  }
  return best
}
