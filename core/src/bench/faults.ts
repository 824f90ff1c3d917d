import { z } from 'zod'
import { coilsOf, controlsTiming, hasCamSignal, hasDistributor, sensorOf, type SparkChoices } from '../spark/index.ts'
import { type Condition, soundCondition } from './condition.ts'

type WithSpark = { readonly spark: SparkChoices; readonly plan?: { readonly electronicThrottle?: boolean } }

export interface FaultKind {
  title: string
  /** how large it can be made; null: it is there or not */
  size: { unit: string; usual: number; min: number; max: number } | null
  /** whether the ignition chosen can have it */
  befalls: (c: WithSpark) => boolean
}
const any = () => true
const byMotor = (c: WithSpark) => c.plan?.electronicThrottle === true
const byCable = (c: WithSpark) => c.plan?.electronicThrottle !== true
const wound = (c: WithSpark) => sensorOf(c) === 'magnetic'
const square = (c: WithSpark) => sensorOf(c) !== null && !wound(c)

/** What can be wrong with the ignition of the bench car. */
export const ignitionFaults = {
  'zero-slipped': { title: 'Damper ring slipped', size: { unit: '° crank', usual: 8, min: -25, max: 25 }, befalls: any },
  'stroke-out': { title: 'Distributor or cam signal a crank turn out', size: null, befalls: (c) => hasDistributor(c) || hasCamSignal(c) },
  'leads-crossed': { title: 'Two leads or coils crossed', size: null, befalls: any },
  'order-reversed': { title: 'Leads laid against the rotation', size: null, befalls: hasDistributor },
  'weights-move': {
    title: 'Advance weights still move',
    size: { unit: '° crank', usual: 14, min: 4, max: 30 },
    befalls: (c) => c.spark.trigger === 'locked-magnetic',
  },
  'edge-wrong': { title: 'Square output the other way round', size: null, befalls: square },
  'polarity-reversed': { title: 'Wires of the magnetic pick-up changed over', size: null, befalls: wound },
  'reference-off': {
    title: 'Pick-up set at the wrong angle',
    size: { unit: '° crank', usual: 12, min: -30, max: 30 },
    befalls: controlsTiming,
  },
  'delay-long': { title: 'Long signal delay', size: { unit: 'µs', usual: 250, min: 50, max: 600 }, befalls: controlsTiming },
  'phase-off': { title: 'Rotor not where it was set', size: { unit: '° crank', usual: 44, min: -60, max: 60 }, befalls: hasDistributor },
  'gap-wide': { title: 'Air gap too large', size: { unit: 'mm', usual: 2, min: 1.6, max: 4 }, befalls: controlsTiming },
  'run-out': { title: 'Trigger wheel out of true', size: { unit: 'mm', usual: 0.9, min: 0.7, max: 2 }, befalls: controlsTiming },
  'noise-high': { title: 'Noise on the pick-up lead', size: { unit: 'V', usual: 0.6, min: 0.1, max: 3 }, befalls: any },
  'pulse-missing': { title: 'A target is broken off', size: null, befalls: controlsTiming },
  'pulse-extra': { title: 'Double triggering', size: null, befalls: controlsTiming },
  'drive-worn': { title: 'Chain, gear or bush worn', size: { unit: '° crank rms', usual: 1.4, min: 0.5, max: 4 }, befalls: any },
  'sync-off': {
    title: 'Cam sensor turned out of place',
    size: { unit: '° crank', usual: 85, min: -170, max: 170 },
    befalls: (c) => c.spark.trigger !== 'toothed-wheel' && hasCamSignal(c),
  },
  ballast: {
    title: 'Ballast resistor left in the coil feed',
    size: { unit: 'ohm', usual: 1.2, min: 0.4, max: 3 },
    befalls: controlsTiming,
  },
  'coil-dead': { title: 'Coil dead', size: null, befalls: any },
  'plug-worn': { title: 'A plug worn out', size: null, befalls: any },
  'lead-bad': { title: 'A plug lead badly crimped', size: null, befalls: any },
  'light-other-lead': { title: 'Timing light on another lead', size: null, befalls: controlsTiming },
  'light-doubled': { title: 'Dial-back light on paired coils', size: null, befalls: (c) => coilsOf(c) === 'paired' },
  'light-parallax': { title: 'Marks read from a changing place', size: { unit: '°', usual: 4, min: 2, max: 8 }, befalls: controlsTiming },
  'light-late': { title: 'Timing light that flashes late', size: { unit: 'µs', usual: 120, min: 30, max: 300 }, befalls: controlsTiming },
  'tach-setting': { title: 'Tachometer set to another number of cylinders', size: null, befalls: any },
  interference: { title: 'Loom beside the plug leads', size: null, befalls: any },
} as const satisfies Record<string, FaultKind>

/** A fault of the car, with what it makes of the car's condition. */
export interface CarFault extends FaultKind {
  spoils: (size: number) => Partial<Condition>
}
/** What can be wrong with the rest of the bench car, so that it starts badly or not at all. */
const carFaults = {
  'no-speed-signal': { title: 'Speed signal does not reach the unit', size: null, befalls: any, spoils: () => ({ speedSignal: false }) },
  'supply-drops': {
    title: 'Unit loses its supply while cranking',
    size: null,
    befalls: any,
    spoils: () => ({ holdsSupplyWhileCranking: false }),
  },
  'battery-low': {
    title: 'Battery weak',
    size: { unit: 'V cranking', usual: 6.5, min: 5, max: 9.5 },
    befalls: any,
    spoils: (crankingV) => ({ crankingV }),
  },
  'pump-dead': { title: 'Pump does not run', size: null, befalls: any, spoils: () => ({ pumpRuns: false }) },
  'pressure-low': {
    title: 'Fuel pressure low',
    size: { unit: '% of base', usual: 45, min: 10, max: 90 },
    befalls: any,
    spoils: (pct) => ({ pressureShare: pct / 100 }),
  },
  'filter-clogged': {
    title: 'Fuel filter clogged',
    size: { unit: 'times new', usual: 60, min: 2, max: 100 },
    befalls: any,
    spoils: (cloggedTimes) => ({ cloggedTimes }),
  },
  'return-narrow': {
    title: 'Return line too narrow',
    size: { unit: 'mm bore', usual: 2, min: 1.5, max: 8 },
    befalls: any,
    spoils: (returnBoreMm) => ({ returnBoreMm }),
  },
  'pump-wiring': {
    title: 'Thin wire to the pump',
    size: { unit: 'ohm', usual: 0.6, min: 0.1, max: 2 },
    befalls: any,
    spoils: (pumpWireOhm) => ({ pumpWireOhm }),
  },
  'injectors-dead': { title: 'Injectors not connected', size: null, befalls: any, spoils: () => ({ injectorsConnected: false }) },
  'injector-size': {
    title: 'Other injectors than the tune says',
    size: { unit: '% of flow', usual: 35, min: 20, max: 250 },
    befalls: any,
    spoils: (pct) => ({ injectorShare: pct / 100 }),
  },
  'store-fails': { title: 'Unit forgets what it was sent', size: null, befalls: any, spoils: () => ({ storesTunes: false }) },
  'joint-leaks': { title: 'A fuel joint weeps under pressure', size: null, befalls: any, spoils: () => ({ jointsDry: false }) },
  flooded: { title: 'Flooded before', size: null, befalls: any, spoils: () => ({ flooded: true }) },
  'coolant-sensor': {
    title: 'Coolant sensor reads wrong',
    size: { unit: 'K too much', usual: 70, min: -60, max: 110 },
    befalls: any,
    spoils: (coolantOffK) => ({ coolantOffK }),
  },
  'map-hose-off': { title: 'Manifold pressure hose off', size: null, befalls: any, spoils: () => ({ mapHose: 'off' }) },
  'throttle-zero': {
    title: 'Throttle zero not learned',
    size: { unit: '%', usual: 8, min: 2, max: 30 },
    befalls: any,
    spoils: (throttleZeroPct) => ({ throttleZeroPct }),
  },
  'idle-valve-shut': { title: 'Idle valve stuck shut', size: null, befalls: any, spoils: () => ({ idleValveMoves: false }) },
  'idle-valve-slow': {
    title: 'Idle valve dirty and slow',
    size: { unit: 'times the lag', usual: 6, min: 2, max: 20 },
    befalls: any,
    spoils: (idleValveSlow) => ({ idleValveSlow }),
  },
  'vacuum-leak': {
    title: 'Vacuum leak',
    size: { unit: '% of the idle air', usual: 120, min: 20, max: 400 },
    befalls: any,
    spoils: (pct) => ({ vacuumLeakShare: pct / 100 }),
  },
  'engine-breathes': {
    title: 'Engine breathes otherwise than its papers say',
    size: { unit: '% of its air', usual: 12, min: -25, max: 25 },
    befalls: any,
    spoils: (pct) => ({ breathesShare: 1 + pct / 100 }),
  },
  'air-sensor': {
    title: 'Intake air sensor reads wrong',
    size: { unit: 'K too much', usual: 40, min: -60, max: 90 },
    befalls: any,
    spoils: (intakeAirOffK) => ({ intakeAirOffK }),
  },
  'map-ported': {
    title: 'Manifold pressure taken above the plates',
    size: null,
    befalls: any,
    spoils: () => ({ mapHose: 'above-plates' }),
  },
  'map-hose-pinched': {
    title: 'Manifold pressure hose pinched',
    size: { unit: 's late', usual: 0.4, min: 0.05, max: 3 },
    befalls: any,
    spoils: (mapLagS) => ({ mapLagS }),
  },
  'map-hose-leaks': {
    title: 'Manifold pressure hose leaks',
    size: { unit: '% of the way to the air', usual: 15, min: 1, max: 80 },
    befalls: any,
    spoils: (pct) => ({ mapLeakShare: pct / 100 }),
  },
  'air-sensor-soaked': {
    title: 'Intake air sensor stands in the heat',
    size: { unit: '% of the way to the coolant', usual: 60, min: 5, max: 100 },
    befalls: any,
    spoils: (pct) => ({ airSoakShare: pct / 100 }),
  },
  'charge-warmed': {
    title: 'Charge warmed more than the tune counts on',
    size: { unit: '% of the way to the coolant', usual: 30, min: 2, max: 60 },
    befalls: any,
    spoils: (pct) => ({ chargeHeatsMore: pct / 100 }),
  },
  'runner-leak': {
    title: 'Air drawn in behind a port',
    size: { unit: '% of the idle air', usual: 20, min: 1, max: 100 },
    befalls: any,
    spoils: (pct) => ({ runnerLeakShare: pct / 100 }),
  },
  'injectors-late': {
    title: 'Injectors open later than their sheet says',
    size: { unit: 'ms', usual: 0.3, min: -0.6, max: 1.5 },
    befalls: any,
    spoils: (deadTimeOffMs) => ({ deadTimeOffMs }),
  },
  'fuel-blend': {
    title: 'Another blend in the tank',
    size: { unit: '% ethanol more', usual: 40, min: 2, max: 80 },
    befalls: any,
    spoils: (pct) => ({ ethanolShare: pct / 100 }),
  },
  'regulator-capped': { title: 'Regulator hose capped off', size: null, befalls: any, spoils: () => ({ regulatorHose: false }) },
  'vapour-lock': {
    title: 'Fuel boils in the line when hot',
    size: { unit: '% of pressure lost', usual: 45, min: 10, max: 90 },
    befalls: any,
    spoils: (pct) => ({ vapourLossShare: pct / 100 }),
  },
  'screw-off': {
    title: 'Throttle screw turned',
    size: { unit: 'turns open', usual: 1.5, min: -2, max: 4 },
    befalls: any,
    spoils: (screwOpenTurns) => ({ screwOpenTurns }),
  },
  'plate-sticks': {
    title: 'Throttle plate sticks',
    size: { unit: '% open', usual: 4, min: 1, max: 15 },
    befalls: any,
    spoils: (plateSticksPct) => ({ plateSticksPct }),
  },
  'throttle-dead-spot': {
    title: 'Throttle sensor worn through',
    size: { unit: '% at', usual: 35, min: 5, max: 95 },
    befalls: any,
    spoils: (throttleDeadSpotPct) => ({ throttleDeadSpotPct }),
  },
  'weak-ground': {
    title: 'Weak ground at the unit',
    size: { unit: 'ohm', usual: 0.01, min: 0.002, max: 0.1 },
    befalls: any,
    spoils: (groundOhm) => ({ groundOhm }),
  },
  'feed-corroded': {
    title: 'Main feed corroded',
    size: { unit: 'ohm', usual: 0.15, min: 0.02, max: 0.6 },
    befalls: any,
    spoils: (feedOhm) => ({ feedOhm, pumpWireOhm: feedOhm }),
  },
  'engine-strap': {
    title: 'Engine strap poor',
    size: { unit: 'ohm', usual: 0.008, min: 0.003, max: 0.05 },
    befalls: any,
    spoils: (engineStrapOhm) => ({ engineStrapOhm }),
  },
  'keyed-resistor': {
    title: 'Keyed supply taken behind a resistor',
    size: { unit: 'ohm', usual: 2, min: 0.5, max: 6 },
    befalls: any,
    spoils: (keyedOhm) => ({ keyedOhm }),
  },
  'keyed-dead-on-crank': {
    title: 'Keyed supply dead while cranking',
    size: null,
    befalls: any,
    spoils: () => ({ keyedWhileCranking: false }),
  },
  'pins-swapped': {
    title: 'Coolant and air pins swapped at the unit',
    size: null,
    befalls: any,
    spoils: () => ({ sensorPinsSwapped: true }),
  },
  'lead-chafed': {
    title: 'Pump lead chafed through',
    size: { unit: 'ohm', usual: 3, min: 0.1, max: 500 },
    befalls: any,
    spoils: (chafedOhm) => ({ chafedOhm, pumpRuns: false }),
  },
  'unit-plug-loose': { title: 'Plug of the unit not latched', size: null, befalls: any, spoils: () => ({ looseUnitPlug: true }) },
  'bus-not-ended': {
    title: 'Bus not ended',
    size: { unit: 'resistors', usual: 1, min: 0, max: 3 },
    befalls: any,
    spoils: (busEnds) => ({ busEnds }),
  },
  'parked-draw': {
    title: 'Something draws with the key off',
    size: { unit: 'A', usual: 0.4, min: 0.05, max: 6 },
    befalls: any,
    spoils: (parkedDrawA) => ({ parkedDrawA }),
  },
  'exhaust-leak': {
    title: 'Exhaust joint leaks before the sensor',
    size: { unit: '% air at idle', usual: 20, min: 3, max: 60 },
    befalls: any,
    spoils: (pct) => ({ exhaustLeakShare: pct / 100 }),
  },
  'sensor-lazy': {
    title: 'Mixture sensor slow',
    size: { unit: 'times the lag', usual: 8, min: 2, max: 30 },
    befalls: any,
    spoils: (sensorLag) => ({ sensorLag }),
  },
  'sensor-cold': { title: 'Mixture sensor not heated', size: null, befalls: any, spoils: () => ({ sensorHeated: false }) },
  purge: {
    title: 'Canister lets vapour in now and then',
    size: { unit: '% of the idle fuel', usual: 40, min: 5, max: 150 },
    befalls: any,
    spoils: (pct) => ({ purgeShare: pct / 100 }),
  },
  'unit-frozen': { title: 'Unit does not learn', size: null, befalls: any, spoils: () => ({ learningFrozen: true }) },
  'unit-forgets': { title: 'Unit forgets what it learned', size: null, befalls: any, spoils: () => ({ learnedForgotten: true }) },
  'unit-poisoned': {
    title: 'Unit holds a poisoned cell',
    size: { unit: '% learned', usual: 18, min: -30, max: 30 },
    befalls: any,
    spoils: (poisonedCellPct) => ({ poisonedCellPct }),
  },
  'sensor-contaminated': {
    title: 'Mixture sensor contaminated',
    size: { unit: '% lean', usual: 8, min: -15, max: 20 },
    befalls: any,
    spoils: (pct) => ({ sensorReadsShare: 1 + pct / 100 }),
  },
  'lean-cylinder': {
    title: 'One injector or port gives less',
    size: { unit: '% less fuel', usual: 30, min: 10, max: 100 },
    befalls: any,
    spoils: (pct) => ({ lastCylinderShare: 1 - pct / 100 }),
  },
  'coolant-stuck': {
    title: 'Coolant sensor stands still',
    size: { unit: '°C', usual: 80, min: -30, max: 120 },
    befalls: any,
    spoils: (coolantStuckC) => ({ coolantStuckC }),
  },
  'map-stuck': {
    title: 'Manifold pressure sensor stands still',
    size: { unit: 'kPa', usual: 60, min: 15, max: 110 },
    befalls: any,
    spoils: (mapStuckKpa) => ({ mapStuckKpa }),
  },
  'sensor-stuck': {
    title: 'Mixture sensor stands still',
    size: { unit: '% of lambda 1', usual: 100, min: 70, max: 150 },
    befalls: any,
    spoils: (pct) => ({ sensorStuckLambda: pct / 100 }),
  },
  'sensor-drifts': {
    title: 'Mixture sensor drifts',
    size: { unit: '% lean a minute', usual: 0.5, min: -3, max: 3 },
    befalls: any,
    spoils: (pct) => ({ sensorDriftPerMin: pct / 100 }),
  },
  'water-in-fuel': {
    title: 'Water in the fuel',
    size: { unit: '% water', usual: 35, min: 5, max: 90 },
    befalls: any,
    spoils: (pct) => ({ waterShare: pct / 100 }),
  },
  'exhaust-blocked': {
    title: 'Exhaust blocked',
    size: { unit: 'times the back-pressure', usual: 60, min: 3, max: 400 },
    befalls: any,
    spoils: (exhaustBlockedTimes) => ({ exhaustBlockedTimes }),
  },
  'cam-tooth': {
    title: 'Cam timing a tooth out',
    size: { unit: '° crank late', usual: 18, min: -36, max: 36 },
    befalls: any,
    spoils: (camLateDeg) => ({ camLateDeg }),
  },
  'wastegate-shut': {
    title: 'Wastegate stays shut',
    size: { unit: '% of its boost', usual: 160, min: 110, max: 250 },
    befalls: any,
    spoils: (pct) => ({ boostTimes: pct / 100 }),
  },
  'linkage-short': {
    title: 'Full throttle is not reached',
    size: { unit: '° short', usual: 20, min: 6, max: 50 },
    befalls: byCable,
    spoils: (linkageShortDeg) => ({ linkageShortDeg }),
  },
  'spring-off': { title: 'One return spring is unhooked', size: null, befalls: byCable, spoils: () => ({ springOff: true }) },
  'hoses-swapped': { title: 'Vacuum hoses changed over', size: null, befalls: any, spoils: () => ({ hosesSwapped: true }) },
  'port-open': {
    title: 'A vacuum port was left open',
    size: { unit: '% of the idle’s air', usual: 25, min: 5, max: 60 },
    befalls: any,
    spoils: (pct) => ({ portOpen: true, vacuumLeakShare: pct / 100 }),
  },
  'check-valve': { title: 'Booster’s check valve does not hold', size: null, befalls: any, spoils: () => ({ checkValveHolds: false }) },
  'bonnet-low': {
    title: 'Bonnet comes lower than measured',
    size: { unit: 'mm', usual: 15, min: 7, max: 40 },
    befalls: any,
    spoils: (bonnetLowMm) => ({ bonnetLowMm }),
  },
  'sensor-low': {
    title: 'Seat of the exhaust sensor turned down',
    size: { unit: '°', usual: 25, min: 10, max: 60 },
    befalls: any,
    spoils: (sensorDroopDeg) => ({ sensorDroopDeg }),
  },
  'pedal-noisy': {
    title: 'A track of the pedal scratches',
    size: { unit: 'mV', usual: 60, min: 30, max: 300 },
    befalls: byMotor,
    spoils: (mV) => ({ pedalNoiseV: mV / 1000 }),
  },
  'tracks-apart': {
    title: 'Tracks of the pedal run apart',
    size: { unit: '%', usual: 8, min: 1, max: 30 },
    befalls: byMotor,
    spoils: (tracksApartPct) => ({ tracksApartPct }),
  },
  'track-supply': { title: 'Second supply of the pedal lost', size: null, befalls: byMotor, spoils: () => ({ trackSupplyLost: true }) },
  'plate-stuck': { title: 'Motor’s plate stuck', size: null, befalls: byMotor, spoils: () => ({ plateStuck: true }) },
  'no-oil': { title: 'No oil pressure', size: null, befalls: any, spoils: () => ({ oilPressure: false }) },
} as const satisfies Record<string, CarFault>

export type IgnitionFaultId = keyof typeof ignitionFaults
export type FaultId = IgnitionFaultId | keyof typeof carFaults
/** Every fault of the bench by its id. */
export const benchFaults: Record<FaultId, FaultKind> = { ...ignitionFaults, ...carFaults }
const ids = Object.keys(benchFaults) as [FaultId, ...FaultId[]]

/** How the bench car was set up. It is what is really there: no rule of judgement may look at it. */
export const BenchChoices = z.strictObject({
  faults: z
    .array(z.strictObject({ id: z.enum(ids), size: z.number().min(-400).max(1000).optional() }))
    .max(ids.length)
    .optional(),
})
export type BenchChoices = z.infer<typeof BenchChoices>

/** The faults that the ignition chosen can have, in the order of the table. */
export const faultsFor = (c: WithSpark): IgnitionFaultId[] =>
  (Object.keys(ignitionFaults) as IgnitionFaultId[]).filter((id) => benchFaults[id].befalls(c))
export const carFaultIds = Object.keys(carFaults) as (keyof typeof carFaults)[]

/** Those that a meter at the loom finds. */
export const wiringFaultIds = [
  'weak-ground',
  'feed-corroded',
  'engine-strap',
  'keyed-resistor',
  'keyed-dead-on-crank',
  'pins-swapped',
  'lead-chafed',
  'unit-plug-loose',
  'bus-not-ended',
  'parked-draw',
  'pump-wiring',
  'battery-low',
] as const satisfies FaultId[]

/** Those that hands and eyes at Fit-up find. */
export const fitupFaultIds = [
  'linkage-short',
  'spring-off',
  'plate-sticks',
  'hoses-swapped',
  'port-open',
  'check-valve',
  'bonnet-low',
  'sensor-low',
  'pedal-noisy',
  'tracks-apart',
  'track-supply',
  'plate-stuck',
] as const satisfies FaultId[]

/** Size of a fault set on the bench; 1 for one that is only there or not, null when it is not set. */
export function faultSize(bench: BenchChoices | undefined, id: FaultId): number | null {
  const set = bench?.faults?.find((f) => f.id === id)
  if (!set) return null
  const { size } = benchFaults[id]
  return size === null ? 1 : Math.min(size.max, Math.max(size.min, set.size ?? size.usual))
}

/** The condition of the bench car with every fault set on it; a fault set later stands over one before it. */
export function conditionOf(bench: BenchChoices | undefined): Condition {
  const condition = { ...soundCondition }
  for (const { id } of bench?.faults ?? []) {
    const fault: CarFault | undefined = carFaults[id as keyof typeof carFaults]
    if (fault) Object.assign(condition, fault.spoils(faultSize(bench, id)!))
  }
  return condition
}

declare module '../kernel/told.ts' {
  interface ChoiceTable {
    bench?: BenchChoices
  }
}
