/** One row of a log, cell by cell: as text, and as a number when the cell is plainly one (NaN otherwise). */
export interface RowSource {
  readonly cells: number
  text(cell: number): string
  number(cell: number): number
}

/** A row that was split by a CSV library: any dialect, quotes included. */
export class TextRow implements RowSource {
  private row: string[] = []
  constructor(private readonly commaDecimal: boolean) {}

  set(row: string[]): this {
    this.row = row
    return this
  }
  get cells(): number {
    return this.row.length
  }
  text(cell: number): string {
    return (this.row[cell] ?? '').trim()
  }
  number(cell: number): number {
    const text = this.text(cell)
    if (text === '') return NaN
    return Number(this.commaDecimal ? text.replace(',', '.') : text)
  }
}

const NEWLINE = 10
const RETURN = 13
const SPACE = 32
const TAB = 9
const POW10 = Array.from({ length: 23 }, (_, i) => 10 ** i)
const MAX_EXACT = 2 ** 53

/**
 * A row read in place from bytes of an ASCII-compatible encoding without quotes. Splitting a million rows into strings takes longer
 * than the whole import may take, so numbers are read where they stand; anything but plain digits falls back to text.
 */
export class ByteRow implements RowSource {
  cells = 0
  private bytes: Uint8Array = new Uint8Array(0)
  private readonly starts: Int32Array
  private readonly ends: Int32Array
  private readonly delimiter: number
  private readonly mark: number
  private readonly decoder = new TextDecoder('utf-8')

  constructor(
    delimiter: string,
    private readonly commaDecimal: boolean,
    maxCells: number,
  ) {
    this.delimiter = delimiter.charCodeAt(0)
    this.mark = (commaDecimal ? ',' : '.').charCodeAt(0)
    this.starts = new Int32Array(maxCells)
    this.ends = new Int32Array(maxCells)
  }

  /** Takes the row that starts at `at`; returns where the next one starts. */
  read(bytes: Uint8Array, at: number): number {
    this.bytes = bytes
    const { starts, ends, delimiter } = this
    if (delimiter === SPACE) return this.readApart(bytes, at)
    const max = starts.length
    let cell = 0
    let start = at
    let i = at
    const length = bytes.length
    for (; i < length; i++) {
      const byte = bytes[i]
      if (byte === delimiter) {
        if (cell < max) {
          starts[cell] = start
          ends[cell] = i
        }
        cell++
        start = i + 1
      } else if (byte === NEWLINE) break
    }
    let end = i
    if (end > start && bytes[end - 1] === RETURN) end--
    if (cell < max) {
      starts[cell] = start
      ends[cell] = end
    }
    this.cells = Math.min(cell + 1, max)
    return i + 1
  }

  /** Cells that stand apart by any number of blanks. */
  private readApart(bytes: Uint8Array, at: number): number {
    const { starts, ends } = this
    const blank = (byte: number) => byte === SPACE || byte === TAB || byte === RETURN
    let cell = 0
    let i = at
    while (i < bytes.length && bytes[i] !== NEWLINE) {
      while (i < bytes.length && blank(bytes[i])) i++
      const start = i
      while (i < bytes.length && bytes[i] !== NEWLINE && !blank(bytes[i])) i++
      if (i > start) {
        if (cell < starts.length) {
          starts[cell] = start
          ends[cell] = i
        }
        cell++
      }
    }
    if (cell === 0) starts[0] = ends[0] = i
    this.cells = Math.max(1, Math.min(cell, starts.length))
    return i + 1
  }

  get empty(): boolean {
    return this.cells === 1 && this.starts[0] === this.ends[0]
  }

  text(cell: number): string {
    return cell < this.cells ? this.decoder.decode(this.bytes.subarray(this.starts[cell], this.ends[cell])).trim() : ''
  }

  number(cell: number): number {
    if (cell >= this.cells) return NaN
    const bytes = this.bytes
    let i = this.starts[cell]
    let end = this.ends[cell]
    while (i < end && (bytes[i] === SPACE || bytes[i] === TAB)) i++
    while (end > i && (bytes[end - 1] === SPACE || bytes[end - 1] === TAB)) end--
    let negative = false
    if (bytes[i] === 45 || bytes[i] === 43) negative = bytes[i++] === 45
    let mantissa = 0
    let digits = 0
    let decimals = -1
    for (; i < end; i++) {
      const digit = bytes[i] - 48
      if (digit >= 0 && digit <= 9) {
        mantissa = mantissa * 10 + digit
        digits++
        if (decimals >= 0) decimals++
      } else if (bytes[i] === this.mark && decimals < 0) decimals = 0
      else return this.slowNumber(cell)
    }
    if (digits === 0) return NaN
    if (mantissa >= MAX_EXACT || decimals > 22) return this.slowNumber(cell)
    const value = decimals > 0 ? mantissa / POW10[decimals] : mantissa
    return negative ? -value : value
  }

  private slowNumber(cell: number): number {
    const text = this.text(cell)
    return text === '' ? NaN : Number(this.commaDecimal ? text.replace(',', '.') : text)
  }
}
