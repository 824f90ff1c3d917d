import { at, station } from '../kernel/index.ts'
import { tuneEntries } from './entries.ts'
import { tuneProblems } from './findings.ts'

export const tune = station({
  id: 'tune',
  number: 7,
  title: 'Base tune',
  question: 'Will it start, idle and be safe at full load on the first turn of the key?',
  key: 't',
  after: ['plan'],
  entries: tuneEntries,
  rules: [],
  findings: tuneProblems,
  requirements: ({ build }) => [
    { id: 'tune', met: build.tunes.length > 0, action: 'Compute the base tune', where: at('tune') },
    {
      id: 'ready',
      met: build.tunes.some((t) => t.status !== 'draft' && t.status !== 'retired'),
      action: 'Look the tables over and mark the tune ready',
      where: at('tune'),
    },
  ],
  contributes: {
    tasks: ({ build }) => [
      {
        id: 'tune',
        title: 'Base tune computed and looked over',
        station: 'tune',
        kind: 'work',
        base: 0.5,
        after: [],
        provenDone: build.tunes.find((t) => t.status === 'in-car' || t.status === 'ready')?.createdAt,
      },
    ],
  },
})
