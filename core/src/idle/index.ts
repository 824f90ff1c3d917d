export { IdleVerdict, judgeIdle } from './verdict.ts'
