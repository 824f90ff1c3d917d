import { randomUUID } from 'node:crypto'
import {
  Bench,
  benchCarFor,
  benchIgnition,
  benchLogChannels,
  benchRail,
  controlsTiming,
  contextOf,
  CoreError,
  evaluate,
  leakState,
  observe,
  sanityChecks,
  seedOf,
  startGates,
  startStopRules,
  startWatch,
  stopRule,
  stopsBefore,
  type Frame,
  type StartStep,
} from '@vectum/core'
import { packColumn } from '../heavy/tasks.ts'
import { Problem } from '../http/problem.ts'
import { appendReading } from '../job/readings.ts'
import { unpackTune, type Build, type BuildStore } from '../job/store.ts'
import { LogStore } from '../logfile/store.ts'
import type { Command, Reply } from './protocol.ts'

const TICK_MS = 40
const FRAME_S = 0.04
const MAX_TRACE_FRAMES = 90_000
const SLOW_CLIENT_BYTES = 1 << 20
const RAN_AFTER_S = 10
const SWEEP_S = 1.8

export interface Listener {
  send: (line: string) => void
  /** bytes the socket has not taken yet */
  backlog: () => number
}

/** One simulated car on the bench for one build: stepped in real time, watched, recorded. It goes on while screens come and go. */
/** What the light shows over a number of flashes: while cranking the mark dances, and only the mean tells. */
function meanLight(bench: Bench, flashes: number): ReturnType<Bench['timingLight']> {
  const seen = Array.from({ length: flashes }, () => bench.timingLight())
  return { ...seen[0], observedDeg: Math.round((seen.reduce((sum, s) => sum + s.observedDeg, 0) / flashes) * 10) / 10 }
}

export class LiveSession {
  private bench: Bench
  private tuneId: string
  private tuneNumber: number
  private readonly listeners = new Set<Listener>()
  private timer: NodeJS.Timeout
  private rate = 1
  private trace: Frame[] = []
  private watch = startWatch()
  private rules = startStopRules()
  private sanityRecorded = false
  private cranked: { sinceS: number; fired: number | null } | null = null
  private ranRecorded = false
  private sweepFromS: number | null = null
  private lastBusy = Date.now()
  private ticks = 0
  private readonly heardSoFar = { inlet: 0, exhaust: 0, kick: 0 }
  private closed = false
  private judgedLeak: string | null = null

  private constructor(
    private readonly store: BuildStore,
    private build: Build,
    tune: { id: string; number: number; document: ReturnType<typeof unpackTune> },
    private readonly onError: (error: unknown) => void,
  ) {
    this.bench = new Bench(benchCarFor(build.facts, build.choices, seedOf(build.id)), tune.document)
    this.bench.setFaults(build.choices.bench)
    this.bench.pumpInhibited = true
    this.tuneId = tune.id
    this.tuneNumber = tune.number
    this.applySetting()
    this.judgedLeak = leakState(contextOf(build)).lastAt
    this.timer = setInterval(() => this.tick(), TICK_MS)
  }

  /** @throws Problem GATE_SHUT when no tune is in the car */
  static async open(store: BuildStore, buildId: string, onError: (error: unknown) => void): Promise<LiveSession> {
    const build = await store.get(buildId)
    const tune = await store.tuneInCar(buildId)
    if (!tune)
      throw new Problem(409, 'GATE_SHUT', 'No tune is in the car. Mark a version as in the car at Base tune; the bench runs on it.')
    return new LiveSession(store, build, { id: tune.id, number: tune.number, document: unpackTune(tune.document) }, onError)
  }

  private applySetting(): void {
    this.bench.ignition = benchIgnition(this.build)
    this.bench.rail = benchRail(this.build)
    this.bench.setFaults(this.build.choices.bench)
  }
  /** Reference angle and delay set in the unit; null while the unit does not time the spark. */
  private get setting(): { referenceDeg: number; delayUs: number } | null {
    const spark = this.build.choices.spark ?? {}
    const { referenceDeg, delayUs = 0 } = spark
    return referenceDeg === undefined || !controlsTiming({ spark }) ? null : { referenceDeg, delayUs }
  }

  get idleMs(): number {
    return this.listeners.size > 0 ? 0 : Date.now() - this.lastBusy
  }

  join(listener: Listener): void {
    this.listeners.add(listener)
    listener.send(
      JSON.stringify({
        type: 'hello',
        device: 'bench',
        tune: { id: this.tuneId, number: this.tuneNumber },
        setting: this.setting,
        rate: this.rate,
        pumpAllowed: !this.bench.pumpInhibited,
        recent: this.trace.slice(-750).map(compact),
      }),
    )
    this.sendChecks(listener)
  }
  leave(listener: Listener): void {
    this.listeners.delete(listener)
    this.lastBusy = Date.now()
    // nobody is left to let go of the starter
    if (this.listeners.size === 0) this.bench.starter = false
  }

  private broadcast(message: unknown, droppable = false): void {
    const line = JSON.stringify(message)
    for (const listener of this.listeners) if (!droppable || listener.backlog() < SLOW_CLIENT_BYTES) listener.send(line)
  }

  private sendChecks(to?: Listener): void {
    const message = { type: 'checks', checks: sanityChecks(this.watch, this.build.facts) }
    if (to) to.send(JSON.stringify(message))
    else this.broadcast(message, true)
  }

  private tick(): void {
    try {
      const { bench } = this
      let frame: Frame | null = null
      // the record is kept in the car's own time, however fast the clock is set
      for (let done = 0; done < (TICK_MS / 1000) * this.rate - 1e-9; done += FRAME_S) {
        if (this.sweepFromS !== null) {
          const t = (bench.timeS - this.sweepFromS) / SWEEP_S
          bench.throttlePct = t >= 1 ? 0 : 100 * (1 - Math.abs(2 * t - 1)) * 1.06
          bench.throttlePct = Math.min(100, bench.throttlePct)
          if (t >= 1) this.sweepFromS = null
        }
        bench.run(FRAME_S)
        // without its supply the unit sends nothing
        frame = bench.linkUp ? bench.frame() : null
        if (frame) this.see(frame)
      }
      if (frame) this.broadcast({ type: 'frame', ...compact(frame) }, true)
      this.listen()
      if (++this.ticks % 12 === 0 && bench.keyOn && bench.rpm < 50) this.sendChecks()
    } catch (error) {
      this.onError(error)
      this.close('The bench stopped because of a fault in it; open it again.')
    }
  }

  /** Bangs are heard beside the engine, not logged: they go out as they come. */
  private listen(): void {
    for (const what of ['inlet', 'exhaust', 'kick'] as const) {
      const bangs = Math.floor(this.bench.heard[what])
      if (bangs > this.heardSoFar[what]) this.broadcast({ type: 'heard', what, timeS: this.bench.timeS })
      this.heardSoFar[what] = bangs
    }
  }

  private see(frame: Frame): void {
    const { bench } = this
    if (bench.keyOn) {
      this.trace.push(frame)
      if (this.trace.length > MAX_TRACE_FRAMES) this.trace.splice(0, MAX_TRACE_FRAMES / 10)
    }
    if (bench.keyOn && frame.rpm < 50 && !this.sanityRecorded) {
      this.watch = observe(this.watch, frame)
      const checks = sanityChecks(this.watch, this.build.facts)
      if (checks.every((c) => c.state === 'pass')) {
        this.sanityRecorded = true
        this.record('start.sanity', { passed: true, checks: checks.map(({ id, state, seen }) => ({ id, state, seen })) })
        this.sendChecks()
      }
    }
    const { state, reason } = stopRule(this.rules, frame, bench.car.barometerKpa)
    this.rules = state
    if (reason) {
      this.cutOff()
      this.broadcast({ type: 'stopped', reason })
      this.record('note', { text: `Stopped by the app: ${reason}` })
    }
    if (bench.starter && !this.cranked) this.cranked = { sinceS: frame.timeS, fired: null }
    if (this.cranked && this.cranked.fired === null && bench.rpm > 400) {
      this.cranked.fired = frame.timeS - this.cranked.sinceS
      bench.starter = false
    }
    if (
      this.cranked?.fired != null &&
      !this.ranRecorded &&
      frame.timeS - this.cranked.sinceS - this.cranked.fired > RAN_AFTER_S &&
      bench.rpm > 300
    ) {
      this.ranRecorded = true
      this.record('start.ran', {
        secondsToFire: this.cranked.fired,
        idleRpm: Math.round(bench.rpm),
        coolantC: Math.round(frame.coolantC * 10) / 10,
        tuneId: this.tuneId,
      })
    }
  }

  private record(kind: Parameters<typeof appendReading>[3]['kind'], value: Record<string, unknown>, who = 'Vectum, bench'): void {
    appendReading(this.store, this.build.id, randomUUID(), { kind, value, instrument: 'bench unit', who }, who)
      .then(() => this.broadcast({ type: 'changed' }))
      .catch(this.onError)
  }

  private cutOff(): void {
    this.bench.starter = false
    this.bench.unit.injectorsOn = true
    this.bench.keyOn = false
    this.bench.pumpInhibited = true
    this.bench.throttlePct = 0
    this.bench.unit.fixedAdvanceDeg = null
    this.sweepFromS = null
    this.cranked = null
    this.rules = startStopRules()
  }

  private async gatesFor(step: StartStep): Promise<{ label: string; why: string; station: string }[]> {
    this.build = await this.store.get(this.build.id)
    this.applySetting()
    return startGates(contextOf(this.build), stopsBefore(evaluate(this.build).stations, 'start'))
      [step].filter((gate) => !gate.met)
      .map(({ label, why, station }) => ({ label, why, station }))
  }

  async command(command: Command, who: string): Promise<Reply> {
    const done = (data?: unknown): Reply => ({ type: 'reply', id: command.id, ok: true, ...(data === undefined ? {} : { data }) })
    const refuse = (detail: string, gates?: Reply['gates'], code = 'NOT_ALLOWED'): Reply => ({
      type: 'reply',
      id: command.id,
      ok: false,
      code,
      detail,
      gates,
    })
    const { bench } = this
    switch (command.command) {
      case 'stop':
        this.cutOff()
        return done()
      case 'key': {
        if (!command.on) {
          this.cutOff()
          return done()
        }
        const shut = await this.gatesFor('key-on')
        if (shut.length) return refuse('The key stays off until these are met.', shut, 'GATE_SHUT')
        await this.takeTune()
        bench.keyOn = true
        this.watch = startWatch()
        this.sanityRecorded = false
        return done()
      }
      case 'pump': {
        if (!command.allowed) {
          bench.pumpInhibited = true
          return done()
        }
        if (!bench.keyOn) return refuse('Key on first: the unit runs the pump.')
        const shut = await this.gatesFor('prime')
        if (shut.length) return refuse('The pump fuse stays out until these are met.', shut, 'GATE_SHUT')
        bench.pumpInhibited = false
        bench.unit.primeAgain()
        return done()
      }
      case 'crank': {
        if (!command.on) {
          // injectors unplugged stay so while it spins down
          bench.starter = false
          return done()
        }
        if (!bench.keyOn) return refuse('The key is off.')
        if (bench.rpm > 300) return refuse('The engine runs already.')
        const fuel = command.fuel ?? true
        const shut = await this.gatesFor(fuel ? 'crank' : 'dry-crank')
        if (shut.length) return refuse('The starter stays off until these are met.', shut, 'GATE_SHUT')
        bench.unit.injectorsOn = fuel
        if (fuel && bench.pumpInhibited) return refuse('The pump fuse is out: prime first.')
        this.cranked = null
        this.ranRecorded = false
        bench.starter = true
        return done()
      }
      case 'throttle':
        this.sweepFromS = null
        bench.throttlePct = command.pct
        return done()
      case 'sweep':
        if (!bench.keyOn || bench.rpm > 50) return refuse('Sweep the throttle with the key on and the engine still.')
        this.sweepFromS = bench.timeS
        return done()
      case 'plugs':
        if (bench.rpm > 20) return refuse('Take plugs out of an engine that stands still.')
        return done({ plugs: bench.plugs() })
      case 'fix-timing':
        bench.unit.fixedAdvanceDeg = command.advanceDeg
        return done()
      case 'light':
        try {
          return done(meanLight(bench, command.flashes ?? 1))
        } catch (error) {
          return refuse((error as CoreError).message)
        }
      case 'clock':
        this.rate = command.rate
        this.broadcast({ type: 'clock', rate: this.rate })
        return done()
      case 'save-trace':
        return done(await this.saveTrace(command.name, who))
    }
  }

  /** The tune that is in the car now, and the reference set now; the engine keeps its heat. */
  private async takeTune(): Promise<void> {
    const tune = await this.store.tuneInCar(this.build.id)
    if (!tune || tune.id === this.tuneId) return
    this.bench.unit.tune = unpackTune(tune.document)
    this.tuneId = tune.id
    this.tuneNumber = tune.number
    this.broadcast({ type: 'tune', tune: { id: tune.id, number: tune.number } })
  }

  /** Takes up what changed in the build: reference or delay set at Spark, or a joint that was found wet. */
  async refresh(): Promise<void> {
    this.build = await this.store.get(this.build.id)
    this.applySetting()
    const { wet, lastAt } = leakState(contextOf(this.build))
    // once for each such reading: after mending, the key must go on again to prime for the next check
    const fresh = wet.length > 0 && lastAt !== this.judgedLeak
    this.judgedLeak = lastAt
    if (fresh && this.bench.keyOn) {
      this.cutOff()
      this.broadcast({ type: 'stopped', reason: `A fuel joint is wet (${wet.join(', ')})` })
    }
    this.broadcast({ type: 'setting', setting: this.setting })
  }

  private async saveTrace(name: string | undefined, who: string): Promise<{ logId: string; rows: number }> {
    const frames = this.trace
    if (frames.length < 50)
      throw new CoreError('LOG_TOO_SHORT', 'trace', `${frames.length} frames so far; let it run for two seconds or more`)
    const start = frames[0].timeS
    const column = (values: (number | null)[]) => packColumn(Float32Array.from(values, (v) => v ?? NaN))
    const columns = [
      { channel: 'timeS' as const, data: packColumn(Float64Array.from(frames, (f) => f.timeS - start)) },
      ...benchLogChannels.map((channel) => ({ channel, data: column(frames.map((f) => f[channel])) })),
    ]
    const logId = await LogStore.add(
      this.store,
      this.build.id,
      {
        name: name ?? `Bench trace, tune ${this.tuneNumber}`,
        source: 'bench',
        rows: frames.length,
        durationS: frames[frames.length - 1].timeS - start,
        rejected: [],
        mapping: { channels: {}, stoichAfr: 14.7, barometerKpa: this.bench.car.barometerKpa },
        fingerprint: 'bench',
        columns,
        remember: false,
      },
      who,
    )
    this.trace = []
    this.broadcast({ type: 'changed' })
    return { logId, rows: frames.length }
  }

  close(reason?: string): void {
    if (this.closed) return
    this.closed = true
    clearInterval(this.timer)
    if (reason) this.broadcast({ type: 'closed', reason })
  }
}

/** Numbers as a wire needs them: three decimals are finer than any sensor. */
function compact(frame: Frame): Frame {
  const short = (value: number) => Math.round(value * 1000) / 1000
  return Object.fromEntries(
    Object.entries(frame).map(([key, value]) => [key, typeof value === 'number' ? short(value) : value]),
  ) as unknown as Frame
}
