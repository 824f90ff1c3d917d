import { type Field, pick, quantity, yesNo } from '../../quantity/field.ts'

const base = 'choices.fitup.linkage'
const mm = (path: string, why?: string): Field => quantity(`${base}.${path}`, 'length', why)
/** What is asked of a linkage: pedal, then what it draws, then the plate. */
export const linkageFields = (kind: 'cable' | 'rod', cam: 'round' | 'snail' | 'lever', staged: boolean, cable: boolean): Field[] => [
  pick(`${base}.kind`, [
    ['cable', 'a cable'],
    ['rod', 'rods'],
  ]),
  mm('pedal.travelMm', 'of the pad, to the floor without carpet'),
  mm('pedal.padMm'),
  mm('pedal.armMm'),
  mm('carpetMm'),
  ...(kind === 'cable'
    ? [
        pick(`${base}.cam`, [
          ['round', 'round'],
          ['snail', 'a cam'],
          ['lever', 'a straight lever'],
        ]),
        mm('leverMm'),
        ...(cam === 'snail' ? [mm('endRadiusMm')] : []),
        ...(cam === 'lever' ? [mm('bracketMm'), quantity(`${base}.startDeg`, 'angle', 'beyond square to the bracket')] : []),
        mm('slackMm'),
      ]
    : [
        mm('rod.inMm'),
        mm('rod.crankMm'),
        mm('rod.couplerMm'),
        mm('rod.groundMm'),
        mm('rod.leverMm'),
        quantity(`${base}.rod.startDeg`, 'angle', 'from the line of the two pivots'),
      ]),
  mm('plate.boreMm'),
  quantity(`${base}.plate.shutDeg`, 'angle', 'from square across; 6° until told'),
  quantity(`${base}.plate.count`, 'count'),
  quantity(`${base}.springs`, 'count', 'each must shut it alone'),
  quantity(`${base}.shafts`, 'count'),
  yesNo(`${base}.staged`),
  ...(staged
    ? [
        mm('second.boreMm'),
        quantity(`${base}.second.count`, 'count'),
        quantity(`${base}.second.fromPct`, 'percent', 'of the first shaft’s way; 40 until told'),
        quantity(`${base}.second.fullDeg`, 'angle', 'its plate with the first wide open'),
      ]
    : []),
  ...(cable ? [mm('gearboxCable.armMm'), mm('gearboxCable.wantedMm', 'shut to full')] : []),
]
