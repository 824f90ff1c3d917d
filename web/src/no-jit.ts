import { config } from 'zod/v4/core'

// before any schema is made: the page's policy forbids code made of text, and a browser reports even the try
config({ jitless: true })
