export { applyWarmUp, judgeWarmUp, type WarmUpJudged } from './warm-up.ts'
