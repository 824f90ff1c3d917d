export { boltTorque } from './bolt-torque.ts'
export { plateOpenArea } from './plate-open-area.ts'
