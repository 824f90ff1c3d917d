import type { Said } from '../kernel/index.ts'
import type { Facts } from '../survey/index.ts'
import type { Frame } from './frame.ts'
import { RAN_RPM, RAN_S } from './limits.ts'
import { ranProblems } from './ran.ts'
import { observe, type SanityCheck, sanityChecks, type SanityWatch, startWatch } from './sanity.ts'
import { startStopRules, stopRule } from './stop-rules.ts'
import { sweepProblems, type ThrottleSweep } from './throttle-sweep.ts'

/** What the app saw by itself in a stream, to be acted on and written down. */
export type StreamEvent =
  | { kind: 'checks-passed'; checks: SanityCheck[] }
  | { kind: 'throttle'; sweeps: [ThrottleSweep, ThrottleSweep]; problems: string[] }
  | { kind: 'flag'; flag: string }
  | { kind: 'primed'; primes: number }
  | { kind: 'stop'; reason: Said }
  | { kind: 'ran'; secondsToFire: number; idleRpm: number; coolantC: number | null; lambda: number }

const STILL_RPM = 50
const FIRED_RPM = 400

/** Watches a stream of any device frame by frame: key-on checks, throttle presses, flags, primes, stop rules, and that it ran. Pure but for its memory. */
export class StreamWatch {
  private watch: SanityWatch = startWatch()
  private rules = startStopRules()
  private checksPassed = false
  private sweepsTold = 0
  private readonly flags = new Set<string>()
  private primes = 0
  private pumpWas = false
  private crank: { sinceS: number; firedAfterS: number | null; ran: boolean } | null = null
  /** the last seconds of running, to see whether it does so by itself */
  private running: Pick<Frame, 'timeS' | 'rpm' | 'lambda'>[] = []
  /** a replay or a fresh key begins anew when time runs backward */
  private lastS = -Infinity

  constructor(private readonly surroundings: () => { facts: Facts; barometerKpa: number }) {}

  /** The key went on: everything is to be shown again. */
  keyOn(): void {
    this.watch = startWatch()
    this.checksPassed = false
    this.sweepsTold = 0
    this.flags.clear()
  }
  /** Pump and key went off. */
  off(): void {
    this.crank = null
    this.running = []
    this.rules = startStopRules()
  }
  /** A bang or a kick was heard: what ran until now did not run as it should. */
  bang(): void {
    this.running = []
  }
  get checks(): SanityCheck[] {
    return sanityChecks(this.watch, this.surroundings().facts)
  }

  see(frame: Frame): StreamEvent[] {
    if (frame.timeS < this.lastS) {
      this.keyOn()
      this.off()
    }
    this.lastS = frame.timeS
    const events: StreamEvent[] = []
    const { facts, barometerKpa } = this.surroundings()
    const on = frame.state !== 'off'
    if (on && frame.rpm < STILL_RPM) {
      this.watch = observe(this.watch, frame)
      const { done } = this.watch.sweep
      if (done.length >= 2 && done.length > this.sweepsTold) {
        this.sweepsTold = done.length
        const last = done.slice(-2) as [ThrottleSweep, ThrottleSweep]
        events.push({ kind: 'throttle', sweeps: last, problems: sweepProblems(done) })
      }
      if (!this.checksPassed) {
        const checks = sanityChecks(this.watch, facts)
        if (checks.every((c) => c.state === 'pass')) {
          this.checksPassed = true
          events.push({ kind: 'checks-passed', checks })
        }
      }
    }
    for (const flag of frame.faultFlags)
      if (on && !this.flags.has(flag)) {
        this.flags.add(flag)
        events.push({ kind: 'flag', flag })
      }
    if (frame.pumpOn && !this.pumpWas && frame.rpm < STILL_RPM) events.push({ kind: 'primed', primes: ++this.primes })
    this.pumpWas = frame.pumpOn === true

    const judged = stopRule(this.rules, frame, barometerKpa)
    this.rules = judged.state
    if (judged.reason) events.push({ kind: 'stop', reason: judged.reason })

    if (frame.state === 'cranking' && !this.crank) this.crank = { sinceS: frame.timeS, firedAfterS: null, ran: false }
    if (this.crank && frame.state === 'key-on' && frame.rpm < STILL_RPM) this.crank = null
    if (this.crank && this.crank.firedAfterS === null && frame.rpm > FIRED_RPM) {
      this.crank.firedAfterS = frame.timeS - this.crank.sinceS
      if (this.primes > 0) events.push({ kind: 'primed', primes: (this.primes = 0) })
    }
    const ran = this.ran(frame)
    if (ran) events.push(ran)
    return events
  }

  /** It runs by itself when its last seconds were steady, on a mixture that burns. */
  private ran({ timeS, rpm, lambda, coolantC }: Frame): Extract<StreamEvent, { kind: 'ran' }> | null {
    const { crank } = this
    if (!crank || crank.ran || crank.firedAfterS === null) return null
    this.running = rpm < RAN_RPM ? [] : [...this.running, { timeS, rpm, lambda }]
    while (this.running.length > 2 && timeS - this.running[1].timeS >= RAN_S) this.running.shift()
    const seconds = timeS - (this.running[0]?.timeS ?? timeS)
    if (seconds < RAN_S) return null
    const speeds = this.running.map((f) => f.rpm)
    const told = this.running.flatMap((f) => f.lambda ?? [])
    const mean = told.length ? told.reduce((a, b) => a + b, 0) / told.length : null
    const stretch = { seconds, rpmLow: Math.min(...speeds), rpmHigh: Math.max(...speeds), lambda: lambda === null ? null : mean }
    if (ranProblems(stretch).length > 0) return null
    crank.ran = true
    this.running = []
    return { kind: 'ran', secondsToFire: crank.firedAfterS, idleRpm: Math.round(rpm), coolantC, lambda: mean! }
  }
}
