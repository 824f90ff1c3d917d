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
it.each(sources.filter((f) => f.endsWith('.vue')))('%s names the house’s sizes and spaces in its classes', (file) => {
  const names = [...readFileSync(join(root, file), 'utf8').matchAll(/\sclass="([^"]*)"/g)].flatMap(([, list]) => list!.split(/\s+/))
  const own = names.filter((name) => {
    const measure = /^-?(?:text|head|gap(?:-[xy])?|[mp][xytblr]?)-\[?(\d+(?:\.\d+)?)(px|rem|em)?\]?$/.exec(name)
    return measure && (measure[2] ? Number(measure[1]) > 2 : Number(measure[1]) > 6)
  })
  expect(own).toEqual([])
})
it('a screen is markup that names what is told once: at most 14.5 % of its lines are style of its own', () => {
  const text = (f: string) => readFileSync(join(root, f), 'utf8')
  const lines = (t: string) => t.split('\n').length
  const written = readdirSync(root, { recursive: true, encoding: 'utf8' }).filter(
    (f) => /\.(vue|ts|css)$/.test(f) && !/\.test\.ts$|^testing/.test(f),
  )
  const own = sources.flatMap((f) => text(f).match(/<style[^]*<\/style>/g) ?? []).reduce((sum, style) => sum + lines(style), 0)
  expect(own / written.reduce((sum, f) => sum + lines(text(f)), 0)).toBeLessThanOrEqual(0.145)
})
it.each(sources.filter((f) => f.endsWith('.vue')))('%s is short enough to be read', (file) => {
  expect(readFileSync(join(root, file), 'utf8').trimEnd().split('\n').length).toBeLessThanOrEqual(250)
})
