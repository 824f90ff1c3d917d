export * from './units.ts'
