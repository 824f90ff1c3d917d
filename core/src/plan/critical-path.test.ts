import fc from 'fast-check'
import { describe, expect, it } from 'vitest'
import { type Activity, type CalendarTask, criticalPath, layOverCalendar } from './critical-path.ts'

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

describe('calendar', () => {
  const work = (id: string, amount: number, after: string[] = [], more: Partial<CalendarTask> = {}): CalendarTask => ({
    id,
    kind: 'work',
    amount,
    after,
    person: 0,
    ...more,
  })
  // 2 March 2026 is a Monday
  const evenings = [[0, 2, 0, 2, 0, 5, 4]]
  const lay = (tasks: CalendarTask[], start = '2026-03-02', today = start) => layOverCalendar(tasks, evenings, start, today)
  it('begins by the end of 2199, and says so of a mistyped year', () => {
    // a Tuesday with its two free hours
    expect(lay([work('a', 2)], '2199-12-31').end).toBe('2199-12-31')
    for (const start of ['2200-01-01', '9999-12-31'])
      expect(() => lay([work('a', 2)], start)).toThrow(
        expect.objectContaining({ code: 'OUT_OF_RANGE', message: expect.stringContaining('2199-12-31') }),
      )
  })
  const of = (r: ReturnType<typeof lay>, id: string) => r.entries.find((e) => e.id === id)!

  it('puts nine hours on Tuesday, Thursday and Saturday', () => {
    const r = lay([work('a', 9)])
    expect(of(r, 'a').days).toEqual([
      { date: '2026-03-03', hours: 2 },
      { date: '2026-03-05', hours: 2 },
      { date: '2026-03-07', hours: 5 },
    ])
    expect(r.end).toBe('2026-03-07')
  })
  it('a cure of one day keeps what follows off the same day', () => {
    const r = lay([work('seal', 2), { id: 'cure', kind: 'wait', amount: 1, after: ['seal'], person: 0 }, work('fill', 1, ['cure'])])
    expect(of(r, 'cure')).toMatchObject({ start: '2026-03-03', end: '2026-03-03' })
    expect(of(r, 'fill').start).toBe('2026-03-05')
  })
  it('an outside trade comes after its lead time, whoever is free, and other work goes on meanwhile', () => {
    const r = lay([
      { id: 'weld', kind: 'trade', amount: 2, after: [], person: 0, leadDays: 10 },
      work('fit', 2, ['weld']),
      work('bench', 4),
    ])
    expect(of(r, 'weld')).toMatchObject({ start: '2026-03-12', end: '2026-03-13' })
    expect(of(r, 'fit').start).toBe('2026-03-14')
    expect(of(r, 'bench').start).toBe('2026-03-03')
  })
  it('a task that was not done moves to today and pushes what waits for it; a done one stays', () => {
    const tasks = [work('a', 2, [], { done: '2026-03-03' }), work('b', 2, ['a']), work('c', 2, ['b'])]
    const before = lay(tasks)
    const slipped = lay(tasks, '2026-03-02', '2026-03-20')
    expect(of(slipped, 'a').start).toBe('2026-03-03')
    expect(of(slipped, 'b').start >= '2026-03-20').toBe(true)
    expect(slipped.end > before.end).toBe(true)
  })
  it('a task dragged to a later day waits for that day', () =>
    expect(of(lay([work('a', 2, [], { notBefore: '2026-03-10' })]), 'a').start).toBe('2026-03-10'))
  it('two people work on the same day at different things', () => {
    const r = layOverCalendar(
      [work('a', 2), work('b', 2, [], { person: 1 })],
      [evenings[0], [0, 3, 0, 0, 0, 0, 0]],
      '2026-03-02',
      '2026-03-02',
    )
    expect([of(r, 'a').end, of(r, 'b').end]).toEqual(['2026-03-03', '2026-03-03'])
  })
  it('says who has no time, and counts hours exactly', () => {
    expect(() => layOverCalendar([work('a', 2)], [[0, 0, 0, 0, 0, 0, 0]], '2026-03-02', '2026-03-02')).toThrow(
      expect.objectContaining({ code: 'SCHEDULE_NO_TIME', field: 'a' }),
    )
    fc.assert(
      fc.property(fc.array(fc.double({ min: 0.1, max: 30, noNaN: true }), { minLength: 1, maxLength: 12 }), (hours) => {
        const tasks = hours.map((h, i) => work(`t${i}`, h, i > 1 ? [`t${i - 2}`] : []))
        const r = lay(tasks)
        const perDay = new Map<string, number>()
        for (const e of r.entries) for (const d of e.days) perDay.set(d.date, (perDay.get(d.date) ?? 0) + d.hours)
        return (
          r.entries.every((e, i) => Math.abs(e.days.reduce((all, d) => all + d.hours, 0) - hours[i]) < 1e-6) &&
          [...perDay].every(([date, h]) => h <= evenings[0][(new Date(`${date}T00:00:00Z`).getUTCDay() + 6) % 7] + 1e-6) &&
          r.entries.some((e) => e.critical)
        )
      }),
      { numRuns: 60 },
    )
  })
})
