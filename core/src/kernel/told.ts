/**
 * What a build holds, declared piece by piece by the subjects it belongs to: each adds its own members here by declaration merging, so that the
 * kernel knows no subject and every reader is typed all the same. `docs/decisions/0001-floors-and-declaration-merging.md` says why.
 */
// eslint-disable-next-line @typescript-eslint/no-empty-object-type
export interface FactTable {}
// eslint-disable-next-line @typescript-eslint/no-empty-object-type
export interface ChoiceTable {}
/** kind of entry -> its value */
// eslint-disable-next-line @typescript-eslint/no-empty-object-type
export interface EntryTable {}
/** kind of contribution -> what one station gives */
// eslint-disable-next-line @typescript-eslint/no-empty-object-type
export interface ContributionTable {}
