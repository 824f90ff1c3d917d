export * from './calculation.ts'
export * from './catalogue.ts'
export * from './errors.ts'
export * from './wording.ts'
