import { z } from 'zod'
import { when } from './board.ts'
import { roles } from './roles.ts'

export const RoleName = z.enum(roles)
const PersonName = z
  .string()
  .trim()
  .min(1)
  .max(80)
  .regex(/^\P{C}*$/u, 'must hold no control characters')
export const SECRET_LENGTH = { min: 12, max: 200 } as const
/** NIST SP 800-63B, 3.1.1: long, any characters, no rule of composition. */
const Secret = z.string().min(SECRET_LENGTH.min).max(SECRET_LENGTH.max)
/** As it is read out or typed with dirty hands: letters and digits that cannot be taken for each other (no I, L, O, U, 0, 1), in two groups. */
export const CODE_LETTERS = 'ABCDEFGHJKMNPQRSTVWXYZ23456789'
export const CODE_LENGTH = 10
export const Code = z
  .string()
  .max(40)
  .transform((text) => text.toUpperCase().replace(/[\s-]/g, ''))

export const Member = z.object({
  id: z.string(),
  name: z.string(),
  role: RoleName,
  since: when,
  leftAt: when.nullable(),
  /** false: has not signed in yet, or waits for a new secret */
  ready: z.boolean(),
})
export type Member = z.infer<typeof Member>
export const Members = z.array(Member)

export const Me = z.object({
  access: z.enum(['open', 'signed-in', 'signed-out']).describe('open: nobody signs in yet, whoever sits at this machine is everybody'),
  person: z.object({ id: z.string(), name: z.string(), role: RoleName }).nullable(),
  role: RoleName.nullable(),
  /** a secret may be set without the old one: signed in by a code that was made for it */
  wantsSecret: z.boolean(),
  /** the first owner can be made from here */
  firstOwner: z.boolean(),
})
export type Me = z.infer<typeof Me>

export const FirstOwner = z.strictObject({ name: PersonName, secret: Secret })
export const SignIn = z.strictObject({ name: z.string().max(200), secret: z.string().max(1000) })
export const SignInByCode = z.strictObject({ code: Code })
export const NewPerson = z.strictObject({ name: PersonName, role: RoleName })
export const ChangedPerson = z.strictObject({ role: RoleName.optional(), leaves: z.literal(true).optional() })
export const NewSecret = z.strictObject({ secret: Secret, current: z.string().max(1000).optional() })
export const CodeFor = z.strictObject({ personId: z.uuid().optional() })
export const OneTimeCode = z.object({
  code: z.string(),
  expiresAt: when,
  /** where a tablet on this network finds the server */
  addresses: z.array(z.string()),
})
export type OneTimeCode = z.infer<typeof OneTimeCode>
export const Invited = z.object({ person: Member, invitation: OneTimeCode })
