import { at, station } from '../kernel/index.ts'
import { PlanChoices } from './choices.ts'
import { planRules } from './findings.ts'
import { planNumbers } from './sizes.ts'
import { ownTasks } from './tasks.ts'

export const plan = station({
  id: 'plan',
  number: 2,
  title: 'Plan',
  question: 'Which conversion suits this car, what does it take, and when is it done?',
  key: 'n',
  after: ['survey'],
  choices: { plan: PlanChoices },
  rules: planRules,
  requirements: ({ plan: p }) => [
    {
      id: 'route',
      met: p.route !== undefined,
      action: 'Choose the route: throttle body, multi-port or individual runner',
      where: at('plan', 'route'),
    },
    {
      id: 'timing',
      met: p.timingControl !== undefined,
      action: 'Decide whether the unit times the spark',
      where: at('plan', 'route', 'choices.plan.timingControl'),
    },
    {
      id: 'injectors',
      met: !!(p.injectors && p.injectorCcMin && p.injectorRatedKpa && p.fuelPressureKpa),
      action: 'Enter the injectors and the fuel pressure chosen',
      where: at(
        'plan',
        'sizes',
        `choices.plan.${(['injectors', 'injectorCcMin', 'injectorRatedKpa', 'fuelPressureKpa'] as const).find((k) => !p[k]) ?? 'injectors'}`,
      ),
    },
  ],
  numbers: planNumbers,
  cautions: ['sensor', 'tank-trade', 'law', 'sheet'],
  contributes: { tasks: ownTasks },
})
