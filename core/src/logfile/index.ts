export * from './channels.ts'
export * from './sniff.ts'
export * from './mapping.ts'
export * from './read.ts'
