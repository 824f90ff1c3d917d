/** A thing on a drawing with its name; where the name goes is sought, so that no two lie on each other. */
export interface Labelled {
  id: string
  text: string
  x: number
  y: number
}
export interface LabelSpot {
  id: string
  text: string
  x: number
  y: number
  anchor: 'start' | 'end' | 'middle'
}
interface Box {
  left: number
  top: number
  right: number
  bottom: number
}
/** Width of a letter over the size of the type. */
const LETTER = 0.47
const overlap = (a: Box, b: Box): number =>
  Math.max(0, Math.min(a.right, b.right) - Math.max(a.left, b.left)) * Math.max(0, Math.min(a.bottom, b.bottom) - Math.max(a.top, b.top))

/** For each thing the first spot beside it that covers least: of others' names, and of the things themselves. */
export function labelSpots(things: readonly Labelled[], size: number, frame: Box): LabelSpot[] {
  const taken: Box[] = things.map(({ x, y }) => ({
    left: x - size * 0.5,
    right: x + size * 0.5,
    top: y - size * 0.5,
    bottom: y + size * 0.5,
  }))
  return things.map(({ id, text, x, y }) => {
    const w = text.length * LETTER * size
    const gap = size * 0.75
    const spots = [
      ...[0.35, -0.5, 1.2, -1.4, 2].map((dy) => ({ x: x + gap, y: y + dy * size, anchor: 'start' as const, left: x + gap })),
      ...[0.35, -0.5, 1.2, -1.4, 2].map((dy) => ({ x: x - gap, y: y + dy * size, anchor: 'end' as const, left: x - gap - w })),
      { x, y: y - gap, anchor: 'middle' as const, left: x - w / 2 },
      { x, y: y + gap + size * 0.7, anchor: 'middle' as const, left: x - w / 2 },
    ].map((s) => ({ ...s, box: { left: s.left, right: s.left + w, top: s.y - size * 0.8, bottom: s.y + size * 0.25 } }))
    const outside = (b: Box): number =>
      Math.max(0, frame.left - b.left) +
      Math.max(0, b.right - frame.right) +
      Math.max(0, frame.top - b.top) +
      Math.max(0, b.bottom - frame.bottom)
    const cost = (b: Box): number => taken.reduce((sum, t) => sum + overlap(b, t), 0) + 1000 * outside(b) * size
    const best = spots.reduce((a, b) => (cost(b.box) < cost(a.box) - 1e-6 ? b : a))
    taken.push(best.box)
    return { id, text, x: best.x, y: best.y, anchor: best.anchor }
  })
}
