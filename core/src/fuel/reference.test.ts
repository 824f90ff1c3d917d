import { describe, expect, it } from 'vitest'
import { evaluate } from '../judge/judgement.ts'
import { soundBuild } from '../judge/made-up.fixture.ts'

/** The made-up car: 300 kPa set, idle at 52 kPa of vacuum, port left open. */
const judged = (route: string, induction: object, reference = 'open') =>
  evaluate(
    soundBuild({
      facts: { induction },
      choices: { plan: { route, injectors: route === 'multi-port' ? 6 : 2 }, fuel: { regulator: { reference } } },
    }),
  )
    .stations.find((s) => s.id === 'fuel')!
    .findings.find((f) => f.id === 'fuel.reference')

describe('where the regulator’s port goes, judged in the worst state', () => {
  it.each<[string, string, object, string, string, string | undefined]>([
    // sqrt(230/300) = 0.8756
    ['blow-through body, 70 kPa, port open', 'throttle-body', { kind: 'blow-through', boostKpa: 70 }, 'open', '-12.4 %', 'stop'],
    ['the same, port above the plates', 'throttle-body', { kind: 'blow-through', boostKpa: 70 }, 'above-plates', '', undefined],
    ['the same, capped', 'throttle-body', { kind: 'blow-through', boostKpa: 70 }, 'capped', '-12.4 %', 'stop'],
    // sqrt(200/300) = 0.8165
    ['ports, 100 kPa, port open', 'multi-port', { kind: 'blow-through', boostKpa: 100 }, 'open', '-18.4 %', 'stop'],
    ['ports, 100 kPa, nobody said where the blower is', 'multi-port', { kind: null, boostKpa: 100 }, 'open', '-18.4 %', 'stop'],
    ['a body before the blower stays open', 'throttle-body', { kind: 'draw-through', boostKpa: 70 }, 'open', '', undefined],
    // sqrt(370/300) = 1.1106 where it is loaded
    ['and drowns when connected', 'throttle-body', { kind: 'draw-through', boostKpa: 70 }, 'manifold', '+11.1 %', 'warn'],
    // sqrt(248/300) = 0.9092 at idle, right at full load
    ['a natural body connected', 'throttle-body', { kind: 'natural' }, 'manifold', '-9.1 %', 'warn'],
    // sqrt(352/300) = 1.0832 at idle; 2 % lean at full load is 11.88 kPa of boost
    ['ports, 11.8 kPa, port open', 'multi-port', { kind: 'blow-through', boostKpa: 11.8 }, 'open', '+8.3 %', 'warn'],
    ['ports, 12 kPa, port open', 'multi-port', { kind: 'blow-through', boostKpa: 12 }, 'open', '-2.0 %', 'stop'],
  ])('%s', (_what, route, induction, reference, words, severity) => {
    const found = judged(route, induction, reference)
    expect(found?.severity).toBe(severity)
    if (severity) expect(found!.because).toContain(`${words} fuel against the tune`)
  })
})
