import type { Context, Contributes } from '../kernel/index.ts'

/** Repairs that findings of the survey bring into the job, before anything is removed; hours of experienced hands. */
const repairs: { id: string; title: string; hours: number; because: string; when: (c: Context) => boolean }[] = [
  {
    id: 'polarity',
    title: 'Convert the car to negative earth',
    hours: 4,
    because: 'positive earth',
    when: ({ facts }) => facts.electrics?.polarity === 'positive-earth',
  },
  {
    id: 'alternator',
    title: 'Fit an alternator',
    hours: 3,
    because: 'dynamo',
    when: ({ facts }) => facts.electrics?.charging === 'dynamo',
  },
  {
    id: 'leads-plugs',
    title: 'Resistive leads and resistor plugs',
    hours: 0.7,
    because: 'interference',
    when: ({ facts }) => facts.ignition?.leads === 'solid-core' || facts.ignition?.plugs === 'plain',
  },
  {
    id: 'leaks',
    title: 'Cure vacuum and exhaust leaks',
    hours: 2,
    because: 'leaks found',
    when: ({ facts }) => facts.health?.vacuumLeaks === true || facts.exhaust?.leaks === true,
  },
  {
    id: 'valve-lash',
    title: 'Set the valves',
    hours: 1.5,
    because: 'valve lash',
    when: ({ facts }) => facts.health?.valveLashSet === false,
  },
]

export const surveyContribution: Contributes = {
  tasks: (c) =>
    repairs
      .filter((r) => r.when(c))
      .map(({ id, title, hours, because }) => ({
        id,
        title,
        station: 'survey',
        kind: 'work',
        base: hours,
        after: [],
        before: ['removal'],
        because,
      })),
}
