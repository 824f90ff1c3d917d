import { type Tune } from '@vectum/core'
import { beforeEach, expect, it } from 'vitest'
import { shallowRef } from 'vue'
import { useTuneEditor } from './use-tune-editor.ts'

const make = () => {
  const cells = Array.from({ length: 9 }, (_, k) => 10 + k)
  return shallowRef({
    id: 't1',
    document: {
      axes: { rpm: [600, 1000, 1500], mapKpa: [30, 60, 90] },
      tables: { ve: cells, lambdaTarget: cells.map(() => 1), spark: cells },
    },
  } as unknown as Tune)
}
beforeEach(() => localStorage.clear())

it('edits a draft, never the tune itself, and undoes step by step', () => {
  const tune = make()
  const e = useTuneEditor(tune)
  e.block.value = { i0: 0, j0: 0, i1: 1, j1: 1 }
  e.set(50)
  e.add(1)
  expect(e.tables.value!.ve).toEqual([51, 51, 12, 51, 51, 15, 16, 17, 18])
  expect(tune.value.document.tables.ve[0]).toBe(10)
  expect(e.edited.value).toBe(true)
  e.undo()
  expect(e.tables.value!.ve[0]).toBe(50)
  e.redo()
  expect(e.tables.value!.ve[0]).toBe(51)
  e.forget()
  expect(e.edited.value).toBe(false)
})

it('keeps values within the table’s bounds', () => {
  const e = useTuneEditor(make())
  e.set(9999)
  expect(e.tables.value!.ve[0]).toBe(200)
  e.table.value = 'lambdaTarget'
  e.set(0.1)
  expect(e.tables.value!.lambdaTarget[0]).toBe(0.6)
})

it('takes a block from a spreadsheet, top row highest, and refuses what does not fit or is no number', () => {
  const e = useTuneEditor(make())
  e.block.value = { i0: 1, j0: 1, i1: 1, j1: 1 }
  expect(e.pasteTsv('61\t62\n51,5\t52')).toBeNull()
  expect(e.tables.value!.ve).toEqual([10, 51.5, 52, 13, 61, 62, 16, 17, 18])
  expect(e.blockTsv()).toBe('61\t62\n51.5\t52')
  e.block.value = { i0: 2, j0: 0, i1: 2, j1: 0 }
  expect(e.pasteTsv('1\t2')).toContain('does not fit')
  expect(e.pasteTsv('a\tb')).toContain('not all numbers')
  expect(e.tables.value!.ve[0]).toBe(10)
})

it('finds its draft again after a reload', async () => {
  const first = useTuneEditor(make())
  first.set(77)
  await new Promise((resolve) => setTimeout(resolve))
  expect(useTuneEditor(make()).tables.value!.ve[0]).toBe(77)
})
