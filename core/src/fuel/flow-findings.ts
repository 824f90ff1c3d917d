import { PRESSURE_TOLERANCE, PUMP_MARGIN_PCT } from '../injection/index.ts'
import {
  at,
  type Context,
  degC,
  type DerivedNumber,
  finding,
  kPa,
  litres,
  litresPerHour,
  metres,
  metresPerSecond,
  mm,
  type Rule,
  say,
  sayAll,
  type Saying,
  shown,
} from '../kernel/index.ts'
import { boreTable, hasSump, type SectionId } from './circuit.ts'
import {
  CHARGING_HIGH_V,
  circuitDefaults,
  designOf,
  type FuelDesign,
  outletGaugeKpa,
  referenceGaugeKpa,
  stateMapKpa,
  wantedReference,
  withBore,
} from './design.ts'
import {
  FEED_LIMIT_M_S,
  HEIGHT_SPARE_KPA,
  INLET_STOP_KPA,
  INLET_WARN_KPA,
  LEAN_UNDER_LOAD_PCT,
  LIFT_LASTS_S,
  SUCTION_LIMIT_M_S,
} from './limits.ts'
import { velocityIn } from './line-drop.ts'
import { pumpOf } from './pump.ts'
import {
  type Branch,
  type CircuitSolution,
  type FuelStateId,
  fuelStates,
  returnFloorKpa,
  type SolvableCircuit,
  solveCircuit,
} from './solve.ts'
import { surgeReserve } from './surge-reserve.ts'
import { tankRiseK } from './warming.ts'

const n = (value: number, decimals = 0): string => value.toFixed(decimals)
const solutionOf = (d: FuelDesign, id: FuelStateId): CircuitSolution => d.solutions.find((s) => s.state === id)!
type Reference = NonNullable<Context['fuel']['regulator']>['reference']
const REFERENCE_STATES = ['idle', 'cruise', 'full'] as const
const titleOf = (id: FuelStateId): string => fuelStates.find((s) => s.id === id)!.detail

/** Smallest bore of the table with which a sum comes right; null when none does. */
function boreThatDoes(fits: (boreMm: number) => boolean): Saying | null {
  const found = boreTable.find((b) => fits(b.boreMm))
  return found ? say`${found.size} (${mm(found.boreMm)} bore)` : null
}
const withSection = (c: SolvableCircuit, id: SectionId, boreMm: number): SolvableCircuit => ({
  ...c,
  sections: { ...c.sections, [id]: withBore(c.sections[id] ?? [], boreMm) },
})
const floorState = (d: FuelDesign) => ({ ...d.states.idle, supplyV: CHARGING_HIGH_V })
const floors = new WeakMap<FuelDesign, { floorKpa: number; returnLph: number }>()
/** The floor of a design as it stands, worked out once. */
const floorOf = (d: FuelDesign): { floorKpa: number; returnLph: number } => {
  if (!floors.has(d)) floors.set(d, returnFloorKpa(d.circuit, floorState(d)))
  return floors.get(d)!
}
/** Lowest pressure that can be set, kPa over the reference port at idle; of another circuit in its place where one is given. */
export const returnFloor = (d: FuelDesign, circuit?: SolvableCircuit): number =>
  (circuit ? returnFloorKpa(circuit, floorState(d)) : floorOf(d)).floorKpa - d.states.idle.referenceKpa

/** The fastest flow over a limit in the sections asked for, over all states. */
function fastestIn(d: FuelDesign, counts: (section: SectionId) => boolean, limitMS: number): (Branch & { state: FuelStateId }) | null {
  let found: (Branch & { state: FuelStateId }) | null = null
  for (const { branches, state } of d.solutions)
    for (const b of branches)
      if (b.velocityMS !== null && b.velocityMS > limitMS && b.velocityMS > (found?.velocityMS ?? 0) && counts(b.section))
        found = { ...b, state }
  return found
}

/** The state in which a reference is furthest from the wanted one, by fuel; lean at full load before any other, since it melts pistons. */
function worstReference(c: Context, reference: Reference, wanted: Reference) {
  const { setKpa } = c.fuel.regulator!
  const across = (ref: Reference, mapKpa: number): number =>
    Math.max(0, setKpa + referenceGaugeKpa(ref, mapKpa, c.resolved.barometerKpa) - outletGaugeKpa(c, mapKpa))
  const judged = REFERENCE_STATES.map((state) => {
    const mapKpa = stateMapKpa(c, state)
    const [acrossKpa, wantedKpa] = [across(reference, mapKpa), across(wanted, mapKpa)]
    return { state, acrossKpa, wantedKpa, errorPct: 100 * (Math.sqrt(acrossKpa / wantedKpa) - 1) }
  })
  const full = judged.find((j) => j.state === 'full')!
  return full.errorPct < -LEAN_UNDER_LOAD_PCT ? full : judged.reduce((a, b) => (Math.abs(b.errorPct) > Math.abs(a.errorPct) ? b : a))
}

const design =
  (check: (d: FuelDesign, c: Context) => ReturnType<Rule['check']>): Rule['check'] =>
  (c) => {
    const d = designOf(c)
    return d ? check(d, c) : null
  }

/** What the solved circuit says: flow, pressure, voltage, vapour, each with what would cure it. */
export const flowRules: Rule[] = [
  {
    id: 'fuel.pump-small',
    check: design((d) => {
      const full = solutionOf(d, 'full')
      const margin = full.marginPct ?? 0
      if (margin >= PUMP_MARGIN_PCT) return null
      const wanted = full.wantedLph * (1 + PUMP_MARGIN_PCT / 100)
      const because = say`${litresPerHour(full.wantedLph * (1 + margin / 100))} at ${kPa(full.targetKpa)} and ${n(full.pumpV, 1)} V at the pump; full power takes ${litresPerHour(full.wantedLph)}, so the margin is ${n(margin)} % of ${PUMP_MARGIN_PCT} % wanted.`
      return finding(
        margin < 0 ? 'stop' : 'warn',
        margin < 0 ? 'The pump is too small at this pressure' : 'The pump has little margin at full power',
        because,
        say`A pump of ${litresPerHour(wanted)} or more at ${kPa(full.targetKpa)} and ${n(full.pumpV, 1)} V.`,
      )
    }),
  },
  {
    id: 'fuel.low-voltage',
    check: design((d) => {
      const hot = solutionOf(d, 'full-hot')
      return (solutionOf(d, 'full').marginPct ?? 0) >= 0 && (hot.marginPct ?? 0) < 0
        ? finding(
            'warn',
            'The pump cannot feed full power at 11.5 V with hot fuel',
            say`${litresPerHour(hot.pumpFlowLph)} at ${n(hot.pumpV, 1)} V at the pump, ${litresPerHour(hot.wantedLph)} wanted; the rail falls to ${kPa(hot.railKpa)}.`,
            'A larger pump, a thicker supply wire, or less power asked for while charging fails.',
          )
        : null
    }),
  },
  {
    id: 'fuel.wiring-drop',
    check: design((d, c) => {
      const full = solutionOf(d, 'full')
      if ((full.marginPct ?? 0) >= PUMP_MARGIN_PCT || full.pumpA === null) return null
      const without = solveCircuit({ ...d.circuit, wireOhm: 0 }, d.states.full)
      if ((without.marginPct ?? 0) < PUMP_MARGIN_PCT) return null
      const areaMm2 = c.fuel.wiring?.areaMm2 ?? circuitDefaults.wireAreaMm2
      const does = [1.5, 2.5, 4, 6, 10, 16].find(
        (area) =>
          (solveCircuit({ ...d.circuit, wireOhm: (d.circuit.wireOhm * areaMm2) / area }, d.states.full).marginPct ?? 0) >= PUMP_MARGIN_PCT,
      )
      return finding(
        'warn',
        'The pump is large enough, its wiring is not',
        `${n(full.supplyV - full.pumpV, 2)} V are lost at ${n(full.pumpA, 1)} A: ${n(full.pumpV, 1)} V at the pump gives ${n(full.marginPct ?? 0)} % margin, ${n(without.supplyV, 1)} V would give ${n(without.marginPct ?? 0)} %.`,
        does
          ? `${does} mm² or more to the pump, through a relay fed from the battery.`
          : 'A shorter, thicker supply through a relay fed from the battery.',
      )
    }),
  },
  {
    id: 'fuel.return-floor',
    check: design((d) => {
      const { setKpa } = d.circuit.regulator
      const floor = returnFloor(d)
      if (floor <= setKpa) return null
      const bore = boreThatDoes((b) => returnFloor(d, withSection(d.circuit, 'return', b)) < 0.9 * setKpa)
      return finding(
        'stop',
        'The return line holds the pressure up',
        say`With the regulator wide open at idle and ${CHARGING_HIGH_V} V, ${litresPerHour(floorOf(d).returnLph)} go back and leave ${kPa(floor)}; ${kPa(setKpa)} cannot be set.`,
        bore
          ? say`A return of ${bore}, or a smaller pump.`
          : 'A smaller pump: no bore of the table brings the floor under the set pressure. Look at the regulator’s own drop.',
      )
    }),
  },
  {
    id: 'fuel.not-held',
    check: design((d) => {
      const lost = d.solutions.filter(
        (s) => s.state !== 'prime' && s.state !== 'full-hot' && (s.regulator === 'closed' || s.regulator === 'starved'),
      )
      return lost.length
        ? finding(
            'stop',
            'The pressure is not held',
            say`${sayAll(lost.map((s) => say`${titleOf(s.state)}: ${kPa(s.railKpa)} of ${kPa(s.targetKpa)}`))}.`,
            'More pump flow at pressure, or less loss before the injectors.',
          )
        : null
    }),
  },
  {
    id: 'fuel.min-return',
    check: design((d) => {
      const below = d.solutions.find((s) => s.state !== 'full-hot' && s.regulator === 'below-minimum')
      return below
        ? finding(
            'warn',
            'Too little goes back for the regulator to hold',
            say`${litresPerHour(below.returnLph, 1)} return at ${titleOf(below.state)}; it needs ${litresPerHour(d.circuit.regulator.minReturnLph, 1)} to hold its pressure.`,
            'A larger pump, less loss before the regulator, or a regulator that holds with less.',
          )
        : null
    }),
  },
  {
    id: 'fuel.off-curve',
    check: design((d) => {
      const { lastPointKpa } = pumpOf(d.circuit.pump)
      const past = d.solutions.find((s) => s.pumpRiseKpa > lastPointKpa)
      return past
        ? finding(
            'warn',
            'The pump works beyond the last point of its curve',
            say`${kPa(past.pumpRiseKpa)} across it at ${titleOf(past.state)}; the curve ends at ${kPa(lastPointKpa)}, and nothing is known past it.`,
            'Type more points from the pump’s sheet.',
          )
        : null
    }),
  },
  {
    id: 'fuel.reference',
    where: at('fuel', 'circuit', 'choices.fuel.regulator.reference'),
    check: (c) => {
      const reference = c.fuel.regulator?.reference
      if (!reference || !c.plan.route) return null
      const wanted = wantedReference(c)
      if (reference === wanted) return null
      const words = {
        open: 'left open to air',
        manifold: 'connected to the manifold',
        'above-plates': 'connected above the plates',
        capped: 'capped',
      }
      const { state, acrossKpa, wantedKpa, errorPct } = worstReference(c, reference, wanted)
      // a capped port holds the pressure of the day it was capped: nothing is lean by sum, and nothing is sure
      const lean = state !== 'idle' && errorPct < -LEAN_UNDER_LOAD_PCT
      return finding(
        lean ? 'stop' : 'warn',
        reference === 'capped' ? 'The regulator’s port is capped' : 'The regulator’s port goes to the wrong place',
        say`With this route it should be ${words[wanted]}; it is ${words[reference]}. At ${titleOf(state)} ${kPa(acrossKpa)} stand across the injectors instead of ${kPa(wantedKpa)}: ${errorPct > 0 ? '+' : ''}${n(errorPct, 1)} % fuel against the tune${lean ? ', lean under load' : ''}.`,
        reference === 'capped'
          ? 'Open the port: sealed, the pressure drifts with the heat of the trapped air.'
          : `Have the port ${words[wanted]}${lean ? '' : ', unless the unit is set to compensate for the difference'}.`,
      )
    },
  },
  {
    id: 'fuel.pump-high',
    check: (c) => {
      const d = designOf(c)
      if (!d || c.fuel.pumpPlace === 'in-tank') return null
      const { pumpM, fuelM, sumpM } = d.circuit.heights
      const source = hasSump(d.circuit.layout) ? sumpM : fuelM
      return pumpM > source && !c.fuel.pump?.selfPriming
        ? finding(
            // a stand-in stops nobody
            d.heightsAssumed ? 'warn' : 'stop',
            'The pump stands above the fuel',
            say`Pump ${metres(pumpM)}, fuel ${metres(source)} above the ground at a quarter full${d.heightsAssumed ? ', one of them not measured' : ''}; this pump does not draw itself full.`,
            d.heightsAssumed
              ? 'Measure both heights on the car; then mount it below the outlet, or take an in-tank or a self-priming pump.'
              : 'Mount it below the outlet, or take an in-tank or a self-priming pump.',
          )
        : null
    },
  },
  {
    id: 'fuel.inlet',
    check: design((d, c) => {
      const worst = d.solutions.reduce((a, b) => (b.inletMarginKpa < a.inletMarginKpa ? b : a))
      if (worst.inletMarginKpa >= INLET_WARN_KPA) return null
      // a height that nobody measured cannot make the stop alone: the best place of the pump would have to fail too
      const headSpareKpa = d.heightsAssumed ? HEIGHT_SPARE_KPA : 0
      const stop = worst.inletMarginKpa + headSpareKpa < INLET_STOP_KPA
      return finding(
        stop ? 'stop' : 'warn',
        stop ? 'Fuel boils at the pump inlet' : 'Little margin against vapour at the pump inlet',
        say`${titleOf(worst.state)}: ${kPa(worst.inletAbsKpa, 1)} at the inlet, the fuel at ${degC(d.states[worst.state].fluid.temperatureC)} boils at ${kPa(worst.vapourKpa, 1)}; ${kPa(worst.inletMarginKpa, 1)} left of ${kPa(INLET_WARN_KPA)}${d.heightsAssumed ? '; a height is not measured' : ''}.`,
        c.fuel.pumpPlace === 'in-tank'
          ? 'A pump that stands deeper in its pot, a coarser strainer, cooler fuel: a larger tank or less of it sent round.'
          : 'A pump in the tank or lower, a larger suction bore, a coarser strainer, cooler fuel.',
      )
    }),
  },
  {
    id: 'fuel.feed-velocity',
    check: design((d) => {
      const fast = fastestIn(d, (section) => section !== 'suction', FEED_LIMIT_M_S)
      if (!fast) return null
      const bore = boreThatDoes((b) => velocityIn(fast.flowLph, b) <= FEED_LIMIT_M_S)
      return finding(
        'warn',
        'A line is too small for its flow',
        say`${fast.section}: ${fast.elementId} runs ${metresPerSecond(fast.velocityMS!)} at ${titleOf(fast.state)} (${litresPerHour(fast.flowLph)}); ${metresPerSecond(FEED_LIMIT_M_S)} is the limit.`,
        bore ? say`${bore} or larger.` : 'A larger bore than the table holds.',
        at('fuel', 'circuit', `${fast.section}:${fast.elementId}`),
      )
    }),
  },
  {
    id: 'fuel.suction-velocity',
    check: design((d) => {
      const fast = fastestIn(d, (section) => section === 'suction', SUCTION_LIMIT_M_S)
      if (!fast) return null
      const bore = boreThatDoes((b) => velocityIn(fast.flowLph, b) <= SUCTION_LIMIT_M_S)
      return finding(
        'warn',
        'The suction side is too small',
        say`${fast.elementId} runs ${metresPerSecond(fast.velocityMS!, 2)} at ${titleOf(fast.state)}; about ${metresPerSecond(SUCTION_LIMIT_M_S)} is the limit.`,
        bore ? say`${bore} or larger, as short as it can be.` : 'A larger bore than the table holds, as short as it can be.',
        at('fuel', 'circuit', `${fast.section}:${fast.elementId}`),
      )
    }),
  },
  {
    id: 'fuel.lift',
    check: design((d, c) => {
      // the state that empties the sump soonest; cruise goes on for hours
      const short = (['cruise', 'full'] as const).map((id) => solutionOf(d, id)).find((s) => s.lift && s.lift.deficitLph > 0)
      if (!short) return null
      const volumeL = c.fuel.sump?.volumeL ?? circuitDefaults.sumpL
      const { seconds } = surgeReserve.run({ volumeL, liftLph: short.lift!.flowLph, useLph: short.wantedLph })
      const cruising = short.state === 'cruise'
      return finding(
        cruising || seconds! < LIFT_LASTS_S ? 'stop' : 'warn',
        cruising ? 'The lift pump does not keep up at cruise' : 'The lift pump does not keep up at full power',
        say`It brings ${litresPerHour(short.lift!.flowLph)}, the engine takes ${litresPerHour(short.wantedLph)}: ${litres(volumeL, 1)} in the sump last ${n(seconds!)} s.`,
        'A larger lift line or lift pump; the sump alone feeds what is missing.',
      )
    }),
  },
  {
    id: 'fuel.surge',
    check: design((d, c) => {
      const full = solutionOf(d, 'full')
      if (!full.lift) return null
      const volumeL = c.fuel.sump?.volumeL
      if (volumeL === undefined) return null
      const uncoveredS = c.fuel.sump?.uncoveredS ?? circuitDefaults.uncoveredS
      const { seconds } = surgeReserve.run({ volumeL, liftLph: 0, useLph: full.wantedLph })
      if (seconds === null || seconds >= uncoveredS) return null
      return finding(
        'warn',
        'The sump runs dry in a long bend',
        say`${litres(volumeL, 2)} last ${n(seconds, 1)} s at full power with the pick-up dry; ${n(uncoveredS)} s are assumed.`,
        say`A pot of ${litres((uncoveredS * full.wantedLph) / 3600, 2)} or more, or a baffled tank.`,
      )
    }),
  },
  {
    id: 'fuel.plan-pressure',
    where: at('plan', 'sizes', 'choices.plan.fuelPressureKpa'),
    check: ({ plan, fuel }) =>
      plan.fuelPressureKpa && fuel.regulator && Math.abs(fuel.regulator.setKpa / plan.fuelPressureKpa - 1) > PRESSURE_TOLERANCE
        ? finding(
            'warn',
            'Regulator and plan name two pressures',
            say`${kPa(fuel.regulator.setKpa)} at the regulator, ${kPa(plan.fuelPressureKpa)} in the plan: ${n(100 * (Math.sqrt(fuel.regulator.setKpa / plan.fuelPressureKpa) - 1), 1)} % fuel.`,
            'Make them one: injectors and tune are sized with the plan’s.',
          )
        : null,
  },
  {
    id: 'fuel.one-curve',
    check: ({ fuel }) =>
      fuel.pump && fuel.pump.curves.length === 1 && !fuel.pump.generic
        ? finding(
            'note',
            'One pump curve',
            `Rated at ${n(fuel.pump.curves[0].voltageV, 1)} V; other voltages are worked with flow rising from 4 V.`,
            'A second curve from the sheet, at another voltage, takes the assumption away.',
          )
        : null,
  },
  {
    id: 'fuel.assumptions',
    check: design((d) =>
      d.assumed.length
        ? finding(
            'note',
            'The circuit is worked with stand-ins',
            say`${sayAll(d.assumed)}.`,
            'Measure what you can on the car; each changes the sums.',
          )
        : null,
    ),
  },
]

/** Key figures of the circuit for the docket, each with its working. */
export function fuelNumbers(c: Context): DerivedNumber[] {
  const d = designOf(c)
  if (!d) return []
  const full = solutionOf(d, 'full')
  const idle = solutionOf(d, 'idle')
  const floor = floorOf(d)
  const worst = d.solutions.reduce((a, b) => (b.inletMarginKpa < a.inletMarginKpa ? b : a))
  const number = (
    id: string,
    label: string,
    value: number | null,
    dimension: DerivedNumber['dimension'],
    formula: string,
    source: string,
    inputs: Record<string, unknown>,
  ): DerivedNumber => ({ id, station: 'fuel', label, value, dimension, formula, source, inputs: shown(inputs), assumed: d.assumed })
  const circuit = 'Conservation of volume and energy; Darcy-Weisbach, Haaland (1983)'
  return [
    number(
      'fuel.rail',
      'Pressure at the injectors, full power',
      full.railKpa,
      'pressure',
      'rise across the pump - losses - head, at the flow where regulator and pump agree',
      circuit,
      {
        pumpRiseKpa: full.pumpRiseKpa,
        pumpFlowLph: full.pumpFlowLph,
        useLph: full.useLph,
        returnLph: full.returnLph,
      },
    ),
    number(
      'fuel.margin',
      'Pump margin, full power',
      full.marginPct,
      'percent',
      'flow at set pressure and voltage / use - 1',
      'Pump sheet; flow with (V - 4 V)',
      {
        useLph: full.wantedLph,
        pumpV: full.pumpV,
        targetKpa: full.targetKpa,
      },
    ),
    number(
      'fuel.floor',
      'Lowest pressure that can be set',
      floor.floorKpa - d.states.idle.referenceKpa,
      'pressure',
      'open regulator + return line + head + tank, at nearly the whole pump flow',
      circuit,
      {
        returnLph: floor.returnLph,
        supplyV: CHARGING_HIGH_V,
      },
    ),
    number(
      'fuel.inlet',
      'Margin against vapour, worst state',
      worst.inletMarginKpa,
      'pressure',
      'atmosphere + head - losses - vapour pressure',
      'US EPA AP-42 section 7.1 for vapour pressure',
      {
        state: titleOf(worst.state),
        inletAbsKpa: worst.inletAbsKpa,
        vapourKpa: worst.vapourKpa,
        barometerKpa: d.circuit.barometerKpa,
      },
    ),
    number(
      'fuel.heat',
      'Heat back to the tank, idle',
      idle.heatW,
      'heat',
      'pump volts x amperes x share that returns',
      'Conservation of energy',
      {
        pumpV: idle.pumpV,
        pumpA: idle.pumpA ?? 'not on the sheet',
        returnLph: idle.returnLph,
        pumpFlowLph: idle.pumpFlowLph,
      },
    ),
    number(
      'fuel.warming',
      'Tank warming in an hour of idling, a quarter full',
      tankRiseK(d.tank, 3600),
      'temperatureRise',
      'heat / (h A) x (1 - exp(-t h A / (mass x 2200 J/kg K))), h 8 W/m2K of still air',
      'Conservation of energy; Incropera, section 5.1 (lumped capacity); Heywood, table D.4',
      {
        heatW: d.tank.heatW,
        tankFuelL: d.circuit.tankFuelL,
      },
    ),
  ]
}
