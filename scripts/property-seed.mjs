// Property tests draw the same cases on every machine, so that a change is judged and not the draw; VECTUM_SEED=new looks for what they have missed.
import fc from 'fast-check'

const asked = process.env.VECTUM_SEED
fc.configureGlobal({ seed: asked === 'new' ? Date.now() % 2 ** 31 : Number(asked ?? 20261127) })
