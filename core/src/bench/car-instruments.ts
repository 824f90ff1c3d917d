import { CoreError, type Random } from '../kernel/index.ts'
import type { Bench } from './rig.ts'

/** What an instrument on the bench car tells: a sentence, and its numbers with their units in the name. */
export interface Seen {
  says: string
  values: Record<string, number | string | null>
}
export interface CarInstrument {
  title: string
  accuracy: string
  /** of careful hands, connecting it included */
  minutes: number
  /** seconds before its reading can be trusted */
  settlesS: number
  needs: 'running' | 'still' | 'key-on' | 'any'
  read: (bench: Bench, noise: Random) => Seen
}

const to = (value: number, step: number): number => Math.round(Math.round(value / step) * step * 1e6) / 1e6
/** rail pressure under which a weeping joint stays dry, kPa */
const WEEPS_FROM_KPA = 100
const NEEDLE = { flicks: 0.01, swings: 0.08 }

/** The instruments at the bench car, each with accuracy, settling time and minutes. None of them sees more than a careful person could. */
export const carInstruments = {
  'vacuum-gauge': {
    title: 'Vacuum gauge',
    accuracy: '± 1 kPa',
    minutes: 4,
    settlesS: 2,
    needs: 'running',
    read: (b, noise) => {
      const vacuumKpa = to(b.car.barometerKpa - b.mapKpa + 0.5 * noise.normal(), 0.5)
      const needle =
        b.crank.missShare > NEEDLE.swings ? 'swings' : b.crank.missShare > NEEDLE.flicks ? 'flicks now and then' : 'stands still'
      return { says: `${vacuumKpa} kPa below the air; the needle ${needle}`, values: { vacuumKpa, needle } }
    },
  },
  multimeter: {
    title: 'Multimeter',
    accuracy: '± 0.02 V',
    minutes: 3,
    settlesS: 1,
    needs: 'any',
    read: (b, noise) => {
      const volts = (v: number) => to(v + 0.01 * noise.normal(), 0.01)
      const batteryV = volts(b.electrics.batteryV)
      const groundV = volts(b.electrics.groundLiftV)
      return {
        says: `${batteryV.toFixed(2)} V at the battery; ${groundV.toFixed(2)} V between the unit’s ground and battery minus`,
        values: { batteryV, groundV },
      }
    },
  },
  'fuel-gauge': {
    title: 'Fuel pressure gauge',
    accuracy: '± 4 kPa',
    minutes: 5,
    settlesS: 1,
    needs: 'any',
    read: (b, noise) => {
      const pressureKpa = Math.max(0, to(b.fuel.railKpa + 2 * noise.normal(), 2))
      return { says: `${pressureKpa} kPa at the rail`, values: { pressureKpa } }
    },
  },
  'clamp-meter': {
    title: 'Clamp meter on the key’s feed',
    accuracy: '± 3 %',
    minutes: 2,
    settlesS: 1,
    needs: 'key-on',
    read: (b, noise) => {
      const loadA = to(b.electrics.loadA * (1 + 0.015 * noise.normal()), 0.1)
      return { says: `${loadA.toFixed(1)} A`, values: { loadA } }
    },
  },
  'wideband-display': {
    title: 'Second mixture meter at the tail pipe',
    accuracy: '± 0.02 lambda',
    minutes: 6,
    settlesS: 4,
    needs: 'running',
    read: (b, noise) => {
      const lambda = to(Math.min(2.2, 1 / Math.max(0.3, b.crank.meanPhi)) + 0.01 * noise.normal(), 0.01)
      return { says: `lambda ${lambda.toFixed(2)} at the tail pipe`, values: { lambda } }
    },
  },
  'infrared-thermometer': {
    title: 'Infrared thermometer',
    accuracy: '± 3 °C',
    minutes: 3,
    settlesS: 1,
    needs: 'any',
    read: (b, noise) => {
      const degC = (t: number) => to(t + 1.5 * noise.normal(), 1)
      const housingC = degC(b.heat.coolantC)
      const order = b.ignition?.firingOrder ?? b.crank.portK.map((_, i) => i + 1)
      const ports = order.map((cylinder, i) => ({ cylinder, portC: degC(b.heat.coolantC + b.crank.portK[i]) }))
      ports.sort((x, y) => x.cylinder - y.cylinder)
      return {
        says: `thermostat housing ${housingC} °C; exhaust ports ${ports.map((p) => `${p.cylinder}: ${p.portC}`).join(', ')} °C`,
        values: { housingC, ...Object.fromEntries(ports.map((p) => [`port${p.cylinder}C`, p.portC])) },
      }
    },
  },
  borescope: {
    title: 'Plug out, borescope in',
    accuracy: 'seen',
    minutes: 12,
    settlesS: 0,
    needs: 'still',
    read: (b) => {
      const plugs = b.plugs()
      return { says: plugs === 'wet' ? 'plugs wet, fuel on the piston' : 'plugs dry', values: { plugs } }
    },
  },
  'leak-inspection': {
    title: 'Light and dry towel along every fuel joint',
    accuracy: 'seen',
    minutes: 8,
    settlesS: 0,
    needs: 'any',
    read: (b) => {
      if (b.fuel.railKpa < WEEPS_FROM_KPA)
        throw new CoreError('NOT_ALLOWED', 'leak inspection', `there is no pressure to show a leak (${b.fuel.railKpa.toFixed(0)} kPa)`)
      const wet = !b.condition.jointsDry
      return { says: wet ? 'wet at the feed joint' : 'all joints dry', values: { where: wet ? 'feed' : null } }
    },
  },
  'smoke-test': {
    title: 'Smoke into the intake',
    accuracy: 'seen',
    minutes: 15,
    settlesS: 30,
    needs: 'still',
    read: (b) => {
      const where = [
        ...(b.condition.vacuumLeakShare > 0 ? ['at the manifold flange'] : []),
        ...(b.condition.mapHose === 'off' ? ['at the pressure sensor’s hose'] : []),
        ...(b.condition.exhaustLeakShare > 0 ? ['at the exhaust joint before the sensor'] : []),
      ]
      return { says: where.length ? `smoke ${where.join(' and ')}` : 'no smoke', values: { where: where.join('; ') || null } }
    },
  },
} as const satisfies Record<string, CarInstrument>

export type CarInstrumentId = keyof typeof carInstruments
export const carInstrumentIds = Object.keys(carInstruments) as [CarInstrumentId, ...CarInstrumentId[]]

/** An instrument that is connected and has not settled yet. */
export class Settling {
  constructor(
    /** bench time from which its reading can be trusted, s */
    readonly readyAtS: number,
    /** @throws CoreError NOT_ALLOWED when the engine has left the state the instrument needs */
    readonly read: () => Seen,
  ) {}
}

/**
 * Connects an instrument: its reading comes once it has settled, and the engine must be in the state it needs now and then.
 * @throws CoreError NOT_ALLOWED when the engine is not in that state
 */
export function connectCarInstrument(bench: Bench, id: CarInstrumentId, noise: Random): Settling {
  const { title, needs, settlesS, read }: CarInstrument = carInstruments[id]
  const check = () => {
    const refuse = (why: string) => new CoreError('NOT_ALLOWED', title, why)
    if (needs === 'running' && bench.state !== 'running') throw refuse('the engine must run')
    if (needs === 'still' && bench.rpm > 20) throw refuse('the engine must stand still')
    if (needs === 'key-on' && !bench.keyOn) throw refuse('the key must be on')
  }
  check()
  return new Settling(bench.timeS + settlesS, () => {
    check()
    return read(bench, noise)
  })
}
