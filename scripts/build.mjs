import { ensureBuild, ensurePackages } from './lib.mjs'

ensurePackages()
await ensureBuild()
