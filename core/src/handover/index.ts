export * from './report.ts'
