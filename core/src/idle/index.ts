export * from './spectrum.ts'
export * from './verdict.ts'
