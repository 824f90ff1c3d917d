import { ACCEPTED_WORK, aimIds, HOURLY_RATE } from '@vectum/core'
import { pick, quantity as q, words, yesNo } from '../../quantity/field.ts'

const weights: [number, string][] = [
  [0, 'no'],
  [1, 'a little'],
  [2, 'yes'],
  [3, 'much'],
]
/** What was chosen for the route taken, by its sheets. */
export const chosenFields = [
  q('choices.plan.injectors', 'count'),
  q('choices.plan.injectorCcMin', 'injectorFlow', 'its sheet'),
  q('choices.plan.injectorRatedKpa', 'pressure', 'pressure difference on the sheet'),
  q('choices.plan.fuelPressureKpa', 'pressure', 'over the injector outlet'),
  q('choices.plan.maxDutyPct', 'percent', '85 % until said otherwise'),
  yesNo('choices.plan.phased', 'needs a cam signal'),
  q('choices.plan.throttleM3Min', 'airVolume', 'all bores, its sheet'),
  q('choices.plan.throttleRatedKpa', 'pressure', 'test depression', 1),
  q('choices.plan.throttleDropKpa', 'pressure', '5 kPa until said otherwise', 1),
  yesNo('choices.plan.brakeBooster'),
]
/** What the owner weighs the routes by. */
export const weighFields = [
  ...aimIds.map((id) => pick(`choices.plan.aims.${id}`, weights, 'by the use of the car until said')),
  pick('choices.plan.periodLook', weights),
  pick('choices.plan.reversible', weights),
  pick('choices.plan.quiet', weights),
  q('choices.plan.acceptWork', 'count', `${ACCEPTED_WORK} until said otherwise`),
  q('choices.plan.hourlyRate', 'number', `${HOURLY_RATE} until said otherwise`),
  words('choices.plan.currency', 'stands beside every price'),
]
