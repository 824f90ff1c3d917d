import { describe, expect, it } from 'vitest'
import { contextOf } from '../judge/judgement.ts'
import { soundBuild } from '../judge/made-up.fixture.ts'
import { neededFunctions } from './findings.ts'
import { judgeRoutes } from './routes.ts'
import { planSizes } from './sizes.ts'

const at = (patch: object) => contextOf(soundBuild(patch))
describe('limits of the plan', () => {
  it.each([
    [9.4, 'fits'],
    [9.5, 'work'],
  ])('timing control at %d:1', (compressionRatio, fit) =>
    expect(judgeRoutes(at({ facts: { engine: { compressionRatio } } }), false)[0].reasons.find((r) => r.id === 'timing')!.fit).toBe(fit),
  )
  it.each([
    [8, '2 injector outputs or more'],
    [9, '3 injector outputs or more'],
    [12, '3 injector outputs or more'],
    [13, '4 injector outputs or more'],
  ])('%d injectors want %s', (injectors, label) =>
    expect(neededFunctions(at({ choices: { plan: { injectors } } })).find((f) => f.id === 'injector-outputs')!.label).toBe(label),
  )
  it('the throttle is sized for 5 kPa: four times the loss needs half the area', () => {
    const bore = (patch: object) => planSizes(at(patch)).find((s) => s.sizeId === 'throttle')!.value!
    expect(bore({})).toBeCloseTo(bore({ choices: { plan: { throttleDropKpa: 5 } } }), 6)
    expect((bore({ choices: { plan: { throttleDropKpa: 1.25 } } }) / bore({})) ** 2).toBeCloseTo(2, 3)
  })
  it('an alternator runs at four fifths of its rating', () => {
    const size = planSizes(at({})).find((s) => s.sizeId === 'alternator')!
    // belt fan: 1.5 + 1.5 + 2 + 5 + 12 + 8 A and the pump
    const pump = Number(/[\d.]+/.exec(size.inputs.find((i) => i.name === 'pump')!.value)![0])
    expect(size.value!).toBeCloseTo((30 + pump) / 0.8, 0)
  })
})
