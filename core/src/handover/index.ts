export { handover } from './station.ts'
