// Shared by the scripts. Plain JavaScript on purpose: it runs before any package is installed.
import { spawn, spawnSync } from 'node:child_process'
import { createHash, randomBytes } from 'node:crypto'
import { existsSync, mkdirSync, mkdtempSync, readdirSync, readFileSync, renameSync, rmSync, statSync, writeFileSync } from 'node:fs'
import { createServer } from 'node:net'
import { dirname, join } from 'node:path'
import { fileURLToPath } from 'node:url'
import { brotliCompressSync, constants, gzipSync } from 'node:zlib'

export const root = dirname(dirname(fileURLToPath(import.meta.url)))
export const say = (text) => console.log(`vectum: ${text}`)

export class Stop extends Error {}

/** Runs a command with its output on the screen. @throws Stop when it fails */
export function run(command, args, options = {}) {
  const done = spawnSync(command, args, { cwd: root, stdio: 'inherit', ...options })
  if (done.error) throw new Stop(`${command} could not be started: ${done.error.message}`)
  if (done.status !== 0) throw new Stop(`${command} ${args.join(' ')} ended with ${done.status ?? done.signal}`)
}

const found = (paths) => paths.find((path) => existsSync(path))
export const mariadbd = () =>
  found(['/usr/sbin/mariadbd', '/usr/local/sbin/mariadbd', '/usr/local/bin/mariadbd', '/opt/homebrew/bin/mariadbd'])
const installDb = () => found(['/usr/bin/mariadb-install-db', '/usr/local/bin/mariadb-install-db', '/opt/homebrew/bin/mariadb-install-db'])
/** Debian's Chromium; its build without a window does the same for a quarter less work. */
export const chromium = () =>
  process.env.VECTUM_CHROMIUM ?? found(['/usr/bin/chromium-headless-shell', '/usr/bin/chromium', '/usr/bin/chromium-browser'])

/** Installs Debian packages when something they bring is missing. Nothing is started by it: only programs are wanted, not services. */
export function ensureDebian(isThere, packages, what) {
  if (isThere()) return
  if (!existsSync('/usr/bin/apt-get'))
    throw new Stop(
      `${what} is not installed. Install it with your system's package manager (on Debian: ${packages.join(' ')}), then try again.`,
    )
  if (process.getuid?.() !== 0)
    throw new Stop(`${what} is not installed. Run: sudo apt-get install --no-install-recommends ${packages.join(' ')}`)
  say(`installing ${what} (${packages.join(', ')}) ...`)
  const env = { ...process.env, DEBIAN_FRONTEND: 'noninteractive' }
  const quiet = { stdio: ['ignore', 'ignore', 'inherit'], env }
  if (spawnSync('apt-get', ['install', '-y', '-q', '--no-install-recommends', ...packages], quiet).status !== 0) {
    run('apt-get', ['update', '-q'], quiet)
    run('apt-get', ['install', '-y', '-q', '--no-install-recommends', ...packages], quiet)
  }
  if (!isThere()) throw new Stop(`${what} is still missing after installing ${packages.join(', ')}`)
}

// The core package has the server program without the system-wide service that mariadb-server would start.
export const ensureDatabase = () =>
  ensureDebian(
    () => mariadbd() && installDb() && existsSync('/usr/bin/my_print_defaults'),
    ['mariadb-server-core', 'mariadb-client-core'],
    'MariaDB',
  )
export const ensureChromium = () => ensureDebian(() => chromium(), ['chromium-headless-shell', 'fonts-liberation'], 'Chromium')

const hashOf = (files) => {
  const hash = createHash('sha256')
  for (const file of files) hash.update(file.slice(root.length)).update(readFileSync(file))
  return hash.digest('hex')
}

/** npm packages as the lock file has them. */
export function ensurePackages() {
  const stamp = join(root, 'node_modules/.vectum-lock')
  const want = hashOf([join(root, 'package-lock.json')])
  if (existsSync(stamp) && readFileSync(stamp, 'utf8') === want) return
  say('installing npm packages ...')
  run('npm', ['ci', '--no-audit', '--no-fund', '--loglevel=error'])
  writeFileSync(stamp, want)
}

function filesBelow(dir) {
  return readdirSync(dir, { withFileTypes: true }).flatMap((entry) => {
    const path = join(dir, entry.name)
    if (entry.isDirectory()) return entry.name === 'dist' || entry.name === 'node_modules' ? [] : filesBelow(path)
    return [path]
  })
}

/** Builds server and web when a source changed since the last build. */
export async function ensureBuild() {
  const sources = [
    ...['core/src', 'server/src', 'web/src'].flatMap((dir) => filesBelow(join(root, dir))),
    ...['web/index.html', 'web/vite.config.ts', 'web/uno.config.ts', 'package-lock.json', 'scripts/lib.mjs'].map((f) => join(root, f)),
  ]
    .filter((file) => !file.endsWith('.test.ts') && statSync(file).isFile())
    .sort()
  const stamp = join(root, 'server/dist/.vectum-build')
  const want = hashOf(sources)
  if (existsSync(stamp) && existsSync(join(root, 'web/dist/index.html')) && readFileSync(stamp, 'utf8') === want) return
  say('building ...')
  const { build } = await import('esbuild')
  rmSync(join(root, 'server/dist'), { recursive: true, force: true })
  await build({
    absWorkingDir: root,
    entryPoints: { main: 'server/src/main.ts', person: 'server/src/people/command.ts' },
    outdir: 'server/dist',
    bundle: true,
    platform: 'node',
    target: 'node20',
    format: 'esm',
    sourcemap: true,
    // our own code goes in; libraries stay where npm put them
    plugins: [
      {
        name: 'libraries-outside',
        setup: (b) =>
          b.onResolve({ filter: /^[^./]/ }, (args) =>
            args.path.startsWith('@vectum/') || args.kind === 'entry-point' ? null : { path: args.path, external: true },
          ),
      },
    ],
    logLevel: 'warning',
  })
  // CommonJS with everything in it: Node 20 aborts when a thread is ended while it still loads an ES module
  await build({
    absWorkingDir: root,
    entryPoints: { heavy: 'server/src/heavy/worker.ts', 'bench-thread': 'server/src/live/bench-thread.ts' },
    outdir: 'server/dist',
    outExtension: { '.js': '.cjs' },
    bundle: true,
    // its marks for what changes threads without a copy are those of the pool itself
    external: ['piscina'],
    platform: 'node',
    target: 'node20',
    format: 'cjs',
    logLevel: 'warning',
  })
  run('npx', ['vite', 'build', 'web', '--logLevel', 'warn'])
  compress(join(root, 'web/dist'))
  writeFileSync(stamp, want)
}

/** Beside each text of the built page its compressed forms, made once and as small as they get. */
function compress(dir) {
  for (const file of filesBelow(dir)) {
    const text = readFileSync(file)
    if (!/\.(js|css|html|svg|json)$/.test(file) || text.length < 1024) continue
    writeFileSync(`${file}.br`, brotliCompressSync(text, { params: { [constants.BROTLI_PARAM_SIZE_HINT]: text.length } }))
    writeFileSync(`${file}.gz`, gzipSync(text, { level: 9 }))
  }
}

export function freePort() {
  return new Promise((resolve, reject) => {
    const server = createServer()
    server.once('error', reject)
    server.listen(0, '127.0.0.1', () => {
      const { port } = server.address()
      server.close(() => resolve(port))
    })
  })
}

export const alive = (pid) => {
  try {
    process.kill(pid, 0)
    return true
  } catch {
    return false
  }
}
export const commandLine = (pid) => {
  try {
    return readFileSync(`/proc/${pid}/cmdline`, 'utf8').replaceAll('\0', ' ')
  } catch {
    return ''
  }
}
export const pause = (ms) => new Promise((resolve) => setTimeout(resolve, ms))

/** Ends a process of ours and waits for it; by force only after `ms`. */
export async function end(pid, ms = 15_000) {
  if (!alive(pid)) return
  process.kill(pid, 'SIGTERM')
  for (let waited = 0; alive(pid) && waited < ms; waited += 50) await pause(50)
  if (alive(pid)) process.kill(pid, 'SIGKILL')
}

/** The folder that holds database and files, made when missing. @throws Stop when nothing can be written there */
export function ensureDataDir(dir) {
  try {
    mkdirSync(dir, { recursive: true })
    const probe = join(dir, `.write-${process.pid}`)
    writeFileSync(probe, '')
    rmSync(probe)
  } catch (error) {
    throw new Stop(`${dir} cannot be written (${error.code}). Give this user the right to, or name another folder: VECTUM_DATA_DIR.`)
  }
}

/** Who runs on this folder, as the start before this one wrote it down; null when it is not there or cannot be read. */
export function runningOn(lockFile) {
  try {
    const told = JSON.parse(readFileSync(lockFile, 'utf8'))
    return Number.isInteger(told?.pid) ? told : null
  } catch {
    return null
  }
}

const secretOf = (dir) => join(dir, 'db-password')
/** How the database under `dir` is spoken to. */
export const databaseUrl = (dir, port) => `mysql://vectum:${readFileSync(secretOf(dir), 'utf8').trim()}@127.0.0.1:${port}/vectum`

/**
 * A private MariaDB under `dir`, on loopback only, with a generated password.
 * @returns {Promise<{ url: string, pid: number, port: number, stop: () => Promise<void> }>}
 */
export async function startDatabase(dir, { fast = false, port: wantedPort } = {}) {
  const data = join(dir, 'db')
  const pidFile = join(dir, 'mariadbd.pid')
  mkdirSync(dir, { recursive: true })
  if (existsSync(pidFile)) {
    // left by a start that was killed; it is ours only if it serves this folder
    const pid = Number(readFileSync(pidFile, 'utf8'))
    if (pid > 1 && alive(pid) && commandLine(pid).includes(data)) await end(pid)
    rmSync(pidFile, { force: true })
  }
  const asRoot = process.getuid?.() === 0 ? ['--user=root'] : []
  const fresh = !existsSync(join(data, 'mysql'))
  if (fresh) {
    const there = existsSync(data) ? readdirSync(data) : []
    if (there.length > 0)
      throw new Stop(
        `${data} holds ${there.length} things (${there.slice(0, 5).join(', ')}) but no database that can be opened. It is left as it is. Put the missing folder "mysql" back from your backup, or move "db" to another place to begin with none, or name another folder: VECTUM_DATA_DIR.`,
      )
    say('making the database ...')
    // made beside its place and moved there whole: a start that is cut short leaves nothing half made where data are looked for
    const made = mkdtempSync(join(dir, 'db-making-'))
    run(installDb(), ['--no-defaults', `--datadir=${made}`, '--auth-root-authentication-method=socket', '--skip-test-db', ...asRoot], {
      stdio: ['ignore', 'ignore', 'inherit'],
    })
    renameSync(made, data)
  }
  const secretFile = secretOf(dir)
  if (!existsSync(secretFile)) writeFileSync(secretFile, randomBytes(24).toString('hex'), { mode: 0o600 })
  const password = readFileSync(secretFile, 'utf8').trim()
  const init = join(dir, 'init.sql')
  writeFileSync(
    init,
    `CREATE DATABASE IF NOT EXISTS vectum CHARACTER SET utf8mb4;\nCREATE USER IF NOT EXISTS 'vectum'@'127.0.0.1' IDENTIFIED BY '${password}';\nALTER USER 'vectum'@'127.0.0.1' IDENTIFIED BY '${password}';\nGRANT ALL ON ${fast ? '`vectum%`' : 'vectum'}.* TO 'vectum'@'127.0.0.1';\n`,
    { mode: 0o600 },
  )
  const port = wantedPort ?? (await freePort())
  const socket = join(data, 'db.sock')
  const errorLog = join(dir, 'mariadbd.log')
  const logStart = existsSync(errorLog) ? readFileSync(errorLog, 'utf8').length : 0
  const child = spawn(
    mariadbd(),
    [
      '--no-defaults',
      `--datadir=${data}`,
      `--socket=${socket.length < 100 ? socket : `/tmp/vectum-${port}.sock`}`,
      '--bind-address=127.0.0.1',
      `--port=${port}`,
      `--pid-file=${pidFile}`,
      `--log-error=${errorLog}`,
      `--init-file=${init}`,
      '--skip-name-resolve',
      '--skip-log-bin',
      '--performance-schema=OFF',
      '--max-allowed-packet=64M',
      '--innodb-buffer-pool-size=128M',
      '--default-time-zone=+00:00',
      // durable for real data; tests need no disk sync
      `--innodb-flush-log-at-trx-commit=${fast ? 0 : 1}`,
      ...asRoot,
    ],
    // its own group: Ctrl-C must reach the application first and the database last
    { detached: true, stdio: 'ignore' },
  )
  child.unref()
  let exited = false
  child.on('exit', () => (exited = true))
  const ready = () =>
    existsSync(errorLog) && existsSync(pidFile) && readFileSync(errorLog, 'utf8').slice(logStart).includes('ready for connections')
  for (let waited = 0; !ready(); waited += 50) {
    if (exited || waited > 60_000) throw new Stop(`MariaDB did not start; its own words are in ${errorLog}`)
    await pause(50)
  }
  rmSync(init, { force: true })
  return { url: databaseUrl(dir, port), pid: child.pid, port, stop: () => end(child.pid) }
}
