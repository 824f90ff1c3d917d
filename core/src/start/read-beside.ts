import { type Context, latest } from '../kernel/index.ts'
import { zeroMark } from '../spark/index.ts'
import { idleTargetRpm } from '../survey/index.ts'
import type { CrankAsked, StartWanted } from './signs.ts'

/** What this car should show while it starts; null while no fuel pressure is planned. */
export function startWanted(c: Pick<Context, 'fuel' | 'plan' | 'resolved'>): StartWanted | null {
  const setKpa = c.fuel.regulator?.setKpa ?? c.plan.fuelPressureKpa
  return setKpa === undefined ? null : { setKpa, barometerKpa: c.resolved.barometerKpa, idleRpm: idleTargetRpm(c.resolved) }
}

/** What was written down beside the stream and bears on why an engine does not start: the light while cranking, injectors, idle valve, ports. */
export function readBeside(c: Context): CrankAsked {
  const { readings } = c
  // an engine that has never run here has stood
  const asked: CrankAsked = { stood: latest(readings, 'start.ran') === null }
  const dry = latest(readings, 'start.dry-crank')?.value
  if (dry?.lightDeg !== undefined && dry.commandedDeg !== undefined)
    asked.light = dry.lightDeg + (zeroMark(c)?.correctionDeg ?? 0) - dry.commandedDeg
  const injectors = latest(readings, 'start.injectors')?.value
  if (injectors) asked.clicks = injectors.silent.length === 0 ? 'all' : injectors.clicked.length === 0 ? 'none' : 'some'
  const valve = latest(readings, 'start.idle-valve')?.value
  if (valve) asked.valve = valve.moves ? 'moves' : 'stuck'
  const ports = latest(readings, 'start.cylinders')?.value
  if (ports) asked.ports = ports.cool.length ? 'some cool' : 'even'
  return asked
}
