export { feltEntries } from './entries.ts'
export { closers, feltKinds, type FeltKind, feltLead, feltRequirement, feltRules, feltSays, openFelt } from './felt.ts'
export { FELT_ON_S } from './limits.ts'
export { marksIn, type Moment, momentInLog, momentOf } from './moment.ts'
