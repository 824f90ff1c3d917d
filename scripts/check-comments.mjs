// Files that comments and docs name must be there: a path such as `judge/stored.ts` is looked for in core, server, web and the root.
import { existsSync, readFileSync } from 'node:fs'
import { spawnSync } from 'node:child_process'
import { dirname, join } from 'node:path'
import { root } from './lib.mjs'

const files = spawnSync('git', ['ls-files'], { cwd: root, encoding: 'utf8' })
  .stdout.split('\n')
  .filter((f) => /\.(ts|vue|mjs|cjs|md)$/.test(f) && f !== 'CHANGELOG.md')
const places = ['', 'core/src', 'server/src', 'server', 'web/src', 'docs']
const missing = []
for (const file of files) {
  const text = readFileSync(join(root, file), 'utf8')
  const said = file.endsWith('.md') ? [text] : [...text.matchAll(/\/\*[\s\S]*?\*\/|(?<=\s)\/\/.*/g)].map((m) => m[0])
  for (const words of said)
    // an address of the API is no file
    for (const [, path] of words.matchAll(/`?((?:[\w-]+\/)+[\w.-]+\.(?:ts|vue|mjs|md|json))`?/g))
      if (!path.startsWith('api/') && ![...places, dirname(file)].some((place) => existsSync(join(root, place, path))))
        missing.push(`${file}: ${path}`)
}
for (const line of missing) console.error(`a comment names a file that is not there: ${line}`)
process.exit(missing.length ? 1 : 0)
