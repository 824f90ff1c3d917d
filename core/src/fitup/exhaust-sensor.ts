import { SENSOR_DEG, SENSOR_FROM_END_MM, SENSOR_FROM_PORT_MM } from './limits.ts'

/** Own figures: gas at the port, heat given off by a bare pipe in moving air, heat a gram of exhaust holds. */
const PORT_C = { idle: 420, full: 820 } as const
const LOSS_W_M2K = { idle: 35, full: 90 } as const
const CP_J_GK = 1.15
const AROUND_C = 60
const USUAL_PIPE_MM = 48

/**
 * Temperature of the gas along a pipe that gives heat to the air around it, degC.
 * @param alongMm from the port
 * @param gps exhaust through the pipe, g/s
 * @source energy balance of a pipe with constant heat transfer: (T - Ta) falls as exp(-U pi D x / (m cp))
 */
export function gasC(state: 'idle' | 'full', alongMm: number, gps: number, pipeMm: number = USUAL_PIPE_MM): number {
  const lost = (LOSS_W_M2K[state] * Math.PI * (pipeMm / 1000) * (alongMm / 1000)) / (gps * CP_J_GK)
  return AROUND_C + (PORT_C[state] - AROUND_C) * Math.exp(-lost)
}

/** The stretch of pipe that a sensor may sit on, from the port, mm; null: the pipe has none. */
export function sensorStretch(mergeMm: number | null, lengthMm: number | null): { fromMm: number; toMm: number } | null {
  const fromMm = Math.max(SENSOR_FROM_PORT_MM.least, mergeMm ?? 0)
  const toMm = Math.min(SENSOR_FROM_PORT_MM.most, lengthMm === null ? Infinity : lengthMm - SENSOR_FROM_END_MM)
  return toMm >= fromMm ? { fromMm, toMm } : null
}
/** What a sensor's angle above horizontal means for water in it. */
export const drains = (upDeg: number): 'yes' | 'hardly' | 'no' =>
  upDeg >= SENSOR_DEG.drains ? 'yes' : upDeg >= SENSOR_DEG.least ? 'hardly' : 'no'
