import type { Cause } from './causes.ts'
import type { Learns } from '../unit/index.ts'
import type { KnownFuel, KnownTraces, TuneDocument } from '../tune/index.ts'

/** What a diagnosis knows of the car and of the tune the log is held against; plain data, so that it can cross to a worker. */
export interface DiagnosedCar {
  barometerKpa: number
  /** what the engine cannot pass, where it was told */
  mostRpm?: number
  mostKpa?: number
  /** a person said that the log is this car's */
  saidMine?: boolean
  /** the loop was open, said at the import */
  loopOpen?: boolean
  learns?: Learns
  /** tested since, and found not to be it */
  ruledOut?: readonly Cause[]
  /** what earlier logs left in this table, cell by cell, and how well that is known */
  known?: KnownFuel
  /** and what their traces showed besides the table */
  traces?: KnownTraces
  /** dead time of the tune it is held against, ms by volts */
  deadTimeMs?: readonly (readonly [number, number])[]
  /** the tune that the unit is known to hold: driven on the bench, or read back; then a pulse tells whether it is the one it is held against */
  held?: Pick<TuneDocument, 'axes' | 'tables' | 'parameters' | 'runner'>
}
