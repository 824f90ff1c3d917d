import { CoreError, frameOfLog, type DeskCommand, type Frame, type LogData } from '@vectum/core'
import type { Device, DeviceEvents } from './device.ts'

/** A device without hands: it tells, and takes no command but to stop. */
abstract class Onlooker implements Device {
  abstract readonly kind: 'replay' | 'line'
  abstract readonly name: string
  protected abstract readonly refusal: string
  abstract close(): void
  ask(command: DeskCommand): Promise<unknown> {
    return Promise.reject(new CoreError('NOT_ALLOWED', command.command, this.refusal))
  }
  tune(): Promise<never> {
    return Promise.reject(new CoreError('NOT_ALLOWED', 'tune', this.refusal))
  }
  answers(): Promise<never> {
    return Promise.reject(new CoreError('NOT_ALLOWED', 'answers', this.refusal))
  }
  cutOff(): void {}
  letGo(): void {}
  setRate(_rate: number): void {}
}

const TICK_MS = 40
const MOST_FRAMES_A_TICK = 200

/** A log played again in its own time, or faster. */
export class ReplayDevice extends Onlooker {
  readonly kind = 'replay'
  protected readonly refusal = 'A replayed log takes no commands; choose the bench to act.'
  private row = 0
  private playedS: number
  private rate = 1
  private readonly timer: NodeJS.Timeout

  constructor(
    readonly name: string,
    private readonly log: Pick<LogData, 'timeS' | 'channels'>,
    private readonly events: DeviceEvents,
  ) {
    super()
    this.playedS = log.timeS[0] ?? 0
    this.timer = setInterval(() => this.play(), TICK_MS)
  }
  private play(): void {
    const { log } = this
    this.playedS += (TICK_MS / 1000) * this.rate
    const frames: Frame[] = []
    while (this.row < log.timeS.length && log.timeS[this.row] <= this.playedS && frames.length < MOST_FRAMES_A_TICK)
      frames.push(frameOfLog(log, this.row++))
    if (frames.length) this.events.frames(frames, null)
    if (this.row >= log.timeS.length) {
      this.close()
      this.events.ended('The log has been played to its end.')
    }
  }
  override setRate(rate: number): void {
    this.rate = rate
  }
  close(): void {
    clearInterval(this.timer)
  }
}

/** A real logger behind an adapter that sends frames as lines. */
export class LineDevice extends Onlooker {
  readonly kind = 'line'
  protected readonly refusal = 'This device only tells; act at the car itself.'
  constructor(
    readonly name: string,
    private readonly events: DeviceEvents,
    private readonly toAdapter: (message: unknown) => void,
  ) {
    super()
  }
  frame(frame: Frame): void {
    this.events.frames([frame], null)
  }
  gone(): void {
    this.events.ended('The logger’s link was lost. If the engine runs, use the key.')
  }
  override cutOff(): void {
    this.toAdapter({ type: 'cut-off' })
  }
  close(): void {
    this.toAdapter({ type: 'closed', reason: 'Another device is in use now.' })
  }
}
