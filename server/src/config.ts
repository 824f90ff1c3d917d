import { existsSync, readFileSync } from 'node:fs'
import { dirname, join, resolve } from 'node:path'
import { fileURLToPath } from 'node:url'
import { hostNames } from './http/doors.ts'

export interface Config {
  databaseUrl: string
  host: string
  /** names a client may call this server by */
  allowedHosts: string[]
  port: number
  /** port of the line protocol on loopback; null: off */
  linePort: number | null
  dataDir: string
  webDir: string | null
  demoDir: string | null
  version: string
  maxUploadBytes: number
  heavyWorker: string
  benchThread: string
  logLevel: string
  /** every answer is held against its schema before it goes out: for tests */
  checkAnswers: boolean
}

/** Root of the checkout: the folder above that holds package.json with the workspaces. */
export function findRoot(from = dirname(fileURLToPath(import.meta.url))): string {
  for (let dir = from; ; dir = dirname(dir)) {
    const file = join(dir, 'package.json')
    if (existsSync(file) && (JSON.parse(readFileSync(file, 'utf8')) as { workspaces?: unknown }).workspaces) return dir
    if (dir === dirname(dir)) throw new Error('the root of the project was not found above the server')
  }
}

const LOOPBACK = new Set(['127.0.0.1', 'localhost', '::1'])

export class ConfigError extends Error {}

function linePortOf(text: string | undefined): number | null {
  if (text === undefined || text === 'off') return null
  const port = Number(text)
  if (!Number.isInteger(port) || port < 0 || port > 65535)
    throw new ConfigError(`VECTUM_LINE_PORT is "${text}"; it must be "off" or a whole number from 0 to 65535`)
  return port
}

function allowedHostsOf(text = ''): string[] {
  const names = hostNames(text)
  if (names.includes(null))
    throw new ConfigError(`VECTUM_ALLOWED_HOSTS is "${text}"; it must be host names without ports, parted by commas`)
  return names as string[]
}

/** @throws ConfigError naming the variable, what it holds and what it must be */
export function readConfig(env: NodeJS.ProcessEnv = process.env): Config {
  const root = findRoot()
  const port = Number(env.VECTUM_PORT ?? 8420)
  if (!Number.isInteger(port) || port < 0 || port > 65535)
    throw new ConfigError(`VECTUM_PORT is "${env.VECTUM_PORT}"; it must be a whole number from 0 to 65535`)
  const host = env.VECTUM_HOST ?? '127.0.0.1'
  if (!LOOPBACK.has(host))
    throw new ConfigError(
      `VECTUM_HOST is "${host}"; only 127.0.0.1, localhost or ::1 can be used, because other addresses need a sign-in and there is none yet`,
    )
  if (!env.VECTUM_DATABASE_URL) throw new ConfigError('VECTUM_DATABASE_URL is not set; npm start sets it for its own database')
  const webDir = join(root, 'web/dist')
  const pkg = JSON.parse(readFileSync(join(root, 'package.json'), 'utf8')) as { version: string }
  return {
    databaseUrl: env.VECTUM_DATABASE_URL,
    host,
    allowedHosts: allowedHostsOf(env.VECTUM_ALLOWED_HOSTS),
    port,
    linePort: linePortOf(env.VECTUM_LINE_PORT),
    dataDir: resolve(env.VECTUM_DATA_DIR ?? join(root, '.vectum')),
    webDir: existsSync(webDir) ? webDir : null,
    demoDir: env.VECTUM_DEMO === 'off' ? null : join(root, 'demo'),
    version: pkg.version,
    maxUploadBytes: 160 * 1024 * 1024,
    heavyWorker: join(root, 'server/dist/heavy.cjs'),
    benchThread: join(root, 'server/dist/bench-thread.cjs'),
    logLevel: env.VECTUM_LOG ?? 'warn',
    checkAnswers: env.VECTUM_CHECK_ANSWERS === 'on',
  }
}
