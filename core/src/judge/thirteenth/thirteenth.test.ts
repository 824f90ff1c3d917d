import { describe, expect, it } from 'vitest'
import { madeReading, soundBuild } from '../made-up.fixture.ts'
import { roofOver } from '../roof.ts'
import { stations } from '../stations.ts'
import type { BuildData } from '../../kernel/build.ts'
import type { StoredReading } from '../../kernel/entry.ts'
import { wordsOf } from '../../kernel/say.ts'
import { partsList } from '../../plan/parts.ts'
import { planTasks } from '../../plan/tasks.ts'
import { heater } from './station.fixture.ts'

/** The line with the made-up station on it: this list is the one line a new station costs. */
const roof = roofOver([...stations, heater])
const reading = (held: boolean): StoredReading => madeReading('heater.tested' as never, { pressureKpa: 103.4, held })
const report = (b: BuildData) => roof.evaluate(b).stations.at(-1)!
const inch = { system: 'inch', mixture: 'lambda', stoichAfr: 14.7 } as const

describe('a thirteenth station is one folder and one line', () => {
  it('stands on the line with number, key and question, and waits for what it comes after', () => {
    expect(report(soundBuild())).toMatchObject({ id: 'heater', number: 13, title: 'Heater', key: 'e', state: 'ready', waitsFor: [] })
    expect(report({ ...soundBuild(), facts: {} })).toMatchObject({ state: 'open', waitsFor: ['survey'] })
  })
  it('its fact, its choice and its entry are taken, within their bounds', () => {
    expect(roof.Facts.safeParse({ heater: { matrixKpa: 110 } }).success).toBe(true)
    expect(roof.Facts.safeParse({ heater: { matrixKpa: 310 } }).success).toBe(false)
    expect(roof.Choices.safeParse({ heater: { kept: true } }).success).toBe(true)
    expect(roof.Choices.safeParse({ heater: { lost: true } }).success).toBe(false)
    const kind = roof.entryKinds['heater.tested' as never] as { schema: { safeParse: (v: unknown) => { success: boolean } } }
    expect(kind.schema.safeParse({ pressureKpa: 100, held: true }).success).toBe(true)
    expect(kind.schema.safeParse({ pressureKpa: 301, held: true }).success).toBe(false)
  })
  it('its rule stops it, its entry clears it', () => {
    const leaking = report(soundBuild({}, [reading(false)]))
    expect(leaking.state).toBe('blocked')
    expect(leaking.findings[0]).toMatchObject({
      id: 'heater.leaks',
      because: 'It lost 103 kPa.',
      where: { station: 'heater', field: 'heater.tested' },
    })
    expect(wordsOf(leaking.findings[0].said.because, inch)).toBe('It lost 15.0 psi.')
    expect(report(soundBuild({}, [reading(true)])).state).toBe('cleared')
  })
  it('its words stand in the logbook in the reader’s units', () => {
    const { says } = roof.entryKinds['heater.tested' as never] as { says: (v: object) => never }
    expect(wordsOf(says({ pressureKpa: 103.4, held: true }))).toBe('Heater matrix at 103 kPa: held')
    expect(wordsOf(says({ pressureKpa: 103.4, held: true }), inch)).toBe('Heater matrix at 15.0 psi: held')
  })
  it('Plan lists the part and the task it contributes, in order', () => {
    const c = roof.contextOf(soundBuild())
    expect(partsList(c).find((p) => p.id === 'heater-hose')).toMatchObject({ quantity: 2, unit: 'm', price: 4 })
    const tasks = planTasks(c).map((t) => t.id)
    expect(tasks.indexOf('removal')).toBeLessThan(tasks.indexOf('heater'))
    expect(tasks.indexOf('heater')).toBeLessThan(tasks.indexOf('hand-over'))
    expect(planTasks(c).find((t) => t.id === 'hand-over')!.after).toContain('heater')
  })
})

describe('a rule that throws', () => {
  const broken = {
    ...heater,
    rules: [
      {
        id: 'heater.broken',
        check: () => {
          throw new Error('no such sensor')
        },
      },
    ],
  }
  const before = roofOver([broken, ...stations])
  it('is a stop that holds all after it, and leaves the other rules alone', () => {
    const { stations: reports, failures } = before.evaluate(soundBuild())
    expect(failures).toEqual([{ rule: 'heater.broken', error: expect.stringContaining('no such sensor') }])
    for (const r of reports)
      expect(r.findings[0]).toMatchObject({ id: 'heater.broken', severity: 'stop', message: 'A check could not be made' })
    expect(reports.find((r) => r.id === 'survey')!.findings.length).toBeGreaterThan(1)
  })
  it('shuts the key of the first start', () => {
    const start = before.evaluate(soundBuild()).stations.find((r) => r.id === 'start')!
    expect(start.state).toBe('blocked')
  })
})

describe('one line of stations', () => {
  it('numbers rise, ids and keys are their own, and each comes after stations before it', () => {
    expect(stations.map((s) => s.number)).toEqual([...stations.map((s) => s.number)].sort((a, b) => a - b))
    expect(new Set(stations.map((s) => s.id)).size).toBe(stations.length)
    expect(new Set(stations.map((s) => s.key)).size).toBe(stations.length)
    stations.forEach((s, i) => {
      const earlier: string[] = stations.slice(0, i).map((e) => e.id)
      for (const id of s.after) expect(earlier).toContain(id)
    })
  })
})
