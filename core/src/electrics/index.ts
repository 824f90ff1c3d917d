export { wireGauge } from './gauge.ts'
export { voltageDrop } from './voltage-drop.ts'
