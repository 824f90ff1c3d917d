import { spawnSync } from 'node:child_process'
import { mkdirSync, mkdtempSync, readdirSync, readFileSync, rmSync, writeFileSync } from 'node:fs'
import { tmpdir } from 'node:os'
import { join } from 'node:path'
import { afterAll, beforeAll, describe, expect, it } from 'vitest'
import { root } from './helpers.ts'

let dir: string
beforeAll(() => void (dir = mkdtempSync(join(tmpdir(), 'vectum-start-'))))
afterAll(() => rmSync(dir, { recursive: true, force: true }))

/** Runs one function of the scripts as `npm start` does, and gives what it said. */
function script(code: string): { code: number | null; said: string } {
  const done = spawnSync(process.execPath, ['--input-type=module', '-e', `import * as lib from './scripts/lib.mjs'\n${code}`], {
    cwd: root,
    encoding: 'utf8',
  })
  return { code: done.status, said: done.stdout + done.stderr }
}

describe('the start script never deletes', () => {
  it('a database folder that has lost its tables is refused, with what is there and the ways out', () => {
    const data = join(dir, 'lost/db')
    mkdirSync(join(data, 'vectum'), { recursive: true })
    writeFileSync(join(data, 'ibdata1'), 'builds of a season')
    const { said } = script(
      `await lib.startDatabase(${JSON.stringify(join(dir, 'lost'))}).catch((error) => console.log(error instanceof lib.Stop, error.message))`,
    )
    expect(said).toMatch(/true .*holds 2 things .*ibdata1.*left as it is.*backup.*VECTUM_DATA_DIR/s)
    expect(readdirSync(data).sort()).toEqual(['ibdata1', 'vectum'])
    expect(readFileSync(join(data, 'ibdata1'), 'utf8')).toBe('builds of a season')
  })

  it.each(['', '{', 'null', '{"pid":"7"}'])('a note of who runs that holds "%s" is as good as none', (text) => {
    const file = join(dir, 'running.json')
    writeFileSync(file, text)
    expect(script(`console.log(lib.runningOn(${JSON.stringify(file)}))`)).toEqual({ code: 0, said: 'null\n' })
  })
  it('one that is whole is read', () => {
    const file = join(dir, 'running.json')
    writeFileSync(file, '{"pid":7,"address":"http://127.0.0.1:8420"}')
    expect(script(`console.log(lib.runningOn(${JSON.stringify(file)}).address)`).said).toBe('http://127.0.0.1:8420\n')
  })

  it('a place where nothing can be written is named, without a trace', () => {
    // a file where the folder should be: no user may write in it, root neither
    const taken = join(dir, 'taken')
    writeFileSync(taken, '')
    const done = spawnSync(process.execPath, ['scripts/start.mjs'], {
      cwd: root,
      encoding: 'utf8',
      env: { ...process.env, VECTUM_DATA_DIR: join(taken, 'data') },
    })
    expect(done.status).toBe(1)
    expect(done.stderr).toMatch(
      /^vectum: .*cannot be written \(ENOTDIR\)\. Give this user the right to, or name another folder: VECTUM_DATA_DIR\.\n$/,
    )
  })
})
