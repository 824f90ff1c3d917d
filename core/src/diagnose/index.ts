export type { DiagnosedCar } from './car.ts'
export { Cause, causes } from './causes.ts'
export { diagnose, type Diagnosis, loopUnlogged, Suspect } from './diagnose.ts'
export type { Moment } from './shapes.ts'
