// npm run mutate: are the limits looked at? Each number of a limits.ts is changed by 15 % (a count by one), up and down, one at a time, and the
// tests related to it are run; a change that no test notices is a survivor. `npm run mutate -- fuel learn/trial` does these only.
import { spawnSync } from 'node:child_process'
import { existsSync, readdirSync, readFileSync, writeFileSync } from 'node:fs'
import { basename, dirname, join } from 'node:path'
import { root, say } from './lib.mjs'

const WANTED_SHARE = 0.85
const asked = process.argv.slice(2)
const core = join(root, 'core/src')
const subjects = readdirSync(core, { recursive: true })
  .filter((f) => basename(f) === 'limits.ts')
  .map((f) => dirname(f))
  .filter((d) => asked.length === 0 || asked.includes(d))

/** Numbers of the declarations, not of the comments. */
function numbersOf(text) {
  const code = text.replace(/\/\*[\s\S]*?\*\/|\/\/.*/g, (comment) => ' '.repeat(comment.length))
  return [...code.matchAll(/(?<![\w.])-?\d+(?:\.\d+)?(?![\w.])/g)].map((m) => ({ at: m.index, text: m[0], value: Number(m[0]) }))
}
const nameAt = (text, at) => /(\w+)[^\n]*$/.exec(text.slice(0, at).split('export const ').at(-1).split(/[ :=]/)[0])?.[1] ?? '?'
/** A count of things goes by one, a measure by 15 %. */
const changed = (value, way, name) => {
  const count = Number.isInteger(value) && Math.abs(value) <= 6 && /(PRIMES|OUTPUT|DAYS|SECONDS|SPRINGS|STEPS|ROWS|LOOKS)/.test(name)
  return count ? value + way : Number((value * (1 + 0.15 * way)).toPrecision(6))
}
const passes = (...tests) =>
  spawnSync('npx', ['vitest', 'run', '--project', 'core', '--bail', '1', ...tests], { cwd: root, stdio: 'ignore' }).status === 0

const survivors = []
let mutants = 0
for (const subject of subjects) {
  const file = join(core, subject, 'limits.ts')
  const text = readFileSync(file, 'utf8')
  const own = `core/src/${subject}/limits.test.ts`
  const restore = () => writeFileSync(file, text)
  process.once('SIGINT', () => (restore(), process.exit(1)))
  try {
    for (const number of numbersOf(text))
      for (const way of [1, -1]) {
        const name = nameAt(text, number.at)
        const next = changed(number.value, way, name)
        if (next === number.value) continue
        writeFileSync(file, text.slice(0, number.at) + String(next) + text.slice(number.at + number.text.length))
        mutants++
        const noticed = (existsSync(join(root, own)) && !passes(own)) || !passes(`core/src/${subject}/`, 'core/src/judge/judgement.test.ts')
        if (!noticed) survivors.push(`${subject}: ${name} ${number.text} -> ${next}`)
        console.log(`${noticed ? 'noticed ' : 'SURVIVED'} ${subject} ${name} ${number.text} -> ${next}`)
      }
  } finally {
    restore()
  }
}
const share = mutants ? 1 - survivors.length / mutants : 1
for (const survivor of survivors) console.log(`survivor: ${survivor}`)
say(`${mutants - survivors.length} of ${mutants} changed limits noticed, ${(100 * share).toFixed(0)} %`)
process.exit(share >= WANTED_SHARE ? 0 : 1)
