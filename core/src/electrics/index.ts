export { wireGauge } from './gauge.ts'
export { wiringNetwork } from './network.ts'
export { voltageDrop } from './voltage-drop.ts'
