import { parentPort } from 'node:worker_threads'
import {
  BenchDesk,
  CoreError,
  DESK_FRAME_S,
  type BuildData,
  type DeskCommand,
  type DeskState,
  type Frame,
  type Heard,
  Settling,
  type TuneDocument,
  type TypedAnswers,
} from '@vectum/core'

/** Messages between the server and a thread of benches; every car goes by its number. */
export type ToThread =
  | { op: 'open'; car: number; build: BuildData; tune: TuneDocument; answers: TypedAnswers | null; learned?: readonly number[] }
  | { op: 'outfit'; car: number; build: BuildData }
  | { op: 'rate'; car: number; rate: number }
  | { op: 'cut-off' | 'let-go' | 'close'; car: number }
  | { op: 'ask'; car: number; n: number; command: DeskCommand }
  | { op: 'answers'; car: number; n: number; action: 'enter' | 'store' | 'read-back'; typed?: TypedAnswers }
  | { op: 'tune'; car: number; n: number; action: 'send' | 'store' | 'read-back'; document?: TuneDocument }
export type FromThread =
  | { op: 'frames'; car: number; frames: Frame[]; state: DeskState; heard: Heard[] }
  | { op: 'answer'; car: number; n: number; data?: unknown; refused?: { code: string; message: string } }
  | { op: 'failed'; car: number; message: string }

/** Runs in a worker thread: steps many bench cars in real time, so that none of them takes the server's event loop. */
const cars = new Map<number, { desk: BenchDesk; rate: number; settling: { n: number; instrument: Settling }[] }>()
const say = (message: FromThread) => parentPort!.postMessage(message)

/** frames made up at most for a thread that was held up; a longer hold-up is left out */
const MOST_CATCH_UP = 12
let dueMs = performance.now()

function step(): void {
  const late = Math.floor((performance.now() - dueMs) / (DESK_FRAME_S * 1000))
  if (late < 1) return
  dueMs += late * DESK_FRAME_S * 1000
  const due = Math.min(MOST_CATCH_UP, late)
  for (const [car, held] of cars)
    try {
      const { desk, rate } = held
      const frames: Frame[] = []
      // the record is kept in the car's own time, however fast the clock is set
      for (let k = 0; k < due * rate; k++) {
        const frame = desk.frame()
        if (frame) frames.push(frame)
      }
      say({ op: 'frames', car, frames, state: desk.state, heard: desk.heard() })
      readSettled(car, held)
    } catch (error) {
      cars.delete(car)
      say({ op: 'failed', car, message: (error as Error).message })
    }
}

/** Answers what has settled by the car's own clock. */
function readSettled(car: number, held: { desk: BenchDesk; settling: { n: number; instrument: Settling }[] }): void {
  const ready = held.settling.filter(({ instrument }) => held.desk.bench.timeS >= instrument.readyAtS)
  if (!ready.length) return
  held.settling = held.settling.filter((s) => !ready.includes(s))
  for (const { n, instrument } of ready) answering({ car, n }, () => say({ op: 'answer', car, n, data: instrument.read() }))
}

function obey(message: ToThread): void {
  const { car } = message
  if (message.op === 'open')
    return void cars.set(car, { desk: new BenchDesk(message.build, message.tune, message.answers, message.learned), rate: 1, settling: [] })
  const held = cars.get(car)
  if (!held) return
  const { desk } = held
  switch (message.op) {
    case 'outfit':
      return desk.outfit(message.build)
    case 'rate':
      held.rate = message.rate
      return
    case 'cut-off':
      return desk.cutOff()
    case 'let-go':
      return desk.letGo()
    case 'close':
      cars.delete(car)
      return
    case 'ask': {
      const data = desk.obey(message.command)
      if (data instanceof Settling) held.settling.push({ n: message.n, instrument: data })
      else say({ op: 'answer', car, n: message.n, data })
      return
    }
    case 'answers':
      if (message.action === 'enter') desk.enterAnswers(message.typed!)
      else if (message.action === 'store') desk.storeAnswers()
      return say({ op: 'answer', car, n: message.n, data: message.action === 'read-back' ? desk.readAnswers() : undefined })
    case 'tune':
      if (message.action === 'send') desk.sendTune(message.document!)
      else if (message.action === 'store') desk.storeTune()
      return say({ op: 'answer', car, n: message.n, data: message.action === 'read-back' ? desk.readTune() : undefined })
  }
}

/** Does it, and tells whoever asked when it is refused. */
function answering(message: { car: number; n?: number }, work: () => void): void {
  try {
    work()
  } catch (error) {
    const refused = { code: error instanceof CoreError ? error.code : 'INTERNAL', message: (error as Error).message }
    if (message.n !== undefined) say({ op: 'answer', car: message.car, n: message.n, refused })
    else say({ op: 'failed', car: message.car, message: refused.message })
  }
}
parentPort!.on('message', (message: ToThread) => answering(message, () => obey(message)))
setInterval(step, (DESK_FRAME_S * 1000) / 4)
