import { expect, it } from 'vitest'
import { demoBuild } from '../../core/src/bench/demo-build.fixture.ts'
import { computeBaseTune } from '@vectum/core'
import type { Build } from '../src/job/store.ts'
import { benchUnitOf } from '../src/live/bench-unit.ts'

const logId = '22222222-2222-4222-8222-222222222222'
const build = (unit: object = {}): Build => {
  const demo = demoBuild('2-rampart.json')
  const tune = (id: string, origin: string, parentId: string | null, from: string | null = null) => ({ id, origin, parentId, logId: from })
  const learned = { kind: 'unit.learned', source: 'bench', value: { tuneId: 'first', learnedPct: [1, 2, 3, 4] } }
  return {
    ...demo,
    choices: { ...demo.choices, unit },
    tunes: [
      tune('first', 'computed', null),
      tune('mended by a log', 'learned', 'first', logId),
      tune('mended again', 'learned', 'mended by a log', logId),
      tune('a constant mended', 'learned', 'first'),
      tune('by hand', 'edited', 'first'),
    ],
    readings: [learned],
  } as unknown as Build
}
const heldOn = (id: string, unit?: object) => {
  const of = build(unit)
  return benchUnitOf(of, id, computeBaseTune(of.facts, of.choices)).learned
}

it.each([
  ['first', [1, 2, 3, 4]],
  ['mended by a log', [1, 2, 3, 4]],
  ['mended again', [1, 2, 3, 4]],
  // what was learned is scaled with a constant, and belongs to no other table
  ['a constant mended', undefined],
  ['by hand', undefined],
])('what the bench’s unit learned on the first version, on the one %s', (id, held) => expect(heldOn(id)).toEqual(held))
it('one that loses it with the key comes with nothing', () => expect(heldOn('mended by a log', { keepsOverKeyOff: false })).toBeUndefined())
