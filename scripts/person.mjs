// npm run person: lists who signs in here; npm run person reset "name": a one-time code for somebody who can no longer sign in.
import { spawnSync } from 'node:child_process'
import { join, resolve } from 'node:path'
import { alive, databaseUrl, ensureBuild, ensureDatabase, ensurePackages, root, runningOn, startDatabase, Stop } from './lib.mjs'

const dataDir = resolve(process.env.VECTUM_DATA_DIR ?? join(root, '.vectum'))
let own = null
try {
  ensurePackages()
  await ensureBuild()
  let url = process.env.VECTUM_DATABASE_URL
  if (!url) {
    const other = runningOn(join(dataDir, 'running.json'))
    if (other?.databasePort && alive(other.pid)) url = databaseUrl(dataDir, other.databasePort)
    else {
      ensureDatabase()
      own = await startDatabase(dataDir)
      url = own.url
    }
  }
  const done = spawnSync(process.execPath, [join(root, 'server/dist/person.js'), ...process.argv.slice(2)], {
    stdio: 'inherit',
    env: { ...process.env, VECTUM_DATABASE_URL: url },
  })
  process.exitCode = done.status ?? 1
} catch (error) {
  console.error(error instanceof Stop ? `vectum: ${error.message}` : error)
  process.exitCode = 1
}
await own?.stop()
