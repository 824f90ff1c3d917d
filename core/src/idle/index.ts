export { idleEntries } from './entries.ts'
export { IdleVerdict, judgeIdle } from './verdict.ts'
