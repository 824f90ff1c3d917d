import { deflateSync, strToU8 } from 'fflate'
import { expect, it } from 'vitest'
import { demoBuild } from '../../core/src/bench/demo-build.fixture.ts'
import { computeBaseTune, type DeskState } from '@vectum/core'
import type { Device, DeviceEvents } from '../src/live/device.ts'
import { LiveSession } from '../src/live/session.ts'

/** A session over a bench that does what it is told and sends its frames when the test says so. */
async function opened() {
  const demo = demoBuild('2-rampart.json')
  const document = computeBaseTune(demo.facts, demo.choices)
  const row = { id: 'tune', number: 1, document: Buffer.from(deflateSync(strToU8(JSON.stringify(document)))) }
  let events: DeviceEvents | undefined
  const device = { kind: 'bench', ask: async () => null, tune: async () => document, setRate() {}, cutOff() {}, outfit() {}, close() {} }
  const threads = {
    open: (_build: object, _unit: object, told: DeviceEvents) => {
      events = told
      return device as unknown as Device
    },
  }
  const store = { get: async () => demo, tuneInUse: async () => row, appendReading: async () => {} }
  const session = new LiveSession(store as never, threads as never, {} as never, demo as never, () => {})
  await session.useBench()
  const order = (command: object) => session.command({ id: 'x', ...command } as never, 'Ada')
  const frame = (keyOn: boolean) => events!.frames([], { keyOn, pumpAllowed: false, starter: false } as DeskState)
  return { order, frame }
}

it('a frame that was on its way when the key went off does not turn it on again; one after it counts', async () => {
  const { order, frame } = await opened()
  const readBack = () => order({ command: 'tune', action: 'read-back' })
  frame(true)
  expect(await readBack()).toMatchObject({ ok: true, data: { differences: 0 } })
  await order({ command: 'key', on: false })
  frame(true)
  await expect(readBack()).rejects.toThrow('key on first')
  frame(false)
  frame(true)
  expect(await readBack()).toMatchObject({ ok: true })
})
