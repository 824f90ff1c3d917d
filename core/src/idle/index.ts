export { idleEntries } from './entries.ts'
export { tuneIdleOptions } from './options.ts'
export { IdleVerdict, type IdleOptions, judgeIdle } from './verdict.ts'
