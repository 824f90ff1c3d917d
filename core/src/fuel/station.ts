import { at, type JudgedContext, proved, type Requirement, station } from '../kernel/index.ts'
import { fuelAsks } from './asks.ts'
import { FuelChoices } from './circuit.ts'
import { fuelLoads, fuelPairs, fuelParts, fuelSizes, fuelTasks } from './contribution.ts'
import { missingForCircuit } from './design.ts'
import { fuelEntries } from './entries.ts'
import { fuelRules } from './findings.ts'
import { fuelNumbers } from './flow-findings.ts'
import { jointsOf, leakState } from './joints.ts'
import { provedPressure } from './pressure-check.ts'

const enclosed = (c: JudgedContext): boolean => jointsOf(c.fuel).some((j) => j.place === 'boot' || j.place === 'cabin')

function requirements(c: JudgedContext): Requirement[] {
  const missing = missingForCircuit(c)
  const leaks = leakState(c)
  const circuit = at('fuel', 'circuit')
  const proof = (step: string) => at('fuel', 'proof', step)
  const list: Requirement[] = [
    ...(missing.length
      ? missing.map((action, i) => ({ id: `circuit-${i}`, met: false, action, where: circuit }))
      : [{ id: 'circuit', met: true, action: '' }]),
    ...fuelAsks(c),
    {
      id: 'arrows',
      met: proved(c, 'fuel.arrows') !== null,
      proof: ['fuel.arrows'],
      action: 'Look at the flow arrows of pump, filter and check valve, and record them',
      where: proof('fuel.arrows'),
    },
    ...(enclosed(c)
      ? [
          {
            id: 'proof',
            met: proved(c, 'fuel.proof') !== null,
            proof: ['fuel.proof'],
            action: 'Prove the joints in closed spaces above working pressure before they are covered',
            where: proof('fuel.proof'),
          },
        ]
      : []),
    {
      id: 'prime',
      met: proved(c, 'fuel.prime') !== null,
      proof: ['fuel.prime'],
      action: 'Prime with a key-on, no start, until the pressure stands; record it',
      where: proof('fuel.prime'),
    },
    {
      id: 'pressure',
      met: provedPressure(c) !== null,
      proof: ['fuel.pressure'],
      action: 'Read the gauge with the engine off and set the regulator',
      where: proof('fuel.pressure'),
    },
    {
      id: 'leaks',
      met: leaks.passed,
      proof: ['fuel.leak-check', 'fuel.joint'],
      action: leaks.unseen.length
        ? `Inspect the joints at pressure with a light and a dry towel: ${leaks.unseen.length} not seen dry`
        : 'Inspect every joint at pressure with a light and a dry towel',
      where: proof('fuel.leak-check'),
    },
  ]
  return list
}

export const fuel = station({
  id: 'fuel',
  number: 3,
  title: 'Fuel',
  question: 'Is the pressure right in every state, and is every joint dry?',
  key: 'u',
  after: ['plan'],
  choices: { fuel: FuelChoices },
  entries: fuelEntries,
  rules: fuelRules,
  requirements,
  numbers: fuelNumbers,
  cautions: ['vapour', 'earth-first', 'depressurise', 'pit', 'crank', 'two-people', 'tank-trade', 'law', 'sheet'],
  contributes: { sizes: fuelSizes, loads: fuelLoads, pairs: fuelPairs, parts: fuelParts, tasks: fuelTasks },
})
