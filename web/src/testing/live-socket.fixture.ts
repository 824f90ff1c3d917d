import { vi } from 'vitest'
import type { Frame } from '@vectum/core'
import { madeFrame } from '../../../core/src/start/frame.fixture.ts'

type Line = Record<string, unknown>
export const liveFrame = (more: Partial<Frame> = {}): Frame => madeFrame({ timeS: 1, lambda: null, ...more })

/** A live session in miniature: what the screen sends is kept, what the server would say is said by the test. */
export function fakeLive(answers: Record<string, (line: Line) => Line> = {}) {
  const sent: Line[] = []
  const sockets: { onmessage?: (e: { data: string }) => void; onclose?: () => void }[] = []
  const say = (line: Line) => sockets.at(-1)?.onmessage?.({ data: `${JSON.stringify(line)}\n` })
  class Socket {
    static readonly OPEN = 1
    readyState = 1
    onmessage?: (e: { data: string }) => void
    onclose?: () => void
    constructor(readonly url: string) {
      sockets.push(this)
      queueMicrotask(() => hello())
    }
    send(text: string): void {
      const line = JSON.parse(text) as Line
      sent.push(line)
      const answer = answers[line.command as string]?.(line) ?? {}
      say({ type: 'reply', id: line.id, ok: true, ...answer })
    }
    close(): void {
      this.readyState = 3
    }
  }
  const hello = (more: Line = {}) =>
    say({
      type: 'hello',
      session: 's1',
      device: 'bench',
      name: 'simulated car',
      tune: { id: 't1', number: 1 },
      setting: null,
      rate: 1,
      pumpAllowed: false,
      recent: [liveFrame({ state: 'off' })],
      ...more,
    })
  vi.stubGlobal('WebSocket', Socket)
  vi.stubGlobal('requestAnimationFrame', (run: () => void) => (queueMicrotask(run), 1))
  return {
    sent,
    say,
    hello,
    frame: (more: Partial<Frame>) => say({ type: 'frame', ...liveFrame(more) }),
    drop: () => sockets.at(-1)?.onclose?.(),
    commands: () => sent.map((l) => l.command),
  }
}
