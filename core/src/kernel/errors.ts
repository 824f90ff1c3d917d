/** Every error of the core: a code for programs, a sentence for people, the field it is about. `docs/errors.md` explains each. */
export const coreErrors = {
  NOT_POSITIVE: (field: string) => `${field} must be a finite number above zero`,
  OUT_OF_RANGE: (field: string, why = '') => `${field} is out of range${why ? `: ${why}` : ''}`,
  NOT_A_QUANTITY: (field: string, why = '') => `${field} is not a number with a unit${why ? `: ${why}` : ''}`,
  LOG_EMPTY: () => 'the file is empty; export the log again and check that it has rows before you bring it here',
  LOG_BINARY: () => 'the file is not text; export the log as CSV (comma, semicolon or tab separated) and bring that',
  LOG_TOO_SHORT: (_: string, why = '') => `the log has too few rows to work with${why ? `: ${why}` : ''}`,
  LOG_NO_HEADER: () => 'no row of column names was found in the first 60 lines; the log needs one above its data',
  LOG_NO_TIME: () => 'no column holds time; name one "time" (seconds, milliseconds or hh:mm:ss) or point at it in the mapping',
  LOG_ALL_BAD: (column: string) => `every cell of "${column}" is unreadable; check the decimal mark and the mapping of that column`,
  LOG_BACKWARD: (_: string, why = '') => `time runs backward so often that rows cannot be put in order${why ? `: ${why}` : ''}`,
  LOG_QUOTE: (column: string, why = '') => `the log cannot be read at ${column}${why ? `: ${why}` : ''}`,
  COLUMN_MISSING: (column: string) => `the log has no column for ${column}; map one in the import step`,
  AXIS_INVALID: (axis: string, why = '') => `the ${axis} axis is not usable${why ? `: ${why}` : ''}`,
  TABLE_INVALID: (table: string, why = '') => `the table "${table}" cannot be read${why ? `: ${why}` : ''}`,
  FACT_MISSING: (field: string) => `${field} is needed for this and is not known yet; enter it in Survey`,
  SCHEDULE_LOOP: (_: string, why = '') => `the order of the tasks goes in a circle${why ? `: ${why}` : ''}`,
  SCHEDULE_UNKNOWN: (task: string, why = '') => `the task "${task}" cannot be placed${why ? `: ${why}` : ''}`,
  SCHEDULE_NO_TIME: (task: string, why = '') => `the task "${task}" never comes to its turn${why ? `: ${why}` : ''}`,
  PARTS_INVALID: (field: string, why = '') => `the parts list cannot be read at ${field}${why ? `: ${why}` : ''}`,
  SCOPE_UNREADABLE: (_: string, why = '') => `the scope trace cannot be read${why ? `: ${why}` : ''}`,
  UNIT_FILE_UNREADABLE: (_: string, why = '') => `the unit’s file cannot be read${why ? `: ${why}` : ''}`,
  LEARNED_INVALID: (field: string, why = '') => `the learned table cannot be read at ${field}${why ? `: ${why}` : ''}`,
  EVIDENCE_MISSING: (what: string, why = '') => `${what} cannot be worked out${why ? `: ${why}` : ''}`,
  NOT_ALLOWED: (_: string, why = '') => `not allowed now${why ? `: ${why}` : ''}`,
} as const

export type CoreErrorCode = keyof typeof coreErrors

export class CoreError extends Error {
  override name = 'CoreError'
  constructor(
    readonly code: CoreErrorCode,
    readonly field: string,
    why?: string,
  ) {
    super((coreErrors[code] as (field: string, why?: string) => string)(field, why))
  }
}
