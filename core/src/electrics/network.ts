import { z } from 'zod'
import { defineCalculation, factorSpd, solveFactored } from '../kernel/index.ts'

const name = z.string().trim().min(1, 'must have a name').max(60)
/** A resistance, with a source in it where `volt` is given; or a load that draws a constant current. */
const Element = z
  .strictObject({
    id: name,
    from: name.describe('node'),
    to: name.describe('node'),
    ohm: z.number().positive('must be over 0 ohm').max(1e9).optional().describe('resistance, a source’s inner one with it'),
    volt: z.number().min(-1000).max(1000).optional().describe('of a source: `to` is lifted over `from` by it, V'),
    amp: z.number().min(-10_000).max(10_000).optional().describe('constant current from `from` to `to`, A'),
  })
  .superRefine((e, context) => {
    const issue = (path: string, message: string): void => context.addIssue({ code: 'custom', path: [path], message })
    if (e.from === e.to) issue('to', `"${e.id}" must lead to another node than "${e.from}"`)
    if ((e.ohm === undefined) === (e.amp === undefined)) issue('ohm', `"${e.id}" must have either ohm or amp`)
    if (e.volt !== undefined && e.ohm === undefined) issue('ohm', `"${e.id}" is a source and must have its inner resistance, over 0 ohm`)
  })
type Element = z.infer<typeof Element>

/** Nodes that ground reaches over resistances; any other floats, and has no voltage. */
function grounded(groundNode: string, elements: readonly Element[]): Set<string> {
  const reached = new Set([groundNode])
  for (let grew = true; grew;) {
    grew = false
    for (const { from, to, ohm } of elements)
      if (ohm !== undefined && reached.has(from) !== reached.has(to)) {
        reached.add(from).add(to)
        grew = true
      }
  }
  return reached
}

const Network = z
  .strictObject({ groundNode: name, elements: z.array(Element).min(1).max(1000) })
  .superRefine(({ groundNode, elements }, context) => {
    const seen = new Set<string>()
    const reached = grounded(groundNode, elements)
    elements.forEach((e, i) => {
      if (seen.has(e.id)) context.addIssue({ code: 'custom', path: ['elements', i, 'id'], message: `"${e.id}" stands twice` })
      seen.add(e.id)
      for (const end of ['from', 'to'] as const)
        if (!reached.has(e[end]))
          context.addIssue({
            code: 'custom',
            path: ['elements', i, end],
            message: `node "${e[end]}" floats: no resistance leads from it to "${groundNode}"`,
          })
    })
  })

export type Network = z.infer<typeof Network>

/**
 * Voltages of all nodes and currents of all elements.
 * @source nodal analysis: Kirchhoff's current law at each node but ground, sources as their Norton equivalents (Nilsson and Riedel, Electric Circuits, chapter 4)
 */
export const wiringNetwork = defineCalculation({
  id: 'wiring.network',
  title: 'Voltages and currents of a network',
  input: Network,
  output: z.object({ nodes: z.record(z.string(), z.number()), elements: z.record(z.string(), z.number()) }),
  formula: 'sum of currents at each node = 0;  current = (V from - V to + source) / R',
  source: 'Nilsson and Riedel, Electric Circuits, chapter 4 (node-voltage method)',
  run: ({ groundNode, elements }) => {
    const nodes = [...new Set(elements.flatMap((e) => [e.from, e.to]))].filter((n) => n !== groundNode)
    const at = new Map(nodes.map((n, i) => [n, i]))
    const n = nodes.length
    const conductance = new Float64Array(n * n)
    const fed = new Float64Array(n)
    const feed = (node: string, amps: number): void => {
      const i = at.get(node)
      if (i !== undefined) fed[i] += amps
    }
    for (const { from, to, ohm, volt = 0, amp } of elements) {
      const leaves = ohm === undefined ? amp! : volt / ohm
      feed(from, -leaves)
      feed(to, leaves)
      if (ohm === undefined) continue
      const [i, j] = [at.get(from), at.get(to)]
      if (i !== undefined) conductance[i * n + i] += 1 / ohm
      if (j !== undefined) conductance[j * n + j] += 1 / ohm
      if (i !== undefined && j !== undefined) {
        conductance[i * n + j] -= 1 / ohm
        conductance[j * n + i] -= 1 / ohm
      }
    }
    const factor = conductance.slice()
    factorSpd(factor, n)
    const volts = solveFactored(factor, fed)
    // milliohms beside kilohms: one correction by what is left over brings the currents to close
    const left = fed.slice()
    for (let i = 0; i < n; i++) for (let j = 0; j < n; j++) left[i] -= conductance[i * n + j] * volts[j]
    const more = solveFactored(factor, left)
    const voltOf = (node: string): number => (node === groundNode ? 0 : volts[at.get(node)!] + more[at.get(node)!])
    return {
      nodes: Object.fromEntries([groundNode, ...nodes].map((node) => [node, voltOf(node)])),
      elements: Object.fromEntries(
        elements.map(({ id, from, to, ohm, volt = 0, amp }) => [id, ohm === undefined ? amp! : (voltOf(from) - voltOf(to) + volt) / ohm]),
      ),
    }
  },
})
