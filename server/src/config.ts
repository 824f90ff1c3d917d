import { existsSync, readFileSync } from 'node:fs'
import { dirname, join, resolve } from 'node:path'
import { fileURLToPath } from 'node:url'
import { hostNames } from './http/doors.ts'

/** Certificate and key, as PEM. */
export interface TlsFiles {
  cert: Buffer
  key: Buffer
}

export interface Config {
  databaseUrl: string
  host: string
  /** null: plain http */
  tls: TlsFiles | null
  /** addresses of proxies whose word about the client is taken; null: none */
  trustedProxy: string | null
  /** makes a script a fitter */
  apiToken: string | null
  /** names a client may call this server by */
  allowedHosts: string[]
  port: number
  /** port of the line protocol; null: off */
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
/** Whether an address to listen on is this machine's own alone. */
export const staysHere = (host: string): boolean => LOOPBACK.has(host)

export class ConfigError extends Error {}

function linePortOf(text: string | undefined): number | null {
  if (text === undefined || text === 'off') return null
  const port = Number(text)
  if (!Number.isInteger(port) || port < 0 || port > 65535)
    throw new ConfigError(`VECTUM_LINE_PORT is "${text}"; it must be "off" or a whole number from 0 to 65535`)
  return port
}

/** Loopback, the address listened on where it is one, and what is listed. */
function allowedHostsOf(host: string, text = ''): string[] {
  const everywhere = host === '0.0.0.0' || host === '::'
  const names = hostNames(text)
  if (names.includes(null))
    throw new ConfigError(`VECTUM_ALLOWED_HOSTS is "${text}"; it must be host names without ports, parted by commas`)
  if (everywhere && text.trim() === '')
    throw new ConfigError(
      `VECTUM_HOST is "${host}", every address of this machine; VECTUM_ALLOWED_HOSTS must list the names and addresses it is opened by, such as "workshop.lan,192.168.1.20"`,
    )
  return [
    ...new Set([
      ...(names as string[]),
      ...(everywhere || staysHere(host) ? [] : [hostNames(host.includes(':') ? `[${host}]` : host).at(-1)!]),
    ]),
  ]
}

function tlsOf(env: NodeJS.ProcessEnv): TlsFiles | null {
  const { VECTUM_TLS_CERT: cert, VECTUM_TLS_KEY: key } = env
  if (!cert && !key) return null
  const file = (name: string, path: string | undefined): Buffer => {
    if (!path)
      throw new ConfigError(`${name} is not set; VECTUM_TLS_CERT and VECTUM_TLS_KEY come together (npm run certificate makes both)`)
    try {
      return readFileSync(path)
    } catch (error) {
      throw new ConfigError(
        `${name} is "${path}", which cannot be read (${(error as NodeJS.ErrnoException).code}); npm run certificate makes one`,
      )
    }
  }
  return { cert: file('VECTUM_TLS_CERT', cert), key: file('VECTUM_TLS_KEY', key) }
}

const MIN_TOKEN = 32
function apiTokenOf(text: string | undefined): string | null {
  if (!text) return null
  if (text.length < MIN_TOKEN || text.length > 200)
    throw new ConfigError(
      `VECTUM_API_TOKEN has ${text.length} characters; it must have ${MIN_TOKEN} to 200, drawn by chance (openssl rand -hex 24)`,
    )
  return text
}

/** @throws ConfigError naming the variable, what it holds and what it must be */
export function readConfig(env: NodeJS.ProcessEnv = process.env): Config {
  const root = findRoot()
  const port = Number(env.VECTUM_PORT ?? 8420)
  if (!Number.isInteger(port) || port < 0 || port > 65535)
    throw new ConfigError(`VECTUM_PORT is "${env.VECTUM_PORT}"; it must be a whole number from 0 to 65535`)
  const host = env.VECTUM_HOST ?? '127.0.0.1'
  if (!env.VECTUM_DATABASE_URL) throw new ConfigError('VECTUM_DATABASE_URL is not set; npm start sets it for its own database')
  const webDir = join(root, 'web/dist')
  const pkg = JSON.parse(readFileSync(join(root, 'package.json'), 'utf8')) as { version: string }
  return {
    databaseUrl: env.VECTUM_DATABASE_URL,
    host,
    allowedHosts: allowedHostsOf(host, env.VECTUM_ALLOWED_HOSTS),
    tls: tlsOf(env),
    trustedProxy: env.VECTUM_TRUSTED_PROXY || null,
    apiToken: apiTokenOf(env.VECTUM_API_TOKEN),
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
