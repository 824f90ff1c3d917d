import { at, type Context, finding, kPa, mm, type Rule, say, sayAll } from '../kernel/index.ts'
import { type FuelElement, hasSump, type SectionId, sectionsOf } from './circuit.ts'
import { jointsOf } from './joints.ts'
import { EXHAUST_MM, FINE_MICRON } from './limits.ts'

/** Every element of the chosen layout with the section it stands in. */
function elements(c: Context): { section: SectionId; element: FuelElement }[] {
  if (!c.fuel.layout) return []
  return sectionsOf(c.fuel.layout).flatMap(({ id }) => (c.fuel[id] ?? []).map((element) => ({ section: id, element })))
}
const lines = (c: Context) => elements(c).flatMap(({ section, element }) => (element.kind === 'line' ? [{ section, element }] : []))
/** The element on the drawing that a finding is about. */
const onCircuit = ({ section, element }: { section: SectionId; element: FuelElement }) => at('fuel', 'circuit', `${section}:${element.id}`)
const where = (list: { section: SectionId; element: FuelElement }[]): string => list.map((e) => `${e.section}: ${e.element.id}`).join(', ')
const onPressureSide = (section: SectionId): boolean => section === 'feed' || section === 'delivery'

/** A bore drawn as near as this to the old line's is taken for it. */
const SAME_BORE_MM = 0.25
const OLD_LINE = {
  copper: 'copper work-hardens and cracks at its flares',
  plastic: 'plastic of the time is rated for a few kPa',
  rubber: 'rubber of the time is rated for a few kPa',
} as const

/** What is fitted, where it runs, and what cuts it off: rules that need no sum. */
export const layoutRules: Rule[] = [
  {
    id: 'fuel.map-source',
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
    check: (c) => {
      const filters = elements(c).flatMap(({ section, element }) => (element.kind === 'filter' ? [{ section, element }] : []))
      const fineBefore = filters.filter((f) => f.section === 'suction' && f.element.micron < FINE_MICRON)
      const fineAfter = filters.some((f) => onPressureSide(f.section) && f.element.micron <= FINE_MICRON)
      if (!fineBefore.length) return null
      return finding(
        'stop',
        'A fine filter stands before the pump',
        `${where(fineBefore)}: ${fineBefore.map((f) => `${f.element.micron} µm`).join(', ')}. It starves the pump as it fills${fineAfter ? '' : ', and nothing fine stands after it'}.`,
        `Coarse (100 µm) before the pump, fine (10 µm) after it.`,
      )
    },
  },
  {
    id: 'fuel.filter-missing',
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
    id: 'fuel.strainer',
    check: (c) => {
      const { layout, suction, pumpPlace } = c.fuel
      const screened = (suction ?? []).some((e) => e.kind === 'filter')
      return layout && suction?.length && pumpPlace !== 'in-tank' && !screened
        ? finding(
            'warn',
            'Nothing coarse stands before the pump',
            'Rust and sealant of an old tank lock a roller pump in its first hour.',
            'A strainer of about 100 µm between tank and pump.',
            at('fuel', 'circuit'),
          )
        : null
    },
  },
  {
    id: 'fuel.joints-inside',
    check: (c) => {
      const inside = elements(c).filter(({ element }) => element.kind !== 'line' && (element.place === 'boot' || element.place === 'cabin'))
      if (!inside.length) return null
      const plastic = inside.find(({ element }) => element.kind === 'filter' && element.body === 'plastic')
      return finding(
        plastic ? 'stop' : 'warn',
        plastic ? 'A plastic filter in a closed space' : 'Filters or fittings in a closed space',
        `${where(inside)}: every joint is a leak to come, and its vapour stays inside with the people.`,
        plastic
          ? 'Move it out, or a metal filter under a sealed cover vented to the outside.'
          : 'Move them out; where one must stay, a sealed cover vented to the outside, and the proof above working pressure before it is covered.',
        onCircuit(plastic ?? inside[0]),
      )
    },
  },
  {
    id: 'fuel.tank-inside',
    where: at('survey', undefined, 'facts.fuel.tankPlace'),
    check: ({ facts, fuel }) => {
      const tank = facts.fuel?.tankPlace
      return fuel.layout && (tank === 'boot' || tank === 'cabin')
        ? finding(
            'note',
            `The tank stands in the ${tank}`,
            'Its outlet, its return and a pump beside it share the air of the people; all of them are drawn as in a closed space, or they are not judged so.',
            'Lay the lines there as hard line with sealed bulkheads, and set their place in the drawing.',
          )
        : null
    },
  },
  {
    id: 'fuel.canister',
    where: at('survey', undefined, 'facts.fuel.canister'),
    check: ({ facts, fuel }) =>
      fuel.layout && facts.fuel?.canister === true
        ? finding(
            'note',
            'The evaporative canister stays in the system',
            'Its vapour is fuel that no table counts: with the purge open an idle reads rich and a unit learns it.',
            'Keep it as local law asks, purge shut while idle is set and while the unit learns, its hose above the plates or through a valve.',
          )
        : null,
  },
  {
    id: 'fuel.old-line',
    where: at('survey', undefined, 'facts.fuel.lineBoreMm'),
    check: (c) => {
      const { lineBoreMm, lineMaterial } = c.facts.fuel ?? {}
      const laid = [...(c.fuel.feed ?? []), ...(c.fuel.return ?? [])].filter((e) => e.kind === 'line' && e.material === 'hard')
      const kept = laid.find((e) => e.kind === 'line' && lineBoreMm !== undefined && Math.abs(e.boreMm - lineBoreMm) < SAME_BORE_MM)
      if (!kept || !lineMaterial || lineMaterial === 'steel') return null
      return finding(
        'warn',
        'The old line is not one for injection pressure',
        say`${kept.id} is drawn with the ${mm(lineBoreMm!, 1)} of the old line, which is of ${lineMaterial}: ${OLD_LINE[lineMaterial]}.`,
        'New steel or coated hard line; the old one may serve as vent or overflow.',
        at('fuel', 'circuit'),
      )
    },
  },
  {
    id: 'fuel.tank-vent',
    where: at('survey', undefined, 'facts.fuel.tankVented'),
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
    check: (c) => {
      const bad = lines(c).filter((l) => l.element.hose === 'carburettor' && (onPressureSide(l.section) || l.section === 'return'))
      return bad.length
        ? finding(
            'stop',
            'Carburettor hose under pressure',
            `${where(bad)}: it is rated for a few kPa and swells, then bursts.`,
            'Hose rated for injection pressure, with the clamps that belong to it.',
            onCircuit(bad[0]),
          )
        : null
    },
  },
  {
    id: 'fuel.closed-space',
    check: (c) => {
      const inside = lines(c).filter((l) => l.element.material === 'hose' && (l.element.place === 'boot' || l.element.place === 'cabin'))
      return inside.length
        ? finding(
            'stop',
            'Hose in a closed space',
            `${where(inside)}: vapour through its wall and a failed clamp stay inside with the people.`,
            'Hard line with sealed bulkheads there, and a vented cover over any joint.',
            onCircuit(inside[0]),
          )
        : null
    },
  },
  {
    id: 'fuel.exhaust',
    check: (c) => {
      const near = lines(c).filter((l) => l.element.exhaustMm !== undefined && l.element.exhaustMm < EXHAUST_MM && !l.element.shielded)
      return near.length
        ? finding(
            'stop',
            'A line runs by the exhaust unshielded',
            say`${sayAll(
              near.map((l) => say`${l.element.id}: ${mm(l.element.exhaustMm!, 0)}`),
              ', ',
            )}; ${mm(EXHAUST_MM, 0)} is the least.`,
            'Move it, or put a heat shield between and say so.',
            onCircuit(near[0]),
          )
        : null
    },
  },
  {
    id: 'fuel.moving-parts',
    check: (c) => {
      const crossing = lines(c).filter((l) => l.element.crossesMoving)
      return crossing.length
        ? finding(
            'stop',
            'A line crosses moving parts',
            `${where(crossing)}: linkage, axle or belts wear through it.`,
            'Lead it another way and clip it.',
            onCircuit(crossing[0]),
          )
        : null
    },
  },
  {
    id: 'fuel.plastic-filter',
    check: (c) => {
      const bad = elements(c).filter(({ element }) => element.kind === 'filter' && element.body === 'plastic' && element.place === 'bay')
      return bad.length
        ? finding(
            'stop',
            'A plastic filter under the bonnet',
            `${where(bad)}: heat and vibration crack it over a hot engine.`,
            'A metal filter rated for the pressure, or one under the car.',
            onCircuit(bad[0]),
          )
        : null
    },
  },
  {
    id: 'fuel.mechanical-pump',
    where: at('fuel', 'circuit', 'choices.fuel.safety.mechanicalPumpRemoved'),
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
    where: at('survey', undefined, 'facts.fuel.reuseRegulator'),
    check: ({ facts, fuel }) =>
      facts.fuel?.reuseRegulator &&
      facts.fuel.reuseRegulatorKpa !== undefined &&
      fuel.regulator &&
      facts.fuel.reuseRegulatorKpa < fuel.regulator.setKpa
        ? finding(
            'stop',
            'The regulator to be kept is a low-pressure one',
            say`It holds ${kPa(facts.fuel.reuseRegulatorKpa)}; ${kPa(fuel.regulator.setKpa)} are wanted.`,
            'A regulator made for injection pressure.',
          )
        : null,
  },
  {
    id: 'fuel.stall-cut-off',
    where: at('fuel', 'circuit', 'choices.fuel.safety.stallCutOff'),
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
    where: at('fuel', 'circuit', 'choices.fuel.safety.crashCutOff'),
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
    where: at('fuel', 'circuit', 'choices.fuel.safety.relay'),
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
    where: at('fuel', 'circuit', 'choices.fuel.safety.portsPlugged'),
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
    id: 'fuel.baffle',
    where: at('survey', undefined, 'facts.fuel.tankBaffled'),
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
]
