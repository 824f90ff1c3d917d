export type Zone = 'bay' | 'cabin' | 'boot' | 'under'
/** Shares of the wheelbase: x from the front axle back, y from the middle to the right. */
export type Share = readonly [x: number, y: number]

/** Usual places of what a harness joins. Battery, pump and unit go by the survey. */
export const PLACES: Record<string, { label: string; at: Share; zone: Zone }> = {
  battery: { label: 'Battery', at: [0.18, -0.22], zone: 'bay' },
  fuses: { label: 'Fuses and relays', at: [0.23, -0.2], zone: 'bay' },
  unit: { label: 'Control unit', at: [0.33, 0.2], zone: 'cabin' },
  switch: { label: 'Ignition switch', at: [0.38, -0.12], zone: 'cabin' },
  pump: { label: 'Fuel pump', at: [1.04, 0.2], zone: 'under' },
  'lift-pump': { label: 'Lift pump', at: [1.02, 0.12], zone: 'under' },
  coil: { label: 'Coil', at: [0.2, 0.19], zone: 'bay' },
  coils: { label: 'Coils', at: [0.1, 0.06], zone: 'bay' },
  distributor: { label: 'Distributor', at: [0.18, 0.02], zone: 'bay' },
  crank: { label: 'Crank sensor', at: [-0.06, 0.05], zone: 'bay' },
  cam: { label: 'Cam sensor', at: [0.02, -0.05], zone: 'bay' },
  throttle: { label: 'Throttle and its sensor', at: [0.07, -0.06], zone: 'bay' },
  injectors: { label: 'Injectors', at: [0.09, -0.07], zone: 'bay' },
  'idle-valve': { label: 'Idle valve', at: [0.05, -0.06], zone: 'bay' },
  coolant: { label: 'Coolant sensor', at: [0, -0.03], zone: 'bay' },
  air: { label: 'Air sensor', at: [0.02, -0.14], zone: 'bay' },
  map: { label: 'Pressure sensor', at: [0.24, 0.1], zone: 'bay' },
  lambda: { label: 'Exhaust sensor', at: [0.36, 0.1], zone: 'under' },
  fan: { label: 'Fan', at: [-0.14, 0.03], zone: 'bay' },
  alternator: { label: 'Alternator', at: [-0.04, -0.1], zone: 'bay' },
  block: { label: 'Engine block', at: [0.14, -0.05], zone: 'bay' },
  body: { label: 'Body', at: [0.24, -0.12], zone: 'bay' },
  'body-front': { label: 'Body at the front', at: [-0.13, 0.12], zone: 'bay' },
  'body-rear': { label: 'Body at the pump', at: [1.02, 0.24], zone: 'under' },
  pedal: { label: 'Pedal', at: [0.33, -0.13], zone: 'cabin' },
  display: { label: 'Display', at: [0.38, -0.03], zone: 'cabin' },
  tach: { label: 'Tachometer', at: [0.38, -0.17], zone: 'cabin' },
  gearbox: { label: 'Gearbox controller', at: [0.45, 0], zone: 'cabin' },
  box: { label: 'Ignition box', at: [0.2, 0.23], zone: 'bay' },
}
export const isPlace = (id: string): boolean => id in PLACES
export const placeIds = Object.keys(PLACES)

const BOLTED = new Set(['battery', 'block', 'body', 'body-rear', 'body-front', 'alternator'])
/** Where wires end in an eyelet under a bolt, not in a plug. */
export const isBolted = (place: string): boolean => BOLTED.has(place)
