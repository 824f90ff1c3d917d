import { openDatabase } from '../db/data-source.ts'
import { PeopleStore } from './store.ts'

/** `npm run person`: on the machine itself, for whoever can no longer sign in. It speaks to the database, not to the server. */
async function main([command, name]: string[]): Promise<number> {
  const db = await openDatabase(process.env.VECTUM_DATABASE_URL!)
  const people = new PeopleStore(db)
  try {
    const rows = await people.list()
    if (command === undefined || command === 'list') {
      if (rows.length === 0) console.log('Nobody signs in here yet. The first owner is made on the page /people, on this machine.')
      for (const { name, role, secret, leftAt } of rows)
        console.log(
          `${name}: ${leftAt ? `left ${leftAt.toISOString().slice(0, 10)}` : role}${secret || leftAt ? '' : ', has no secret yet'}`,
        )
      return 0
    }
    if (command !== 'reset') {
      console.error(`"${command}" is no command. There are: npm run person, and npm run person reset "name"`)
      return 1
    }
    const owners = rows.filter((row) => row.role === 'owner' && !row.leftAt)
    const person = name === undefined && owners.length === 1 ? owners[0] : name === undefined ? null : await people.byName(name)
    if (!person || person.leftAt) {
      const names = rows.filter((row) => !row.leftAt).map((row) => row.name)
      console.error(
        rows.length === 0 ? 'Nobody signs in here yet.' : `Say whose: npm run person reset "name". Here are: ${names.join(', ')}`,
      )
      return 1
    }
    const { code, expiresAt } = await people.makeCode(person.id, true)
    console.log(
      `Code for ${person.name}, once, until ${expiresAt.toISOString().slice(0, 16).replace('T', ' ')} UTC: ${code.slice(0, 5)} ${code.slice(5)}`,
    )
    console.log('Type it at "I have a code" on the sign-in page; it asks for a new secret, which ends every other sign-in of that person.')
    return 0
  } finally {
    people.close()
    await db.destroy()
  }
}

main(process.argv.slice(2)).then(
  (code) => process.exit(code),
  (error: unknown) => {
    console.error(error instanceof Error ? error.message : error)
    process.exit(1)
  },
)
