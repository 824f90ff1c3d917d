import { readdirSync, readFileSync } from 'node:fs'
import { join } from 'node:path'
import { expect, it } from 'vitest'

const root = join(import.meta.dirname, '..')
const sources = readdirSync(root, { recursive: true, encoding: 'utf8' }).filter((f) => /\.(vue|css)$/.test(f))

it('there are six sizes of type, the smallest 14 px', () => {
  const sizes = [...readFileSync(join(root, 'styles.css'), 'utf8').matchAll(/--t\d: (\d+)px/g)].map((m) => Number(m[1]))
  expect(sizes).toEqual([14, 16, 18, 22, 32, 64])
})
it.each(sources)('%s sets no size of its own', (file) => {
  // a tape printed at true size is no text of the screen
  const text = readFileSync(join(root, file), 'utf8').replace(/const style = .*/, '')
  expect(text.match(/font(-size)?:[^;]*\d(px|rem|em)\b/g)).toBeNull()
})
it('there are six spaces, and each a step up', () => {
  const spaces = [...readFileSync(join(root, 'styles.css'), 'utf8').matchAll(/--s\d: (\d+)px/g)].map((m) => Number(m[1]))
  expect(spaces).toEqual([4, 8, 12, 16, 24, 40])
})
it.each(sources)('%s spaces by them; a hair’s breadth and a place beside a drawn mark are no spaces', (file) => {
  const text = readFileSync(join(root, file), 'utf8')
  const own = [...text.matchAll(/(?<=[;{\s])(?:gap|margin|padding)(?:-\w+)?:\s*([^;{}]*)/g)]
    .flatMap(([, value]) => [...value.matchAll(/(?<![-\w.])(\d+)px/g)].map((m) => Number(m[1])))
    .filter((px) => px > 2 && px <= 48)
  expect(own).toEqual([])
})
it.each(sources.filter((f) => f.endsWith('.vue')))('%s is short enough to be read', (file) => {
  expect(readFileSync(join(root, file), 'utf8').trimEnd().split('\n').length).toBeLessThanOrEqual(250)
})
