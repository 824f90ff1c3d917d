export const symptomIds = ['speed-spikes', 'resets', 'display-loss', 'pump-runs-on'] as const
export type SymptomId = (typeof symptomIds)[number]
export const symptomWords: Record<SymptomId, string> = {
  'speed-spikes': 'The speed jumps to what no crank can do',
  resets: 'The unit resets',
  'display-loss': 'A display loses its data',
  'pump-runs-on': 'The pump runs on after a stall',
}
export const suspectIds = [
  'solid-leads',
  'plain-plugs',
  'harness-route',
  'long-leads',
  'unit-ground',
  'shield-ends',
  'capacitor',
  'alternator',
] as const
export type SuspectId = (typeof suspectIds)[number]
