/** Seeded noise: the same seed gives the same bytes on every machine. Source: mulberry32, a 32-bit counter-based generator in the public domain. */
export class Random {
  private state: number
  constructor(seed: number) {
    this.state = seed >>> 0
  }
  /** uniform in [0, 1) */
  next(): number {
    this.state = (this.state + 0x6d2b79f5) >>> 0
    let t = this.state
    t = Math.imul(t ^ (t >>> 15), t | 1)
    t ^= t + Math.imul(t ^ (t >>> 7), t | 61)
    return ((t ^ (t >>> 14)) >>> 0) / 4294967296
  }
  /** normal with mean 0 and standard deviation 1 (Box-Muller) */
  normal(): number {
    return Math.sqrt(-2 * Math.log(1 - this.next())) * Math.cos(2 * Math.PI * this.next())
  }
}

export function seedOf(text: string): number {
  let hash = 0x811c9dc5
  for (let i = 0; i < text.length; i++) hash = Math.imul(hash ^ text.charCodeAt(i), 0x01000193) >>> 0
  return hash
}
