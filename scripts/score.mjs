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
  // the judgement of learning units has a place of its own, so that it can be run alone
  const parts = said
    .trim()
    .split(
      /(?=### (?:A unit that learns by itself|A unit that learns over a base|What a log is wrong by|What to drive next|What an idle is|Timing by the light|What a scope shows|What a meter finds in the loom|What two tracks show|Where a spark trial comes to|Which of two changes it was|What the fuel for throttle steps comes to|What the fuel for a cold engine comes to|Edge and polarity by the light))/,
    )
  const part = (title) => parts.find((p) => p.startsWith(title)) ?? ''
  const [first] = parts
  const learning = part('### A unit that learns by itself')
  const answered = part('### A unit that learns over a base')
  const diagnosed = part('### What a log is wrong by')
  const driven = part('### What to drive next')
  const idled = part('### What an idle is')
  const light = part('### Timing by the light')
  const scope = part('### What a scope shows')
  const suspected = part('### Edge and polarity by the light')
  const metered = part('### What a meter finds in the loom')
  const swept = part('### What two tracks show')
  const tried = part('### Where a spark trial comes to')
  const stepped = part('### What the fuel for throttle steps comes to')
  const intro = first.match(/^Seeds from.*$/m)?.[0] ?? ''
  // the section has its heading, and the seeds stand in the table's own words
  const bare = (said) => said.replace(/^###.*\n+/, '').replace(/\n(?=Seeds from)[\s\S]*$/, '')
  const put = (name, body, file = bench) => {
    const text = readFileSync(file, 'utf8')
    const [begin, end] = [`<!-- ${name} -->`, `<!-- end of ${name} -->`]
    const table = `${begin}\n\nRun on ${new Date().toISOString().slice(0, 10)} by \`npm run score\`. ${body.trim()}\n\n${end}`
    writeFileSync(file, `${text.slice(0, text.indexOf(begin))}${table}${text.slice(text.indexOf(end) + end.length)}`)
  }
  if (first.trim() !== intro) put('score', first)
  if (answered) put('answered', `${intro}\n\n${answered}`)
  if (learning) put('settled', `${intro}\n\n${learning}`)
  if (driven) put('driven', `${intro}\n\n${driven}`, learn)
  if (tried) put('trial', `${intro}\n\n${tried}`, learn)
  const cold = part('### What the fuel for a cold engine comes to')
  if (cold) put('cold', `${intro}\n\n${cold}`, learn)
  const changed = part('### Which of two changes')
  if (changed) put('one-change', `${intro}\n\n${changed}`, learn)
  if (stepped) put('steps', `${intro}\n\n${stepped}`, learn)
  if (idled) put('idle', bare(idled), join(root, 'docs/idle.md'))
  if (light) put('light', bare(light), spark)
  if (scope) put('scope', bare(scope), spark)
  if (metered) put('wiring', bare(metered), join(root, 'docs/wiring.md'))
  if (swept) put('fitup', bare(swept), join(root, 'docs/fitup.md'))
  if (suspected) put('suspects', bare(suspected), spark)
  if (diagnosed) put('diagnose', `${intro}\n\n${diagnosed}`, learn)
  spawnSync('npx', ['oxfmt', bench, learn, spark], { cwd: root, stdio: 'inherit' })
}
process.exit(done.status ?? 1)
