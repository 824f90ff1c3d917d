/** What somebody may do: an owner also says who comes in; a reader changes nothing, but may always stop a running engine. */
export const roles = ['owner', 'fitter', 'reader'] as const
export type Role = (typeof roles)[number]
export const roleWords: Readonly<Record<Role, string>> = {
  owner: 'works on the cars, and says who comes in',
  fitter: 'works on the cars',
  reader: 'looks, changes nothing; may stop an engine',
}
/** Whether a role may do what needs another: each may all that those after it may. */
export const mayAs = (role: Role, needed: Role): boolean => roles.indexOf(role) <= roles.indexOf(needed)
