import { expect, it } from 'vitest'
import { soundBuild } from './made-up.fixture.ts'
import { helpPacket } from './packet.ts'

const at = (...values: number[]) => Float32Array.from(values)
const packet = (channels: object) =>
  helpPacket({
    build: soundBuild(),
    tune: null,
    log: { name: 'drive.csv', timeS: Float64Array.from([0, 0.1, 0.2, 0.3, 0.4]), channels },
    withOwner: false,
    symptom: '',
    question: '',
    words: () => '',
  })
const text = (channels: object, name: string) => packet(channels).find((m) => m.name === name)?.text

it('moments that were marked while driving go with the log, once each, with where the engine was', () => {
  const channels = { rpm: at(800, 2100, 2200, 2300, 2400), mapKpa: at(40, 60, 61, 62, 63), marker: at(0, 1, 1, 0, 1) }
  expect(text(channels, 'marks.csv')).toBe('timeS,rpm,mapKpa,throttlePct,lambda,coolantC\n0.1,2100,60,,,\n0.4,2400,63,,,\n')
  expect(text(channels, 'sheet.md')).toContain('drive.csv, 5 rows; 2 marks, see marks.csv')
})
it('a log without a marker says that it has no marks', () => {
  expect(text({ rpm: at(1, 2, 3, 4, 5) }, 'marks.csv')).toBeUndefined()
  expect(text({ rpm: at(1, 2, 3, 4, 5) }, 'sheet.md')).toContain('5 rows; it has no marks')
})
