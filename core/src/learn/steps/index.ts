export { LEAST_STEPS } from './limits.ts'
export { applySteps, judgeSteps, type StepsJudged } from './steps.ts'
