import { degC, type Said, say } from '../kernel/index.ts'

/** What a flag of the unit's own checks means and where to look. A flag of another device is shown by its own words. */
export const faultFlagKinds: Record<string, { title: string; means: Said; look: string }> = {
  'throttle-range': {
    title: 'throttle sensor out of range',
    means: 'Its wire gives less than 0.2 V or more than 4.8 V.',
    look: 'Plug, the three wires, the sensor’s track; then shut and open volts at Base tune.',
  },
  'map-range': {
    title: 'manifold pressure out of range',
    means: 'The sensor stands at its end: open wire, short, or a pressure beyond it.',
    look: 'Plug and wires; with boost a sensor of a larger range.',
  },
  'coolant-range': {
    title: 'coolant sensor out of range',
    means: say`Colder than ${degC(-38)} or hotter than ${degC(135)}: open or shorted.`,
    look: 'Ohms at its plug against the curve at Base tune.',
  },
  'air-range': {
    title: 'intake air sensor out of range',
    means: say`Colder than ${degC(-38)} or hotter than ${degC(100)}: open or shorted.`,
    look: 'Ohms at its plug against the curve at Base tune.',
  },
  'supply-range': {
    title: 'supply out of range',
    means: 'Under 5.5 V or over 16 V at the unit.',
    look: 'Battery, its posts, the unit’s feed and ground; then the charging.',
  },
}
export const flagTitle = (flag: string): string => faultFlagKinds[flag]?.title ?? flag
