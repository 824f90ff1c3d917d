/** How far a change to the tune has come on its way into the unit (handbook 05). */
export const takingSteps = ['edited', 'sent', 'stored', 'power-cycled', 'read-back'] as const
export type TakingStep = (typeof takingSteps)[number]
export const takingWords: Record<TakingStep, string> = {
  edited: 'only written here',
  sent: 'sent to the unit',
  stored: 'stored in it',
  'power-cycled': 'key off and on again',
  'read-back': 'read back equal',
}
