import fc from 'fast-check'
import { describe, expect, it } from 'vitest'
import { type CalendarTask, layOverCalendar } from './calendar.ts'

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
  it('a helper’s hours go with the work, and only days on which both are free serve', () => {
    // one is free on Tuesday and Saturday, the other on Saturday only
    const r = layOverCalendar(
      [work('lift', 3, [], { helper: 1 }), work('alone', 2), work('other', 4, [], { person: 1 })],
      [
        [0, 2, 0, 0, 0, 5, 0],
        [0, 0, 0, 0, 0, 4, 0],
      ],
      '2026-03-02',
      '2026-03-02',
    )
    expect(of(r, 'lift').days).toEqual([{ date: '2026-03-07', hours: 3 }])
    expect(of(r, 'alone').days).toEqual([{ date: '2026-03-03', hours: 2 }])
    // the helper had one hour left that Saturday
    expect(of(r, 'other').days).toEqual([
      { date: '2026-03-07', hours: 1 },
      { date: '2026-03-14', hours: 3 },
    ])
  })
  it('a trade does not work on Sundays unless it is said', () => {
    const weld = (more: Partial<CalendarTask> = {}): CalendarTask => ({ id: 'w', kind: 'trade', amount: 3, after: [], person: 0, ...more })
    // Friday 6 March: Friday, Saturday, Monday; from a Sunday on it begins on Monday
    expect(of(lay([weld()], '2026-03-06'), 'w')).toMatchObject({ start: '2026-03-06', end: '2026-03-09' })
    expect(of(lay([weld({ sundays: true })], '2026-03-06'), 'w')).toMatchObject({ end: '2026-03-08' })
    expect(of(lay([weld()], '2026-03-08'), 'w')).toMatchObject({ start: '2026-03-09', end: '2026-03-11' })
  })
  it('lead time counts from the booking, and from today where nothing was booked, however long ago the job began', () => {
    const weld = (more: Partial<CalendarTask> = {}): CalendarTask => ({
      id: 'w',
      kind: 'trade',
      amount: 1,
      after: [],
      person: 0,
      leadDays: 10,
      ...more,
    })
    expect(of(lay([weld()], '2026-01-05', '2026-03-02'), 'w').start).toBe('2026-03-12')
    expect(of(lay([weld({ booked: '2026-02-25' })], '2026-01-05', '2026-03-02'), 'w').start).toBe('2026-03-07')
  })
  /**
   * Nine tasks on three processors: Graham, Bounds on multiprocessing timing anomalies, SIAM J. Appl. Math. 17 (1969), schedule of length 12. Here
   * each has the hands that the published list schedule gives it, and a day is a unit.
   */
  const graham = (() => {
    const rows: [string, number, number, string[]][] = [
      ['T1', 3, 0, []],
      ['T2', 2, 1, []],
      ['T3', 2, 2, []],
      ['T4', 2, 1, []],
      ['T5', 4, 1, ['T4']],
      ['T6', 4, 2, ['T4']],
      ['T7', 4, 1, ['T4']],
      ['T8', 4, 2, ['T4']],
      ['T9', 9, 0, ['T1']],
    ]
    return rows.map(([id, amount, person, after]) => work(id, amount, after, { person }))
  })()
  const always = [0, 1, 2].map(() => Array.from({ length: 7 }, () => 1))
  it('of the published network with its hands is 12 days long, with a critical chain through the hands', () => {
    const r = layOverCalendar(graham, always, '2026-03-02', '2026-03-02')
    expect(r.end).toBe('2026-03-13')
    expect(r.chain.join('-')).toBe('T1-T9')
    // by order alone T5 to T8 have six days of slack; T7 has two before its hands must still do T2, which needs nothing done
    expect([of(r, 'T1').slackDays, of(r, 'T9').slackDays, of(r, 'T7').slackDays]).toEqual([0, 0, 2])
  })
  it('hands make a chain where order makes none: five days, then five that were ready on the fourth, beside a wait of six', () => {
    const wait = (id: string, amount: number): CalendarTask => ({ id, kind: 'wait', amount, after: [], person: 0 })
    const r = layOverCalendar([wait('cure', 3), work('a', 5), work('b', 5, ['cure']), wait('long', 6)], always, '2026-03-02', '2026-03-02')
    expect(r.end).toBe('2026-03-11')
    expect(r.chain).toEqual(['a', 'b'])
    // b could have begun on the fourth day: the cure has two days, the long wait four
    expect([of(r, 'a').slackDays, of(r, 'b').slackDays, of(r, 'cure').slackDays, of(r, 'long').slackDays]).toEqual([0, 0, 2, 4])
  })
  it('slack is what the end bears: begun that much later it holds, a day more and the job ends later', () => {
    const jobs = fc.record({
      hours: fc.array(fc.array(fc.integer({ min: 0, max: 4 }), { minLength: 7, maxLength: 7 }), { minLength: 2, maxLength: 2 }),
      rows: fc.array(fc.tuple(fc.integer({ min: 1, max: 12 }), fc.nat(1), fc.array(fc.nat(9), { maxLength: 2 }), fc.nat(9)), {
        minLength: 2,
        maxLength: 9,
      }),
    })
    fc.assert(
      fc.property(jobs, fc.nat(8), ({ hours, rows }, pick) => {
        fc.pre(hours.every((week) => week.some((h) => h > 0)))
        const tasks = rows.map(([amount, person, before, kind], i): CalendarTask => ({
          id: `t${i}`,
          kind: kind === 0 ? 'wait' : kind === 1 ? 'trade' : 'work',
          amount,
          person,
          after: [...new Set(before.filter((b) => b < i).map((b) => `t${b}`))],
        }))
        const laid = layOverCalendar(tasks, hours, '2026-03-02', '2026-03-02')
        const chosen = laid.entries[pick % tasks.length]
        const begun = (later: number) => {
          const day = new Date(Date.parse(`${chosen.start}T00:00:00Z`) + later * 86_400_000).toISOString().slice(0, 10)
          return layOverCalendar(
            tasks.map((t) => (t.id === chosen.id ? { ...t, notBefore: day } : t)),
            hours,
            '2026-03-02',
            '2026-03-02',
          ).end
        }
        return begun(chosen.slackDays) <= laid.end && begun(chosen.slackDays + 1) > laid.end && laid.chain.length > 0
      }),
      { numRuns: 120 },
    )
  })
})
