export { applyColdSteps, applyLength, applySteps } from './apply.ts'
export type { StepLength } from './length.ts'
export { LEAST_STEPS } from './limits.ts'
export { judgeSteps, type StepsJudged } from './steps.ts'
