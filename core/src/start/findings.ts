import { cautionsFor } from '../job/cautions.ts'
import { finding, type Rule } from '../job/context.ts'

export const startRules: Rule[] = [
  {
    id: 'start.cautions',
    station: 'start',
    check: () =>
      finding(
        'note',
        'Before the key',
        cautionsFor('start')
          .filter((caution) => caution.kind === 'danger')
          .map((caution) => caution.text)
          .join(' '),
        cautionsFor('start')
          .filter((caution) => caution.kind === 'order')
          .map((caution) => caution.text)
          .join(' '),
      ),
  },
]
