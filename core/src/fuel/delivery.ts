import { at, type Context, degC, finding, kPa, litresPerHour, proved, readingsOf, type Rule, say } from '../kernel/index.ts'
import { PUMP_MARGIN_PCT } from '../injection/index.ts'
import { designOf } from './design.ts'
import { DELIVERY_SHARE } from './limits.ts'
import { pumpOf } from './pump.ts'

interface Delivery {
  warm: boolean
  measuredLph: number
  /** what the pump's curve gives at that pressure and voltage, L/h; null while no curve is entered */
  curveLph: number | null
  /** what full power takes, with the margin of the pump, L/h; null while the circuit cannot be worked out */
  wantedLph: number | null
  pressureKpa: number
  voltageV: number
}

/** The latest delivery into a can, cold and hot, against the curve and against what the engine takes. */
export function deliveries(c: Context): Delivery[] {
  const full = designOf(c)?.solutions.find((s) => s.state === 'full')
  const all = readingsOf(c.readings, 'fuel.delivery')
  return [false, true].flatMap((warm) => {
    const value = all.filter((r) => r.value.warm === warm).at(-1)?.value
    if (!value) return []
    const { litres, seconds, pressureKpa, voltageV } = value
    return [
      {
        warm,
        measuredLph: (litres * 3600) / seconds,
        curveLph: c.fuel.pump ? pumpOf(c.fuel.pump).flowLph(pressureKpa, voltageV) : null,
        wantedLph: full ? full.wantedLph * (1 + PUMP_MARGIN_PCT / 100) : null,
        pressureKpa,
        voltageV,
      },
    ]
  })
}

const when = ({ warm }: Delivery): string => (warm ? 'hot' : 'cold')

/** The one proof of a pump that needs no sheet: litres into a can in a minute, at set pressure and running volts. */
export const deliveryRules: Rule[] = [
  {
    id: 'fuel.delivery',
    where: at('fuel', 'proof', 'fuel.delivery'),
    check: (c) => {
      const measured = deliveries(c)
      const short = measured.find((m) => m.wantedLph !== null && m.measuredLph < m.wantedLph)
      if (short)
        return finding(
          short.measuredLph < short.wantedLph! / (1 + PUMP_MARGIN_PCT / 100) ? 'stop' : 'warn',
          'The pump delivers less than the engine takes',
          say`${litresPerHour(short.measuredLph)} into the can, ${when(short)}, at ${kPa(short.pressureKpa)} and ${short.voltageV.toFixed(1)} V; full power wants ${litresPerHour(short.wantedLph!)} with its margin of ${PUMP_MARGIN_PCT} %.`,
          'Look for a blocked strainer or filter, a thin supply wire, a return left open; then a larger pump.',
        )
      const weak = measured.find((m) => m.curveLph !== null && m.curveLph > 0 && m.measuredLph < DELIVERY_SHARE * m.curveLph)
      return weak
        ? finding(
            'warn',
            'The pump delivers less than its curve',
            say`${litresPerHour(weak.measuredLph)} into the can, ${when(weak)}, at ${kPa(weak.pressureKpa)} and ${weak.voltageV.toFixed(1)} V; its curve gives ${litresPerHour(weak.curveLph!)}.`,
            'Enough for this engine. Look at strainer, filter and volts all the same: a pump that weakens goes on weakening.',
          )
        : null
    },
  },
  {
    id: 'fuel.generic-pump',
    where: at('fuel', 'proof', 'fuel.delivery'),
    check: (c) => {
      if (!c.fuel.pump?.generic || proved(c, 'fuel.delivery')) return null
      return finding(
        'warn',
        'The pump curve is a stand-in',
        `A made-up class at ${c.fuel.pump.curves[0].voltageV.toFixed(1)} V, good for planning only: nothing yet shows that the pump in hand does as much.`,
        'Type the points from the sheet of the pump in hand, and measure its delivery into a can at set pressure and running volts.',
      )
    },
  },
  {
    id: 'fuel.delivery-hot',
    where: at('fuel', 'proof', 'fuel.delivery'),
    check: (c) => {
      const measured = deliveries(c)
      const [cold] = measured
      if (measured.length !== 1 || cold.warm) return null
      return finding(
        'note',
        'The delivery was measured cold only',
        say`A hot pump and hot fuel give less; the sums take ${degC(designOf(c)?.states['full-hot'].fluid.temperatureC ?? 45)}.`,
        'Measure it again after the first drive, hot.',
      )
    },
  },
]
