import { defineStore } from 'pinia'
import { until } from '@vueuse/core'
import { ref, shallowRef } from 'vue'
import { LiveMessage, type DeviceKind, type Frame, type Reply, type Said, type SanityCheck } from '@vectum/core'
import { useBuild } from './build.ts'
import { useMe } from './me.ts'
import { useSettings } from './settings.ts'

export type Answer = Omit<Reply, 'type' | 'id'>
export type Heard = Pick<Extract<LiveMessage, { type: 'heard' }>, 'what' | 'timeS'>
const KEEP_FRAMES = 1500
const REPLY_MS = 6000
/** however slowly its clock goes, a stream is waited for no longer than this */
const PATIENCE_MS = 60_000
/** an instrument answers once it has settled */
const SETTLING_MS = 60_000
/** the server closed the stream because its sign-in ended */
const SIGNED_OUT = 4401

/** The live stream of the device in use. Reconnects by itself; the session on the server goes on meanwhile. */
export const useLive = defineStore('live', () => {
  const state = ref<'off' | 'connecting' | 'up' | 'lost' | 'refused'>('off')
  const why = ref('')
  const frame = shallowRef<Frame | null>(null)
  const frames = shallowRef<Frame[]>([])
  const checks = ref<SanityCheck[]>([])
  /** the last bang beside the engine */
  const heard = ref<Heard | null>(null)
  const lastFrameAtMs = ref(0)
  /** of the last frame that came, by the stream's clock, shown yet or not */
  const clockS = ref<number | null>(null)
  /** how often everything was stopped: what was asked before that is no longer wanted */
  const stops = ref(0)
  const stopped = ref<Said | null>(null)
  /** the device in use, and what it is called; null with none, and why */
  const device = ref<DeviceKind | null>(null)
  const name = ref('')
  const ended = ref('')
  /** key-ons with fuel since it last ran */
  const primes = ref(0)
  const rate = ref(1)
  const pumpAllowed = ref(false)
  const tuneNumber = ref<number | null>(null)
  const setting = ref<{ referenceDeg: number; delayUs: number } | null>(null)
  /** as the server names it: verdicts are worked out from what it saw */
  const session = ref<string | null>(null)
  let socket: WebSocket | null = null
  let buildId: string | null = null
  let retry: ReturnType<typeof setTimeout> | null = null
  let wait = 500
  let next = 1
  const waiting = new Map<string, { resolve: (reply: Answer) => void; timer: ReturnType<typeof setTimeout> }>()
  let buffer: Frame[] = []
  let painting = false

  function open(id: string): void {
    if (buildId === id && socket && socket.readyState <= WebSocket.OPEN) return
    close()
    buildId = id
    connect()
  }
  function connect(): void {
    if (!buildId) return
    state.value = 'connecting'
    const mine = new WebSocket(`${location.protocol === 'https:' ? 'wss' : 'ws'}://${location.host}/api/builds/${buildId}/live`)
    socket = mine
    mine.onmessage = (event) => {
      for (const line of String(event.data).split('\n')) {
        if (!line) continue
        const message = LiveMessage.safeParse(JSON.parse(line))
        if (message.success) take(message.data)
        else console.warn('a live message that is not known here was left out', message.error.issues)
      }
    }
    mine.onclose = ({ code }) => {
      if (code === SIGNED_OUT) useMe().lost()
      if (socket !== mine) return
      socket = null
      for (const { resolve, timer } of waiting.values()) {
        clearTimeout(timer)
        resolve({ ok: false, detail: 'The link was lost before an answer came.' })
      }
      waiting.clear()
      if (state.value === 'refused' || !buildId) return
      state.value = 'lost'
      retry = setTimeout(connect, wait)
      wait = Math.min(5000, wait * 1.6)
    }
  }
  function take(message: LiveMessage): void {
    switch (message.type) {
      case 'frame':
        return takeFrame(message)
      case 'hello': {
        state.value = 'up'
        wait = 500
        device.value = message.device
        name.value = message.name
        ended.value = ''
        // the same session again after a lost link: what came meanwhile is added to what is here
        const lastS = buffer.at(-1)?.timeS ?? -Infinity
        buffer =
          session.value === message.session
            ? [...buffer, ...message.recent.filter((f) => f.timeS > lastS)].slice(-KEEP_FRAMES)
            : message.recent
        session.value = message.session
        show()
        clockS.value = frame.value?.timeS ?? null
        rate.value = message.rate
        pumpAllowed.value = message.pumpAllowed
        tuneNumber.value = message.tune?.number ?? null
        setting.value = message.setting
        return
      }
      case 'checks':
        checks.value = message.checks
        return
      case 'clock':
        rate.value = message.rate
        return
      case 'heard':
        heard.value = message
        return
      case 'tune':
        tuneNumber.value = message.tune.number
        return
      case 'setting':
        setting.value = message.setting
        return
      case 'stopped':
        stopped.value = message.said ?? message.reason
        pumpAllowed.value = false
        return
      case 'primed':
        primes.value = message.primes
        return
      case 'ended':
      case 'closed':
        device.value = null
        ended.value = message.reason
        return
      case 'changed':
        void useBuild().reload()
        return
      case 'signed-out':
        return useMe().lost()
      case 'refused':
        state.value = 'refused'
        why.value = message.detail
        return
      case 'bad':
        return
      case 'reply': {
        const open = waiting.get(message.id)
        if (!open) return
        clearTimeout(open.timer)
        waiting.delete(message.id)
        open.resolve(message)
      }
    }
  }
  /** Frames are put on the screen once for each picture, however many arrive. */
  function takeFrame(next: Frame): void {
    lastFrameAtMs.value = Date.now()
    clockS.value = next.timeS
    buffer = buffer.length >= KEEP_FRAMES ? [...buffer.slice(-KEEP_FRAMES + 200), next] : [...buffer, next]
    if (painting) return
    painting = true
    requestAnimationFrame(() => {
      painting = false
      show()
    })
  }
  function show(): void {
    frames.value = buffer
    frame.value = buffer.at(-1) ?? null
  }
  function send(command: string, values: Record<string, unknown> = {}): Promise<Answer> {
    if (command === 'stop') stops.value++
    if (!socket || socket.readyState !== WebSocket.OPEN) return Promise.resolve({ ok: false, detail: 'The link to the bench is down.' })
    const id = String(next++)
    const who = useSettings().person
    return new Promise((resolve) => {
      waiting.set(id, {
        resolve,
        timer: setTimeout(
          () => (waiting.delete(id), resolve({ ok: false, detail: 'The bench did not answer in time.' })),
          command === 'instrument' ? SETTLING_MS : REPLY_MS,
        ),
      })
      socket!.send(JSON.stringify({ id, command, ...values, ...(who ? { who } : {}) }) + '\n')
    })
  }
  /** Until the stream's own clock has gone on by so many seconds, which a busy machine may hold back; at once where there is none. */
  async function passed(seconds: number): Promise<void> {
    const { value: fromS } = clockS
    const far = (): boolean =>
      fromS === null || clockS.value === null || state.value !== 'up' || device.value === null || clockS.value - fromS >= seconds
    await until(far).toBe(true, { timeout: PATIENCE_MS })
    show()
  }
  function close(): void {
    buildId = session.value = null
    device.value = null
    primes.value = 0
    if (retry) clearTimeout(retry)
    const old = socket
    socket = null
    old?.close()
    state.value = 'off'
    frames.value = buffer = []
    frame.value = null
    clockS.value = null
    checks.value = []
    stopped.value = heard.value = null
  }
  return {
    state,
    why,
    frame,
    frames,
    checks,
    heard,
    lastFrameAtMs,
    stopped,
    device,
    name,
    ended,
    primes,
    rate,
    pumpAllowed,
    tuneNumber,
    setting,
    session,
    open,
    close,
    send,
    passed,
    stops,
    again: () => (state.value === 'refused' && buildId ? connect() : undefined),
  }
})
