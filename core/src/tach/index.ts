export * from './frequency.ts'
export * from './tachometer.ts'
