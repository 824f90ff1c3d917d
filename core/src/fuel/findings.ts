import { finding, type Context, type Rule } from '../job/context.ts'
import { shown, type DerivedNumber } from '../job/finding.ts'
import { latest, readingsOf } from '../job/readings.ts'
import { bleedDown } from './bleed-down.ts'
import { boreTable, hasSump, sectionsOf, type FuelElement, type SectionId } from './circuit.ts'
import { PUMP_MARGIN_PCT } from './fuels.ts'
import { jointsOf, leakState } from './joints.ts'
import { velocityIn } from './line-drop.ts'
import { pumpOf } from './pump.ts'
import {
  fuelStates,
  returnFloorKpa,
  solveCircuit,
  type Branch,
  type CircuitSolution,
  type FuelStateId,
  type SolvableCircuit,
} from './solve.ts'
import { CHARGING_HIGH_V, circuitDefaults, designOf, stateMapKpa, wantedReference, withBore, type FuelDesign } from './station.ts'
import { surgeReserve } from './surge-reserve.ts'

/** Limits of handbook 02. */
export const FEED_LIMIT_M_S = 3
export const SUCTION_LIMIT_M_S = 1
const INLET_STOP_KPA = 10
const INLET_WARN_KPA = 20
const EXHAUST_MM = 100
export const PRESSURE_TOLERANCE = 0.04
const COARSE_MICRON = 100
const FINE_MICRON = 40
const DRAW_TOLERANCE = 0.25
const RECHECK_DAYS = 7

const n = (value: number, decimals = 0): string => value.toFixed(decimals)
const solutionOf = (d: FuelDesign, id: FuelStateId): CircuitSolution => d.solutions.find((s) => s.state === id)!
const titleOf = (id: FuelStateId): string => fuelStates.find((s) => s.id === id)!.detail

/** Every element of the chosen layout with the section it stands in. */
function elements(c: Context): { section: SectionId; element: FuelElement }[] {
  if (!c.fuel.layout) return []
  return sectionsOf(c.fuel.layout).flatMap(({ id }) => (c.fuel[id] ?? []).map((element) => ({ section: id, element })))
}
const lines = (c: Context) => elements(c).flatMap(({ section, element }) => (element.kind === 'line' ? [{ section, element }] : []))
const where = (list: { section: SectionId; element: FuelElement }[]): string => list.map((e) => `${e.section}: ${e.element.id}`).join(', ')
const onPressureSide = (section: SectionId): boolean => section === 'feed' || section === 'delivery'

/** Smallest bore of the table with which a sum comes right; null when none does. */
function boreThatDoes(fits: (boreMm: number) => boolean): string | null {
  const found = boreTable.find((b) => fits(b.boreMm))
  return found ? `${found.size} (${found.boreMm} mm bore)` : null
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

const design =
  (check: (d: FuelDesign, c: Context) => ReturnType<Rule['check']>): Rule['check'] =>
  (c) => {
    const d = designOf(c)
    return d ? check(d, c) : null
  }

/** Pressure across the base the tune counts on: rail plus barometer less the pressure at the reference port, kPa. */
export const basePressureKpa = (pressureKpa: number, barometerKpa: number, referenceKpa: number): number =>
  pressureKpa + barometerKpa - referenceKpa

export const fuelRules: Rule[] = [
  {
    id: 'fuel.leak',
    station: 'fuel',
    holdsAllAfter: true,
    check: (c) => {
      const { wet } = leakState(c)
      return wet.length
        ? finding(
            'stop',
            'A fuel joint is wet',
            `${wet.join(', ')}.`,
            'Battery off, relieve pressure, mend the joint, prime again and record a dry check. No key before that.',
          )
        : null
    },
  },
  {
    id: 'fuel.proof',
    station: 'fuel',
    holdsAllAfter: true,
    check: (c) => {
      const proof = latest(c.readings, 'fuel.proof')
      return proof && !proof.value.held
        ? finding(
            'stop',
            'The proof test of the covered joints did not hold',
            `${n(proof.value.pressureKpa)} kPa for ${n(proof.value.minutes)} min, seen by ${proof.who}.`,
            'Relieve pressure, remake the joint, and prove it again before it is covered.',
          )
        : null
    },
  },
  {
    id: 'fuel.arrows',
    station: 'fuel',
    check: (c) =>
      latest(c.readings, 'fuel.arrows')?.value.right === false
        ? finding(
            'stop',
            'A flow arrow points the wrong way',
            'Pump, filter and check valve pass fuel one way only.',
            'Turn the part round, then record the arrows again.',
          )
        : null,
  },
  {
    id: 'fuel.prime',
    station: 'fuel',
    holdsAllAfter: true,
    check: (c) =>
      latest(c.readings, 'fuel.prime')?.value.pumpStops === false
        ? finding(
            'stop',
            'The pump does not stop by itself after priming',
            'With the key on and the engine still it must stop after its few seconds.',
            'Find what feeds it: relay stuck, wired to the switched supply, or the cut-off bridged. Prime again.',
          )
        : null,
  },
  {
    id: 'fuel.pump-small',
    station: 'fuel',
    check: design((d) => {
      const full = solutionOf(d, 'full')
      const margin = full.marginPct ?? 0
      if (margin >= PUMP_MARGIN_PCT) return null
      const wanted = full.wantedLph * (1 + PUMP_MARGIN_PCT / 100)
      const because = `${n(full.wantedLph * (1 + margin / 100))} L/h at ${n(full.targetKpa)} kPa and ${n(full.pumpV, 1)} V at the pump; full power takes ${n(full.wantedLph)} L/h, so the margin is ${n(margin)} % of ${PUMP_MARGIN_PCT} % wanted.`
      return finding(
        margin < 0 ? 'stop' : 'warn',
        margin < 0 ? 'The pump is too small at this pressure' : 'The pump has little margin at full power',
        because,
        `A pump of ${n(wanted)} L/h or more at ${n(full.targetKpa)} kPa and ${n(full.pumpV, 1)} V.`,
      )
    }),
  },
  {
    id: 'fuel.low-voltage',
    station: 'fuel',
    check: design((d) => {
      const hot = solutionOf(d, 'full-hot')
      return (solutionOf(d, 'full').marginPct ?? 0) >= 0 && (hot.marginPct ?? 0) < 0
        ? finding(
            'warn',
            'The pump cannot feed full power at 11.5 V with hot fuel',
            `${n(hot.pumpFlowLph)} L/h at ${n(hot.pumpV, 1)} V at the pump, ${n(hot.wantedLph)} L/h wanted; the rail falls to ${n(hot.railKpa)} kPa.`,
            'A larger pump, a thicker supply wire, or less power asked for while charging fails.',
          )
        : null
    }),
  },
  {
    id: 'fuel.wiring-drop',
    station: 'fuel',
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
    station: 'fuel',
    check: design((d) => {
      const { setKpa } = d.circuit.regulator
      const floor = returnFloor(d)
      if (floor <= setKpa) return null
      const bore = boreThatDoes((b) => returnFloor(d, withSection(d.circuit, 'return', b)) < 0.9 * setKpa)
      return finding(
        'stop',
        'The return line holds the pressure up',
        `With the regulator wide open at idle and ${CHARGING_HIGH_V} V, ${n(floorOf(d).returnLph)} L/h go back and leave ${n(floor)} kPa; ${n(setKpa)} kPa cannot be set.`,
        bore
          ? `A return of ${bore}, or a smaller pump.`
          : 'A smaller pump: no bore of the table brings the floor under the set pressure. Look at the regulator’s own drop.',
      )
    }),
  },
  {
    id: 'fuel.not-held',
    station: 'fuel',
    check: design((d) => {
      const lost = d.solutions.filter(
        (s) => s.state !== 'prime' && s.state !== 'full-hot' && (s.regulator === 'closed' || s.regulator === 'starved'),
      )
      return lost.length
        ? finding(
            'stop',
            'The pressure is not held',
            `${lost.map((s) => `${titleOf(s.state)}: ${n(s.railKpa)} kPa of ${n(s.targetKpa)} kPa`).join('; ')}.`,
            'More pump flow at pressure, or less loss before the injectors.',
          )
        : null
    }),
  },
  {
    id: 'fuel.off-curve',
    station: 'fuel',
    check: design((d) => {
      const { lastPointKpa } = pumpOf(d.circuit.pump)
      const past = d.solutions.find((s) => s.pumpRiseKpa > lastPointKpa)
      return past
        ? finding(
            'warn',
            'The pump works beyond the last point of its curve',
            `${n(past.pumpRiseKpa)} kPa across it at ${titleOf(past.state)}; the curve ends at ${n(lastPointKpa)} kPa, and nothing is known past it.`,
            'Type more points from the pump’s sheet.',
          )
        : null
    }),
  },
  {
    id: 'fuel.reference',
    station: 'fuel',
    check: (c) => {
      const reference = c.fuel.regulator?.reference
      if (!reference || !c.plan.route) return null
      const wanted = wantedReference(c)
      if (reference === wanted) return null
      const set = c.fuel.regulator!.setKpa
      const idle = c.resolved.idleMapKpa - c.resolved.barometerKpa
      const words = {
        open: 'left open to air',
        manifold: 'connected to the manifold',
        'above-plates': 'connected above the plates',
        capped: 'capped',
      }
      const across = wanted === 'manifold' ? set - idle : wanted === 'open' && reference === 'manifold' ? set + idle : set
      const errorPct = 100 * (Math.sqrt(Math.max(0, across) / set) - 1)
      return finding(
        'warn',
        reference === 'capped' ? 'The regulator’s port is capped' : 'The regulator’s port goes to the wrong place',
        `With this route it should be ${words[wanted]}; it is ${words[reference]}. At warm idle ${n(across)} kPa stand across the injectors instead of ${n(set)} kPa: ${errorPct > 0 ? '+' : ''}${n(errorPct, 1)} % fuel against the tune.`,
        reference === 'capped'
          ? 'Open the port: sealed, the pressure drifts with the heat of the trapped air.'
          : `Have the port ${words[wanted]}, unless the unit is set to compensate for the difference.`,
      )
    },
  },
  {
    id: 'fuel.map-source',
    station: 'fuel',
    check: ({ fuel }) =>
      fuel.mapFrom === 'ported'
        ? finding(
            'stop',
            'The unit reads a ported source',
            'Above the closed plate it sees air pressure at idle: the engine would be fuelled for full load.',
            'A port in the plenum, below the plates, shared by all cylinders.',
          )
        : fuel.mapFrom === 'one-runner'
          ? finding(
              'warn',
              'The unit reads one runner only',
              'The pressure of one cylinder pulses with its own strokes and stands for the rest.',
              'A port in the plenum, or a collector from all runners.',
            )
          : null,
  },
  {
    id: 'fuel.filter-order',
    station: 'fuel',
    check: (c) => {
      const filters = elements(c).flatMap(({ section, element }) => (element.kind === 'filter' ? [{ section, element }] : []))
      const fineBefore = filters.filter((f) => f.section === 'suction' && f.element.micron < FINE_MICRON)
      const fineAfter = filters.some((f) => onPressureSide(f.section) && f.element.micron <= FINE_MICRON)
      if (!fineBefore.length) return null
      return finding(
        'stop',
        'A fine filter stands before the pump',
        `${where(fineBefore)}: ${fineBefore.map((f) => `${f.element.micron} µm`).join(', ')}. It starves the pump as it fills${fineAfter ? '' : ', and nothing fine stands after it'}.`,
        `Coarse (${COARSE_MICRON} µm) before the pump, fine (10 µm) after it.`,
      )
    },
  },
  {
    id: 'fuel.filter-missing',
    station: 'fuel',
    check: (c) =>
      c.fuel.feed?.length &&
      !elements(c).some(({ section, element }) => element.kind === 'filter' && onPressureSide(section) && element.micron <= FINE_MICRON)
        ? finding(
            'warn',
            'No fine filter after the pump',
            'Injector seats are scored by what a 10 µm filter would have held.',
            'A filter of about 10 µm between pump and injectors.',
          )
        : null,
  },
  {
    id: 'fuel.pump-high',
    station: 'fuel',
    check: (c) => {
      const d = designOf(c)
      if (!d || c.fuel.pumpPlace === 'in-tank') return null
      const { pumpM, fuelM, sumpM } = d.circuit.heights
      const source = hasSump(d.circuit.layout) ? sumpM : fuelM
      return pumpM > source && !c.fuel.pump?.selfPriming
        ? finding(
            'stop',
            'The pump stands above the fuel',
            `Pump ${n(pumpM, 2)} m, fuel ${n(source, 2)} m above the ground at a quarter full; this pump does not draw itself full.`,
            'Mount it below the outlet, or take an in-tank or a self-priming pump.',
          )
        : null
    },
  },
  {
    id: 'fuel.inlet',
    station: 'fuel',
    check: design((d) => {
      const worst = d.solutions.reduce((a, b) => (b.inletMarginKpa < a.inletMarginKpa ? b : a))
      if (worst.inletMarginKpa >= INLET_WARN_KPA) return null
      const stop = worst.inletMarginKpa < INLET_STOP_KPA
      return finding(
        stop ? 'stop' : 'warn',
        stop ? 'Fuel boils at the pump inlet' : 'Little margin against vapour at the pump inlet',
        `${titleOf(worst.state)}: ${n(worst.inletAbsKpa, 1)} kPa at the inlet, the fuel at ${n(d.states[worst.state].fluid.temperatureC)} °C boils at ${n(worst.vapourKpa, 1)} kPa; ${n(worst.inletMarginKpa, 1)} kPa left of ${INLET_WARN_KPA}.`,
        'A pump in the tank or lower, a larger suction bore, a coarser strainer, cooler fuel.',
      )
    }),
  },
  {
    id: 'fuel.feed-velocity',
    station: 'fuel',
    check: design((d) => {
      const fast = fastestIn(d, (section) => section !== 'suction', FEED_LIMIT_M_S)
      if (!fast) return null
      const bore = boreThatDoes((b) => velocityIn(fast.flowLph, b) <= FEED_LIMIT_M_S)
      return finding(
        'warn',
        'A line is too small for its flow',
        `${fast.section}: ${fast.elementId} runs ${n(fast.velocityMS!, 1)} m/s at ${titleOf(fast.state)} (${n(fast.flowLph)} L/h); ${FEED_LIMIT_M_S} m/s is the limit.`,
        bore ? `${bore} or larger.` : 'A larger bore than the table holds.',
      )
    }),
  },
  {
    id: 'fuel.suction-velocity',
    station: 'fuel',
    check: design((d) => {
      const fast = fastestIn(d, (section) => section === 'suction', SUCTION_LIMIT_M_S)
      if (!fast) return null
      const bore = boreThatDoes((b) => velocityIn(fast.flowLph, b) <= SUCTION_LIMIT_M_S)
      return finding(
        'warn',
        'The suction side is too small',
        `${fast.elementId} runs ${n(fast.velocityMS!, 2)} m/s at ${titleOf(fast.state)}; about ${SUCTION_LIMIT_M_S} m/s is the limit.`,
        bore ? `${bore} or larger, as short as it can be.` : 'A larger bore than the table holds, as short as it can be.',
      )
    }),
  },
  {
    id: 'fuel.tank-vent',
    station: 'fuel',
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
    id: 'fuel.soft-hose',
    station: 'fuel',
    check: (c) => {
      const bad = lines(c).filter((l) => l.element.hose === 'carburettor' && (onPressureSide(l.section) || l.section === 'return'))
      return bad.length
        ? finding(
            'stop',
            'Carburettor hose under pressure',
            `${where(bad)}: it is rated for a few kPa and swells, then bursts.`,
            'Hose rated for injection pressure, with the clamps that belong to it.',
          )
        : null
    },
  },
  {
    id: 'fuel.closed-space',
    station: 'fuel',
    check: (c) => {
      const inside = lines(c).filter((l) => l.element.material === 'hose' && (l.element.place === 'boot' || l.element.place === 'cabin'))
      return inside.length
        ? finding(
            'stop',
            'Hose in a closed space',
            `${where(inside)}: vapour through its wall and a failed clamp stay inside with the people.`,
            'Hard line with sealed bulkheads there, and a vented cover over any joint.',
          )
        : null
    },
  },
  {
    id: 'fuel.exhaust',
    station: 'fuel',
    check: (c) => {
      const near = lines(c).filter((l) => l.element.exhaustMm !== undefined && l.element.exhaustMm < EXHAUST_MM && !l.element.shielded)
      return near.length
        ? finding(
            'stop',
            'A line runs by the exhaust unshielded',
            `${near.map((l) => `${l.element.id}: ${l.element.exhaustMm} mm`).join(', ')}; ${EXHAUST_MM} mm is the least.`,
            'Move it, or put a heat shield between and say so.',
          )
        : null
    },
  },
  {
    id: 'fuel.moving-parts',
    station: 'fuel',
    check: (c) => {
      const crossing = lines(c).filter((l) => l.element.crossesMoving)
      return crossing.length
        ? finding(
            'stop',
            'A line crosses moving parts',
            `${where(crossing)}: linkage, axle or belts wear through it.`,
            'Lead it another way and clip it.',
          )
        : null
    },
  },
  {
    id: 'fuel.plastic-filter',
    station: 'fuel',
    check: (c) => {
      const bad = elements(c).filter(({ element }) => element.kind === 'filter' && element.body === 'plastic' && element.place === 'bay')
      return bad.length
        ? finding(
            'stop',
            'A plastic filter under the bonnet',
            `${where(bad)}: heat and vibration crack it over a hot engine.`,
            'A metal filter rated for the pressure, or one under the car.',
          )
        : null
    },
  },
  {
    id: 'fuel.mechanical-pump',
    station: 'fuel',
    check: ({ facts, fuel }) =>
      fuel.layout && !hasSump(fuel.layout) && facts.fuel?.mechanicalPump === true && fuel.safety?.mechanicalPumpRemoved === false
        ? finding(
            'stop',
            'The mechanical pump is left in the line',
            'It cannot stand injection pressure, and its diaphragm leaks into the sump oil.',
            'Take it out and blank its hole, or choose a layout in which it fills a sump.',
          )
        : null,
  },
  {
    id: 'fuel.low-regulator',
    station: 'fuel',
    check: ({ facts, fuel }) =>
      facts.fuel?.reuseRegulator &&
      facts.fuel.reuseRegulatorKpa !== undefined &&
      fuel.regulator &&
      facts.fuel.reuseRegulatorKpa < fuel.regulator.setKpa
        ? finding(
            'stop',
            'The regulator to be kept is a low-pressure one',
            `It holds ${n(facts.fuel.reuseRegulatorKpa)} kPa; ${n(fuel.regulator.setKpa)} kPa are wanted.`,
            'A regulator made for injection pressure.',
          )
        : null,
  },
  {
    id: 'fuel.stall-cut-off',
    station: 'fuel',
    check: ({ fuel }) =>
      fuel.safety?.stallCutOff === false
        ? finding(
            'stop',
            'The pump can keep running with the engine stopped',
            'A reset of the control unit can leave its output on.',
            'A cut-off that does not depend on the control unit and stops the pump within 2 s of lost speed.',
          )
        : null,
  },
  {
    id: 'fuel.crash-cut-off',
    station: 'fuel',
    check: ({ fuel }) =>
      fuel.safety?.crashCutOff === false
        ? finding(
            'warn',
            'No inertia or roll-over cut-off',
            'After a crash the pump empties the tank through whatever broke.',
            'A switch in the pump supply that opens on impact.',
          )
        : null,
  },
  {
    id: 'fuel.relay',
    station: 'fuel',
    check: ({ fuel }) =>
      fuel.safety?.relay === false
        ? finding(
            'warn',
            'The pump is fed straight from the switched supply',
            'The ignition switch and its thin wires carry the whole pump current.',
            'A relay at the pump’s supply, fed from the battery through a fuse.',
          )
        : null,
  },
  {
    id: 'fuel.ports',
    station: 'fuel',
    check: ({ fuel }) =>
      fuel.safety?.portsPlugged === false
        ? finding(
            'stop',
            'An unused port is open or closed with the wrong plug',
            fuel.layout === 'returnless'
              ? 'Returnless: the return port of the body stands under full pressure.'
              : 'Every unused port stands under full pressure.',
            'Close it with a fitting rated for the pressure.',
          )
        : null,
  },
  {
    id: 'fuel.sump-vent',
    station: 'fuel',
    check: ({ fuel }) =>
      fuel.layout && hasSump(fuel.layout) && fuel.sump?.vent === 'none'
        ? finding(
            'stop',
            'The sump has no vent',
            'Air and vapour collect in it until the pump draws them.',
            'A vent or overflow back to the tank.',
          )
        : null,
  },
  {
    id: 'fuel.lift',
    station: 'fuel',
    check: design((d) => {
      const full = solutionOf(d, 'full')
      if (!full.lift || full.lift.flowLph >= full.wantedLph) return null
      return finding(
        'warn',
        'The lift pump does not keep up at full power',
        `It brings ${n(full.lift.flowLph)} L/h, the engine takes ${n(full.wantedLph)} L/h.`,
        'A larger lift line or lift pump; the sump alone feeds what is missing.',
      )
    }),
  },
  {
    id: 'fuel.surge',
    station: 'fuel',
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
        `${n(volumeL, 2)} L last ${n(seconds, 1)} s at full power with the pick-up dry; ${n(uncoveredS)} s are assumed.`,
        `A pot of ${n((uncoveredS * full.wantedLph) / 3600, 2)} L or more, or a baffled tank.`,
      )
    }),
  },
  {
    id: 'fuel.baffle',
    station: 'fuel',
    check: ({ facts, fuel }) =>
      fuel.layout && !hasSump(fuel.layout) && facts.fuel?.tankBaffled === false
        ? finding(
            'warn',
            'The tank has no baffles',
            'At a quarter full the pick-up runs dry in bends; injection stumbles at once where a float bowl carried on.',
            'A baffle, a pot in the tank, or a surge tank.',
          )
        : null,
  },
  {
    id: 'fuel.joint-ends',
    station: 'fuel',
    check: ({ fuel }) => {
      const bad = jointsOf(fuel).filter((j) => j.mismatch)
      return bad.length
        ? finding(
            'warn',
            'Ends that do not belong together',
            `${bad.map((j) => `${j.section}, ${j.label}: ${j.mismatch!.join(' on ')}`).join('; ')}.`,
            'An adapter made for both, or the same kind of end.',
          )
        : null
    },
  },
  {
    id: 'fuel.pressure',
    station: 'fuel',
    check: (c) => {
      const base = c.plan.fuelPressureKpa
      const bad = pressureChecks(c).filter((p) => base && Math.abs(p.baseKpa / base - 1) > PRESSURE_TOLERANCE)
      if (!bad.length) return null
      return finding(
        'warn',
        'Fuel pressure is not what the tune expects',
        bad
          .map(
            (p) =>
              `${p.running ? 'At idle' : 'Engine off'}: ${n(p.pressureKpa)} kPa read${p.running ? `, ${n(p.referenceKpa)} kPa at the port` : ''} makes ${n(p.baseKpa)} kPa of ${n(base!)} kPa, ${p.fuelPct > 0 ? '+' : ''}${n(p.fuelPct, 1)} % fuel`,
          )
          .join('; ') + '.',
        'Set the regulator, or correct the pressure in the plan and compute the tune again.',
      )
    },
  },
  {
    id: 'fuel.plan-pressure',
    station: 'fuel',
    check: ({ plan, fuel }) =>
      plan.fuelPressureKpa && fuel.regulator && Math.abs(fuel.regulator.setKpa / plan.fuelPressureKpa - 1) > PRESSURE_TOLERANCE
        ? finding(
            'warn',
            'Regulator and plan name two pressures',
            `${n(fuel.regulator.setKpa)} kPa at the regulator, ${n(plan.fuelPressureKpa)} kPa in the plan: ${n(100 * (Math.sqrt(fuel.regulator.setKpa / plan.fuelPressureKpa) - 1), 1)} % fuel.`,
            'Make them one: injectors and tune are sized with the plan’s.',
          )
        : null,
  },
  {
    id: 'fuel.bleed-down',
    station: 'fuel',
    check: (c) => {
      const reading = latest(c.readings, 'fuel.bleed-down')
      const verdict = reading ? bleedDown(reading.value) : null
      return verdict && verdict.cause !== 'holds' ? finding('warn', 'The pressure does not stand', verdict.because, verdict.remedy) : null
    },
  },
  {
    id: 'fuel.pump-draw',
    station: 'fuel',
    check: (c) => {
      const draw = latest(c.readings, 'fuel.pump-draw')
      if (!draw || !c.fuel.pump) return null
      const expected = pumpOf(c.fuel.pump).currentA(draw.value.pressureKpa)
      if (expected === null || Math.abs(draw.value.currentA / expected - 1) <= DRAW_TOLERANCE) return null
      const high = draw.value.currentA > expected
      return finding(
        'warn',
        high ? 'The pump draws too much' : 'The pump draws too little',
        `${n(draw.value.currentA, 1)} A at ${n(draw.value.pressureKpa)} kPa and ${n(draw.value.voltageV, 1)} V; its curve says ${n(expected, 1)} A.`,
        high
          ? 'A blocked filter or line, or a worn pump: measure the pressure at the pump.'
          : 'Low voltage, air in the pump, or pressure relieved inside it.',
      )
    },
  },
  {
    id: 'fuel.recheck',
    station: 'fuel',
    check: (c) => {
      const due = rechecksDue(c)
      return due.length
        ? finding(
            due.some((d) => d.when === 'hot') ? 'warn' : 'note',
            'A leak check falls due',
            due.map((d) => `${d.label}, ${d.since}`).join('; ') + '.',
            'Look at every joint again, hot, and record it.',
          )
        : null
    },
  },
  {
    id: 'fuel.generic-pump',
    station: 'fuel',
    check: ({ fuel }) =>
      fuel.pump?.generic
        ? finding(
            'note',
            'The pump curve is a stand-in',
            `A made-up class at ${n(fuel.pump.curves[0].voltageV, 1)} V, good for planning only.`,
            'Type the points from the sheet of the pump in hand before it is bought.',
          )
        : null,
  },
  {
    id: 'fuel.one-curve',
    station: 'fuel',
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
    station: 'fuel',
    check: design((d) =>
      d.assumed.length
        ? finding(
            'note',
            'The circuit is worked with stand-ins',
            `${d.assumed.join('; ')}.`,
            'Measure what you can on the car; each changes the sums.',
          )
        : null,
    ),
  },
]

export interface PressureCheck {
  running: boolean
  pressureKpa: number
  referenceKpa: number
  baseKpa: number
  fuelPct: number
}
/** Set pressure in its two conditions, each brought to the base the tune counts on. */
export function pressureChecks(c: Context): PressureCheck[] {
  const base = c.plan.fuelPressureKpa
  return [false, true].flatMap((running) => {
    const reading = readingsOf(c.readings, 'fuel.pressure')
      .filter((r) => r.value.engineRunning === running)
      .at(-1)
    if (!reading) return []
    const portAtIdle = c.fuel.regulator?.reference === 'manifold' ? stateMapKpa(c, 'idle') : c.resolved.barometerKpa
    const referenceKpa = reading.value.referenceKpa ?? (running ? portAtIdle : c.resolved.barometerKpa)
    const baseKpa = basePressureKpa(reading.value.pressureKpa, c.resolved.barometerKpa, referenceKpa)
    return [
      {
        running,
        pressureKpa: reading.value.pressureKpa,
        referenceKpa,
        baseKpa,
        fuelPct: base ? 100 * (Math.sqrt(Math.max(0, baseKpa) / base) - 1) : 0,
      },
    ]
  })
}

/** Leak checks after the first drive (hot) and after the first week, due once the engine has run. Dates only from readings: no clock here. */
export function rechecksDue(c: Context): { when: 'hot' | 'first-week'; label: string; since: string; dueAt: string }[] {
  const ran = readingsOf(c.readings, 'start.ran')[0]
  if (!ran) return []
  const done = new Set(
    readingsOf(c.readings, 'fuel.recheck')
      .filter((r) => r.value.dry)
      .map((r) => r.value.when),
  )
  const dueAt = (days: number) => new Date(Date.parse(ran.takenAt) + days * 86_400_000).toISOString().slice(0, 10)
  return [
    { when: 'hot' as const, label: 'Hot, after the first drive', since: `engine first ran ${ran.takenAt.slice(0, 10)}`, dueAt: dueAt(0) },
    { when: 'first-week' as const, label: 'After the first week', since: `due ${dueAt(RECHECK_DAYS)}`, dueAt: dueAt(RECHECK_DAYS) },
  ].filter((d) => !done.has(d.when))
}

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
      'Tank warming in an hour, a quarter full, nothing lost',
      idle.tankRiseKPerH,
      'temperatureRise',
      'heat x 3600 / (mass x 2200 J/kg K)',
      'Conservation of energy; Heywood, table D.4',
      {
        heatW: idle.heatW,
        tankFuelL: d.circuit.tankFuelL,
      },
    ),
  ]
}
