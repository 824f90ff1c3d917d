import { describe, expect, it } from 'vitest'
import { contextOf, evaluate } from '../judge/judgement.ts'
import { madeReading, soundBuild } from '../judge/made-up.fixture.ts'
import { mergePatch, patchFor } from '../kernel/index.ts'
import { likeCar, notLookedAt, takenKey } from './like.ts'

const source = soundBuild(
  {
    facts: {
      car: { make: 'Tarnbrook', owner: 'somebody', year: 1962, class: 'saloon' },
      health: { compressionKpa: [1000, 1000, 1000, 1000, 1000, 1000] },
      baseline: { idleRpm: 700 },
      electrics: { restV: 12.6 },
    },
    choices: {
      plan: {
        parts: { pump: { status: 'fitted' } },
        tasks: { wiring: { done: '2026-03-01' } },
        overrides: { pump: { value: 99, reason: 'drawer' } },
      },
    },
  },
  [madeReading('fuel.arrows', { right: true })],
)
const begun = { id: 'new', title: 'new', readings: [], tunes: [], logs: [], ...likeCar(source) } as unknown as ReturnType<typeof soundBuild>
const requirement = (build: typeof begun) => evaluate(build).stations[0].requirements.find((r) => r.id === 'alike')

describe('a build begun from a like car of the shop', () => {
  it('takes over what is of the kind, and nothing of that car, its day, its people or its job', () => {
    expect(begun.facts.engine).toEqual(source.facts.engine)
    expect(begun.facts.car).toEqual({ make: 'Tarnbrook', class: 'saloon' })
    expect([begun.facts.health, begun.facts.baseline, begun.facts.electrics?.restV, begun.facts.place?.barometerKpa]).toEqual([
      undefined,
      undefined,
      undefined,
      undefined,
    ])
    expect(begun.choices.plan).toMatchObject({ route: 'throttle-body', injectorCcMin: 520 })
    expect([begun.choices.plan!.parts, begun.choices.plan!.tasks, begun.choices.plan!.overrides]).toEqual([undefined, undefined, undefined])
    expect([begun.readings, begun.tunes]).toEqual([[], []])
  })
  it('is not cleared at Survey until each fact was looked at: changed, or said to be so here', () => {
    const open = notLookedAt(contextOf(begun))
    expect(open).toContain('engine.cylinders')
    expect(requirement(begun)!.met).toBe(false)
    expect(evaluate(begun).stations[0].state).not.toBe('cleared')
    // changed: it is this car's own
    const changed = mergePatch(begun, { facts: { engine: { redlineRpm: 5000 } } }) as typeof begun
    expect(notLookedAt(contextOf(changed))).not.toContain('engine.redlineRpm')
    // said to be so: taken off the list, one by one
    let looked: unknown = begun
    for (const path of open) looked = mergePatch(looked, patchFor(`choices.survey.like.taken.${takenKey(path)}`, null))
    expect(notLookedAt(contextOf(looked as typeof begun))).toEqual([])
    expect(requirement(looked as typeof begun)!.met).toBe(true)
    // a build of its own is asked nothing
    expect(requirement(soundBuild())).toBeUndefined()
  })
})
