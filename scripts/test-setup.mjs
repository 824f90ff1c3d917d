import fc from 'fast-check'
import { vi } from 'vitest'

// Property tests draw the same cases on every machine, so that a change is judged and not the draw; VECTUM_SEED=new looks for what they have missed.
const asked = process.env.VECTUM_SEED
fc.configureGlobal({ seed: asked === 'new' ? Date.now() % 2 ** 31 : Number(asked ?? 20261127) })

// A busy machine is slower than any screen: what is late still has to come.
const { waitFor } = vi
vi.waitFor = (seen, limit = 30_000) => waitFor(seen, limit)
