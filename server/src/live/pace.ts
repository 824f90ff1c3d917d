import { setImmediate as breath, setTimeout as sleep } from 'node:timers/promises'

/**
 * Slows one client to a steady rate after a burst, so that others do not notice it.
 * Virtual scheduling of the generic cell rate algorithm, ITU-T I.371 annex A.
 */
export class Pace {
  /** when the next one would be due at the steady rate, ms */
  private dueMs = 0

  constructor(
    private readonly perSecond: number,
    private readonly burst: number,
    private readonly now: () => number = () => performance.now(),
  ) {}

  /** How long the one that comes now has to wait, ms; it takes its place in the row. */
  takeMs(): number {
    const now = this.now()
    this.dueMs = Math.max(this.dueMs, now) + 1000 / this.perSecond
    return Math.max(0, this.dueMs - now - (this.burst * 1000) / this.perSecond)
  }
}

/** With so many waiting the row is full; there is room again at half. */
const MOST_WAITING = 64
const BREATH_EVERY = 16

/** The row of one client's lines: taken in their order, and no faster than its pace. */
export class Intake {
  private row = Promise.resolve()
  private waiting = 0
  private taken = 0
  private urgent = false
  private ended = false
  full = false

  /**
   * @param oneByOne a line is begun when the one before is done
   * @param onRoom told when a row that was full has room again
   */
  constructor(
    public pace: Pace,
    private readonly oneByOne: boolean,
    private readonly onError: (error: unknown) => void,
    private readonly onRoom: () => void = () => undefined,
  ) {}

  take(work: () => unknown): void {
    this.full ||= ++this.waiting >= MOST_WAITING
    this.row = this.row.then(() => this.turn(work)).catch(this.onError)
  }
  private async turn(work: () => unknown): Promise<void> {
    if (this.ended) return
    const waitMs = this.pace.takeMs()
    if (waitMs > 0) await sleep(waitMs)
    // others get their turn between the lines of a burst
    else if (++this.taken % BREATH_EVERY === 0) await breath()
    this.waiting--
    if (this.full && this.waiting <= MOST_WAITING / 2) {
      this.full = false
      this.onRoom()
    }
    if (this.ended) return
    const done = work()
    if (this.oneByOne) await done
  }

  /** Does at once what must not wait; one at a time, so that it is no way around the pace. */
  async jump(work: () => unknown): Promise<void> {
    if (this.urgent) return this.take(work)
    this.urgent = true
    try {
      await work()
    } catch (error) {
      this.onError(error)
    } finally {
      this.urgent = false
    }
  }

  /** The client has left: what still waits is not done. */
  end(): void {
    this.ended = true
  }
}
