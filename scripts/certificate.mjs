// npm run certificate [name or address ...]: an authority of the workshop's own and a certificate for this machine, so that tablets may come by https.
import { spawnSync } from 'node:child_process'
import { chmodSync, existsSync, mkdirSync, rmSync, writeFileSync } from 'node:fs'
import { isIP } from 'node:net'
import { hostname, networkInterfaces } from 'node:os'
import { join, resolve } from 'node:path'
import { ensureDataDir, ensureDebian, root, say, Stop } from './lib.mjs'

const dataDir = resolve(process.env.VECTUM_DATA_DIR ?? join(root, '.vectum'))
const dir = join(dataDir, 'tls')
const path = (name) => join(dir, name)
/** Some tablets take no certificate that lives longer (CA/Browser Forum Baseline Requirements, 6.3.2). */
const LEAF_DAYS = 397
const AUTHORITY_DAYS = 3650

function openssl(...args) {
  const done = spawnSync('openssl', args, { encoding: 'utf8' })
  if (done.status !== 0) throw new Stop(`openssl ${args[0]} did not work: ${(done.stderr || done.error?.message || '').trim()}`)
}
const isName = (text) => isIP(text) !== 0 || /^(?=.{1,253}$)[a-z0-9]([a-z0-9-]*[a-z0-9])?(\.[a-z0-9]([a-z0-9-]*[a-z0-9])?)*$/i.test(text)

function names() {
  const asked = process.argv.slice(2).flatMap((text) => text.split(','))
  const wrong = asked.find((text) => !isName(text))
  if (wrong !== undefined) throw new Stop(`"${wrong}" is no host name and no address; give them without port, parted by spaces`)
  const found = Object.values(networkInterfaces())
    .flat()
    .filter((net) => !net.internal && net.family === 'IPv4')
    .map((net) => net.address)
  return [...new Set([...(asked.length ? asked : [hostname(), ...found].filter(isName)), 'localhost', '127.0.0.1'])]
}

try {
  ensureDataDir(dataDir)
  ensureDebian(() => spawnSync('openssl', ['version']).status === 0, ['openssl'], 'OpenSSL')
  const hosts = names()
  mkdirSync(dir, { recursive: true, mode: 0o700 })
  // an authority that tablets trust already is kept: only the machine's certificate is made anew
  if (!existsSync(path('authority.key'))) {
    openssl('req', '-x509', '-newkey', 'ec', '-pkeyopt', 'ec_paramgen_curve:P-256', '-nodes', '-days', String(AUTHORITY_DAYS), '-subj', '/CN=Vectum workshop authority', '-addext', 'basicConstraints=critical,CA:TRUE,pathlen:0', '-addext', 'keyUsage=critical,keyCertSign,cRLSign', '-keyout', path('authority.key'), '-out', path('authority.crt')) // oxfmt-ignore
    chmodSync(path('authority.key'), 0o600)
  }
  const extensions = path('server.ext')
  writeFileSync(
    extensions,
    [
      'basicConstraints=critical,CA:FALSE',
      'keyUsage=critical,digitalSignature',
      'extendedKeyUsage=serverAuth',
      `subjectAltName=${hosts.map((host) => `${isIP(host) ? 'IP' : 'DNS'}:${host}`).join(',')}`,
    ].join('\n'),
  )
  openssl('req', '-newkey', 'ec', '-pkeyopt', 'ec_paramgen_curve:P-256', '-nodes', '-subj', `/CN=${hosts[0].slice(0, 64)}`, '-keyout', path('server.key'), '-out', path('server.csr')) // oxfmt-ignore
  openssl('x509', '-req', '-in', path('server.csr'), '-CA', path('authority.crt'), '-CAkey', path('authority.key'), '-CAcreateserial', '-days', String(LEAF_DAYS), '-extfile', extensions, '-out', path('server.crt')) // oxfmt-ignore
  chmodSync(path('server.key'), 0o600)
  for (const left of [extensions, path('server.csr')]) rmSync(left)
  const lan = hosts.filter((host) => host !== 'localhost' && host !== '127.0.0.1')
  say(`made for ${hosts.join(', ')}; valid ${LEAF_DAYS} days, then run this again: tablets go on trusting it.`)
  console.log(`
1. On each tablet, once: bring ${path('authority.crt')} to it (cable, card or mail; never the .key files) and trust it:
   Open the file there, or look for "certificate" in its settings, and install it as a CA certificate; some ask once more, under certificate trust.
   On a computer: the browser's settings, Certificates, Authorities, Import, trust it for web sites.
   Trust it only on the workshop's own devices: who has authority.key can pose as any site to them.
2. Make the first owner on this machine (npm start, then /people), if that is not done.
3. Start for the network:
   VECTUM_HOST=0.0.0.0 VECTUM_ALLOWED_HOSTS=${lan.join(',') || '<this machine’s name>'} \\
   VECTUM_TLS_CERT=${path('server.crt')} VECTUM_TLS_KEY=${path('server.key')} npm start
4. On the tablet open https://${lan[0] ?? '<this machine’s name>'}:${process.env.VECTUM_PORT ?? 8420} and pair it by a code from People.
`)
} catch (error) {
  console.error(error instanceof Stop ? `vectum: ${error.message}` : error)
  process.exitCode = 1
}
