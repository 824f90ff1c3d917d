export { type DelayModel, USUAL_FLOW } from './delay.ts'
export { defaultLimits, excludedReasons, judgeSamples, type SampleLimits, type Samples } from './samples.ts'
export { meanOf, windowSlope } from './steady.ts'
