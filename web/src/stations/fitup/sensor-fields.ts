import { factField, pick, quantity } from '../../quantity/field.ts'

const path = 'choices.fitup.sensor'
/** Where the exhaust sensor sits. */
export const fields = [
  quantity(`${path}.fromPortMm`, 'length', 'along the pipe, by string', 0),
  quantity(`${path}.toEndMm`, 'length', 'to where it blows out, or to the silencer’s end', 0),
  quantity(`${path}.mergeMm`, 'length', 'from the port', 0),
  quantity(`${path}.pipeMm`, 'length'),
  quantity(`${path}.upDeg`, 'angle', 'axis over level', 0),
  quantity(`${path}.sensors`, 'count'),
  pick(`${path}.sees`, [
    ['all', 'all'],
    ['left', 'left bank'],
    ['right', 'right bank'],
  ]),
  factField('exhaust.bung'),
]
