import { at, type Context, finding, latest, type Rule } from '../kernel/index.ts'
import { MANY_PRIMES } from './limits.ts'

/** Injectors that did not click when the unit opened them one by one; empty when all did, null when nobody listened. */
export function silentInjectors(c: Pick<Context, 'readings'>): number[] | null {
  const heard = latest(c.readings, 'start.injectors')
  return heard ? heard.value.silent : null
}

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
