import { fitup } from '../fitup/index.ts'
import { fuel } from '../fuel/index.ts'
import { handover } from '../handover/index.ts'
import { idle } from '../idle/index.ts'
import { learn } from '../learn/index.ts'
import { plan } from '../plan/index.ts'
import { spark } from '../spark/index.ts'
import { start } from '../start/index.ts'
import { survey } from '../survey/index.ts'
import { tune } from '../tune/index.ts'
import { wiring } from '../wiring/index.ts'

/** The job line: the stations that are built, in working order. A new one is a new folder and one line here. */
export const stations = [survey, plan, fuel, spark, wiring, fitup, tune, start, idle, learn, handover] as const
