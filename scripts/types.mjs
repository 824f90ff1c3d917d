// npm run check:types: plain TypeScript by the native compiler, which takes half the time; single-file components by vue-tsc, which wants TypeScript 6.
import { spawnSync } from 'node:child_process'
import { join } from 'node:path'
import { root } from './lib.mjs'

const native = join(root, 'node_modules/typescript-native/bin/tsc')
const web = join(root, 'node_modules/vue-tsc/bin/vue-tsc.js')
for (const args of [
  [native, '-p', 'core'],
  [native, '-p', 'server'],
  [native, '-p', 'e2e'],
  [web, '-p', 'web', '--noEmit'],
])
  if (spawnSync(process.execPath, args, { cwd: root, stdio: 'inherit' }).status !== 0) process.exit(1)
