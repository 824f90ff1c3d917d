export { feltEntries } from './entries.ts'
export { closers, closerWords, feltKinds, type FeltKind, feltLead, feltRequirement, feltRules, feltSays, openFelt } from './felt.ts'
export { marksIn, type Moment, momentInLog, momentOf } from './moment.ts'
