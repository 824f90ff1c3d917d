import { addressesOf, buildApp } from './app.ts'
import { type Config, ConfigError, readConfig, staysHere } from './config.ts'
import { openDatabase } from './db/data-source.ts'
import { loadDemo } from './demo/load.ts'
import { type Admit, lineServer } from './live/tcp.ts'
import { isLoopback } from './people/identity.ts'
import { sameToken } from './people/secrets.ts'
import type { PeopleStore } from './people/store.ts'

/** @throws ConfigError for an address that others reach while nobody signs in here, or a line port there without a token */
async function checkOpenness(config: Config, people: PeopleStore): Promise<void> {
  if (staysHere(config.host)) return
  if (!(await people.exist()))
    throw new ConfigError(
      `VECTUM_HOST is "${config.host}", which others on the network reach, and nobody signs in here yet. Start without it, open http://localhost:${config.port}/people on this machine, make the first owner, then start again with it.`,
    )
  if (config.linePort !== null && config.apiToken === null) {
    console.error(`The line protocol is off: on "${config.host}" it needs VECTUM_API_TOKEN.`)
    config.linePort = null
  }
  if (!config.tls && !config.trustedProxy)
    console.error(
      'Plain http: whoever is on this network can read and change what goes over it. npm run certificate makes what https needs.',
    )
}

/** Entry of the server process. Prints one line when it serves; ends cleanly on SIGINT or SIGTERM. */
async function main(): Promise<void> {
  const config = readConfig()
  const db = await openDatabase(config.databaseUrl)
  const { app, store, pool, sessions, people } = await buildApp(config, db)
  await checkOpenness(config, people)
  let stopping = false
  const stop = async (signal: string) => {
    if (stopping) return
    stopping = true
    const hard = setTimeout(() => process.exit(1), 8000)
    hard.unref()
    console.log(`${signal}: finishing what is under way ...`)
    await app.close()
    process.exit(0)
  }
  process.on('SIGINT', () => void stop('SIGINT'))
  process.on('SIGTERM', () => void stop('SIGTERM'))
  // the starter script is gone: nobody could stop this process, or the database it started, any more
  if (process.send)
    process.on('disconnect', () => {
      const database = Number(process.env.VECTUM_DATABASE_PID)
      process.once('exit', () => {
        if (database > 1) process.kill(database, 'SIGTERM')
      })
      void stop('starter gone')
    })
  if (config.demoDir) {
    const loaded = await loadDemo(store, pool, config.demoDir)
    if (loaded) console.log(`demo data loaded: ${loaded} cars of Quayside Motor Works`)
  }
  const bound = await app.listen({ host: config.host, port: config.port })
  const address = addressesOf(config)[0] ?? bound
  console.log(`Vectum serves on ${address}`)
  if (config.linePort !== null) {
    const admit: Admit = async (token, from) =>
      token !== undefined && config.apiToken !== null ? sameToken(token, config.apiToken) : isLoopback(from) && !(await people.exist())
    const lines = lineServer(sessions, admit, config.tls)
    lines.on('error', (error) => console.error(`The line protocol is off: ${error.message}. Another port: VECTUM_LINE_PORT`))
    lines.listen({ host: config.host, port: config.linePort })
    app.server.once('close', () => lines.close())
  }
  process.send?.({ ready: address })
}

main().catch((error: unknown) => {
  const e = error as NodeJS.ErrnoException & { port?: number }
  if (e.code === 'EADDRINUSE')
    console.error(`Port ${e.port ?? ''} is taken by another program. Stop that, or choose another: VECTUM_PORT=8430 npm start`)
  else if (error instanceof ConfigError) console.error(error.message)
  else console.error(error)
  process.exit(1)
})
