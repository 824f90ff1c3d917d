export * from './choices.ts'
export * from './frequency.ts'
export * from './speedometer.ts'
export * from './tachometer.ts'
