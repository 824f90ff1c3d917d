import { at, type Context, finding, latest, type Rule } from '../kernel/index.ts'
import { COOL_PORT_K, MANY_PRIMES } from './limits.ts'

/** Injectors that did not click when the unit opened them one by one; empty when all did, null when nobody listened. */
export function silentInjectors(c: Pick<Context, 'readings'>): number[] | null {
  const heard = latest(c.readings, 'start.injectors')
  return heard ? heard.value.silent : null
}

/** Cylinders whose exhaust port stands so far under the middle one that they do no work, by the thermometer's readings `port<cylinder>C`, degC. */
export function coolPorts(values: Record<string, number | string | null>): number[] {
  const ports = Object.entries(values).flatMap(([key, value]) => {
    const [, cylinder] = /^port(\d+)C$/.exec(key) ?? []
    return cylinder && typeof value === 'number' ? [{ cylinder: Number(cylinder), value }] : []
  })
  const middle = ports.map((p) => p.value).sort((a, b) => a - b)[ports.length >> 1]
  return ports.filter((p) => p.value < middle - COOL_PORT_K).map((p) => p.cylinder)
}

export const cylinderRules: Rule[] = [
  {
    id: 'start.cylinder-dead',
    where: at('start', 'crank'),
    check: (c) => {
      const cool = latest(c.readings, 'start.cylinders')?.value.cool ?? []
      return cool.length
        ? finding(
            'stop',
            cool.length === 1 ? `Cylinder ${cool[0]} does not work` : `Cylinders ${cool.join(', ')} do not work`,
            'It idles on the others; what one does not burn goes into the exhaust, and every number learned from it is wrong.',
            'Spark or fuel? Its lead and plug against a neighbour’s, then its injector. Two cool ones that follow each other in firing are two crossed leads.',
          )
        : null
    },
  },
  {
    id: 'start.idle-valve',
    where: at('start', 'key'),
    check: (c) =>
      latest(c.readings, 'start.idle-valve')?.value.moves === false
        ? finding(
            'warn',
            'The idle valve does not move',
            'It catches and dies, or never finds its idle, whatever fuel it gets.',
            'Its plug, its feed with the key on, its seat; then listen again at key-on.',
          )
        : null,
  },
]

export const injectorRules: Rule[] = [
  {
    id: 'start.injector-silent',
    where: at('start', 'key'),
    check: (c) => {
      const silent = silentInjectors(c)
      return silent?.length
        ? finding(
            'stop',
            silent.length === 1 ? `Injector ${silent[0]} does not click` : `Injectors ${silent.join(', ')} do not click`,
            'A cylinder or half a body without fuel runs lean next to one that is rich.',
            'Its plug, its feed with the key on, its wire to the unit; swap it with a neighbour. Then listen again and record it.',
          )
        : null
    },
  },
  {
    id: 'start.no-spray',
    where: at('start', 'prime'),
    check: (c) => {
      const heard = latest(c.readings, 'start.injectors')
      return heard?.value.spraySeen === false
        ? finding(
            'warn',
            'No prime spray was seen',
            'The injectors click, or should, and no fuel came at key-on.',
            'Fuel pressure first; then the prime pulse at Base tune.',
          )
        : null
    },
  },
  {
    id: 'start.many-primes',
    where: at('start', 'prime'),
    check: (c) => {
      const heard = latest(c.readings, 'start.injectors')
      return heard?.value.primes !== undefined && heard.value.primes >= MANY_PRIMES
        ? finding(
            'warn',
            `Primed ${heard.value.primes} times without a start`,
            'Each key-on sprays; the fuel lies in the intake.',
            'Crank with the throttle wide open to clear it before the next prime.',
          )
        : null
    },
  },
]
