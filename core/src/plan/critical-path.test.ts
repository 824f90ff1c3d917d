import fc from 'fast-check'
import { describe, expect, it } from 'vitest'
import { type Activity, criticalPath } from './critical-path.ts'

/** The construction network of Hillier and Lieberman, Introduction to Operations Research: durations in weeks, answer 44. */
const construction: Activity[] = [
  ['A', 2, ''],
  ['B', 4, 'A'],
  ['C', 10, 'B'],
  ['D', 6, 'C'],
  ['E', 4, 'C'],
  ['F', 5, 'E'],
  ['G', 7, 'D'],
  ['H', 9, 'EG'],
  ['I', 7, 'C'],
  ['J', 8, 'FI'],
  ['K', 4, 'J'],
  ['L', 5, 'J'],
  ['M', 2, 'H'],
  ['N', 6, 'KL'],
].map(([id, duration, after]) => ({ id: id as string, duration: duration as number, after: [...(after as string)] }))

describe('critical path', () => {
  it('of the textbook construction network is 44 weeks, A-B-C-E-F-J-L-N', () => {
    const { length, path, activities } = criticalPath(construction)
    expect(length).toBe(44)
    expect(path.join('-')).toBe('A-B-C-E-F-J-L-N')
    const of = (id: string) => activities.find((a) => a.id === id)!
    // the textbook's table: D may slip 4 weeks, I 2, K 1, M 4
    expect([of('D').slack, of('I').slack, of('K').slack, of('M').slack]).toEqual([4, 2, 1, 4])
    expect(of('H')).toMatchObject({ earliestStart: 29, earliestFinish: 38, latestStart: 33, latestFinish: 42 })
  })
  it('refuses tasks that wait for each other, and ones that wait for nothing known, by name', () => {
    const loop = [
      { id: 'a', duration: 1, after: ['b'] },
      { id: 'b', duration: 1, after: ['a'] },
    ]
    expect(() => criticalPath(loop)).toThrow(expect.objectContaining({ code: 'SCHEDULE_LOOP' }))
    expect(() => criticalPath([{ id: 'a', duration: 1, after: ['x'] }])).toThrow(
      expect.objectContaining({ code: 'SCHEDULE_UNKNOWN', field: 'a' }),
    )
  })
  const network = fc
    .array(fc.tuple(fc.integer({ min: 0, max: 20 }), fc.array(fc.nat(30), { maxLength: 3 })), { minLength: 1, maxLength: 25 })
    .map((rows) =>
      rows.map(([duration, before], i): Activity => ({
        id: `t${i}`,
        duration,
        after: [...new Set(before.filter((b) => b < i).map((b) => `t${b}`))],
      })),
    )
  it('any network: nothing starts before what it waits for, the path is as long as the job, stretching a task by its slack does not move the end', () => {
    fc.assert(
      fc.property(network, fc.nat(24), (list, pick) => {
        const { activities, length, path } = criticalPath(list)
        const of = new Map(activities.map((a) => [a.id, a]))
        for (const a of list) for (const b of a.after) if (of.get(b)!.earliestFinish > of.get(a.id)!.earliestStart) return false
        if (path.reduce((all, id) => all + list.find((a) => a.id === id)!.duration, 0) !== length) return false
        const chosen = list[pick % list.length]
        const stretched = (by: number) => criticalPath(list.map((a) => (a === chosen ? { ...a, duration: a.duration + by } : a))).length
        const { slack } = of.get(chosen.id)!
        return stretched(slack) === length && stretched(slack + 1) === length + 1
      }),
    )
  })
})
