import { at, finding, latest, readingsOf, type Rule, say, volts, amps } from '../kernel/index.ts'
import { wiringOf } from './car-plan.ts'
import { groundLimitV } from './entries.ts'
import { keyedVerdict } from './keyed.ts'
import { CRANKING_AT_UNIT_V, PARKED_A, USABLE_CHARGE, USUAL_BATTERY_AH, USUAL_RESET_V } from './limits.ts'
import { crankingAtUnitV, solveState } from './supply.ts'
import { begun } from './wrong-wires.ts'

export const supplyRules: Rule[] = [
  {
    id: 'wiring.keyed',
    where: at('wiring', 'checks', 'wiring.keyed'),
    check: (c) => {
      const last = latest(c.readings, 'wiring.keyed')
      if (!last) return null
      const v = keyedVerdict(last.value)
      if (v.kind === 'good' || v.kind === 'unknown') return null
      const good = readingsOf(c.readings, 'wiring.keyed').some((r) => keyedVerdict(r.value).kind === 'good')
      return good
        ? null
        : finding(
            'warn',
            `Keyed supply: ${last.value.wire} is ${v.title}`,
            v.because,
            'Try another wire; where none is good, a relay from the battery, triggered by one that is live while cranking.',
          )
    },
  },
  {
    id: 'wiring.ground-drop',
    where: at('wiring', 'checks', 'wiring.ground-drop'),
    check: (c) => {
      for (const which of ['unit', 'engine', 'body', 'sensor'] as const) {
        const last = readingsOf(c.readings, 'wiring.ground-drop')
          .filter((r) => r.value.which === which)
          .at(-1)
        if (last && last.value.dropV > groundLimitV[which])
          return finding(
            'warn',
            `Weak ground: ${which}`,
            say`${volts(last.value.dropV, 3)} over it; ${volts(groundLimitV[which])} is the most.`,
            which === 'unit' ? 'A wire of its own to the battery’s post.' : 'Clean metal, a new strap, a tight bolt; then measure again.',
          )
      }
      return null
    },
  },
  {
    id: 'wiring.casting',
    where: at('wiring', 'checks', 'wiring.ground-drop'),
    check: (c) =>
      wiringOf(c).unitGround === 'casting' &&
      !readingsOf(c.readings, 'wiring.ground-drop').some((r) => r.value.which === 'unit' && r.value.dropV <= groundLimitV.unit)
        ? finding(
            'warn',
            'The unit is grounded through its casting',
            'Paint and a dry bolt lift its ground; nobody has measured by how much.',
            'Measure the drop from casting to battery with loads on, or lay a wire of its own.',
          )
        : null,
  },
  {
    id: 'wiring.crank-volts',
    where: at('wiring', 'checks', 'wiring.crank-volts'),
    check: (c) => {
      if (!begun(c)) return null
      const here = crankingAtUnitV(c)
      const resetV = wiringOf(c).resetV ?? USUAL_RESET_V
      if (!here || here.volt >= CRANKING_AT_UNIT_V) return null
      return finding(
        here.measured && here.volt < resetV ? 'stop' : 'warn',
        'The unit gets too little while cranking',
        say`${volts(here.volt)} ${here.measured ? 'measured' : 'by the sums'}; it resets at ${volts(resetV)}, and ${volts(CRANKING_AT_UNIT_V)} is wanted.`,
        'Battery, its straps, then its feed: the largest drop first.',
      )
    },
  },
  {
    id: 'wiring.drained',
    where: at('wiring', 'supply'),
    check: (c) => {
      if (!begun(c)) return null
      const idle = solveState(c, 'idle')
      return idle.drains
        ? finding(
            'warn',
            'The battery drains at idle',
            say`${amps(idle.loadA)} drawn with everything on, ${amps(idle.chargingA)} given: ${String(Math.round(idle.drainMin!))} minutes until it no longer starts.`,
            'A larger alternator, a smaller pulley, or less on at idle.',
          )
        : null
    },
  },
  {
    id: 'wiring.parked-draw',
    where: at('wiring', 'checks', 'wiring.parked-draw'),
    check: (c) => {
      const last = latest(c.readings, 'wiring.parked-draw')
      return last && last.value.drawA > PARKED_A
        ? finding(
            'warn',
            'It draws with the key off',
            say`${amps(last.value.drawA, 3)}: a full battery is flat in ${String(Math.round((USABLE_CHARGE * (wiringOf(c).batteryAh ?? USUAL_BATTERY_AH)) / last.value.drawA / 24))} days.`,
            'Pull fuses one at a time until it falls.',
          )
        : null
    },
  },
  {
    id: 'wiring.short',
    where: at('wiring', 'checks', 'wiring.insulation'),
    check: (c) => {
      const last = latest(c.readings, 'wiring.insulation')
      return last && c.standings.get(last.id)?.stands === null
        ? finding(
            'stop',
            'A circuit is near ground',
            `${last.value.leastOhm} ohm${last.value.circuit ? ` at ${last.value.circuit}` : ''} before its fuse: something touches.`,
            'Find it before any fuse goes in: part the harness until it is gone.',
          )
        : null
    },
  },
]
