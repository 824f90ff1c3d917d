import { DataSource } from 'typeorm'
import { entities } from './entities.ts'
import { migrations } from './migrations.ts'

export function createDataSource(databaseUrl: string): DataSource {
  return new DataSource({
    type: 'mariadb',
    url: databaseUrl,
    entities,
    migrations,
    synchronize: false,
    timezone: 'Z',
    charset: 'utf8mb4',
    poolSize: 12,
    connectTimeout: 4000,
    // MariaDB says JSON of any text column that is checked to be JSON; we parse such columns ourselves
    extra: { enableKeepAlive: true, maxIdle: 12, jsonStrings: true },
  })
}

/** Connects and brings the tables up to date. Two servers on one database take turns by a named lock. */
export async function openDatabase(databaseUrl: string): Promise<DataSource> {
  const db = await createDataSource(databaseUrl).initialize()
  const lock = db.createQueryRunner()
  try {
    await lock.query("SELECT GET_LOCK('vectum-migrate', 30)")
    await db.runMigrations({ transaction: 'none' })
  } finally {
    await lock.query("SELECT RELEASE_LOCK('vectum-migrate')").catch(() => {})
    await lock.release()
  }
  return db
}
