import { at, type Context, finding, kPa, latest, mm, readingsOf, type Rule, say } from '../kernel/index.ts'
import { firesCapacitive } from '../plan/index.ts'
import type { CapacitiveBox, SparkChoices } from './choices.ts'
import { delayDeg } from './delay-retard.ts'
import { dwell } from './dwell.ts'
import { CLAMP_SHARE, SPARE_VOLTAGE_SHARE } from './limits.ts'
import { BURN_MS } from './phase.ts'
import { coilCount, coilsOf, controlsTiming, sparksPerRevOf } from './ways.ts'

const TARGET_COIL_A = 6.5
export const LOADED_BATTERY_V = 13.5

/** Charging of the coil at the redline; null where the unit charges none: it does not time the spark, or a capacitive box stands between. */
export const dwellOf = (c: Context) => {
  if (!controlsTiming(c) || c.resolved.cylinders === null || firesCapacitive(c)) return null
  const input = {
    batteryV: LOADED_BATTERY_V,
    inductanceMh: c.resolved.coilInductanceMh,
    resistanceOhm: c.resolved.coilPrimaryOhm,
    targetA: c.spark.targetA ?? TARGET_COIL_A,
    rpm: c.resolved.redlineRpm,
    sparksPerRev: sparksPerRevOf(c, c.resolved.cylinders),
    burnMs: c.spark.burnMs ?? BURN_MS,
  }
  return { input, output: dwell.run(input) }
}

/** Crank degrees before the spark at which the unit starts to charge the coil at a speed; null where it charges none or never gets there. */
export function dwellDeg(c: Context, rpm: number): number | null {
  const ms = dwellOf(c)?.output.dwellMs
  return ms === undefined || ms === null ? null : delayDeg(rpm, ms * 1000)
}

/** Usual values of a box until its sheet is at hand. */
const usualBox = { capacitanceUf: 1, chargeV: 450, triggerMs: 0.5 } as const
/** Share of the battery's power that ends up in the store. */
const CHARGER_SHARE = 0.75

/** Energy of a charged store, mJ. Source: E = C V^2 / 2. */
export const storeEnergyMj = (capacitanceUf: number, chargeV: number): number => (capacitanceUf * chargeV * chargeV) / 2000
/** Battery current that keeps a capacitive box charged at a rate of sparks, A. */
const boxSupplyA = (energyMj: number, sparksPerS: number, batteryV: number): number =>
  (energyMj * sparksPerS) / 1000 / (CHARGER_SHARE * batteryV)

/** What a box gives and draws on this engine at the redline; null without one. */
export function boxOf(c: Context) {
  if (!firesCapacitive(c) || c.resolved.cylinders === null) return null
  const box: CapacitiveBox = c.spark.box ?? {}
  const capacitanceUf = box.capacitanceUf ?? usualBox.capacitanceUf
  const chargeV = box.chargeV ?? usualBox.chargeV
  const sparksPerS = (c.resolved.cylinders / 2) * (c.resolved.redlineRpm / 60)
  const energyMj = storeEnergyMj(capacitanceUf, chargeV)
  return {
    energyMj,
    secondEnergyMj: box.secondChargeV === undefined ? null : storeEnergyMj(capacitanceUf, box.secondChargeV),
    secondBy: box.secondBy ?? null,
    triggerMs: box.triggerMs ?? usualBox.triggerMs,
    sparksPerS,
    supplyA: boxSupplyA(energyMj, sparksPerS, LOADED_BATTERY_V),
    chargeV,
    assumed: box.capacitanceUf === undefined || box.chargeV === undefined,
  }
}

/**
 * Volume of the chamber at a crank angle over its volume at top centre, connecting rod 3.5 crank radii long.
 * @source slider-crank; Heywood, Internal Combustion Engine Fundamentals, eq. 2.6
 */
export function volumeRatioAt(degBtdc: number, compressionRatio: number): number {
  const rod = 3.5
  const a = (degBtdc * Math.PI) / 180
  return 1 + ((compressionRatio - 1) / 2) * (rod + 1 - Math.cos(a) - Math.sqrt(rod * rod - Math.sin(a) ** 2))
}

/**
 * Voltage at which a plug gap breaks down, kV.
 * @param pressureBar and temperatureK of the charge between the electrodes at the moment of the spark
 * @source Pashley, Stone and Roberts, SAE 2000-01-0245: V = 4.3 + 136 p/T + 324 (p/T) d
 */
export const breakdownKv = (pressureBar: number, temperatureK: number, gapMm: number): number =>
  4.3 + (136 * pressureBar) / temperatureK + (324 * pressureBar * gapMm) / temperatureK

const POLYTROPIC = 1.3
const CHARGE_K = 340
const USUAL_GAP_MM = 0.8
/** Load of lead, coil and plug on the secondary, and the share of the stored energy that charges it: usual figures. */
const SECONDARY_PF = 80
const SECONDARY_SHARE = 0.5

/** Voltage the plug needs at full load, kV: charge compressed from the manifold to the angle of the spark. */
export function neededKv(c: Context): { kv: number; gapMm: number; mapKpa: number; advanceDeg: number } {
  const mapKpa = c.resolved.barometerKpa + (c.facts.induction?.boostKpa ?? 0)
  const gapMm = c.spark.plugGapMm ?? USUAL_GAP_MM
  const advanceDeg = c.spark.minAdvanceDeg ?? 10
  const squeeze = c.resolved.compressionRatio / volumeRatioAt(advanceDeg, c.resolved.compressionRatio)
  const bar = (mapKpa / 100) * squeeze ** POLYTROPIC
  return { kv: breakdownKv(bar, CHARGE_K * squeeze ** (POLYTROPIC - 1), gapMm), gapMm, mapKpa, advanceDeg }
}
/** Voltage a stored energy can lift the secondary to, kV. Source: E = C V^2 / 2. */
export const reachedKv = (energyMj: number): number => Math.sqrt((2 * SECONDARY_SHARE * energyMj * 1e-3) / (SECONDARY_PF * 1e-12)) / 1000

export type CoilDrive = NonNullable<SparkChoices['coilDrive']>
export interface DriveVerdict {
  id: CoilDrive
  title: string
  energyMj: number | null
  /** what the coil could lift a plug to, over what the plug needs */
  spare: number | null
  supplyA: number | null
  enough: boolean
  heat: string
  interference: string
  /** wires it takes, from and to */
  circuits: { from: string; to: string; note: string }[]
}
const coilsNamed = (n: number) => (n === 1 ? 'the coil' : `each of ${n} coils`)

/** The three ways to drive the coil on this engine, judged on energy, needed voltage, supply, heat and interference, each with its circuits. */
export function coilDrives(c: Context): DriveVerdict[] {
  const cylinders = c.resolved.cylinders
  if (cylinders === null) return []
  const need = neededKv(c).kv
  const inductive = dwell.run({
    batteryV: LOADED_BATTERY_V,
    inductanceMh: c.resolved.coilInductanceMh,
    resistanceOhm: c.resolved.coilPrimaryOhm,
    targetA: c.spark.targetA ?? TARGET_COIL_A,
    rpm: c.resolved.redlineRpm,
    sparksPerRev: sparksPerRevOf(c, cylinders),
    burnMs: c.spark.burnMs ?? BURN_MS,
  })
  const coils = coilCount(coilsOf(c), cylinders)
  // half the peak over the dwell, a ramp
  const inductiveA = inductive.dutyPct === null ? null : ((c.spark.targetA ?? TARGET_COIL_A) / 2) * (inductive.dutyPct / 100) * coils
  const box = boxOf({ ...c, spark: { ...c.spark, coilDrive: 'capacitive' } })!
  const spare = (energyMj: number | null) => (energyMj === null ? null : reachedKv(energyMj) / need)
  const enough = (energyMj: number | null) => energyMj !== null && reachedKv(energyMj) >= SPARE_VOLTAGE_SHARE * need
  const feed = { from: 'ignition feed, fused', to: `plus of ${coilsNamed(coils)}`, note: 'own fuse, live with the ignition' }
  return [
    {
      id: 'built-in',
      title: 'Driver in the unit',
      energyMj: inductive.energyMj,
      spare: spare(inductive.energyMj),
      supplyA: inductiveA,
      enough: enough(inductive.energyMj),
      heat: 'in the unit: mind its limit',
      interference: 'coil current runs through the unit’s ground',
      circuits: [
        feed,
        { from: `unit coil output${coils > 1 ? 's' : ''}`, to: `minus of ${coilsNamed(coils)}`, note: 'carries the coil current' },
      ],
    },
    {
      id: 'inductive-driver',
      title: 'Driver outside',
      energyMj: inductive.energyMj,
      spare: spare(inductive.energyMj),
      supplyA: inductiveA,
      enough: enough(inductive.energyMj),
      heat: 'at the driver, on metal',
      interference: 'coil current stays out of the unit',
      circuits: [
        feed,
        { from: `unit trigger output${coils > 1 ? 's' : ''}`, to: `driver input${coils > 1 ? 's' : ''}`, note: 'logic level' },
        { from: `driver output${coils > 1 ? 's' : ''}`, to: `minus of ${coilsNamed(coils)}`, note: 'short, its own ground to the engine' },
      ],
    },
    {
      id: 'capacitive',
      title: 'Capacitive box',
      energyMj: box.energyMj,
      spare: spare(box.energyMj),
      supplyA: box.supplyA,
      enough: enough(box.energyMj),
      heat: 'little in the coil; a coil made for it',
      interference: 'short hard spark: keep its leads from the sensor',
      circuits: [
        { from: 'battery plus, fused at the battery', to: 'box supply', note: `${box.supplyA.toFixed(1)} A at the redline` },
        { from: 'box ground', to: 'battery minus', note: 'own wire, not the body' },
        {
          from: `unit trigger output${coils > 1 ? 's, one a channel' : ''}`,
          to: `box trigger${coils > 1 ? 's' : ''}`,
          note: `${box.triggerMs} ms wide`,
        },
        {
          from: 'box coil outputs',
          to: `${coilsNamed(coils)}, both ends`,
          note: `${box.chargeV.toFixed(0)} V: nothing else on these wires`,
        },
        { from: 'box tach output', to: 'tachometer', note: 'never from the coil' },
        ...(box.secondBy === 'wire'
          ? [{ from: 'unit switched output', to: 'box second-level input', note: 'lower energy while it is on' }]
          : []),
      ],
    },
  ]
}

/** Ohms of a plug lead for each metre. */
export const ohmPerMetre = ({ lengthMm, ohm }: { lengthMm: number; ohm: number }): number => (1000 * ohm) / lengthMm

export const coilRules: Rule[] = [
  {
    id: 'spark.dwell',
    where: at('spark', 'coil', 'facts.ignition.coilPrimaryOhm'),
    check: (c) => {
      const d = dwellOf(c)
      if (!d) return null
      // a coil that is only assumed stops nobody
      const assumed = c.resolved.assumptions.some((a) => a.path === 'ignition.coilPrimaryOhm' || a.path === 'ignition.coilInductanceMh')
      const severity = assumed ? 'warn' : 'stop'
      const usual = assumed ? ' A usual coil: enter the figures of this one.' : ''
      if (d.output.dwellMs === null)
        return finding(
          severity,
          'The coil never reaches its current',
          `${d.input.batteryV} V over ${d.input.resistanceOhm} ohm is ${(d.input.batteryV / d.input.resistanceOhm).toFixed(1)} A; ${d.input.targetA} A is wanted.${usual}`,
          'Take out the ballast or choose a coil of lower resistance.',
        )
      if (d.output.dwellMs > d.output.availableMs)
        return finding(
          severity,
          'No time to charge the coil',
          `Dwell ${d.output.dwellMs.toFixed(2)} ms, available ${d.output.availableMs.toFixed(2)} ms at ${d.input.rpm} rpm.${usual}`,
          'A faster coil, less current, or more coils.',
        )
      return d.output.dwellMs > 0.9 * d.output.availableMs
        ? finding(
            'warn',
            'Coil charging is tight',
            `Dwell ${d.output.dwellMs.toFixed(2)} ms of ${d.output.availableMs.toFixed(2)} ms at ${d.input.rpm} rpm.`,
            'Expect weak sparks near the redline; a faster coil helps.',
          )
        : null
    },
  },
  {
    id: 'spark.coil-limit',
    where: at('spark', 'coil', 'choices.spark.coilLimitA'),
    check: (c) => {
      const limit = c.spark.coilLimitA
      const target = c.spark.targetA ?? TARGET_COIL_A
      if (!dwellOf(c) || limit === undefined || target <= limit) return null
      return finding(
        'warn',
        'More current than the coil bears',
        `${target} A wanted, ${limit} A is its limit.`,
        `Want ${limit} A or less: the dwell table follows.`,
      )
    },
  },
  {
    id: 'spark.coil-current',
    where: at('spark', 'coil'),
    check: (c) => {
      const d = dwellOf(c)
      const seen = latest(c.readings, 'spark.coil-current')
      if (!d || !seen) return null
      const { peakA, batteryV } = seen.value
      const { targetA } = d.input
      if (peakA < targetA * (1 - 2 * CLAMP_SHARE))
        return finding(
          'warn',
          'The coil charges to less than it should',
          `${peakA} A by clamp at ${batteryV} V, ${targetA} A wanted: about ${((100 * peakA ** 2) / targetA ** 2).toFixed(0)} % of the energy.`,
          'Look for a ballast resistor or a thin feed: volts at coil plus with the coil charging.',
        )
      return peakA > targetA * (1 + 2 * CLAMP_SHARE)
        ? finding(
            'warn',
            'The coil charges to more than it should',
            `${peakA} A by clamp at ${batteryV} V, ${targetA} A wanted.`,
            'Shorten the dwell before it cooks; check resistance and inductance entered.',
          )
        : null
    },
  },
  {
    id: 'spark.voltage',
    where: at('spark', 'coil', 'choices.spark.plugGapMm'),
    check: (c) => {
      if (!controlsTiming(c)) return null
      const drive = coilDrives(c).find((d) => d.id === (c.spark.coilDrive ?? (firesCapacitive(c) ? 'capacitive' : 'built-in')))
      if (!drive || drive.enough || drive.energyMj === null) return null
      const need = neededKv(c)
      return finding(
        'warn',
        'Little voltage to spare at the plug',
        say`${mm(need.gapMm)} at ${kPa(need.mapKpa)} wants about ${need.kv.toFixed(0)} kV; ${drive.energyMj.toFixed(0)} mJ lift the leads to about ${reachedKv(drive.energyMj).toFixed(0)} kV.`,
        'Close the gap a little, or more energy. Estimates: the leads’ capacity is a usual figure.',
      )
    },
  },
  {
    id: 'spark.box',
    where: at('spark', 'coil'),
    check: (c) => {
      const box = boxOf(c)
      if (!box || !controlsTiming(c)) return null
      return box.assumed
        ? finding(
            'note',
            'The box’s store is not known',
            `Taken as ${usualBox.capacitanceUf} µF at ${usualBox.chargeV} V. For a capacitive box dwell is only the width of its trigger.`,
            'Enter both from its sheet. Its primary carries hundreds of volts: no lead off while it fires.',
          )
        : null
    },
  },
  {
    id: 'spark.lead-ohm',
    where: at('spark', 'order'),
    check: (c) => {
      const last = new Map(readingsOf(c.readings, 'spark.lead').map((r) => [r.value.cylinder, r.value]))
      if (last.size < 3) return null
      const perM = [...last].map(([cylinder, lead]) => ({ cylinder, ohmPerM: ohmPerMetre(lead) }))
      const middle = [...perM].sort((a, b) => a.ohmPerM - b.ohmPerM)[perM.length >> 1].ohmPerM
      const bad = perM.find((l) => l.ohmPerM > 2 * middle || l.ohmPerM < 0.5 * middle)
      return bad
        ? finding(
            'warn',
            `Lead ${bad.cylinder} is not like the others`,
            `${(bad.ohmPerM / 1000).toFixed(1)} kΩ a metre, the others about ${(middle / 1000).toFixed(1)}.`,
            'Crimp its ends again and measure; then renew it.',
          )
        : null
    },
  },
]
