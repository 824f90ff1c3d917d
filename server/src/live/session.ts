import { randomUUID } from 'node:crypto'
import type { LiveMessage, Reply, SessionCommand } from '@vectum/core'
import {
  answerMetric,
  answerShown,
  compareAnswers,
  contextOf,
  controlsTiming,
  CoreError,
  leakState,
  rowFate,
  StreamWatch,
  throttleReading,
  tuneAnswered,
  tuneDifferences,
  tuneTaking,
  tuneInCar,
  type DeskCommand,
  type DeskState,
  type EntryKind,
  type Frame,
  type Heard,
  type StreamEvent,
  type View,
  wordsOf,
  type LiveCommand,
} from '@vectum/core'
import type { HeavyPool } from '../heavy/pool.ts'
import { Problem } from '../http/problem.ts'
import { appendReading } from '../job/readings.ts'
import { unpackTune, type Build, type BuildStore, seenFrom } from '../job/store.ts'
import { LogStore } from '../logfile/store.ts'
import { benchUnitOf } from './bench-unit.ts'
import type { BenchDevice, BenchThreads } from './bench-threads.ts'
import type { Device, DeviceEvents } from './device.ts'
import { readInstrument } from './bench-instruments.ts'
import { stepOf, unmetGates } from './order-gates.ts'
import { LineDevice, ReplayDevice } from './other-devices.ts'
import { logOfFrames } from './trace.ts'

const MAX_TRACE_FRAMES = 90_000
const RECENT_FRAMES = 1500
const LEAST_TRACE_FRAMES = 50
const SLOW_CLIENT_BYTES = 1 << 20
const CHECKS_EVERY = 12

export interface Listener {
  send: (line: string) => void
  /** bytes the socket has not taken yet */
  backlog: () => number
}

/** The live session of one build: one device in use, watched and recorded. It goes on while screens come and go. */
export class LiveSession {
  /** tells a returning screen whether its frames are of the same device and stream */
  private id = randomUUID()
  private device: Device | null = null
  private opening: Promise<void> | null = null
  private desk: DeskState | null = null
  private readonly listeners = new Set<Listener>()
  private readonly watch: StreamWatch
  private rate = 1
  private trace: Frame[] = []
  private last: Frame | null = null
  /** name of the logger whose trace this is */
  private logger: string | null = null
  private sentTune: { id: string; number: number } | null = null
  /** the bench was told to turn the key off, and no frame has shown it yet */
  private offAsked = false
  private keyWasOff = true
  private lastBusy = Date.now()
  private frames = 0
  private closed = false
  private reloading: Promise<void> = Promise.resolve()
  private judgedLeak: string | null

  constructor(
    private readonly store: BuildStore,
    private readonly threads: BenchThreads,
    private readonly pool: HeavyPool,
    private build: Build,
    private readonly onError: (error: unknown) => void,
  ) {
    this.watch = new StreamWatch(() => ({ facts: this.build.facts, barometerKpa: contextOf(this.build).resolved.barometerKpa }))
    this.judgedLeak = leakState(contextOf(build)).lastAt
  }

  get idleMs(): number {
    return this.listeners.size > 0 || this.device?.kind === 'line' ? 0 : Date.now() - this.lastBusy
  }
  get watched(): boolean {
    return this.listeners.size > 0
  }
  get hasDevice(): boolean {
    return this.device !== null
  }

  /** Puts the bundled bench car under the session. @throws Problem GATE_SHUT when no tune is in the car */
  useBench(): Promise<void> {
    // two screens that come at once share one car
    this.opening ??= this.openBench().finally(() => (this.opening = null))
    return this.opening
  }
  private async openBench(): Promise<void> {
    this.build = await this.store.get(this.build.id)
    const tune = await this.store.tuneInUse(this.build, 'rehearsal')
    if (!tune)
      throw new Problem(409, 'GATE_SHUT', 'No tune is in the car. Mark a version as in the car at Base tune; the bench runs on it.')
    const build = seenFrom(this.build, 'rehearsal')
    const unit = benchUnitOf(build, tune.id, unpackTune(tune.document))
    this.take((events) => this.threads.open(build, unit, events))
    this.sentTune = { id: tune.id, number: tune.number }
  }
  /**
   * A logger becomes the device in use. One whose link broke may come back while its engine runs: what it told before stands.
   * @throws CoreError NOT_ALLOWED while an engine runs on another device
   */
  useLine(name: string, toAdapter: (message: unknown) => void): LineDevice {
    const back = this.logger === name
    if (this.running && !back) throw new CoreError('NOT_ALLOWED', 'device', 'an engine runs on the device in use; stop it first')
    const device = this.take((events) => new LineDevice(name, events, toAdapter), !back)
    this.logger = name
    return device
  }
  private anew(): void {
    this.id = randomUUID()
    this.desk = null
    this.offAsked = false
    this.last = null
    this.trace = []
    this.watch.keyOn()
    this.watch.off()
  }
  private take<D extends Device>(open: (events: DeviceEvents) => D, anew = true): D {
    this.device?.close()
    if (anew) this.anew()
    this.logger = null
    let mine: D | null = null
    // a device that was put away may still have something on its way
    const current = () => mine === null || this.device === mine
    mine = open({
      frames: (frames, desk) => current() && this.see(frames, desk),
      heard: (what: Heard) => {
        if (!current()) return
        // an engine that bangs does not run by itself
        if (what !== 'knock') this.watch.bang()
        this.broadcast({ type: 'heard', what, timeS: this.last?.timeS ?? 0 })
      },
      ended: (reason) => current() && this.lose(reason),
    })
    this.device = mine
    mine.setRate(this.rate)
    this.broadcast(this.hello())
    return mine
  }
  private lose(reason: string): void {
    this.device = null
    this.desk = null
    this.offAsked = false
    this.broadcast({ type: 'ended', reason })
  }

  /** The car in use has its key on, or turns still. */
  get keyOn(): boolean {
    return this.device !== null && this.last !== null && this.last.state !== 'off'
  }
  private get running(): boolean {
    return this.last !== null && this.last.state === 'running'
  }
  /** Reference angle and delay set in the unit; null while the unit does not time the spark. */
  private get setting(): { referenceDeg: number; delayUs: number } | null {
    const spark = this.seen.choices.spark ?? {}
    const { referenceDeg, delayUs = 0 } = spark
    return referenceDeg === undefined || !controlsTiming({ spark }) ? null : { referenceDeg, delayUs }
  }
  private hello(): LiveMessage {
    return {
      type: 'hello',
      session: this.id,
      device: this.device?.kind ?? null,
      name: this.device?.name ?? '',
      tune: this.sentTune,
      setting: this.setting,
      rate: this.rate,
      pumpAllowed: this.desk?.pumpAllowed ?? false,
      recent: this.trace.slice(-RECENT_FRAMES).map(compact),
    }
  }

  join(listener: Listener): void {
    this.listeners.add(listener)
    listener.send(JSON.stringify(this.hello()))
    listener.send(JSON.stringify({ type: 'checks', checks: this.watch.checks }))
  }
  leave(listener: Listener): void {
    this.listeners.delete(listener)
    this.lastBusy = Date.now()
    // nobody is left to let go of the starter
    if (this.listeners.size === 0) this.device?.letGo()
  }
  private broadcast(message: LiveMessage, droppable = false): void {
    const line = JSON.stringify(message)
    for (const listener of this.listeners) if (!droppable || listener.backlog() < SLOW_CLIENT_BYTES) listener.send(line)
  }

  private see(frames: Frame[], desk: DeskState | null): void {
    try {
      // one that was on its way when the key was turned off says nothing of it
      if (desk && !desk.keyOn) this.offAsked = false
      if (!this.offAsked) this.desk = desk
      for (const frame of frames) {
        // a logger that came back with its clock set to nought tells of another run; a jitter of its clock does not
        if (this.last && this.device?.kind === 'line' && rowFate(this.last.timeS, frame.timeS) === 'clock-reset') {
          this.anew()
          this.broadcast(this.hello())
        }
        this.last = frame
        if (frame.state !== 'off') {
          this.trace.push(frame)
          if (this.trace.length > MAX_TRACE_FRAMES) this.trace.splice(0, MAX_TRACE_FRAMES / 10)
        }
        for (const event of this.watch.see(frame)) this.act(event)
      }
      const newest = frames.at(-1)
      if (newest) this.broadcast({ type: 'frame', ...compact(newest) }, true)
      if (++this.frames % CHECKS_EVERY === 0 && newest && newest.state !== 'off' && newest.rpm < 50)
        this.broadcast({ type: 'checks', checks: this.watch.checks }, true)
    } catch (error) {
      this.onError(error)
      this.cutOff()
      this.lose('The session stopped because of a fault in it; open it again.')
    }
  }

  private act(event: StreamEvent): unknown {
    switch (event.kind) {
      case 'stop':
        this.cutOff()
        this.broadcast({ type: 'stopped', reason: wordsOf(event.reason), said: event.reason })
        return this.record('note', { text: `Stopped by the app: ${wordsOf(event.reason)}` })
      case 'primed':
        return this.broadcast({ type: 'primed', primes: event.primes })
      case 'flag':
        return this.record('start.flag', { flag: event.flag.slice(0, 40) })
      case 'throttle':
        return this.record('start.throttle', throttleReading(event.sweeps, event.problems))
      case 'checks-passed':
        this.broadcast({ type: 'checks', checks: event.checks })
        return this.record('start.sanity', {
          passed: true,
          checks: event.checks.map(({ id, state, seen }) => ({ id, state, seen: seen.slice(0, 200) })),
        })
      case 'ran': {
        const tuneId = this.sentTune?.id ?? tuneInCar(this.seen)?.id
        if (tuneId && event.coolantC !== null)
          return this.record('start.ran', {
            secondsToFire: event.secondsToFire,
            idleRpm: event.idleRpm,
            coolantC: Math.round(event.coolantC * 10) / 10,
            lambda: Math.round(event.lambda * 1000) / 1000,
            tuneId,
          })
      }
    }
  }

  /** A replayed log is the past: what it shows is shown, and not written down as of today. */
  private record(kind: Parameters<typeof appendReading>[3]['kind'], value: Record<string, unknown>): Promise<void> {
    if (this.device?.kind === 'replay') return Promise.resolve()
    const [who, instrument] =
      this.device?.kind === 'line' ? ['Vectum, logger', this.device.name.slice(0, 80)] : ['Vectum, bench', 'bench unit']
    return appendReading(this.store, this.build.id, randomUUID(), { kind, value, instrument, who }, who, {
      source: 'app',
      from: { sessionId: this.id },
    })
      .then(() => this.broadcast({ type: 'changed' }))
      .catch(this.onError)
  }

  private cutOff(): void {
    this.device?.cutOff()
    // as it will be with the next frame: an order on the heels of this one is judged by it
    if (this.desk) this.desk = { keyOn: false, pumpAllowed: false, starter: false }
    this.offAsked = this.device?.kind === 'bench'
    this.keyWasOff = true
    this.watch.off()
  }

  /** What gates and leaks are judged by: the bench is a rehearsal, a logger on the line is the car. */
  private get seen(): Build {
    return seenFrom(this.build, this.view)
  }
  private get view(): View {
    return this.device?.kind === 'line' ? 'car' : 'rehearsal'
  }

  /** What was seen on the device in use, for a verdict; a replayed log is no evidence of today. */
  get evidence(): { sessionId: string; device: Device['kind'] | null; name: string; frames: readonly Frame[] } {
    return { sessionId: this.id, device: this.device?.kind ?? null, name: this.device?.name ?? '', frames: this.trace }
  }

  /**
   * Reads an instrument at the bench car that stands or runs there.
   * @throws CoreError NOT_ALLOWED when another device is in use, or the car is not in a state for it
   */
  async readBench(kind: EntryKind): Promise<{ value: object; instrument: string }> {
    const { device } = this
    if (device?.kind !== 'bench') throw new CoreError('NOT_ALLOWED', 'bench', 'the bench is not the device in use')
    return readInstrument(kind, {
      ask: (order) => device.ask(order),
      running: this.running,
      setting: this.setting,
      lambda: this.last?.lambda ?? null,
      tuneId: this.sentTune?.id ?? tuneInCar(this.seen)?.id ?? null,
    })
  }

  /** One after another: a slow answer must not put back what a later one has brought, or a joint that was mended reads wet again. */
  private reload(): Promise<void> {
    const next = this.reloading.then(async () => {
      this.build = await this.store.get(this.build.id)
      if (this.device?.kind === 'bench') (this.device as BenchDevice).outfit(this.seen)
    })
    this.reloading = next.catch(() => undefined)
    return next
  }

  async command(command: LiveCommand, who: string): Promise<Reply> {
    const done = (data?: unknown): Reply => ({ type: 'reply', id: command.id, ok: true, ...(data === undefined ? {} : { data }) })
    const refuse = (detail: string, gates?: Reply['gates'], code = 'NOT_ALLOWED'): Reply => ({
      type: 'reply',
      id: command.id,
      ok: false,
      code,
      detail,
      gates,
    })
    switch (command.command) {
      case 'stop':
        this.cutOff()
        return done()
      case 'clock':
        this.rate = command.rate
        this.device?.setRate(command.rate)
        this.broadcast({ type: 'clock', rate: this.rate })
        return done()
      case 'save-trace':
        return done(await this.saveTrace(command.name, who))
      case 'device':
        if (this.device?.kind !== 'bench') await this.useBench()
        return done()
      case 'replay':
        return done(await this.replay(command.logId))
      case 'tune':
        return done(await this.tune(command))
      case 'answers':
        return done(await this.answers(command))
    }
    const { id: _, ...order } = command
    const device = this.device
    if (!device) return refuse('No device is in use. Choose the bench, or connect a logger.')
    if (order.command === 'key' && !order.on) {
      this.cutOff()
      return done()
    }
    const shut = await this.shutGates(order)
    if (shut) return refuse(shut.detail, shut.gates, 'GATE_SHUT')
    const data = await device.ask(order)
    if (order.command === 'key') await this.keyTurned()
    return done(data)
  }

  /** Gates that keep a dangerous order back; an order that the car refuses anyway is left to the car. */
  private async shutGates(order: DeskCommand): Promise<{ detail: string; gates: NonNullable<Reply['gates']> } | null> {
    const asked = stepOf(order, this.desk)
    if (!asked || this.device?.kind !== 'bench') return null
    await this.reload()
    const gates = unmetGates(this.seen, asked.step)
    return gates.length ? { detail: asked.detail, gates } : null
  }

  private async keyTurned(): Promise<void> {
    this.watch.keyOn()
    if (this.keyWasOff && tuneTaking(contextOf(this.seen)).step === 'stored' && this.sentTune)
      await this.record('tune.taking', { tuneId: this.sentTune.id, step: 'power-cycled' })
    this.keyWasOff = this.offAsked = false
    this.desk = { ...(this.desk ?? { pumpAllowed: false, starter: false }), keyOn: true }
  }

  /** The tune in the car on its way into the unit, step by step, each written down. */
  private async tune({ action }: Extract<SessionCommand, { command: 'tune' }>): Promise<unknown> {
    const { device } = this
    if (!device) throw new CoreError('NOT_ALLOWED', 'tune', 'no device is in use')
    if (device.kind === 'bench' && !this.desk?.keyOn) throw new CoreError('NOT_ALLOWED', 'tune', 'key on first: the unit needs its supply')
    const row = await this.store.tuneInUse(await this.store.get(this.build.id), this.view)
    if (!row) throw new Problem(409, 'GATE_SHUT', 'No tune is in the car. Mark a version as in the car at Base tune.')
    const document = unpackTune(row.document)
    if (action === 'send') {
      if (this.running) throw new CoreError('NOT_ALLOWED', 'tune', 'send it with the engine still')
      await device.tune('send', document)
      this.sentTune = { id: row.id, number: row.number }
      this.broadcast({ type: 'tune', tune: this.sentTune })
      await this.record('tune.taking', { tuneId: row.id, step: 'sent' })
      return
    }
    if (action === 'store') {
      await device.tune('store')
      await this.record('tune.taking', { tuneId: row.id, step: 'stored' })
      return
    }
    const back = await device.tune('read-back')
    const differences = tuneDifferences(document, back)
    const value = { differences: differences.length, revLimitRpm: back.parameters.revLimitRpm }
    await this.record('tune.taking', { tuneId: row.id, step: 'read-back', ...value })
    return { ...value, labels: differences.map((d) => d.label) }
  }

  /** Answers on the display of the unit: typed, stored, and read again after a key-off, each value written down. */
  private async answers({ action, values = {} }: Extract<SessionCommand, { command: 'answers' }>): Promise<unknown> {
    const { device } = this
    if (!device) throw new CoreError('NOT_ALLOWED', 'answers', 'no device is in use')
    if (device.kind === 'bench' && !this.desk?.keyOn)
      throw new CoreError('NOT_ALLOWED', 'answers', 'key on first: the display needs its supply')
    await this.reload()
    const c = contextOf(this.seen)
    const tuneId = tuneAnswered(c.build)?.id
    if (!tuneId) throw new Problem(409, 'GATE_SHUT', 'There is no tune to answer from. Compute one at Base tune.')
    const card = new Map(compareAnswers(c).map(({ answer }) => [answer.id, answer]))
    if (action === 'enter') {
      if (this.running) throw new CoreError('NOT_ALLOWED', 'answers', 'answer with the engine still')
      const unknown = Object.keys(values).find((key) => !card.has(key))
      if (unknown) throw new CoreError('NOT_ALLOWED', 'answers', `this unit asks no question “${unknown}”`)
      return device.answers(
        'enter',
        Object.fromEntries(
          Object.entries(values).map(([key, { value, unit }]) => [
            key,
            typeof value === 'number' ? answerMetric(card.get(key)!, value, unit) : value,
          ]),
        ),
      )
    }
    if (action === 'store') return device.answers('store')
    const { typed, offS } = await device.answers('read-back')
    const shown = Object.entries(typed).flatMap(([key, value]) => {
      const answer = card.get(key)
      return answer ? [[key, { value: typeof value === 'number' ? answerShown(answer, value) : value, unit: answer.unit }] as const] : []
    })
    const wanted = Object.fromEntries([...card.values()].flatMap(({ id, value }) => (value === null ? [] : [[id, value]])))
    await this.record('unit.read-back', { tuneId, offS: Math.round(offS), values: Object.fromEntries(shown), wanted })
    return { offS, values: Object.fromEntries(shown) }
  }

  private async replay(logId: string): Promise<{ rows: number }> {
    if (this.running && this.device?.kind !== 'replay')
      throw new CoreError('NOT_ALLOWED', 'replay', 'an engine runs on the device in use; stop it first')
    const row = await LogStore.get(this.store, logId)
    if (row.buildId !== this.build.id) throw new Problem(404, 'NOT_FOUND', 'That log belongs to another car.')
    const log = await this.pool.run({ kind: 'unpack', columns: await LogStore.columns(this.store, logId) })
    this.take((events) => new ReplayDevice(row.name, log, events))
    return { rows: row.rows }
  }

  /** Takes up what changed in the build: reference or delay set at Spark, or a joint that was found wet. */
  async refresh(): Promise<void> {
    await this.reload()
    const { wet, lastAt } = leakState(contextOf(this.seen))
    // once for each such reading: after mending, the key must go on again to prime for the next check
    const fresh = wet.length > 0 && lastAt !== this.judgedLeak
    this.judgedLeak = lastAt
    if (fresh && this.last && this.last.state !== 'off' && this.device?.kind !== 'replay') {
      this.cutOff()
      this.broadcast({ type: 'stopped', reason: `A fuel joint is wet (${wet.join(', ')})` })
    }
    this.broadcast({ type: 'setting', setting: this.setting })
  }

  private async saveTrace(name: string | undefined, who: string): Promise<{ logId: string; rows: number }> {
    // the car goes on while it is written
    const frames = [...this.trace]
    if (frames.length < LEAST_TRACE_FRAMES)
      throw new CoreError('LOG_TOO_SHORT', 'trace', `${frames.length} frames so far; let it run for two seconds or more`)
    const log = await logOfFrames(frames)
    const columns = await this.pool.run({ kind: 'pack', ...log })
    const logId = await LogStore.add(
      this.store,
      this.build.id,
      {
        name: name ?? `Trace, tune ${this.sentTune?.number ?? '–'}`,
        source: this.device?.kind === 'line' ? 'import' : 'bench',
        rows: frames.length,
        durationS: log.timeS[log.timeS.length - 1],
        rejected: [],
        mapping: { channels: {}, stoichAfr: 14.7, barometerKpa: contextOf(this.build).resolved.barometerKpa },
        fingerprint: 'bench',
        columns,
        tuneId: this.sentTune?.id ?? null,
        remember: false,
      },
      who,
    )
    this.trace = this.trace.slice(frames.length)
    this.broadcast({ type: 'changed' })
    return { logId, rows: frames.length }
  }

  close(reason?: string): void {
    if (this.closed) return
    this.closed = true
    this.device?.close()
    this.device = null
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
