import { type contextOf, controlsTiming, degreesToUs, type phaseOf, rotorOffsetDistDeg } from '@vectum/core'

/** What stands on the dial now. */
export interface DialNow {
  phase: NonNullable<ReturnType<typeof phaseOf>>['output'] | null
  referenceDeg: number | null
  advanceDeg: number
  rpm: number
  chargeDeg: number | null
  syncMarginDeg: number | null
  slackDeg: number
}
/** The margins under the dial, those that this way of triggering has. */
export const phaseMargins = (c: ReturnType<typeof contextOf>, now: DialNow): { label: string; text: string; bad: boolean }[] =>
  [
    now.phase && { label: 'Overlap, worst end', text: `${now.phase.overlapDistDeg.toFixed(1)}°`, bad: now.phase.overlapDistDeg <= 0 },
    now.phase && {
      label: 'Clear of next tower',
      text: `${now.phase.crossFireMarginDistDeg.toFixed(1)}°`,
      bad: now.phase.crossFireMarginDistDeg <= 0,
    },
    controlsTiming(c) &&
      now.referenceDeg !== null && {
        label: 'Pulse to spark',
        text: `${(now.referenceDeg - now.advanceDeg).toFixed(0)}°, ${degreesToUs(now.referenceDeg - now.advanceDeg, now.rpm).toFixed(0)} µs`,
        bad: now.referenceDeg <= now.advanceDeg,
      },
    now.chargeDeg !== null && { label: 'Coil charges over', text: `${now.chargeDeg.toFixed(0)}°`, bad: false },
    now.syncMarginDeg !== null && { label: 'Cam pulse clear by', text: `${now.syncMarginDeg.toFixed(0)}°`, bad: false },
    now.slackDeg > 0 && { label: 'Slack', text: `${now.slackDeg.toFixed(0)}°`, bad: false },
  ].filter((m) => !!m)

/** Where the rotor stands as the spark comes, beside its terminal. */
export function underTerminal(advanceDeg: number, alignDegBtdc: number, lead: number): string {
  const offset = rotorOffsetDistDeg(advanceDeg, alignDegBtdc)
  return `${Math.abs(offset).toFixed(1)}° ${offset > 0.05 ? 'before' : offset < -0.05 ? 'past' : 'under'} terminal ${lead}`
}
/** What is seen on the dial, in a sentence that changes with what is dragged. */
export function dialStory(distributor: boolean, advanceDeg: number, alignDegBtdc: number, lead: number): string {
  if (!distributor)
    return `A spark at ${advanceDeg}° is ${advanceDeg < 0 ? 'after' : 'before'} top centre by that much; no rotor has to be anywhere.`
  const early = advanceDeg - alignDegBtdc
  return early === 0
    ? `In line at ${alignDegBtdc}°, spark at ${advanceDeg}°: the rotor is exactly under terminal ${lead} as it fires.`
    : `In line at ${alignDegBtdc}°. The spark at ${advanceDeg}° comes ${Math.abs(early).toFixed(0)} crank degrees ${early > 0 ? 'sooner' : 'later'}; the rotor turns half as fast, so it stands ${underTerminal(advanceDeg, alignDegBtdc, lead)}.`
}
