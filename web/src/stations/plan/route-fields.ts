import { ACCEPTED_WORK, HOURLY_RATE } from '@vectum/core'
import { pick, quantity as q, yesNo } from '../../quantity/field.ts'

const weights: [number, string][] = [
  [0, 'no'],
  [1, 'a little'],
  [2, 'yes'],
  [3, 'much'],
]
/** What was chosen for the route taken, by its sheets. */
export const chosenFields = [
  q('choices.plan.injectors', 'Injectors', 'count'),
  q('choices.plan.injectorCcMin', 'Injector flow, each', 'injectorFlow', 'its sheet'),
  q('choices.plan.injectorRatedKpa', 'Rated at', 'pressure', 'pressure difference on the sheet'),
  q('choices.plan.fuelPressureKpa', 'Fuel pressure', 'pressure', 'over the injector outlet'),
  q('choices.plan.maxDutyPct', 'Highest duty', 'percent', '85 % until said otherwise'),
  yesNo('choices.plan.phased', 'Phased injection', 'needs a cam signal'),
  q('choices.plan.throttleM3Min', 'Throttle passes', 'airVolume', 'all bores, its sheet'),
  q('choices.plan.throttleRatedKpa', 'At a depression of', 'pressure', 'test depression', 1),
  q('choices.plan.throttleDropKpa', 'Depression allowed', 'pressure', '5 kPa until said otherwise', 1),
  yesNo('choices.plan.brakeBooster', 'Brake booster on vacuum'),
]
/** What the owner weighs the routes by. */
export const weighFields = [
  pick('choices.plan.periodLook', 'A period look matters', weights),
  pick('choices.plan.reversible', 'Nothing drilled or cut', weights),
  pick('choices.plan.quiet', 'Quiet', weights),
  q('choices.plan.acceptWork', 'Points of work accepted', 'count', `${ACCEPTED_WORK} until said otherwise`),
  q('choices.plan.hourlyRate', 'An hour counts', 'number', `${HOURLY_RATE} until said otherwise`),
]
