import { availableParallelism } from 'node:os'
import { Worker } from 'node:worker_threads'
import { CoreError, type BuildData, type CoreErrorCode, type DeskCommand, type TuneDocument, type TypedAnswers } from '@vectum/core'
import type { FromThread, ToThread } from './bench-thread.ts'
import type { Device, DeviceEvents } from './device.ts'

const MOST_THREADS = 4

/** What the unit of a bench car comes with: its tune, the answers it was told instead, what it has learned. */
export interface BenchUnit {
  tune: TuneDocument
  answers: TypedAnswers | null
  learned?: readonly number[]
}

interface Thread {
  worker: Worker
  cars: Map<number, BenchDevice>
}

/** Bench cars of this server, spread over a few threads; a thread starts with its first car and stays. */
export class BenchThreads {
  private readonly threads: Thread[] = []
  private next = 1
  private closed = false

  constructor(private readonly file: string) {}

  /** A bench car for a build on a tune. */
  open(build: BuildData, unit: BenchUnit, events: DeviceEvents): BenchDevice {
    const thread = this.lightest()
    const car = this.next++
    const device = new BenchDevice(
      car,
      (message) => thread.worker.postMessage(message),
      events,
      () => thread.cars.delete(car),
    )
    thread.cars.set(car, device)
    thread.worker.postMessage({ op: 'open', car, build, ...unit } satisfies ToThread)
    return device
  }

  private lightest(): Thread {
    const idle = this.threads.find((t) => t.cars.size === 0)
    if (idle) return idle
    if (this.threads.length < Math.min(MOST_THREADS, availableParallelism())) return this.start()
    return this.threads.reduce((a, b) => (b.cars.size < a.cars.size ? b : a))
  }

  private start(): Thread {
    const thread: Thread = { worker: new Worker(this.file), cars: new Map() }
    thread.worker.on('message', (message: FromThread) => thread.cars.get(message.car)?.take(message))
    const gone = (reason: string) => {
      this.threads.splice(this.threads.indexOf(thread), 1)
      for (const device of [...thread.cars.values()]) device.lost(reason)
    }
    thread.worker.on('error', (error) => gone(error.message))
    thread.worker.on('exit', () => !this.closed && this.threads.includes(thread) && gone('its thread ended'))
    this.threads.push(thread)
    return thread
  }

  async close(): Promise<void> {
    this.closed = true
    await Promise.all(this.threads.map((t) => t.worker.terminate()))
  }
}

/** One bench car behind its thread. */
export class BenchDevice implements Device {
  readonly kind = 'bench'
  readonly name = 'simulated car'
  private n = 1
  private readonly waiting = new Map<number, { resolve: (data: never) => void; reject: (error: Error) => void }>()

  constructor(
    private readonly car: number,
    private readonly post: (message: ToThread) => void,
    private readonly events: DeviceEvents,
    private readonly forget: () => void,
  ) {}

  take(message: FromThread): void {
    if (message.op === 'frames') {
      this.events.frames(message.frames, message.state)
      for (const what of message.heard) this.events.heard(what)
    } else if (message.op === 'failed') this.lost(message.message)
    else {
      const open = this.waiting.get(message.n)
      this.waiting.delete(message.n)
      if (message.refused) open?.reject(revived(message.refused))
      else open?.resolve(message.data as never)
    }
  }
  lost(reason: string): void {
    for (const { reject } of this.waiting.values()) reject(new CoreError('NOT_ALLOWED', 'bench', reason))
    this.waiting.clear()
    this.forget()
    this.events.ended(`The bench stopped because of a fault in it (${reason}); open it again.`)
  }

  private answer<T>(message: (n: number) => ToThread): Promise<T> {
    const n = this.n++
    return new Promise<T>((resolve, reject) => {
      this.waiting.set(n, { resolve, reject })
      this.post(message(n))
    })
  }
  ask(command: DeskCommand): Promise<unknown> {
    return this.answer((n) => ({ op: 'ask', car: this.car, n, command }))
  }
  tune(action: 'send', document: TuneDocument): Promise<void>
  tune(action: 'store'): Promise<void>
  tune(action: 'read-back'): Promise<TuneDocument>
  tune(action: 'send' | 'store' | 'read-back', document?: TuneDocument): Promise<never> {
    return this.answer((n) => ({ op: 'tune', car: this.car, n, action, document }))
  }
  answers(action: 'enter', typed: TypedAnswers): Promise<void>
  answers(action: 'store'): Promise<void>
  answers(action: 'read-back'): Promise<{ typed: TypedAnswers; offS: number }>
  answers(action: 'enter' | 'store' | 'read-back', typed?: TypedAnswers): Promise<never> {
    return this.answer((n) => ({ op: 'answers', car: this.car, n, action, typed }))
  }
  outfit(build: BuildData): void {
    this.post({ op: 'outfit', car: this.car, build })
  }
  cutOff(): void {
    this.post({ op: 'cut-off', car: this.car })
  }
  letGo(): void {
    this.post({ op: 'let-go', car: this.car })
  }
  setRate(rate: number): void {
    this.post({ op: 'rate', car: this.car, rate })
  }
  close(): void {
    this.post({ op: 'close', car: this.car })
    this.forget()
  }
}

function revived({ code, message }: { code: string; message: string }): CoreError {
  const error = new CoreError(code as CoreErrorCode, 'bench')
  error.message = message
  return error
}
