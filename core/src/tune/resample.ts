import { CoreError } from '../kernel/index.ts'
import { bilinear, checkAxis } from './axes.ts'
import { settle } from './grid-edit.ts'
import { tableNames, tableSpecs, TuneDocument } from './tune.ts'

export const axisSpecs = {
  rpm: { label: 'speed', unit: 'rpm' },
  mapKpa: { label: 'manifold pressure', unit: 'kPa' },
} as const
export type AxisName = keyof typeof axisSpecs

/**
 * Breakpoints from what a person typed: numbers with blanks, commas or semicolons between them.
 * @throws CoreError AXIS_INVALID naming the axis, the bound and the unit
 */
export function parseAxis(name: AxisName, text: string): number[] {
  const { label, unit } = axisSpecs[name]
  const axis = text
    .split(/[\s;,]+/)
    .filter(Boolean)
    .map(Number)
  const bad = axis.findIndex((v) => !Number.isFinite(v))
  if (bad >= 0) throw new CoreError('AXIS_INVALID', label, `"${text.split(/[\s;,]+/).filter(Boolean)[bad]}" is not a number of ${unit}`)
  const checked = TuneDocument.shape.axes.shape[name].safeParse(axis)
  if (!checked.success)
    throw new CoreError('AXIS_INVALID', label, `it has ${axis.length} breakpoints; 8 to 24 are wanted, each within the bounds of ${unit}`)
  checkAxis(label, axis)
  return axis
}

/**
 * The tune on other axes: every table read at the new breakpoints from the old one as a unit would (bilinear, held past the ends), so that its shape
 * stays; where old breakpoints are kept their cells come back exactly.
 * @throws CoreError AXIS_INVALID when an axis does not rise or has not 8 to 24 breakpoints
 */
export function resample(tune: TuneDocument, axes: TuneDocument['axes']): TuneDocument {
  for (const name of Object.keys(axisSpecs) as AxisName[]) parseAxis(name, axes[name].join(' '))
  const tables = Object.fromEntries(
    tableNames.map((name) => [
      name,
      settle(
        axes.mapKpa.flatMap((mapKpa) => axes.rpm.map((rpm) => bilinear(tune.axes, tune.tables[name], rpm, mapKpa))),
        tableSpecs[name],
      ),
    ]),
  ) as TuneDocument['tables']
  const note = (name: string) => `${tune.provenance[name] ?? 'not said'}; brought to ${axes.rpm.length} × ${axes.mapKpa.length} axes`
  const runner = tune.runner && {
    ...tune.runner,
    ve: tune.runner.throttlePct.flatMap((pct) =>
      axes.rpm.map(
        (rpm) => Math.round(bilinear({ rpm: tune.axes.rpm, mapKpa: tune.runner!.throttlePct }, tune.runner!.ve, rpm, pct) * 10) / 10,
      ),
    ),
  }
  return {
    ...tune,
    ...(runner ? { runner } : {}),
    axes,
    tables,
    provenance: { ...tune.provenance, ...Object.fromEntries(tableNames.map((name) => [name, note(name).slice(0, 400)])) },
  }
}
