import { z } from 'zod'
import { KELVIN_AT_0_C, orificePsi, plateShare, R_DRY_AIR_J_KGK } from '../air/index.ts'
import { rootBetween, zodErrors } from '../kernel/index.ts'
import { checkAxis } from './axes.ts'

/**
 * Volumetric efficiency by throttle, for engines with a throttle to each runner: their manifold pressure hardly tells the load once the plates are off
 * their stops. Referred to the barometer's pressure and the charge temperature; rows by throttle, speed the fast index, on the tune's speed axis.
 */
export const RunnerTable = z
  .strictObject({
    throttlePct: z.array(z.number().min(0).max(100)).min(8).max(24),
    ve: z.array(z.number().min(1).max(200)),
    blendFromPct: z.number().min(0).max(60).describe('under this throttle only manifold pressure counts'),
    blendToPct: z.number().min(1).max(100).describe('over this throttle only the throttle counts'),
  })
  .superRefine((table, context) => {
    try {
      checkAxis('throttle', table.throttlePct)
    } catch (error) {
      context.addIssue({ code: 'custom', path: ['throttlePct'], message: (error as Error).message })
    }
    if (table.blendToPct <= table.blendFromPct)
      context.addIssue({ code: 'custom', path: ['blendToPct'], message: `must be over ${table.blendFromPct} %, where the blend begins` })
  })
export type RunnerTable = z.infer<typeof RunnerTable>

/** What is wrong with a throttle table, with its bound; null when it can be taken. */
export function checkRunner(table: unknown): string | null {
  const parsed = RunnerTable.safeParse(table)
  if (parsed.success) return null
  const [{ path, message }] = zodErrors(parsed.error)
  const words: Record<string, string> = { blendFromPct: 'Throttle begins to count, %:', blendToPct: 'Throttle counts alone, %:' }
  return `${words[path] ?? 'VE by throttle:'} ${message}`
}

/** Breakpoints close together where a plate opens fastest. */
const RUNNER_THROTTLE_PCT = [0, 2, 4, 7, 11, 16, 23, 32, 45, 62, 80, 100]
const BLEND = { fromPct: 3, toPct: 12 }
/** depression that a plate leaves wide open at full power, and its leak at idle, as the model is anchored */
const OPEN_DROP_KPA = 4

/** Share of the throttle's table at an opening: 0 by manifold pressure alone, 1 by throttle alone. */
export const runnerShare = (r: Pick<RunnerTable, 'blendFromPct' | 'blendToPct'>, throttlePct: number): number =>
  Math.min(1, Math.max(0, (throttlePct - r.blendFromPct) / (r.blendToPct - r.blendFromPct)))

/**
 * The throttle table of a base tune: at each opening and speed the manifold pressure at which the plates pass what the engine takes, and the VE there
 * brought to the barometer's pressure.
 * @param ve %, by rpm and manifold pressure, referred to the manifold
 * @source orifice flow through the plates against VE p V n / 120 R T (Heywood, C.8 and 2.10)
 */
export function runnerTable(c: {
  rpm: readonly number[]
  ve: (rpm: number, mapKpa: number) => number
  barometerKpa: number
  idleRpm: number
  idleMapKpa: number
  powerRpm: number
  displacementCc: number
  /** of a warm engine, degC */
  chargeC: number
  /** before the plates, degC */
  airC: number
  /** plates as they were measured: what they pass wide open, and how they stand shut; left out: as large as full power wants */
  plates?: { passMm2: number; shutDeg: number }
}): RunnerTable {
  const chargeK = c.chargeC + KELVIN_AT_0_C
  const takes = (rpm: number, mapKpa: number) =>
    ((c.ve(rpm, mapKpa) / 100) * mapKpa * 1000 * (c.displacementCc / 1e6) * rpm) / (120 * R_DRY_AIR_J_KGK * chargeK)
  const flow = (mapKpa: number) => orificePsi(mapKpa / c.barometerKpa)
  const openKpa = c.barometerKpa - OPEN_DROP_KPA
  // areas times what a choked square metre passes over its flow function: kg/s
  const ofM2 = (c.barometerKpa * 1000) / Math.sqrt(R_DRY_AIR_J_KGK * (c.airC + KELVIN_AT_0_C))
  const open = c.plates ? c.plates.passMm2 * 1e-6 * ofM2 : takes(c.powerRpm, openKpa) / flow(openKpa)
  const leak = takes(c.idleRpm, c.idleMapKpa) / flow(c.idleMapKpa)
  const mapAt = (rpm: number, throttlePct: number) =>
    rootBetween(
      (mapKpa) => takes(rpm, mapKpa) - (leak + open * plateShare(throttlePct, c.plates?.shutDeg)) * flow(mapKpa),
      5,
      c.barometerKpa,
    )
  return {
    throttlePct: [...RUNNER_THROTTLE_PCT],
    ve: RUNNER_THROTTLE_PCT.flatMap((pct) =>
      c.rpm.map((rpm) => {
        const mapKpa = mapAt(rpm, pct)
        return Math.max(1, Math.round((c.ve(rpm, mapKpa) * mapKpa * 10) / c.barometerKpa) / 10)
      }),
    ),
    blendFromPct: BLEND.fromPct,
    blendToPct: BLEND.toPct,
  }
}
