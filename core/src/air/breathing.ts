import { z } from 'zod'

/** How a cam breathes, quiet to racing: what VE, idle vacuum and idle mixture go by. */
export const CamClass = z.enum(['stock', 'mild', 'hot', 'wild'])
export type CamClass = z.infer<typeof CamClass>

/** Where throttles and injectors sit: the way of conversion, and a part of how the engine breathes. */
export const Route = z.enum(['throttle-body', 'multi-port', 'individual-runner'])
export type Route = z.infer<typeof Route>
