import { at, finding, latest, station } from '../kernel/index.ts'
import { handoverEntries } from './entries.ts'

export const handover = station({
  id: 'handover',
  number: 12,
  title: 'Hand-over',
  question: 'What was done, measured and left open?',
  key: 'h',
  after: ['learn'],
  entries: handoverEntries,
  rules: [
    {
      id: 'handover.after',
      where: at('handover', undefined, 'handover.after'),
      check: ({ facts, readings }) =>
        facts.baseline !== undefined && latest(readings, 'start.ran') && !latest(readings, 'handover.after')
          ? finding(
              'note',
              'It has not been rated again',
              'How it drove on the carburettor is recorded, and nothing of how it drives now: the owner cannot see what was gained.',
              'Let the same driver give the same five marks, and measure the same starts.',
            )
          : null,
    },
  ],
  requirements: ({ readings }) => [
    {
      id: 'signed',
      met: latest(readings, 'handover.signed') !== null,
      action: 'Print the report, walk through it with the owner, and record the signature',
      where: at('handover', undefined, 'handover.signed'),
    },
  ],
  contributes: {
    tasks: ({ readings }) => [
      {
        id: 'hand-over',
        title: 'Hand-over',
        station: 'handover',
        kind: 'work',
        base: 1,
        after: ['proving', 'tidy'],
        provenDone: latest(readings, 'handover.signed')?.takenAt,
      },
    ],
  },
})
