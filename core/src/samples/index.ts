export type { DelayModel } from './delay.ts'
export { defaultLimits, excludedReasons, judgeSamples, type SampleLimits, type Samples } from './samples.ts'
export { windowSlope } from './steady.ts'
