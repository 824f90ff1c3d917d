import fc from 'fast-check'
import { describe, expect, it } from 'vitest'
import { columnsToLog, shuffleColumn } from './column-bytes.ts'
import { joinParts, LogReader, previewLog, readLog, rowFate } from './read.ts'
import { ByteRow, TextRow } from './row-source.ts'
import { headerFingerprint, parseClockS, sniffDialect } from './sniff.ts'

const bytes = (text: string): Uint8Array => new TextEncoder().encode(text)
/** A log of `n` rows in any dialect: rows are given as numbers, written with the marks asked for. */
function writeLog(options: {
  delimiter: string
  comma: boolean
  names: string[]
  units?: string[]
  preamble?: string[]
  rows: (number | string)[][]
  eol?: string
  quote?: boolean
}): string {
  const cell = (v: number | string) => {
    const text = typeof v === 'number' && options.comma ? String(v).replace('.', ',') : String(v)
    return options.quote ? `"${text}"` : text
  }
  const line = (cells: (number | string)[]) => cells.map(cell).join(options.delimiter)
  return (
    [...(options.preamble ?? []), line(options.names), ...(options.units ? [line(options.units)] : []), ...options.rows.map(line)].join(
      options.eol ?? '\n',
    ) + (options.eol ?? '\n')
  )
}
const ramp = (n: number, stepS = 0.1) =>
  Array.from({ length: n }, (_, i) => [Math.round(i * stepS * 1000) / 1000, 2000 + i, 50 + (i % 10), 14.7])

describe('finding out how a log is written', () => {
  it.each([
    [',', false],
    [';', true],
    [';', false],
    ['\t', true],
    ['\t', false],
    ['|', false],
  ])('delimiter %j with decimal comma %s reads to the same numbers', (delimiter, comma) => {
    const log = readLog(bytes(writeLog({ delimiter, comma, names: ['Time', 'RPM', 'MAP', 'AFR'], rows: ramp(40) })))
    expect(log.rows).toBe(40)
    expect(log.timeS[10]).toBeCloseTo(1, 9)
    expect(log.channels.rpm![10]).toBe(2010)
    expect(log.channels.lambda![3]).toBeCloseTo(1, 6)
  })

  it('reads quoted cells, Windows line ends, a preamble and a units row', () => {
    const log = readLog(
      bytes(
        writeLog({
          delimiter: ',',
          comma: true,
          quote: true,
          eol: '\r\n',
          preamble: ['Workshop logger', 'made 12 Nov'],
          names: ['Time', 'Engine speed', 'Manifold pressure', 'Lambda'],
          units: ['s', 'rpm', 'kPa', '-'],
          rows: ramp(30).map((r) => [r[0], r[1], r[2], 0.98]),
        }),
      ),
    )
    expect(log.rows).toBe(30)
    expect(log.channels.lambda![0]).toBeCloseTo(0.98, 6)
    expect(log.dialect.headerRow).toBe(2)
  })

  describe('a quotation mark without its partner', () => {
    const names = ['Time', 'RPM', 'MAP', 'AFR']
    const withMark = (row: number, cell: number, eol: string) => {
      const rows: (number | string)[][] = ramp(60)
      rows[row][cell] = `"${rows[row][cell]}`
      return bytes(writeLog({ delimiter: ',', comma: false, names, rows, eol }))
    }
    // the header is line 1, row 0 line 2
    it.each([
      [0, 1, 'RPM', 2],
      [7, 2, 'MAP', 9],
      [40, 3, 'AFR', 42],
      [58, 0, 'Time', 60],
    ])('in row %i is told with its column and line, not read past', (row, cell, field, line) => {
      for (const eol of ['\n', '\r\n'])
        expect(() => readLog(withMark(row, cell, eol))).toThrow(
          expect.objectContaining({ code: 'LOG_QUOTE', field, message: expect.stringContaining(`line ${line}:`) }),
        )
    })
    it('on two lines takes the lines between for a cell, and is told as well', () => {
      const rows: (number | string)[][] = ramp(60)
      rows[10][2] = '"50'
      rows[50][2] = '50"'
      const text = writeLog({ delimiter: ',', comma: false, names, rows })
      expect(() => readLog(bytes(text))).toThrow(
        expect.objectContaining({ code: 'LOG_QUOTE', message: expect.stringContaining('line 12:') }),
      )
    })
    it('in a last line that was cut short costs that line alone', () =>
      expect(readLog(bytes(`${writeLog({ delimiter: ',', comma: false, names, rows: ramp(40) })}4,"20`)).rows).toBe(41))
    it('inside a cell is read as what it is', () => {
      const rows: (number | string)[][] = ramp(40)
      rows[5][2] = '50"'
      const log = readLog(bytes(writeLog({ delimiter: ',', comma: false, names, rows })))
      expect([log.rows, log.rejected]).toEqual([40, [{ channel: 'mapKpa', reason: 'not-a-number', count: 1 }]])
    })
  })

  it('reads UTF-16 and old western encodings', () => {
    const text = writeLog({
      delimiter: ';',
      comma: true,
      names: ['Zeit', 'Drehzahl', 'Saugrohrdruck', 'Lambda', 'Kühlmittel'],
      units: ['s', '1/min', 'mbar', '-', '°C'],
      rows: ramp(20).map((r) => [r[0], r[1], 500, 1, 80]),
    })
    const utf16 = new Uint8Array(2 + text.length * 2)
    utf16.set([0xff, 0xfe])
    for (let i = 0; i < text.length; i++) new DataView(utf16.buffer).setUint16(2 + i * 2, text.charCodeAt(i), true)
    const latin = Uint8Array.from(text, (c) => c.charCodeAt(0))
    for (const file of [utf16, latin]) {
      const log = readLog(file)
      expect(log.channels.mapKpa![0]).toBeCloseTo(50, 5)
      expect(log.channels.coolantC![0]).toBe(80)
    }
  })

  it.each<[string, Uint8Array, string]>([
    ['an empty file', bytes(''), 'LOG_EMPTY'],
    ['only blank lines', bytes('\n\n  \n'), 'LOG_EMPTY'],
    ['a binary file', Uint8Array.from({ length: 400 }, (_, i) => (i * 37) % 256), 'LOG_BINARY'],
    ['names without rows', bytes('Time,RPM,MAP\n'), 'LOG_TOO_SHORT'],
    ['one row', bytes('Time,RPM,MAP\n0,900,40\n'), 'LOG_TOO_SHORT'],
    [
      'no names',
      bytes(
        ramp(20)
          .map((r) => r.join(','))
          .join('\n'),
      ),
      'LOG_NO_HEADER',
    ],
    [
      'no time column',
      bytes(writeLog({ delimiter: ',', comma: false, names: ['RPM', 'MAP', 'AFR'], rows: ramp(20).map((r) => r.slice(1)) })),
      'LOG_NO_TIME',
    ],
    [
      'time running backward',
      bytes(writeLog({ delimiter: ',', comma: false, names: ['Time', 'RPM', 'MAP', 'AFR'], rows: ramp(60).reverse() })),
      'LOG_BACKWARD',
    ],
    [
      'all cells bad',
      bytes(
        writeLog({
          delimiter: ',',
          comma: false,
          names: ['Time', 'RPM', 'MAP', 'AFR'],
          rows: ramp(20).map((r) => [r[0], '--', 'x', 'err']),
        }),
      ),
      'LOG_ALL_BAD',
    ],
  ])('refuses %s with its own code', (_what, file, code) => {
    expect(() => readLog(file)).toThrow(expect.objectContaining({ code }))
  })
})

describe('cells and rows', () => {
  it('drops bad cells, counts them by channel and reason, and guesses nothing', () => {
    const rows: (number | string)[][] = ramp(30)
    rows[3][3] = ''
    rows[4][3] = '---'
    rows[5][1] = 99999
    rows[6][2] = 'oops'
    const log = readLog(bytes(writeLog({ delimiter: ',', comma: false, names: ['Time', 'RPM', 'MAP', 'AFR'], rows })))
    expect(log.rows).toBe(30)
    expect(log.channels.lambda![3]).toBeNaN()
    expect(log.rejected).toEqual(
      expect.arrayContaining([
        { channel: 'lambda', reason: 'empty', count: 2 },
        { channel: 'rpm', reason: 'out-of-range', count: 1 },
        { channel: 'mapKpa', reason: 'not-a-number', count: 1 },
      ]),
    )
  })

  it('keeps time rising: repeats and small steps back are dropped, a restarted clock goes on after a gap', () => {
    const rows = ramp(40)
    rows[5][0] = rows[4][0]
    rows[9][0] = rows[8][0] - 0.02
    for (let i = 20; i < 40; i++) rows[i][0] = (i - 20) * 0.1
    const log = readLog(bytes(writeLog({ delimiter: ',', comma: false, names: ['Time', 'RPM', 'MAP', 'AFR'], rows })))
    expect(log.rows).toBe(38)
    for (let i = 1; i < log.rows; i++) expect(log.timeS[i]).toBeGreaterThan(log.timeS[i - 1])
    expect(log.rejected.map((r) => r.reason).sort()).toEqual(['backward', 'clock-reset', 'gap', 'repeat'])
  })

  describe('read in parts side by side', () => {
    const written = (rows: (number | string)[][]) => writeLog({ delimiter: ',', comma: false, names: ['Time', 'RPM', 'MAP', 'AFR'], rows })
    /** cut before a row, each part read by itself */
    const inParts = (text: string, cutAt: number) => {
      const { dialect, mapping } = readLog(bytes(text))
      const lines = text.split('\n')
      const pieces = [lines.slice(0, cutAt + 1).join('\n') + '\n', lines.slice(cutAt + 1).join('\n')]
      const parts = pieces.map((piece, k) => {
        const reader = new LogReader(dialect, mapping, k > 0)
        reader.push(bytes(piece))
        return reader.part()
      })
      return joinParts(dialect, mapping.channels.timeS!.column, parts)
    }
    const same = (rows: (number | string)[][], cutAt: number) => {
      const { rows: n, timeS, channels, rejected } = readLog(bytes(written(rows)))
      const joined = inParts(written(rows), cutAt)
      expect([joined.rows, [...joined.timeS], joined.channels, joined.rejected]).toEqual([n, [...timeS], channels, rejected])
    }
    it.each([1, 17, 20, 39])('cut before row %d it is the log that is read in one', (cutAt) => same(ramp(40), cutAt))
    it('a row that repeats or steps back across the cut is left out and counted', () => {
      const rows = ramp(40)
      rows[20][0] = rows[19][0]
      same(rows, 20)
      rows[20][0] = (rows[19][0] as number) - 0.02
      same(rows, 20)
    })
    it('a clock that restarts, or passes midnight, at the cut goes on', () => {
      const rows = ramp(40)
      for (let i = 20; i < 40; i++) rows[i][0] = (i - 20) * 0.1
      same(rows, 20)
      same(
        ramp(40).map(([t, ...rest]) => [((t as number) + 86398) % 86400, ...rest]),
        20,
      )
    })
    it('cells that cannot be read are counted over both', () => {
      const rows: (number | string)[][] = ramp(40)
      rows[3][1] = 'x'
      rows[30][1] = 'x'
      rows[31][2] = ''
      same(rows, 20)
      expect(inParts(written(rows), 20).rejected).toEqual([
        { channel: 'rpm', reason: 'not-a-number', count: 2 },
        { channel: 'mapKpa', reason: 'empty', count: 1 },
      ])
    })
  })

  it.each([
    [10, 10.1, 'keep'],
    [10, 10, 'repeat'],
    [10, 9.9, 'backward'],
    [10, 2, 'clock-reset'],
    [86399.9, 0.1, 'midnight'],
  ] as const)('from %d s to %d s is: %s', (last, next, fate) => expect(rowFate(last, next)).toBe(fate))

  it.each([
    ['00:01:02,500', 62.5],
    ['01:00:00', 3600],
    ['02:03.25', 123.25],
    ['2026-11-12 00:00:01.5', Date.UTC(2026, 10, 12) / 1000 + 1.5],
    ['12', NaN],
    ['aa:bb', NaN],
  ])('%s is %d seconds', (text, seconds) => {
    if (Number.isNaN(seconds)) expect(parseClockS(text)).toBeNaN()
    else expect(parseClockS(text)).toBeCloseTo(seconds, 6)
  })

  it('reads a number from bytes just as the plain way does, for any number and both marks', () => {
    fc.assert(
      fc.property(
        fc.oneof(fc.double({ noNaN: true, min: -1e9, max: 1e9 }), fc.integer(), fc.constantFrom(0, -0.5, 1e-7)),
        fc.boolean(),
        fc.boolean(),
        (value, comma, padded) => {
          const written = (comma ? String(value).replace('.', ',') : String(value)).padStart(padded ? 14 : 0)
          const row = new ByteRow(';', comma, 3)
          row.read(bytes(`x;${written};y\n`), 0)
          return Object.is(row.number(1), new TextRow(comma).set(['x', written, 'y']).number(1)) || row.number(1) === value
        },
      ),
    )
  })

  it('stores and returns columns byte for byte', () => {
    fc.assert(
      fc.property(fc.float32Array(), fc.float64Array(), (values, time) => {
        const back = columnsToLog([
          { channel: 'timeS', shuffled: shuffleColumn(time) },
          { channel: 'rpm', shuffled: shuffleColumn(values) },
        ])
        return Object.is(String(back.channels.rpm), String(values)) && Object.is(String(back.timeS), String(time))
      }),
    )
  })
})

describe('which column holds what', () => {
  it.each([
    [
      'English',
      ['Time (s)', 'Engine speed (rpm)', 'MAP (kPa)', 'Throttle (%)', 'AFR', 'AFR target', 'Closed loop (%)', 'Learned (%)', 'Fuel cut'],
    ],
    [
      'German',
      [
        'Zeit (s)',
        'Drehzahl (1/min)',
        'Saugrohrdruck (kPa)',
        'Drosselklappe (%)',
        'Lambda',
        'Lambda Soll',
        'Regelung (%)',
        'Gelernt (%)',
        'Schubabschaltung',
      ],
    ],
    [
      'French',
      [
        'Temps (s)',
        'Régime moteur (tr/min)',
        "Pression d'admission (kPa)",
        'Papillon (%)',
        'Richesse',
        'Lambda cible',
        'Boucle (%)',
        'Appris (%)',
        'Coupure injection',
      ],
    ],
    [
      'Italian',
      [
        'Tempo (s)',
        'Giri motore',
        'Pressione aspirazione (kPa)',
        'Farfalla (%)',
        'Lambda',
        'Lambda obiettivo',
        'Correzione (%)',
        'Appreso (%)',
        'Cut off',
      ],
    ],
  ])('finds the channels of a log in %s', (_language, names) => {
    const afr = names[4] === 'AFR'
    const rows = Array.from({ length: 30 }, (_, i) => [i * 0.1, 2000, 50, 12, afr ? 14.6 : 0.99, afr ? 14.7 : 1, -3.5, 2, 0])
    const { mapping } = previewLog(bytes(writeLog({ delimiter: ';', comma: false, names, rows })))
    const columnOf = Object.fromEntries(Object.entries(mapping.channels).map(([id, source]) => [id, source.column]))
    expect(columnOf).toEqual({
      timeS: 0,
      rpm: 1,
      mapKpa: 2,
      throttlePct: 3,
      lambda: 4,
      lambdaTarget: 5,
      correctionPct: 6,
      learnedPct: 7,
      fuelCut: 8,
    })
  })

  it.each<[string, string, number[], string]>([
    ['Vacuum', 'inHg', [18, 17, 16], 'inHg vacuum'],
    ['Boost', 'psi', [-9, -8, 2], 'psi gauge'],
    ['MAP', 'mbar', [500, 510, 520], 'mbar'],
    ['Manifold pressure', '', [0.4, 0.5, 0.9], 'bar'],
  ])('%s in "%s" is taken as %s', (name, unit, values, expected) => {
    const rows = Array.from({ length: 21 }, (_, i) => [i * 0.1, values[i % 3], 2000])
    const { mapping } = previewLog(
      bytes(writeLog({ delimiter: ',', comma: false, names: ['Time', unit ? `${name} (${unit})` : name, 'RPM'], rows })),
    )
    expect(mapping.channels.mapKpa!.unit).toBe(expected)
  })

  it.each<[number[], string]>([
    [[98, 100, 103], 'percent-of-100'],
    [[0.97, 1, 1.04], 'ratio'],
    [[-3, 0, 4], 'percent'],
  ])('a closed-loop column like %j is %s', (values, unit) => {
    const rows = Array.from({ length: 21 }, (_, i) => [i * 0.1, 2000, 50, values[i % 3]])
    const { mapping } = previewLog(bytes(writeLog({ delimiter: ',', comma: false, names: ['Time', 'RPM', 'MAP', 'Closed loop'], rows })))
    expect(mapping.channels.correctionPct!.unit).toBe(unit)
  })

  it('takes milliseconds from the steps when no unit is given, and vacuum down from the barometer', () => {
    const log = readLog(
      bytes(
        writeLog({
          delimiter: ',',
          comma: false,
          names: ['Time', 'RPM', 'Vacuum (kPa)'],
          rows: Array.from({ length: 20 }, (_, i) => [i * 50, 800, 60]),
        }),
      ),
    )
    expect(log.timeS[2]).toBeCloseTo(0.1, 9)
    expect(log.channels.mapKpa![0]).toBeCloseTo(101.325 - 60, 3)
  })

  it('knows the same header again and not another', () => {
    const a = sniffDialect(bytes('Time,RPM\n0,1\n1,2\n'))
    const b = sniffDialect(bytes('Time,RPM\n5,900\n6,901\n'))
    const c = sniffDialect(bytes('Time,RPM2\n5,900\n6,901\n'))
    expect(headerFingerprint(a)).toBe(headerFingerprint(b))
    expect(headerFingerprint(a)).not.toBe(headerFingerprint(c))
  })
})
