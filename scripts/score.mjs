// npm run score: prints how often the base tune, the checks of a tune and the causes of a bad start are right on engines they have never met.
// With --write the tables go into docs/bench.md, docs/learn.md and docs/spark.md with the date.
import { spawnSync } from 'node:child_process'
import { mkdtempSync, readFileSync, rmSync, writeFileSync } from 'node:fs'
import { tmpdir } from 'node:os'
import { join } from 'node:path'
import { ensurePackages, root } from './lib.mjs'

ensurePackages()
const { build } = await import('esbuild')
const dir = mkdtempSync(join(tmpdir(), 'vectum-score-'))
const out = join(dir, 'run.mjs')
await build({
  absWorkingDir: root,
  entryPoints: ['core/score/run.ts'],
  outfile: out,
  bundle: true,
  platform: 'node',
  target: 'node20',
  format: 'esm',
})
const passed = process.argv.slice(2).filter((arg) => arg !== '--write')
const done = spawnSync(process.execPath, [out, ...passed], { cwd: root, stdio: ['ignore', 'pipe', 'inherit'], maxBuffer: 1 << 26 })
rmSync(dir, { recursive: true, force: true })
const said = done.stdout.toString()
process.stdout.write(said)
if (done.status === 0 && process.argv.includes('--write')) {
  const bench = join(root, 'docs/bench.md')
  const learn = join(root, 'docs/learn.md')
  const spark = join(root, 'docs/spark.md')
  const idle = join(root, 'docs/idle.md')
  /** title of a table, the place in the docs that it has, and whether the seeds stand before it there */
  const places = [
    ['A unit that learns by itself', 'settled', bench, true],
    ['A unit that learns over a base', 'answered', bench, true],
    ['What a log is wrong by', 'diagnose', learn, true],
    ['What to drive next', 'driven', learn, true],
    ['Where a spark trial comes to', 'trial', learn, true],
    ['Which of two changes it was', 'one-change', learn, true],
    ['What the fuel for throttle steps comes to', 'steps', learn, true],
    ['What the fuel for a cold engine comes to', 'cold', learn, true],
    ['What the moves of a start come to', 'start-moves', idle, true],
    ['What an idle is', 'idle', idle, false],
    ['Timing by the light', 'light', spark, false],
    ['What a scope shows', 'scope', spark, false],
    ['Edge and polarity by the light', 'suspects', spark, false],
    ['What a meter finds in the loom', 'wiring', join(root, 'docs/wiring.md'), false],
    ['What two tracks show', 'fitup', join(root, 'docs/fitup.md'), false],
  ]
  const parts = said.trim().split(new RegExp(`(?=### (?:${places.map(([title]) => title).join('|')}))`))
  const [first] = parts
  const intro = first.match(/^Seeds from.*$/m)?.[0] ?? ''
  // the section has its heading, and the seeds stand in the table's own words
  const bare = (said) => said.replace(/^###.*\n+/, '').replace(/\n(?=Seeds from)[\s\S]*$/, '')
  const put = (name, body, file) => {
    const text = readFileSync(file, 'utf8')
    const [begin, end] = [`<!-- ${name} -->`, `<!-- end of ${name} -->`]
    const table = `${begin}\n\nRun on ${new Date().toISOString().slice(0, 10)} by \`npm run score\`. ${body.trim()}\n\n${end}`
    writeFileSync(file, `${text.slice(0, text.indexOf(begin))}${table}${text.slice(text.indexOf(end) + end.length)}`)
  }
  if (first.trim() !== intro) put('score', first, bench)
  for (const [title, name, file, withSeeds] of places) {
    const body = parts.find((p) => p.startsWith(`### ${title}`))
    if (body) put(name, withSeeds ? `${intro}\n\n${body}` : bare(body), file)
  }
  spawnSync('npx', ['oxfmt', bench, learn, spark, idle], { cwd: root, stdio: 'inherit' })
}
process.exit(done.status ?? 1)
