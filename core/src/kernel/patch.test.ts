import fc from 'fast-check'
import { describe, expect, it } from 'vitest'
import { changesBetween, mergePatch, patchBetween } from './patch.ts'

describe('a patch from one value to another', () => {
  it('names what is gone', () => {
    expect(patchBetween({ pump: { fuseA: 10, note: 'x' }, fan: { fuseA: 20 } }, { pump: { note: 'x' } })).toEqual({
      pump: { fuseA: null, note: 'x' },
      fan: null,
    })
    expect(patchBetween({ a: 1 }, 4)).toBe(4)
    expect(patchBetween(undefined, { a: 1 })).toEqual({ a: 1 })
  })
  it('laid on the one it gives the other, whatever the two are', () => {
    const value = fc.letrec((tie) => ({
      leaf: fc.oneof(fc.integer(), fc.string(), fc.array(fc.integer(), { maxLength: 2 })),
      node: fc.dictionary(fc.constantFrom('a', 'b', 'c'), fc.oneof({ depthSize: 'small' }, tie('leaf'), tie('node')), { maxKeys: 3 }),
    })).node
    fc.assert(
      fc.property(value, value, (before, after) => {
        expect(mergePatch(before, patchBetween(before, after))).toEqual(after)
      }),
    )
  })
})

describe('changes between two values', () => {
  it('the order of keys is none, in lists of things too; another value is one', () => {
    expect(changesBetween({ feed: [{ id: 'a', boreMm: 8 }] }, { feed: [{ boreMm: 8, id: 'a' }] })).toEqual([])
    expect(changesBetween({ feed: [{ id: 'a', boreMm: 8 }] }, { feed: [{ boreMm: 9, id: 'a' }] })).toHaveLength(1)
    expect(changesBetween([1, 2], [2, 1])).toHaveLength(1)
  })
})
