export { oneChangeEntries } from './entries.ts'
export { type TestedChange, lastTest, type LastTest, oneChangeRules, reversalShown, untested } from './one-change.ts'
