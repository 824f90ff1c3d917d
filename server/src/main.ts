import { buildApp } from './app.ts'
import { ConfigError, readConfig } from './config.ts'
import { openDatabase } from './db/data-source.ts'
import { loadDemo } from './demo/load.ts'
import { lineServer } from './live/tcp.ts'

/** Entry of the server process. Prints one line when it serves; ends cleanly on SIGINT or SIGTERM. */
async function main(): Promise<void> {
  const config = readConfig()
  const db = await openDatabase(config.databaseUrl)
  const { app, store, pool, sessions } = await buildApp(config, db)
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
  const address = await app.listen({ host: config.host, port: config.port })
  console.log(`Vectum serves on ${address}`)
  if (config.linePort !== null) {
    const lines = lineServer(sessions)
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
