export * from './choices.ts'
export * from './findings.ts'
