import { describe, expect, it } from 'vitest'
import { contextOf } from '../judge/judgement.ts'
import { madeReading, severityOf, soundBuild } from '../judge/made-up.fixture.ts'
import { idlePulseMs } from '../plan/route-reasons.ts'
import { planSizes } from '../plan/sizes.ts'

describe('limits of the injectors (handbook 01 and 02)', () => {
  const size = (id: string) => planSizes(contextOf(soundBuild())).find((s) => s.sizeId === id)!.value!
  it('the pump gives a quarter more than full power takes', () =>
    // 96 kW x 290 g/kWh / 745 g/L x 1.25
    expect(size('pump')).toBeCloseTo(46.71, 1))
  it('injectors are sized for 85 % duty', () =>
    // 96 x 290 / 3600 / 2 / 0.85 g/s = 4.549 g/s = 366.4 cc/min
    expect(size('injector')).toBeCloseTo(366.4, 0))
  it('a pressure within 4 % is taken, beyond it is told', () => {
    const read = (pressureKpa: number) =>
      severityOf('fuel.pressure', {}, [madeReading('fuel.pressure', { pressureKpa, engineRunning: false })])
    expect([read(288.5), read(311.5), read(287.5), read(312.5)]).toEqual([null, null, 'warn', 'warn'])
  })
  it('an idle pulse under 1.5 ms warns, under 1 ms stops', () => {
    // the pulse shrinks as the injector grows: find the flow of a pulse by hand from two readings of the same law
    const pulse = (flow: number) => idlePulseMs(contextOf(soundBuild()), 'throttle-body', 2, flow)!
    const open = (pulse(500) - 0.9) * 500
    const flowFor = (ms: number) => open / (ms - 0.9)
    const rate = (ms: number) =>
      severityOf('plan.injector-large', { choices: { plan: { injectorCcMin: flowFor(ms), injectorRatedKpa: 300, fuelPressureKpa: 300 } } })
    expect([rate(1.52), rate(1.48), rate(1.02), rate(0.98)]).toEqual([null, 'warn', 'warn', 'stop'])
  })
})
