import type { DeskCommand, DeskState, Frame, Heard, TuneDocument, TypedAnswers } from '@vectum/core'

/** What a device tells the session. */
export interface DeviceEvents {
  frames: (frames: Frame[], state: DeskState | null) => void
  heard: (what: Heard) => void
  ended: (reason: string) => void
}

type DeviceKind = 'bench' | 'replay' | 'line'

/** The device port: the bundled bench, a replayed log, or a real logger. One stream format; what a device cannot do it refuses in words. */
export interface Device {
  readonly kind: DeviceKind
  /** what the screen calls it */
  readonly name: string
  /** @throws CoreError NOT_ALLOWED where the car is not in a state for it, or the device has no hands */
  ask(command: DeskCommand): Promise<unknown>
  /** Pump and ignition off, at once; no answer is waited for. */
  cutOff(): void
  letGo(): void
  setRate(rate: number): void
  tune(action: 'send', document: TuneDocument): Promise<void>
  tune(action: 'store'): Promise<void>
  tune(action: 'read-back'): Promise<TuneDocument>
  /** answers on the display of a unit that is set by questions; @throws CoreError NOT_ALLOWED where there is none */
  answers(action: 'enter', typed: TypedAnswers): Promise<void>
  answers(action: 'store'): Promise<void>
  answers(action: 'read-back'): Promise<{ typed: TypedAnswers; offS: number }>
  close(): void
}
