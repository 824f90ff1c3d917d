export { LEAST_STEPS } from './limits.ts'
export { applyColdSteps, applySteps, judgeSteps, type StepsJudged } from './steps.ts'
