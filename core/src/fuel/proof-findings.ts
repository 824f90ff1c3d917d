import { at, type Context, finding, kPa, latest, readingsOf, type Rule, say, sayAll } from '../kernel/index.ts'
import { bleedDown } from './bleed-down.ts'
import { leakState } from './joints.ts'
import { DRAW_TOLERANCE, RECHECK_DAYS } from './limits.ts'
import { pressureChecks } from './pressure-check.ts'
import { pumpOf } from './pump.ts'

const n = (value: number, decimals = 0): string => value.toFixed(decimals)

/** What set-up and proof have shown: readings against what they should be. */
export const proofRules: Rule[] = [
  {
    id: 'fuel.leak',
    where: at('fuel', 'proof', 'fuel.leak-check'),
    holdsAllAfter: true,
    check: (c) => {
      const { wet } = leakState(c)
      return wet.length
        ? finding(
            'stop',
            'A fuel joint is wet',
            `${wet.join(', ')}.`,
            'Battery off, relieve pressure, mend the joint, prime again and record a dry check. No key before that.',
          )
        : null
    },
  },
  {
    id: 'fuel.proof',
    where: at('fuel', 'proof', 'fuel.proof'),
    holdsAllAfter: true,
    check: (c) => {
      const proof = latest(c.readings, 'fuel.proof')
      return proof && !proof.value.held
        ? finding(
            'stop',
            'The proof test of the covered joints did not hold',
            say`${kPa(proof.value.pressureKpa)} for ${n(proof.value.minutes)} min, seen by ${proof.who}.`,
            'Relieve pressure, remake the joint, and prove it again before it is covered.',
          )
        : null
    },
  },
  {
    id: 'fuel.arrows',
    where: at('fuel', 'proof', 'fuel.arrows'),
    check: (c) =>
      latest(c.readings, 'fuel.arrows')?.value.right === false
        ? finding(
            'stop',
            'A flow arrow points the wrong way',
            'Pump, filter and check valve pass fuel one way only.',
            'Turn the part round, then record the arrows again.',
          )
        : null,
  },
  {
    id: 'fuel.prime',
    where: at('fuel', 'proof', 'fuel.prime'),
    holdsAllAfter: true,
    check: (c) =>
      latest(c.readings, 'fuel.prime')?.value.pumpStops === false
        ? finding(
            'stop',
            'The pump does not stop by itself after priming',
            'With the key on and the engine still it must stop after its few seconds.',
            'Find what feeds it: relay stuck, wired to the switched supply, or the cut-off bridged. Prime again.',
          )
        : null,
  },
  {
    id: 'fuel.pressure',
    where: at('fuel', 'proof', 'fuel.pressure'),
    check: (c) => {
      const base = c.plan.fuelPressureKpa
      const bad = pressureChecks(c).filter((p) => p.off)
      if (!bad.length) return null
      return finding(
        'warn',
        'Fuel pressure is not what the tune expects',
        say`${sayAll(
          bad.map(
            (p) =>
              say`${p.running ? 'At idle' : 'Engine off'}: ${kPa(p.pressureKpa)} read${p.running ? say`, ${kPa(p.referenceKpa)} at the port` : ''} makes ${kPa(p.baseKpa)} of ${kPa(base!)}, ${p.fuelPct > 0 ? '+' : ''}${n(p.fuelPct, 1)} % fuel`,
          ),
        )}.`,
        'Set the regulator, or correct the pressure in the plan and compute the tune again.',
      )
    },
  },
  {
    id: 'fuel.bleed-down',
    where: at('fuel', 'proof', 'fuel.bleed-down'),
    check: (c) => {
      const reading = latest(c.readings, 'fuel.bleed-down')
      const verdict = reading ? bleedDown(reading.value, c.fuel.layout) : null
      return verdict && verdict.cause !== 'holds' ? finding('warn', 'The pressure does not stand', verdict.because, verdict.remedy) : null
    },
  },
  {
    id: 'fuel.pump-draw',
    where: at('fuel', 'proof', 'fuel.pump-draw'),
    check: (c) => {
      const draw = latest(c.readings, 'fuel.pump-draw')
      if (!draw || !c.fuel.pump) return null
      const expected = pumpOf(c.fuel.pump).currentA(draw.value.pressureKpa)
      if (expected === null || Math.abs(draw.value.currentA / expected - 1) <= DRAW_TOLERANCE) return null
      const high = draw.value.currentA > expected
      return finding(
        'warn',
        high ? 'The pump draws too much' : 'The pump draws too little',
        say`${n(draw.value.currentA, 1)} A at ${kPa(draw.value.pressureKpa)} and ${n(draw.value.voltageV, 1)} V; its curve says ${n(expected, 1)} A.`,
        high
          ? 'A blocked filter or line, or a worn pump: measure the pressure at the pump.'
          : 'Low voltage, air in the pump, or pressure relieved inside it.',
      )
    },
  },
  {
    id: 'fuel.recheck',
    where: at('fuel', 'proof', 'fuel.recheck'),
    check: (c) => {
      const due = rechecksDue(c)
      return due.length
        ? finding(
            due.some((d) => d.when === 'hot') ? 'warn' : 'note',
            'A leak check falls due',
            due.map((d) => `${d.label}, ${d.since}`).join('; ') + '.',
            'Look at every joint again, hot, and record it.',
          )
        : null
    },
  },
]

/** Leak checks after the first drive (hot) and after the first week, due once the engine has run. Dates only from readings: no clock here. */
export function rechecksDue(c: Context): { when: 'hot' | 'first-week'; label: string; since: string; dueAt: string }[] {
  // whatever was done to it since: it has run, and its joints were hot
  const ran = readingsOf(c.build.readings, 'start.ran')[0]
  if (!ran) return []
  const done = new Set(
    readingsOf(c.readings, 'fuel.recheck')
      .filter((r) => r.value.dry)
      .map((r) => r.value.when),
  )
  const dueAt = (days: number) => new Date(Date.parse(ran.takenAt) + days * 86_400_000).toISOString().slice(0, 10)
  return [
    { when: 'hot' as const, label: 'Hot, after the first drive', since: `engine first ran ${ran.takenAt.slice(0, 10)}`, dueAt: dueAt(0) },
    { when: 'first-week' as const, label: 'After the first week', since: `due ${dueAt(RECHECK_DAYS)}`, dueAt: dueAt(RECHECK_DAYS) },
  ].filter((d) => !done.has(d.when))
}
