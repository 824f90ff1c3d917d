import type { Me, Role } from '@vectum/core'

export const nobodySignsIn: Me = { access: 'open', person: null, role: 'owner', wantsSecret: false, firstOwner: true }
export const signedIn = (name: string, role: Role = 'fitter'): Me => ({
  access: 'signed-in',
  person: { id: `id-of-${name}`, name, role },
  role,
  wantsSecret: false,
  firstOwner: false,
})
