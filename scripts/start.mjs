// npm start: installs what is missing, starts its own MariaDB, builds if needed, serves, stops everything on Ctrl-C.
import { fork } from 'node:child_process'
import { rmSync, writeFileSync } from 'node:fs'
import { join, resolve } from 'node:path'
import {
  alive,
  commandLine,
  end,
  ensureBuild,
  ensureDatabase,
  ensureDataDir,
  ensurePackages,
  root,
  runningOn,
  say,
  startDatabase,
  Stop,
} from './lib.mjs'

const dataDir = resolve(process.env.VECTUM_DATA_DIR ?? join(root, '.vectum'))
const lockFile = join(dataDir, 'running.json')
let database = null
let server = null
let stopping = false

async function stop(code) {
  if (stopping) return
  stopping = true
  if (server?.pid) await end(server.pid, 10_000)
  if (database) await database.stop()
  if (runningOn(lockFile)?.pid === process.pid) rmSync(lockFile, { force: true })
  say(code === 0 ? 'stopped; your data stay where they are' : 'stopped')
  process.exit(code)
}

async function main() {
  ensureDataDir(dataDir)
  const other = runningOn(lockFile)
  if (other && other.pid !== process.pid && alive(other.pid) && commandLine(other.pid).includes('start.mjs')) {
    say(
      `already running at ${other.address ?? 'an address it will print soon'} (process ${other.pid}). Open that, or stop it there with Ctrl-C first.`,
    )
    return
  }
  const runs = { pid: process.pid }
  writeFileSync(lockFile, JSON.stringify(runs))
  for (const signal of ['SIGINT', 'SIGTERM', 'SIGHUP']) process.on(signal, () => void stop(0))

  ensurePackages()
  if (!process.env.VECTUM_DATABASE_URL) ensureDatabase()
  await ensureBuild()
  if (!process.env.VECTUM_DATABASE_URL) database = await startDatabase(dataDir)
  if (database) writeFileSync(lockFile, JSON.stringify({ ...runs, databasePort: database.port }))
  server = fork(join(root, 'server/dist/main.js'), {
    cwd: root,
    detached: true,
    env: {
      ...process.env,
      NODE_ENV: 'production',
      VECTUM_LINE_PORT: process.env.VECTUM_LINE_PORT ?? '8421',
      VECTUM_DATA_DIR: dataDir,
      VECTUM_DATABASE_URL: process.env.VECTUM_DATABASE_URL ?? database.url,
      ...(database ? { VECTUM_DATABASE_PID: String(database.pid) } : {}),
    },
  })
  server.on('message', (message) => {
    if (!message.ready) return
    writeFileSync(lockFile, JSON.stringify({ ...runs, databasePort: database?.port, address: message.ready }))
    say(`open ${message.ready}   (Ctrl-C stops it)`)
  })
  server.on('exit', (code) => void stop(code === 0 ? 0 : 1))
}

main().catch((error) => {
  console.error(error instanceof Stop ? `vectum: ${error.message}` : error)
  void stop(1)
})
