import { at, type Context, degC, finding, kPa, latest, type Rule, rootBetween, say } from '../kernel/index.ts'
import { circuitDefaults, designOf, type FuelDesign } from './design.ts'
import { vapourPressureKpa } from './fluid.ts'
import { IDLING_MIN, IDLING_STOP_MIN, INLET_STOP_KPA, SOAKED_RAIL_C } from './limits.ts'
import { secondsToRise, tankRiseK } from './warming.ts'

const BOILING_SPAN_C = 90
const HOUR_S = 3600
const summerRvp = (c: Context): number => c.fuel.summerRvpKpa ?? circuitDefaults.summerRvpKpa

/** Temperature at which the pump's inlet has no margin left at idle, and when an idling car gets there; null when it never does. */
function tankHeat(c: Context, d: FuelDesign): { boilsAtC: number; seconds: number | null; afterHourC: number } {
  const idle = d.solutions.find((s) => s.state === 'idle')!
  const boilsAtC = rootBetween(
    (t) => idle.inletAbsKpa - vapourPressureKpa(summerRvp(c), t) - INLET_STOP_KPA,
    -BOILING_SPAN_C,
    BOILING_SPAN_C,
  )
  const { fromC } = d.tank
  return { boilsAtC, seconds: secondsToRise(d.tank, boilsAtC - fromC), afterHourC: fromC + tankRiseK(d.tank, HOUR_S) }
}

/** What heat does while the car idles and after it is stopped. */
export const heatRules: Rule[] = [
  {
    id: 'fuel.tank-heat',
    check: (c) => {
      const d = designOf(c)
      if (!d) return null
      const { boilsAtC, seconds, afterHourC } = tankHeat(c, d)
      // boiling at once is the inlet's own finding
      if (seconds === null || seconds <= 0 || seconds > 60 * IDLING_MIN) return null
      const minutes = seconds / 60
      return finding(
        minutes < IDLING_STOP_MIN ? 'stop' : 'warn',
        'Idling on a hot day warms the tank until the pump boils its fuel',
        say`From ${degC(d.tank.fromC)} a quarter-full tank reaches ${degC(boilsAtC)} after ${minutes.toFixed(0)} min (${degC(afterHourC)} after an hour), with ${d.tank.heatW.toFixed(0)} W coming back; there the fuel’s vapour leaves under ${kPa(INLET_STOP_KPA)} at the pump’s inlet.`,
        'A smaller pump or one run slower at idle, a returnless layout, more fuel in the tank, or a pump in the tank.',
      )
    },
  },
  {
    id: 'fuel.hot-soak',
    where: at('fuel', 'proof', 'fuel.bleed-down'),
    check: (c) => {
      const setKpa = c.fuel.regulator?.setKpa
      const bleed = latest(c.readings, 'fuel.bleed-down')
      if (!setKpa) return null
      const { barometerKpa } = c.resolved
      const neededKpa = vapourPressureKpa(summerRvp(c), SOAKED_RAIL_C) - barometerKpa
      if (setKpa < neededKpa)
        return finding(
          c.fuel.layout === 'returnless' ? 'warn' : 'note',
          'The rail boils in a hot soak whatever holds its pressure',
          say`Twenty minutes after a hot stop the fuel stands near ${degC(SOAKED_RAIL_C)} and boils below ${kPa(neededKpa)}; the system holds ${kPa(setKpa)}.`,
          c.fuel.layout === 'returnless'
            ? 'A return past the injectors carries the vapour off; without one prime two or three times before a hot start.'
            : 'The return carries the vapour off: prime twice before a hot start, and prove it hot.',
        )
      if (!bleed) return null
      const { at5Kpa, at10Kpa } = bleed.value
      // it goes on falling as it fell from the fifth minute to the tenth
      const at20Kpa = at5Kpa > 0 ? at10Kpa * (at10Kpa / at5Kpa) ** 2 : 0
      return at20Kpa < neededKpa
        ? finding(
            'warn',
            'After a hot stop the fuel in the rail will boil',
            say`By its bleed-down ${kPa(at20Kpa)} are left after 20 minutes; near ${degC(SOAKED_RAIL_C)} summer fuel boils below ${kPa(neededKpa)}: long hot starts.`,
            'Cure the bleed-down, shield the rail from the manifold, or prime twice before a hot start. Prove it with a 20-minute soak.',
          )
        : null
    },
  },
]
