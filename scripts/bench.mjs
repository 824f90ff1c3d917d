// npm run bench: prints the budgets of the design with what was measured, on a temporary database, and a tenth of the scores.
import { spawnSync } from 'node:child_process'
import { mkdtempSync, rmSync } from 'node:fs'
import { tmpdir } from 'node:os'
import { join } from 'node:path'
import { ensureBuild, ensureDatabase, ensurePackages, root, startDatabase } from './lib.mjs'

ensurePackages()
ensureDatabase()
await ensureBuild()
const { build } = await import('esbuild')
const out = join(root, 'server/dist/bench.js')
await build({
  absWorkingDir: root,
  entryPoints: ['server/bench/run.ts'],
  outfile: out,
  bundle: true,
  platform: 'node',
  target: 'node20',
  format: 'esm',
  plugins: [
    {
      name: 'libraries-outside',
      setup: (b) =>
        b.onResolve({ filter: /^[^./]/ }, (args) =>
          args.path.startsWith('@vectum/') || args.kind === 'entry-point' ? null : { path: args.path, external: true },
        ),
    },
  ],
})
const dir = mkdtempSync(join(tmpdir(), 'vectum-bench-db-'))
const db = await startDatabase(dir)
const done = spawnSync(process.execPath, [out], { cwd: root, stdio: 'inherit', env: { ...process.env, VECTUM_TEST_DATABASE_URL: db.url } })
await db.stop()
rmSync(dir, { recursive: true, force: true })
// how often it is right, on a tenth of the seeds; all of them: npm run score
const score = spawnSync(process.execPath, [join(root, 'scripts/score.mjs'), '--quick'], { cwd: root, stdio: 'inherit' })
process.exit(done.status || (score.status ?? 1))
