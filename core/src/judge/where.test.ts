import { describe, expect, it } from 'vitest'
import type { Where } from '../kernel/finding.ts'
import { patchFor } from '../kernel/patch.ts'
import { sparkProcedure } from '../spark/procedure.ts'
import { findFact } from '../survey/facts.ts'
import { Choices, contextOf, entryKinds, evaluate, rules } from './judgement.ts'
import { madeReading, soundBuild } from './made-up.fixture.ts'
import { stations } from './stations.ts'

// the control unit has a room beside the line
const line: readonly string[] = [...stations.map((s) => s.id), 'unit']
const steps = (trigger: string) => sparkProcedure(contextOf(soundBuild({ choices: { spark: { trigger } } }))).map((s) => s.id)
const allSteps = new Set(['locked-magnetic', 'hall', 'crank-cam', 'toothed-wheel', 'own-curve', 'speed-signal'].flatMap(steps))

/** A place that a tap can lead to: a fact of the catalogue, a choice of a schema, a kind of entry, a step, an element, or a whole screen. */
function leads({ station, field }: Where): boolean {
  if (!line.includes(station)) return false
  if (field === undefined) return true
  if (field.startsWith('facts.')) return findFact(field.replace('facts.', '')) !== undefined
  if (field.startsWith('choices.')) {
    // a value no schema takes: a known field is refused by its type, an unknown one by its name
    const { choices } = patchFor(field, Symbol.iterator.toString())
    const parsed = Choices.safeParse(choices)
    return !parsed.success && parsed.error.issues.every((issue) => issue.code !== 'unrecognized_keys')
  }
  return field in entryKinds || allSteps.has(field) || /^[a-z]+:[\w-]+$/.test(field) || field === 'owner-name'
}

describe('every finding and every requirement leads to a place that is there', () => {
  it.each(rules.map((r) => [r.id, r.where] as const))('%s', (_id, where) => expect(where === undefined || leads(where)).toBe(true))
  it('a place that is not there would be noticed', () => {
    expect(leads({ station: 'survey', field: 'facts.engine.colour' })).toBe(false)
    expect(leads({ station: 'plan', field: 'choices.plan.colour' })).toBe(false)
    expect(leads({ station: 'plan', field: 'choices.plan.injectors' })).toBe(true)
    expect(leads({ station: 'heater' })).toBe(false)
  })
  it('requirements of an empty build and of a sound one', () => {
    for (const build of [soundBuild(), { ...soundBuild(), facts: {}, choices: {} }]) {
      const { stations: reports, next } = evaluate(build)
      expect(leads(next.where)).toBe(true)
      for (const report of reports) for (const r of report.requirements) expect(r.where === undefined || leads(r.where), r.id).toBe(true)
    }
  })
})

describe('Next steers', () => {
  it('an empty survey is led to its first missing fact', () =>
    expect(evaluate({ ...soundBuild(), facts: {} }).next).toMatchObject({
      station: 'survey',
      where: { station: 'survey', field: 'facts.engine.cylinders' },
    }))
  it('a reference that comes too late is led to its field, with the value offered', () => {
    const late = evaluate(soundBuild({ choices: { spark: { referenceDeg: 20 } } })).stations.find((s) => s.id === 'spark')!
    const { where, remedy } = late.findings.find((f) => f.id === 'spark.lead')!
    expect(where).toMatchObject({ station: 'spark', part: 'trigger', field: 'choices.spark.referenceDeg' })
    expect(remedy).toContain(`Set the reference to ${(where!.offer as number).toFixed(1)}°`)
  })
  it('a soft hose under pressure is led to on the drawing', () => {
    const build = soundBuild({
      choices: {
        fuel: { feed: [{ kind: 'line', id: 'soft', material: 'hose', hose: 'carburettor', boreMm: 8, lengthM: 1, place: 'bay' }] },
      },
    })
    const finding = evaluate(build)
      .stations.find((s) => s.id === 'fuel')!
      .findings.find((f) => f.id === 'fuel.soft-hose')!
    expect(finding.where).toEqual({ station: 'fuel', part: 'circuit', field: 'feed:soft' })
  })
  it('a finding without a place of its own leads to its station', () =>
    expect(
      evaluate(soundBuild({}, [madeReading('fuel.arrows', { right: false })]))
        .stations.flatMap((s) => s.findings)
        .every((f) => f.where !== undefined),
    ).toBe(true))
})
