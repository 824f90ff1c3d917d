// npm test: everything, stopping at the first stage that fails. What needs a core each runs side by side; each stage prints whole when it is done.
// `npm run test:server`, `test:e2e` and `screenshots` run one part; `npm run test:e2e -- whole-path` one file of it.
import { fork, spawn } from 'node:child_process'
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
const named = process.argv.slice(3)
const started = Date.now()
const scratch = mkdtempSync(join(tmpdir(), 'vectum-test-'))
const totals = { passed: 0, failed: 0 }
const cleanups = []
const running = new Set()
let failure = null

/** One stage: its output is kept and printed whole, since another may run beside it. */
function stage(name, command, args, env = {}) {
  if (failure) return Promise.reject(failure)
  const began = Date.now()
  return new Promise((resolve, reject) => {
    const output = []
    const child = spawn(command, args, { cwd: root, env: { ...process.env, ...env }, stdio: ['ignore', 'pipe', 'pipe'], detached: true })
    running.add(child)
    child.stdout.on('data', (chunk) => output.push(chunk))
    child.stderr.on('data', (chunk) => output.push(chunk))
    child.once('error', reject)
    child.once('close', (code) => {
      running.delete(child)
      console.log(`\n== ${name} (${((Date.now() - began) / 1000).toFixed(0)} s)`)
      process.stdout.write(Buffer.concat(output))
      if (code === 0) resolve()
      else reject(new Stop(`stage "${name}" failed`))
    })
  })
}
/** Ends what still runs beside a stage that failed, with all it has started. */
function halt() {
  for (const child of running)
    try {
      process.kill(-child.pid, 'SIGTERM')
    } catch {
      // it has just ended by itself
    }
}
/** Waits for all of some stages; the first failure ends the others. */
async function together(...stages) {
  await Promise.all(
    stages.map((s) =>
      s.catch((error) => {
        failure ??= error
        halt()
      }),
    ),
  )
  if (failure) throw failure
}

/** A stage of tests, counted from its JSON report, also when it fails. */
async function tests(name, command, args, report, count, env = {}) {
  try {
    await stage(name, command, args, env)
  } finally {
    if (existsSync(report)) {
      const { passed, failed } = count(JSON.parse(readFileSync(report, 'utf8')))
      totals.passed += passed
      totals.failed += failed
    }
  }
}
const fromVitest = (r) => ({ passed: r.numPassedTests, failed: r.numFailedTests + (r.success || r.numFailedTests ? 0 : 1) })
const fromPlaywright = (r) => ({ passed: r.stats.expected + r.stats.flaky, failed: r.stats.unexpected })
function unit(name, ...projects) {
  const report = join(scratch, `${projects.join('-')}.json`)
  const args = [
    'vitest',
    'run',
    ...(only === 'server' ? named : []),
    ...projects.flatMap((p) => ['--project', p]),
    // one is left to the checks by default
    '--maxWorkers=100%',
    '--reporter=default',
    '--reporter=json',
  ]
  return (env) => tests(name, 'npx', [...args, `--outputFile.json=${report}`], report, fromVitest, env)
}

async function database() {
  const dir = mkdtempSync(join(scratch, 'db-'))
  const db = await startDatabase(dir, { fast: true })
  cleanups.push(db.stop)
  return { ...db, dir }
}

async function serverTests() {
  const db = await database()
  await unit('server tests', 'server')({ VECTUM_TEST_DATABASE_URL: db.url, VECTUM_TEST_DATABASE_PID: String(db.pid) })
}

/** Browser tests against a server and a database of their own. */
async function inBrowser(name, spec) {
  const db = await database()
  const port = await freePort()
  const server = fork(join(root, 'server/dist/main.js'), {
    cwd: root,
    env: {
      ...process.env,
      VECTUM_CHECK_ANSWERS: 'on',
      VECTUM_DATABASE_URL: db.url,
      VECTUM_PORT: String(port),
      VECTUM_DATA_DIR: db.dir,
    },
  })
  cleanups.push(() => end(server.pid))
  await new Promise((resolve, reject) => {
    server.once('message', resolve)
    server.once('exit', (code) => reject(new Stop(`the server ended with ${code} before it served`)))
  })
  const report = join(scratch, `${name.replaceAll(/\W/g, '-')}.json`)
  await tests(name, 'npx', ['playwright', 'test', '--config', 'e2e/playwright.config.ts', ...spec], report, fromPlaywright, {
    VECTUM_E2E_URL: `http://127.0.0.1:${port}`,
    VECTUM_E2E_JSON: report,
    VECTUM_E2E_OUTPUT: join(scratch, `playwright-${port}`),
    VECTUM_CHROMIUM: chromium(),
  })
}

/**
 * The browser tests in lanes about as long as each other. By hand and from cold one car is taken to its start, so not on one server; the unit's tests leave
 * a demo car with versions of its tune that others do not expect; where people sign in nobody else may come in.
 */
const LANES = [
  ['access', 'what-to-drive', 'by-hand'],
  ['whole-path', 'unit'],
  ['cold-start', 'faults', 'stop-bar', 'doors'],
]
const ALONE = 'people'
const inSpecs = (...specs) => inBrowser(`browser tests, ${specs.join(', ')}`, ['--grep-invert', '@screenshots', ...specs])
const browserTests = () =>
  LANES.map((specs, k) => (k === LANES.length - 1 ? inSpecs(...specs).then(() => inSpecs(ALONE)) : inSpecs(...specs)))

/** What the code itself tells, and the build that the tests of the server and the browser run. */
async function checks() {
  await stage('comments', 'npm', ['run', '-s', 'check:comments'])
  await stage('rooms', 'npm', ['run', '-s', 'check:rooms'])
  await stage('unused', 'npm', ['run', '-s', 'check:unused'])
  await stage('types', 'npm', ['run', '-s', 'check:types'])
  await ensureBuild()
  await stage('lint', 'npm', ['run', '-s', 'check:lint'])
  await stage('format', 'npm', ['run', '-s', 'check:format'])
}

async function main() {
  ensurePackages()
  ensureDatabase()
  if (only !== 'server') ensureChromium()
  mkdirSync(scratch, { recursive: true })
  if (!only) await together(checks(), unit('unit tests', 'core', 'web')())
  else await ensureBuild()
  if (only === 'screenshots') return inBrowser('screenshots', ['--grep', '@screenshots'])
  if (only === 'server') return serverTests()
  if (only === 'e2e' && named.length) return inSpecs(...named)
  if (only === 'e2e') return together(...browserTests())
  // a bench and a browser wait for each other more than they work: twice as many at a time as there are cores
  await together(serverTests(), ...browserTests())
}

for (const signal of ['SIGINT', 'SIGTERM'])
  process.on(signal, async () => {
    halt()
    for (const clean of cleanups.reverse()) await clean()
    process.exit(1)
  })
try {
  await main()
} catch (error) {
  failure = error
}
for (const clean of cleanups.reverse()) await clean()
if (!process.env.VECTUM_KEEP) rmSync(scratch, { recursive: true, force: true })
if (failure) {
  console.error(failure instanceof Stop ? `\nvectum: ${failure.message}` : failure)
  if (totals.failed === 0) totals.failed = 1
} else say(`all stages done in ${((Date.now() - started) / 1000).toFixed(0)} s`)
console.log(`${totals.passed} passed, ${totals.failed} failed`)
process.exit(failure ? 1 : 0)
