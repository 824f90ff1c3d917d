import { finding, type Context, type Rule } from '../job/context.ts'
import { latest } from '../job/readings.ts'
import { PRESSURE_TOLERANCE } from './gates.ts'

const basePressureKpa = (c: Context): number | null => c.plan.fuelPressureKpa ?? null

export const startRules: Rule[] = [
  {
    id: 'start.leak',
    station: 'start',
    check: (c) => {
      const leak = latest(c.readings, 'fuel.leak-check')
      return leak && !leak.value.dry
        ? finding(
            'stop',
            'A fuel joint is wet',
            `${leak.value.where ?? 'Place not noted'}, seen by ${leak.who}.`,
            'Battery off, relieve pressure, mend the joint, prime again and record a dry check. No key before that.',
          )
        : null
    },
  },
  {
    id: 'start.pressure',
    station: 'start',
    check: (c) => {
      const pressure = latest(c.readings, 'fuel.pressure')
      const base = basePressureKpa(c)
      if (!pressure || base === null) return null
      const off = pressure.value.pressureKpa / base - 1
      const flowPct = 100 * (Math.sqrt(pressure.value.pressureKpa / base) - 1)
      return Math.abs(off) > PRESSURE_TOLERANCE
        ? finding(
            'warn',
            'Fuel pressure is not what the tune expects',
            `${pressure.value.pressureKpa.toFixed(0)} kPa read, ${base.toFixed(0)} kPa in the plan: ${flowPct > 0 ? '+' : ''}${flowPct.toFixed(1)} % fuel everywhere.`,
            'Set the regulator, or correct the pressure in the plan and compute the tune again.',
          )
        : null
    },
  },
  {
    id: 'start.cautions',
    station: 'start',
    check: () =>
      finding(
        'note',
        'Before the key',
        'Fuel vapour burns from a spark across the garage; belts and fans catch sleeves and hair.',
        'Wheels chocked, out of gear, brake on; exhaust led outside; extinguisher class B open; the person at the key and the one looking for leaks have agreed a stop word.',
      ),
  },
]
