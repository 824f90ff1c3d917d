// npm test: everything, stage by stage, stopping at the first that fails. `npm run test:server`, `test:e2e` and `screenshots` run one part.
import { fork, spawnSync } from 'node:child_process'
import { existsSync, mkdirSync, mkdtempSync, readFileSync, rmSync } from 'node:fs'
import { tmpdir } from 'node:os'
import { join } from 'node:path'
import {
  end,
  ensureBuild,
  ensureChromium,
  ensureDatabase,
  ensurePackages,
  freePort,
  chromium,
  root,
  say,
  startDatabase,
  Stop,
} from './lib.mjs'

const only = process.argv[2] ?? null
const started = Date.now()
const scratch = mkdtempSync(join(tmpdir(), 'vectum-test-'))
const totals = { passed: 0, failed: 0 }
const cleanups = []

function stage(name, command, args, env = {}) {
  console.log(`\n== ${name}`)
  const done = spawnSync(command, args, { cwd: root, stdio: 'inherit', env: { ...process.env, ...env } })
  if (done.status !== 0) throw new Stop(`stage "${name}" failed`)
}
/** Runs a test stage and counts from its JSON report, also when it fails. */
function tests(name, command, args, report, count, env = {}) {
  try {
    stage(name, command, args, env)
  } finally {
    if (existsSync(report)) {
      const { passed, failed } = count(JSON.parse(readFileSync(report, 'utf8')))
      totals.passed += passed
      totals.failed += failed
    } else totals.failed += 1
  }
}
const fromVitest = (r) => ({ passed: r.numPassedTests, failed: r.numFailedTests + (r.success || r.numFailedTests ? 0 : 1) })
const fromPlaywright = (r) => ({ passed: r.stats.expected + r.stats.flaky, failed: r.stats.unexpected })
const vitest = (...projects) => {
  const report = join(scratch, `${projects.join('-')}.json`)
  return [
    ['vitest', 'run', ...projects.flatMap((p) => ['--project', p]), '--reporter=default', '--reporter=json', `--outputFile.json=${report}`],
    report,
  ]
}

async function database() {
  const dir = mkdtempSync(join(scratch, 'db-'))
  const db = await startDatabase(dir, { fast: true })
  cleanups.push(db.stop)
  return { ...db, dir }
}

async function serverTests() {
  const db = await database()
  const [args, report] = vitest('server')
  tests('server tests', 'npx', args, report, fromVitest, { VECTUM_TEST_DATABASE_URL: db.url, VECTUM_TEST_DATABASE_PID: String(db.pid) })
}

async function inBrowser(name, spec) {
  const db = await database()
  const port = await freePort()
  const server = fork(join(root, 'server/dist/main.js'), {
    cwd: root,
    env: { ...process.env, VECTUM_CHECK_ANSWERS: 'on', VECTUM_DATABASE_URL: db.url, VECTUM_PORT: String(port), VECTUM_DATA_DIR: db.dir },
  })
  cleanups.push(() => end(server.pid))
  await new Promise((resolve, reject) => {
    server.once('message', resolve)
    server.once('exit', (code) => reject(new Stop(`the server ended with ${code} before it served`)))
  })
  const report = join(scratch, `${name}.json`)
  tests(name, 'npx', ['playwright', 'test', '--config', 'e2e/playwright.config.ts', ...spec], report, fromPlaywright, {
    VECTUM_E2E_URL: `http://127.0.0.1:${port}`,
    VECTUM_E2E_JSON: report,
    VECTUM_CHROMIUM: chromium(),
  })
}

async function main() {
  ensurePackages()
  ensureDatabase()
  if (only !== 'server') ensureChromium()
  mkdirSync(scratch, { recursive: true })
  if (!only) {
    stage('format', 'npm', ['run', '-s', 'check:format'])
    stage('lint', 'npm', ['run', '-s', 'check:lint'])
    stage('types', 'npm', ['run', '-s', 'check:types'])
    stage('rooms', 'npm', ['run', '-s', 'check:rooms'])
    const [args, report] = vitest('core', 'web')
    tests('unit tests', 'npx', args, report, fromVitest)
  }
  await ensureBuild()
  if (!only || only === 'server') await serverTests()
  if (!only || only === 'e2e') await inBrowser('end to end', ['--grep-invert', '@screenshots'])
  if (only === 'screenshots') await inBrowser('screenshots', ['--grep', '@screenshots'])
}

let failure = null
for (const signal of ['SIGINT', 'SIGTERM'])
  process.on(signal, async () => {
    for (const clean of cleanups.reverse()) await clean()
    process.exit(1)
  })
try {
  await main()
} catch (error) {
  failure = error
}
for (const clean of cleanups.reverse()) await clean()
rmSync(scratch, { recursive: true, force: true })
if (failure) {
  console.error(failure instanceof Stop ? `\nvectum: ${failure.message}` : failure)
  if (totals.failed === 0) totals.failed = 1
} else say(`all stages done in ${((Date.now() - started) / 1000).toFixed(0)} s`)
console.log(`${totals.passed} passed, ${totals.failed} failed`)
process.exit(failure ? 1 : 0)
