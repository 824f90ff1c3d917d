import { monitorEventLoopDelay } from 'node:perf_hooks'
import { fork } from 'node:child_process'
import { randomUUID } from 'node:crypto'
import { statSync } from 'node:fs'
import { mkdtemp, readFile, rm, writeFile } from 'node:fs/promises'
import { tmpdir } from 'node:os'
import { join } from 'node:path'
import autocannon from 'autocannon'
import {
  Bench,
  benchDrive,
  benchCarFor,
  computeBaseTune,
  everydayDrive,
  contextOf,
  evaluate,
  fuelDesign,
  harnessOf,
  judgeTrain,
  planSchedule,
  rotorPhase,
  phaseOf,
  type BuildData,
  type Frame,
} from '@vectum/core'
import { drawTrain } from '../../core/src/spark/scope/signals.fixture.ts'
import { findRoot } from '../src/config.ts'
import { HeavyPool } from '../src/heavy/pool.ts'
import { logOfFrames } from '../src/live/trace.ts'
import { existsSync, readdirSync, readFileSync } from 'node:fs'

/** Prints the budgets of the design beside what was measured here and now. It judges nothing: run it on a quiet machine. */
const root = findRoot()
const rows: [string, string, string][] = []
const row = (what: string, budget: string, measured: string) => {
  rows.push([what, budget, measured])
  console.log(`${what.padEnd(58)} ${budget.padEnd(18)} ${measured}`)
}
/** the compressed form where the build made one */
const sentBytes = (file: string) => statSync(existsSync(`${file}.br`) ? `${file}.br` : file).size
const median = (values: number[]) => [...values].sort((a, b) => a - b)[values.length >> 1]
const percentile = (values: number[], p: number) =>
  [...values].sort((a, b) => a - b)[Math.min(values.length - 1, Math.floor(values.length * p))]
const car = JSON.parse(readFileSync(join(root, 'demo/cars/2-rampart.json'), 'utf8')) as BuildData

console.log(`${'what'.padEnd(58)} ${'budget'.padEnd(18)} measured`)
{
  /** times real time, of an engine idling */
  const simulated = (facts: BuildData['facts']): number => {
    const bench = new Bench(benchCarFor(facts, car.choices, 1), computeBaseTune(facts, car.choices), { coolantC: 80 })
    bench.keyOn = true
    bench.run(3)
    bench.starter = true
    bench.run(2)
    bench.starter = false
    const t = performance.now()
    bench.run(600)
    const ratio = 600 / ((performance.now() - t) / 1000)
    if (bench.rpm < 500) throw new Error('the bench engine stalled; the figure would mean nothing')
    return ratio
  }
  const three = (facts: BuildData['facts']) => `${median([1, 2, 3].map(() => simulated(facts))).toFixed(0)} x real time (median of 3)`
  row('core simulation, engine running, one thread', '>= 1000 x', three(car.facts))
  row(
    'the same, blown through by its exhaust',
    '>= 1000 x',
    three({ ...car.facts, induction: { kind: 'blow-through', boostKpa: 50, drive: 'exhaust', intercooler: true } }),
  )
  const build: BuildData = { id: 'b', title: 'b', facts: car.facts, choices: car.choices, readings: [], tunes: [], logs: [] }
  const t = performance.now()
  const drive = benchDrive(build, computeBaseTune(car.facts, car.choices), everydayDrive(20, 1))
  row('a drive of 20 minutes to a log', '< 3 s', `${((performance.now() - t) / 1000).toFixed(2)} s, ${drive.timeS.length} rows`)
}
{
  const still = new Bench(benchCarFor(car.facts, car.choices, 1), computeBaseTune(car.facts, car.choices), { coolantC: 80 }).frame()
  const frames: Frame[] = Array.from({ length: 67_000 }, (_, i) => ({ ...still, timeS: i / 33, rpm: 700 + (i % 97) }))
  const loop = monitorEventLoopDelay({ resolution: 5 })
  const pool = new HeavyPool(join(root, 'server/dist/heavy.cjs'))
  await pool.run({ kind: 'pack', ...(await logOfFrames(frames.slice(0, 3000))) })
  loop.enable()
  const t = performance.now()
  await pool.run({ kind: 'pack', ...(await logOfFrames(frames)) })
  const ms = performance.now() - t
  loop.disable()
  await pool.close()
  row(
    'a trace of 67,000 rows made ready to store: loop blocked',
    '< 50 ms',
    `at most ${(loop.max / 1e6).toFixed(0)} ms, ${ms.toFixed(0)} ms in all`,
  )
}
{
  const build: BuildData = {
    id: 'b',
    title: 'b',
    facts: car.facts,
    choices: car.choices,
    readings: car.readings.map((r) => ({
      ...r,
      takenAt: '2026-01-01T00:00:00.000Z',
      instrument: null,
      conditions: null,
      supersedes: null,
    })),
    tunes: [],
    logs: [],
  }
  // one fact anew each time, as after an edit: what is remembered by the object it came from does not help
  const edited = (k: number): BuildData => ({
    ...build,
    facts: { ...build.facts, engine: { ...build.facts.engine, boreMm: 80 + (k % 500) / 100 } },
  })
  for (let k = 0; k < 300; k++) evaluate(edited(k))
  const times: number[] = []
  for (let k = 0; k < 2000; k++) {
    const after = edited(k)
    const t = performance.now()
    evaluate(after)
    times.push(performance.now() - t)
  }
  row(
    'evaluate(build) after an edit, demo car with its readings',
    '< 2 ms',
    `median ${median(times).toFixed(3)} ms, p99 ${percentile(times, 0.99).toFixed(3)} ms`,
  )
  const solve: number[] = []
  for (let k = 0; k < 2000; k++) {
    const t = performance.now()
    const design = fuelDesign(contextOf(build), { supplyV: 10 + (k % 50) / 10, clogged: 1 + (k % 7) })
    solve.push(performance.now() - t)
    if (design?.solutions.length !== 5) throw new Error('the demo car has no fuel circuit; the figure would mean nothing')
  }
  row(
    'fuel circuit, five states, any slider',
    '< 50 ms',
    `median ${median(solve).toFixed(3)} ms, p99 ${percentile(solve, 0.99).toFixed(3)} ms`,
  )
  const laid: number[] = []
  for (let k = 0; k < 300; k++) {
    const t = performance.now()
    planSchedule(contextOf(build), '2026-03-02')
    laid.push(performance.now() - t)
  }
  row(
    'schedule over the calendar, three spreads',
    '< 50 ms',
    `median ${median(laid).toFixed(3)} ms, p99 ${percentile(laid, 0.99).toFixed(3)} ms`,
  )
  const wheel = { places: 60, missing: 2, crankTurns: 1 }
  const drawn = { sensor: 'magnetic', width: 0.15, seconds: 5, samples: 1_000_000, noiseShare: 0.02 } as const
  const scope = drawTrain({ ...wheel, ...drawn, rpmAt: () => 1500 }).trace
  const judged: number[] = []
  for (let k = 0; k < 5; k++) {
    const t = performance.now()
    judgeTrain(scope, wheel)
    judged.push(performance.now() - t)
  }
  row('a scope record of a million samples judged', '< 1 s', `median ${(median(judged) / 1000).toFixed(2)} s`)
  const own = Object.fromEntries(
    Array.from({ length: 60 }, (_, i) => [
      `own-${i}`,
      {
        name: `Circuit ${i}`,
        from: 'fuses',
        to: i % 2 ? 'fan' : 'display',
        continuousA: 1 + (i % 7),
        feed: 'battery' as const,
        why: 'to fill the loom',
      },
    ]),
  )
  const harnessed: number[] = []
  for (let k = 0; k < 300; k++) {
    const wiring = { own, places: { unit: { xMm: 800 + k, yMm: 400 } } }
    const t = performance.now()
    const { wires } = harnessOf(contextOf({ ...build, choices: { ...build.choices, wiring } }))
    harnessed.push(performance.now() - t)
    if (wires.length < 60) throw new Error('the harness has too few circuits; the figure would mean nothing')
  }
  row(
    'a harness of 60 circuits and more, a place dragged',
    '< 50 ms',
    `median ${median(harnessed).toFixed(2)} ms, p99 ${percentile(harnessed, 0.99).toFixed(2)} ms`,
  )
  const drag: number[] = []
  const phase = phaseOf(contextOf(build))!
  for (let k = 0; k < 2000; k++) {
    const t = performance.now()
    rotorPhase.run({ ...phase.input, alignDegBtdc: k % 60 })
    evaluate({ ...build, choices: { ...build.choices, spark: { ...build.choices.spark, alignDegBtdc: k % 60 } } })
    drag.push(performance.now() - t)
  }
  row('input to updated numbers, the sums of it', '< 50 ms p95', `p95 ${percentile(drag, 0.95).toFixed(3)} ms`)
}
{
  const assets = join(root, 'web/dist/assets')
  const html = readFileSync(join(root, 'web/dist/index.html'), 'utf8')
  const first = new Set([...html.matchAll(/assets\/[\w.-]+\.js/g)].map((m) => m[0].slice(7)))
  for (const name of readdirSync(assets)) if (/^BoardView-.*\.js$/.test(name)) first.add(name)
  // what those files import at once
  for (const name of first)
    for (const m of readFileSync(join(assets, name), 'utf8').matchAll(/(?:from|import)\s*"\.\/([\w.-]+\.js)"/g)) first.add(m[1])
  const sent = [...first].reduce((sum, name) => sum + sentBytes(join(assets, name)), 0)
  row('first route (board), script as sent', '< 200 kB', `${(sent / 1000).toFixed(0)} kB in ${first.size} files`)
}

const dataDir = await mkdtemp(join(tmpdir(), 'vectum-bench-'))
// the API is measured on a server process of its own, as it runs in use
const server = await new Promise<{ address: string; pid: number; stop: () => void }>((resolve, reject) => {
  const child = fork(join(root, 'server/dist/main.js'), {
    cwd: root,
    env: { ...process.env, VECTUM_DATABASE_URL: process.env.VECTUM_TEST_DATABASE_URL, VECTUM_PORT: '0', VECTUM_DATA_DIR: dataDir },
  })
  child.once('message', (m) => resolve({ address: (m as { ready: string }).ready, pid: child.pid!, stop: () => child.kill('SIGTERM') }))
  child.once('exit', (code) => reject(new Error(`the server ended with ${code}`)))
})
{
  const { id } = ((await (await fetch(`${server.address}/api/builds`)).json()) as { id: string }[])[1]
  // what a server that has been up for a while does, not its first seconds
  await autocannon({ url: `${server.address}/api/builds/${id}`, connections: 4, duration: 3 })
  const reads = await autocannon({ url: `${server.address}/api/builds/${id}`, connections: 10, overallRate: 200, duration: 8 })
  row('API reads at 200 a second', 'p99 < 25 ms', `p99 ${reads.latency.p99} ms, p50 ${reads.latency.p50} ms, ${reads.non2xx} refused`)
  const board = await autocannon({ url: `${server.address}/api/builds`, connections: 10, overallRate: 200, duration: 8 })
  row('API board at 200 a second', 'p99 < 25 ms', `p99 ${board.latency.p99} ms, p50 ${board.latency.p50} ms, ${board.non2xx} refused`)
  const writes = await autocannon({
    url: server.address,
    connections: 10,
    overallRate: 200,
    duration: 8,
    requests: [
      {
        method: 'PUT',
        setupRequest: (request) => ({
          ...request,
          path: `/api/builds/${id}/readings/${randomUUID()}`,
          headers: { 'content-type': 'application/json' },
          body: JSON.stringify({ kind: 'note', value: { text: 'bench' } }),
        }),
      },
    ],
  })
  row(
    'API writes (readings) at 200 a second',
    'p99 < 50 ms',
    `p99 ${writes.latency.p99} ms, p50 ${writes.latency.p50} ms, ${writes.non2xx} refused`,
  )
}
{
  const lines = (await readFile(join(root, 'demo/logs/six-cylinder-first-drive.csv'), 'utf8')).trim().split('\n')
  const body = lines.slice(1).map((l) => [Number(l.slice(0, l.indexOf(','))), l.slice(l.indexOf(','))] as const)
  const file = join(dataDir, 'million.csv')
  let text = lines[0] + '\n'
  for (let k = 0, n = 0; n < 1_000_000; k++)
    for (const [t, rest] of body) if (n++ < 1_000_000) text += `${(t + k * 1440).toFixed(3)}${rest}\n`
  await writeFile(file, text)
  text = ''
  const { id } = (await (
    await fetch(`${server.address}/api/builds`, {
      method: 'POST',
      headers: { 'content-type': 'application/json' },
      body: JSON.stringify({ title: 'bench' }),
    })
  ).json()) as { id: string }
  const bytes = await readFile(file)
  const form = new FormData()
  form.append('file', new Blob([bytes]), 'million.csv')
  // a held-up event loop shows as a health check that answers late
  const waits: number[] = []
  let watching = true
  const watch = (async () => {
    while (watching) {
      const asked = performance.now()
      await fetch(`${server.address}/api/health`)
      waits.push(performance.now() - asked)
      await new Promise((resolve) => setTimeout(resolve, 10))
    }
  })()
  const t = performance.now()
  const log = (await (await fetch(`${server.address}/api/builds/${id}/logs`, { method: 'POST', body: form })).json()) as {
    id: string
    rows: number
  }
  const imported = performance.now() - t
  const learn = (await (await fetch(`${server.address}/api/logs/${log.id}/learn`)).json()) as { totals: { samples: number; used: number } }
  const seconds = (performance.now() - t) / 1000
  watching = false
  await watch
  if (log.rows !== 1_000_000 || learn.totals.used < 1000)
    throw new Error(`the million rows did not arrive: ${JSON.stringify({ log, learn: learn.totals })}`)
  row(
    `import, solve and diagnosis, 1,000,000 x 14 (${(statSync(file).size / 1e6).toFixed(0)} MB)`,
    '<= 3.5 s',
    `${seconds.toFixed(1)} s (import ${(imported / 1000).toFixed(1)} s)`,
  )
  const peakMb = Number(/VmHWM:\s+(\d+)/.exec(readFileSync(`/proc/${server.pid}/status`, 'utf8'))?.[1] ?? NaN) / 1000
  row('  peak memory of the server process, all of the above', '< 600 MB', `${peakMb.toFixed(0)} MB`)
  row(
    '  health answers meanwhile (loop not held up)',
    '<= 50 ms',
    `p99 ${percentile(waits, 0.99).toFixed(0)} ms, longest ${Math.max(...waits).toFixed(0)} ms of ${waits.length}`,
  )
}
server.stop()
await rm(dataDir, { recursive: true, force: true })
process.exit(0)
