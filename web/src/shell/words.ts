import type { StationReport, StationState } from '@vectum/core'

/** One or two words for a station's state, as they stand under its name. */
function stateWords(state: StationState, findings: { severity: string }[], waitsFor: string[]): string {
  if (state === 'blocked') {
    const stops = findings.filter((f) => f.severity === 'stop').length
    return `stop${stops > 1 ? ` ${stops}` : ''}`
  }
  if (state === 'open' && waitsFor.length) return `waits: ${waitsFor[0]}`
  return state
}

export function reportWords(report: StationReport, all: StationReport[]): string {
  return stateWords(
    report.state,
    report.findings,
    report.waitsFor.map((id) => all.find((s) => s.id === id)?.title ?? id),
  )
}
