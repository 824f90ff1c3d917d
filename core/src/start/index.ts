export * from './findings.ts'
export * from './gates.ts'
export * from './sanity.ts'
export * from './stop-rules.ts'
