import type { z } from 'zod'

/** "must be 0 to 1500 kPa"-like wording for what a schema refuses, with the field's path. */
export function zodErrors(error: z.ZodError): { path: string; message: string }[] {
  return error.issues.flatMap((issue) => {
    const path = issue.path.join('.')
    if (issue.code === 'unrecognized_keys')
      return issue.keys.map((key) => ({ path: path ? `${path}.${key}` : key, message: 'is not a field that is known here' }))
    return [{ path, message: wording(issue) }]
  })
}

function wording(issue: z.core.$ZodIssue): string {
  const unit = unitOf(issue.path)
  switch (issue.code) {
    case 'invalid_type':
      return `must be ${/^[aeiou]/.test(issue.expected) ? 'an' : 'a'} ${issue.expected === 'int' ? 'whole number' : issue.expected}${unit ? ` in ${unit}` : ''}`
    case 'too_small':
      return issue.origin === 'array' || issue.origin === 'string'
        ? issue.message
        : `must be ${issue.inclusive ? 'at least' : 'more than'} ${issue.minimum}${unit ? ` ${unit}` : ''}`
    case 'too_big':
      return issue.origin === 'array' || issue.origin === 'string'
        ? issue.message
        : `must be ${issue.inclusive ? 'at most' : 'less than'} ${issue.maximum}${unit ? ` ${unit}` : ''}`
    case 'invalid_value':
      return `must be one of ${issue.values.map(String).join(', ')}`
    case 'invalid_key':
      return issue.issues[0]?.message ?? issue.message
    default:
      return issue.message
  }
}

/** The unit stands at the end of the field's name. */
const suffixes: [RegExp, string][] = [
  [/Kpa$/, 'kPa'],
  [/CcMin$/, 'cc/min'],
  [/Cc$/, 'cc'],
  [/Mm$/, 'mm'],
  [/Kw$/, 'kW'],
  [/Rpm$|^rpm$/, 'rpm'],
  [/^(up|shut|full|tilt|start)Deg$/, 'degrees'],
  [/Deg(Btdc)?$/, 'crank degrees'],
  [/DistDeg$/, 'distributor degrees'],
  [/Us$/, 'microseconds'],
  [/Ms$/, 'ms'],
  [/Pct$/, '%'],
  [/Ohm$/, 'ohm'],
  [/Mh$/, 'mH'],
  [/Lph$/, 'L/h'],
  [/LPer100km$/, 'L/100 km'],
  [/Mm2$/, 'mm²'],
  [/M2$/, 'm²'],
  [/Hours$/, 'h'],
  [/[Dd]ays$/, 'days'],
  [/[Mm]inutes$/, 'min'],
  [/^micron$/, 'µm'],
  [/Kg$/, 'kg'],
  [/[a-z]Nm$/, 'Nm'],
  [/KgH$/, 'kg/h'],
  [/[a-z]N$/, 'N'],
  [/[a-z]V$/, 'V'],
  [/[a-z]A$/, 'A'],
  [/[a-z]C$/, '°C'],
  [/[a-z]M$/, 'm'],
  [/[a-z]S$/, 's'],
  [/[a-z]L$/, 'L'],
]
function unitOf(path: PropertyKey[]): string | null {
  const name = String(path.filter((part) => typeof part === 'string').at(-1) ?? '')
  return suffixes.find(([pattern]) => pattern.test(name))?.[1] ?? null
}
