export { KNOCK_BACK_DEG } from './limits.ts'
export { mapAdvanceDeg, takeTrial } from './take-trial.ts'
export { heldShares, judgeTrial, type Trial, type TrialPoint } from './trial.ts'
export { dynoOnly, mayTrial, type TrialAt, trialGates, trialRules, trialsOf } from './trials.ts'
