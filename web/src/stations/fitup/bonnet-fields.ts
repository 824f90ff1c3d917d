import { type StackPart, stackParts } from '@vectum/core'
import { factField, quantity } from '../../quantity/field.ts'

// the part stands over its fields: its name is not said again in each
const partFields = (part: StackPart) =>
  (['heightMm', 'spreadMm', 'leastMm'] as const)
    .map((field) => quantity(`choices.fitup.stack.${part}.${field}`, 'length'))
    .map((f) => ({ ...f, label: f.label.split(', ')[0] }))
/** What stands on the flange, part by part, and what is asked of all of it. */
export const parts = (Object.keys(stackParts) as StackPart[]).map((part) => ({ part, label: stackParts[part], fields: partFields(part) }))
export const fields = [
  factField('place.bonnetMm'),
  quantity('choices.fitup.liftMm', 'length', '20 mm until measured: pry it up by hand'),
  quantity('choices.fitup.cleanerMm', 'length'),
  quantity('choices.fitup.tiltDeg', 'angle', 'against the bonnet'),
  quantity('choices.fitup.neckMm', 'length'),
  quantity('choices.fitup.bodyNeckMm', 'length'),
]
