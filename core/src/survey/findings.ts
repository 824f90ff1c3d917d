import { finding, type Rule } from '../job/context.ts'
import { camClassFromIdleMap, camClassFromOverlap, overlapDeg } from './cam.ts'
import { isPermutation } from './firing-orders.ts'
import { sweptCc } from './resolve.ts'

/** Facts nothing can stand in for, each with why it is needed. The survey is cleared when all are there and no stop is left. */
export const neededFacts = [
  { path: 'engine.cylinders', label: 'number of cylinders', why: 'every firing interval comes from it' },
  { path: 'engine.displacementCc', label: 'displacement (or bore and stroke)', why: 'air and fuel come from it' },
  { path: 'engine.firingOrder', label: 'firing order', why: 'leads and coils follow it' },
  { path: 'ignition.kind', label: 'ignition now fitted', why: 'it decides how the unit can get its speed signal' },
  { path: 'ignition.leads', label: 'plug leads', why: 'solid-core leads upset a control unit' },
  { path: 'electrics.polarity', label: 'which battery pole is earthed', why: 'electronics need negative earth' },
  { path: 'plan.route', label: 'route (throttle body or multi-port)', why: 'injectors and tune follow it' },
] as const

export const surveyRules: Rule[] = [
  {
    id: 'survey.marine',
    station: 'survey',
    check: ({ facts }) =>
      facts.place?.use === 'boat'
        ? finding(
            'stop',
            'A boat is out of scope',
            'An engine bay that holds petrol vapour needs ignition-protected parts and marine rules.',
            'Leave this to a licensed marine trade. Vectum does not plan it.',
          )
        : null,
  },
  {
    id: 'survey.positive-earth',
    station: 'survey',
    check: ({ facts }) =>
      facts.electrics?.polarity === 'positive-earth'
        ? finding(
            'stop',
            'Positive earth',
            'Control unit, pump and sensors are all made for negative earth; connected the wrong way round they burn out.',
            'Convert the car to negative earth first: battery, coil, ammeter, charging, radio. Then change the fact.',
          )
        : null,
  },
  {
    id: 'survey.dynamo',
    station: 'survey',
    check: ({ facts }) => {
      const electrics = facts.electrics
      if (electrics?.charging !== 'dynamo') return null
      const idle = electrics.chargingIdleA
      return finding(
        'stop',
        'A dynamo cannot carry the system',
        `It gives ${idle === undefined ? 'little or nothing' : `${idle} A`} at idle; pump, unit, injectors and coil draw some 12-18 A all the time.`,
        'Fit an alternator of 45 A or more before the wiring is planned.',
      )
    },
  },
  {
    id: 'survey.solid-leads',
    station: 'survey',
    check: ({ facts }) =>
      facts.ignition?.leads === 'solid-core'
        ? finding(
            'stop',
            'Solid-core plug leads',
            'They radiate enough to reset a control unit, and a reset can leave the pump running.',
            'Fit resistive leads, and resistor plugs with them.',
          )
        : null,
  },
  {
    id: 'survey.plain-plugs',
    station: 'survey',
    check: ({ facts }) =>
      facts.ignition?.plugs === 'plain'
        ? finding(
            'warn',
            'Plugs without a resistor',
            'Interference rises with every spark that meets no resistance.',
            'Fit resistor plugs of the same heat range.',
          )
        : null,
  },
  {
    id: 'survey.firing-order',
    station: 'survey',
    check: ({ facts }) => {
      const { firingOrder, cylinders } = facts.engine ?? {}
      if (!firingOrder || !cylinders || isPermutation(firingOrder, cylinders)) return null
      return finding(
        'stop',
        'The firing order does not fit the engine',
        `${firingOrder.join('-')} is not each cylinder from 1 to ${cylinders} once.`,
        'Read it off the manifold or the manual and type it again.',
      )
    },
  },
  {
    id: 'survey.displacement',
    station: 'survey',
    check: ({ facts }) => {
      const { boreMm, strokeMm, cylinders, displacementCc } = facts.engine ?? {}
      if (!boreMm || !strokeMm || !cylinders || !displacementCc) return null
      const computed = sweptCc(boreMm, strokeMm, cylinders)
      const off = 100 * (displacementCc / computed - 1)
      return Math.abs(off) > 1
        ? finding(
            'warn',
            'Displacement does not match bore and stroke',
            `${boreMm} x ${strokeMm} mm x ${cylinders} makes ${computed.toFixed(0)} cc; entered is ${displacementCc.toFixed(0)} cc (${off > 0 ? '+' : ''}${off.toFixed(1)} %).`,
            'Check for an overbore or another crank, and correct whichever is wrong.',
          )
        : null
    },
  },
  {
    id: 'survey.cam-contradiction',
    station: 'survey',
    check: ({ facts, resolved }) => {
      const cam = facts.cam ?? {}
      const sources: [string, string][] = []
      if (cam.class) sources.push([`words (${cam.class})`, cam.class])
      if (cam.inletDurationDeg && cam.exhaustDurationDeg && cam.lobeSeparationDeg) {
        const overlap = overlapDeg(cam.inletDurationDeg, cam.exhaustDurationDeg, cam.lobeSeparationDeg)
        sources.push([`numbers (overlap ${overlap.toFixed(0)}° -> ${camClassFromOverlap(overlap)})`, camClassFromOverlap(overlap)])
      }
      if (cam.idleVacuumKpa !== undefined) {
        const map = resolved.barometerKpa - cam.idleVacuumKpa
        sources.push([`idle vacuum (MAP ${map.toFixed(0)} kPa -> ${camClassFromIdleMap(map)})`, camClassFromIdleMap(map)])
      }
      return new Set(sources.map((s) => s[1])).size > 1
        ? finding(
            'warn',
            'The cam data disagree',
            `${sources.map((s) => s[0]).join('; ')}.`,
            `The ${cam.idleVacuumKpa !== undefined ? 'measured vacuum' : 'numbers'} win${cam.idleVacuumKpa !== undefined ? 's' : ''} (${resolved.camClass}). Check for vacuum leaks and late timing before you trust it.`,
          )
        : null
    },
  },
  {
    id: 'survey.battery',
    station: 'survey',
    check: ({ facts }) => {
      const { restV, crankingV } = facts.electrics ?? {}
      if (crankingV !== undefined && crankingV < 9.5)
        return finding(
          'warn',
          'Battery falls low while cranking',
          `${crankingV.toFixed(1)} V cranking; units reset near 8 V and want 9.5 V or more at their plug.`,
          'Test battery, cables and starter before the first start.',
        )
      return restV !== undefined && restV < 12.2
        ? finding('warn', 'Battery is not charged', `${restV.toFixed(1)} V at rest; 12.2 V or more is wanted.`, 'Charge and test it.')
        : null
    },
  },
  {
    id: 'survey.tank-vent',
    station: 'survey',
    check: ({ facts }) =>
      facts.fuel?.tankVented === false
        ? finding(
            'warn',
            'The tank is not vented',
            'The pump draws the tank down until it starves, or collapses it.',
            'Fit a vent with a roll-over valve, as local code asks.',
          )
        : null,
  },
  {
    id: 'survey.siamesed',
    station: 'survey',
    check: ({ facts, plan }) =>
      facts.engine?.siamesedInlets && plan.route === 'multi-port'
        ? finding(
            'warn',
            'Shared inlet ports with multi-port injection',
            'Two cylinders draw from one port at unequal times, so equal pulses give unequal mixtures.',
            'Use phased injection with a cam signal, or the throttle body.',
          )
        : null,
  },
  {
    id: 'survey.assumptions',
    station: 'survey',
    check: ({ resolved }) =>
      resolved.assumptions.length
        ? finding(
            'note',
            `${resolved.assumptions.length} ${resolved.assumptions.length === 1 ? 'fact is' : 'facts are'} not known and assumed`,
            resolved.assumptions.map((a) => `${a.label} ${a.value} (${a.reason})`).join('; ') + '.',
            'Measure what you can; each answer sharpens the sums.',
          )
        : null,
  },
]
