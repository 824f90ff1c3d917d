import { threadsMm } from '@vectum/core'
import { type Field, pick, quantity, yesNo } from '../../quantity/field.ts'

/** What is asked of one joint: first where its bolts sit, then what they are. */
export const boltFields = (joint: string, pattern: string | undefined): Field[] => {
  const base = `choices.fitup.joints.${joint}`
  return [
    pick(`${base}.pattern`, [
      ['rectangle', 'two sides'],
      ['circle', 'circle'],
      ['row', 'one row'],
    ]),
    quantity(`${base}.bolts`, 'count'),
    ...(pattern === 'circle'
      ? [quantity(`${base}.diameterMm`, 'length', undefined, 0)]
      : [quantity(`${base}.lengthMm`, 'length', undefined, 0)]),
    ...(pattern === 'rectangle' ? [quantity(`${base}.widthMm`, 'length', undefined, 0)] : []),
    pick(
      `${base}.threadMm`,
      threadsMm.map((d) => [d, `M${d}`]),
    ),
    pick(
      `${base}.class`,
      [
        ['5.8', '5.8'],
        ['8.8', '8.8'],
        ['10.9', '10.9'],
      ],
      'on the head of the bolt; 8.8 until told',
    ),
    pick(`${base}.lug`, [
      ['light-alloy', 'light alloy'],
      ['cast-iron', 'cast iron'],
      ['steel', 'steel'],
    ]),
    pick(
      `${base}.lubrication`,
      [
        ['dry', 'dry'],
        ['oiled', 'oiled'],
        ['paste', 'paste'],
      ],
      'dry until told',
    ),
    yesNo(`${base}.washer`),
    quantity(`${base}.engagementMm`, 'length', 'turns of thread times the pitch'),
    quantity(`${base}.sheetNm`, 'torque', 'goes before anything worked out', 1),
  ]
}
