import { at, cc, finding, kPa, metres, mm, type Rule, type Said, say, sayAll } from '../kernel/index.ts'
import { believableRules } from './believable.ts'
import { camClassFromIdleMap, camClassFromOverlap, overlapDeg } from './cam.ts'
import { isPermutation } from './firing-orders.ts'
import { compressionSpreadPct, isTired, worstLeakDownPct } from './health.ts'
import {
  COMPRESSION_SPREAD_PCT,
  CRANKING_LEAST_V,
  DISPLACEMENT_AGREES_PCT,
  FAR_MERGE_MM,
  IDLE_GAS_MM_S,
  LEAK_DOWN_PCT,
  REST_LEAST_V,
  SHAFT_PLAY_MM,
  SIX_VOLT_CRANKING_V,
  SIX_VOLT_REST_V,
  TYRE_AGREES_SHARE,
} from './limits.ts'
import { sweptCc } from './resolve.ts'
import { parseTyreSize, rollingCircumferenceM, tyreCircumference } from './tyre.ts'

export const surveyRules: Rule[] = [
  ...believableRules,
  {
    id: 'survey.unreadable',
    holdsAllAfter: true,
    check: ({ build: { unreadable = [] } }) =>
      unreadable.length
        ? finding(
            'stop',
            'Something stored cannot be read',
            `${unreadable.map((u) => `${u.what} ${u.because}`).join('; ')}.`,
            'It was written by another version. Look it up in the logbook and enter it again; nothing of it was changed or lost.',
          )
        : null,
  },
  {
    id: 'survey.marine',
    where: at('survey', undefined, 'facts.place.use'),
    check: ({ facts }) =>
      facts.place?.use === 'boat'
        ? finding(
            'stop',
            'A boat is out of scope',
            'An engine bay that holds petrol vapour needs ignition-protected parts and marine rules.',
            'Leave this to a licensed marine trade. Vectum does not plan it.',
          )
        : null,
  },
  {
    id: 'survey.positive-earth',
    where: at('survey', undefined, 'facts.electrics.polarity'),
    check: ({ facts }) =>
      facts.electrics?.polarity === 'positive-earth'
        ? finding(
            'stop',
            'Positive earth',
            'Control unit, pump and sensors are all made for negative earth; connected the wrong way round they burn out.',
            'Convert the car to negative earth first: battery, coil, ammeter, charging, radio. Then change the fact.',
          )
        : null,
  },
  {
    id: 'survey.dynamo',
    where: at('survey', undefined, 'facts.electrics.charging'),
    check: ({ facts }) => {
      const electrics = facts.electrics
      if (electrics?.charging !== 'dynamo') return null
      const idle = electrics.chargingIdleA
      return finding(
        'stop',
        'A dynamo cannot carry the system',
        `It gives ${idle === undefined ? 'little or nothing' : `${idle} A`} at idle; pump, unit, injectors and coil draw some 12-18 A all the time.`,
        'Fit an alternator of 45 A or more before the wiring is planned.',
      )
    },
  },
  {
    id: 'survey.solid-leads',
    where: at('survey', undefined, 'facts.ignition.leads'),
    check: ({ facts }) =>
      facts.ignition?.leads === 'solid-core'
        ? finding(
            'warn',
            'Solid-core plug leads',
            'They radiate enough to reset a control unit, and a reset can leave the pump running.',
            'They are on the parts list, with their task: the first start stays shut until resistive leads are fitted.',
          )
        : null,
  },
  {
    id: 'survey.plain-plugs',
    where: at('survey', undefined, 'facts.ignition.plugs'),
    check: ({ facts }) =>
      facts.ignition?.plugs === 'plain'
        ? finding(
            'warn',
            'Plugs without a resistor',
            'Interference rises with every spark that meets no resistance.',
            'Fit resistor plugs of the same heat range.',
          )
        : null,
  },
  {
    id: 'survey.firing-order',
    where: at('survey', undefined, 'facts.engine.firingOrder'),
    check: ({ facts }) => {
      const { firingOrder, cylinders } = facts.engine ?? {}
      if (!firingOrder || !cylinders || isPermutation(firingOrder, cylinders)) return null
      return finding(
        'stop',
        'The firing order does not fit the engine',
        `${firingOrder.join('-')} is not each cylinder from 1 to ${cylinders} once.`,
        'Read it off the manifold or the manual and type it again.',
      )
    },
  },
  {
    id: 'survey.displacement',
    where: at('survey', undefined, 'facts.engine.displacementCc'),
    check: ({ facts }) => {
      const { boreMm, strokeMm, cylinders, displacementCc } = facts.engine ?? {}
      if (!boreMm || !strokeMm || !cylinders || !displacementCc) return null
      const computed = sweptCc(boreMm, strokeMm, cylinders)
      const off = 100 * (displacementCc / computed - 1)
      return Math.abs(off) > DISPLACEMENT_AGREES_PCT
        ? finding(
            'warn',
            'Displacement does not match bore and stroke',
            say`${mm(boreMm, 2)} x ${mm(strokeMm, 2)} x ${cylinders} makes ${cc(computed)}; entered is ${cc(displacementCc)} (${off > 0 ? '+' : ''}${off.toFixed(1)} %).`,
            'Check for an overbore or another crank, and correct whichever is wrong.',
          )
        : null
    },
  },
  {
    id: 'survey.cam-contradiction',
    where: at('survey', undefined, 'facts.cam.class'),
    check: ({ facts, resolved }) => {
      const cam = facts.cam ?? {}
      const sources: [Said, string][] = []
      if (cam.class) sources.push([`words (${cam.class})`, cam.class])
      if (cam.inletDurationDeg && cam.exhaustDurationDeg && cam.lobeSeparationDeg) {
        const overlap = overlapDeg(cam.inletDurationDeg, cam.exhaustDurationDeg, cam.lobeSeparationDeg)
        sources.push([`numbers (overlap ${overlap.toFixed(0)}° -> ${camClassFromOverlap(overlap)})`, camClassFromOverlap(overlap)])
      }
      if (cam.idleVacuumKpa !== undefined) {
        const map = resolved.barometerKpa - cam.idleVacuumKpa
        sources.push([say`idle vacuum (MAP ${kPa(map)} -> ${camClassFromIdleMap(map)})`, camClassFromIdleMap(map)])
      }
      return new Set(sources.map((s) => s[1])).size > 1
        ? finding(
            'warn',
            'The cam data disagree',
            say`${sayAll(sources.map((s) => s[0]))}.`,
            `The ${cam.idleVacuumKpa !== undefined ? 'measured vacuum' : 'numbers'} win${cam.idleVacuumKpa !== undefined ? 's' : ''} (${resolved.camClass}). Check for vacuum leaks and late timing before you trust it.`,
          )
        : null
    },
  },
  {
    id: 'survey.battery',
    where: at('survey', undefined, 'facts.electrics.crankingV'),
    check: ({ facts }) => {
      const { restV, crankingV } = facts.electrics ?? {}
      // a 6 V system is not told to charge its battery
      if (restV !== undefined && restV < SIX_VOLT_REST_V) return null
      if (crankingV !== undefined && crankingV < CRANKING_LEAST_V && crankingV >= SIX_VOLT_CRANKING_V)
        return finding(
          'warn',
          'Battery falls low while cranking',
          `${crankingV.toFixed(1)} V cranking; units reset near 8 V and want ${CRANKING_LEAST_V} V or more at their plug.`,
          'Test battery, cables and starter before the first start.',
        )
      return restV !== undefined && restV < REST_LEAST_V
        ? finding(
            'warn',
            'Battery is not charged',
            `${restV.toFixed(1)} V at rest; ${REST_LEAST_V} V or more is wanted.`,
            'Charge and test it.',
          )
        : null
    },
  },
  {
    id: 'survey.two-stroke',
    where: at('survey', undefined, 'facts.engine.cycle'),
    check: ({ facts }) =>
      facts.engine?.cycle === 'two-stroke'
        ? finding(
            'stop',
            'A two-stroke is out of scope',
            'Every sum here counts one charge in two turns of the crank.',
            'Vectum plans four-stroke engines only.',
          )
        : null,
  },
  {
    id: 'survey.health',
    where: at('survey', undefined, 'facts.health.compressionKpa'),
    check: ({ facts }) => {
      const health = facts.health ?? {}
      const poor: Said[] = []
      const list = health.compressionKpa ?? []
      if (list.length > 1) {
        const best = Math.max(...list)
        const worst = Math.min(...list)
        const spread = compressionSpreadPct(facts)
        if (spread > COMPRESSION_SPREAD_PCT)
          poor.push(
            say`compression ${kPa(worst)} to ${kPa(best)}, ${spread.toFixed(0)} % apart (cylinder ${list.indexOf(worst) + 1} is lowest)`,
          )
      }
      const leak = worstLeakDownPct(facts)
      if (leak > LEAK_DOWN_PCT) poor.push(`leak-down ${leak.toFixed(0)} % (cylinder ${health.leakDownPct!.indexOf(leak) + 1})`)
      if ((health.shaftPlayMm ?? 0) > SHAFT_PLAY_MM)
        poor.push(say`distributor shaft ${mm(health.shaftPlayMm!, 2)} loose: the spark scatters`)
      if (health.vacuumLeaks) poor.push('vacuum leaks')
      if (facts.exhaust?.leaks) poor.push('exhaust leaks: the mixture sensor will read lean')
      if (health.capAndLeadsSound === false) poor.push('cap or leads unsound')
      if (health.valveLashSet === false) poor.push('valves not set')
      return poor.length
        ? finding(
            'warn',
            'The engine itself is not well',
            say`${sayAll(poor)}.${isTired(facts) ? ' The spark guard is lowered for it.' : ''}`,
            'Cure this first: injection does not mend a tired engine. What is left is named on the hand-over sheet.',
          )
        : null
    },
  },
  {
    id: 'survey.cylinder-count',
    where: at('survey', undefined, 'facts.health.compressionKpa'),
    check: ({ facts }) => {
      const cylinders = facts.engine?.cylinders
      const lists = { compression: facts.health?.compressionKpa, 'leak-down': facts.health?.leakDownPct }
      const wrong = Object.entries(lists).filter(([, list]) => cylinders && list && list.length !== cylinders)
      return wrong.length
        ? finding(
            'warn',
            'Not one figure for each cylinder',
            wrong.map(([name, list]) => `${name}: ${list!.length} figures for ${cylinders} cylinders`).join('; ') + '.',
            'Measure the rest, or correct the list.',
          )
        : null
    },
  },
  {
    id: 'survey.boost-unknown',
    where: at('survey', undefined, 'facts.induction.boostKpa'),
    check: ({ facts }) =>
      facts.induction?.kind && facts.induction.kind !== 'natural' && facts.induction.boostKpa === undefined
        ? finding(
            'warn',
            'Boost not known',
            'Air, fuel, timing and the regulator all follow it; none is taken.',
            'Enter the highest boost over the barometer.',
          )
        : null,
  },
  {
    id: 'survey.donor',
    where: at('survey', undefined, 'facts.engine.orderFrom'),
    check: ({ facts }) => {
      const { donor, donorFamily, donorYear, donorChanges, orderFrom } = facts.engine ?? {}
      if (donor !== true || orderFrom === 'engine') return null
      const known = [donorFamily, donorYear, donorChanges].filter((x) => x !== undefined).join(', ')
      return finding(
        'warn',
        'The firing order must be read off this engine',
        `It comes from another car${known ? ` (${known})` : ''}: order, rotation, cam and compression are its own, whatever the papers of this car say.`,
        'Turn it by hand and note which cylinder comes up on compression after which; then say that the order was read off this engine.',
      )
    },
  },
  {
    id: 'survey.merge',
    where: at('survey', undefined, 'facts.exhaust.mergeMm'),
    check: ({ facts }) => {
      const { mergeMm } = facts.exhaust ?? {}
      return mergeMm !== undefined && mergeMm > FAR_MERGE_MM
        ? finding(
            'note',
            'The branches merge far from the head',
            say`${mm(mergeMm, 0)} from head to merge: at idle the gas takes about ${(mergeMm / IDLE_GAS_MM_S).toFixed(1)} s to the sensor, and arrives cool.`,
            'A sensor with a heater that bears it, and a closed loop that waits longer than that between its steps.',
          )
        : null
    },
  },
  {
    id: 'survey.boost-place',
    where: at('survey', undefined, 'facts.induction.kind'),
    check: ({ facts }) => {
      const { kind, boostKpa = 0 } = facts.induction ?? {}
      if (boostKpa <= 0 || (kind && kind !== 'natural')) return null
      return finding(
        'warn',
        kind ? 'Boost on an engine said to breathe by itself' : 'Where the blower stands is not known',
        say`${kPa(boostKpa)} of boost ${kind ? 'and natural induction are both entered' : 'is entered, and not whether the body comes before the blower or after it'}. Sums count the boost; what the injectors spray into, and the size of the body, they cannot know.`,
        kind ? 'Take the boost out, or say where the blower stands.' : 'Say whether the body stands before the blower or after it.',
      )
    },
  },
  {
    id: 'survey.nitrous',
    where: at('survey', undefined, 'facts.induction.nitrousKw'),
    check: ({ facts }) =>
      facts.induction?.nitrous && facts.induction.nitrousKw === undefined
        ? finding(
            'warn',
            'What the nitrous adds is not known',
            'Without its fuel it burns pistons; nothing is sized for it now.',
            'Enter the power that its jets add, and where their fuel comes from.',
          )
        : null,
  },
  {
    id: 'survey.tyre',
    where: at('survey', undefined, 'facts.gearing.tyreSize'),
    check: ({ facts }) => {
      const gearing = facts.gearing ?? {}
      if (!gearing.tyreSize) return null
      const size = parseTyreSize(gearing.tyreSize)
      if (!size)
        return finding(
          'warn',
          'The tyre size cannot be read',
          `"${gearing.tyreSize}" is not like 205/70R15, 185R14 or 6.40-13.`,
          'Type it as it stands on the wall, or enter the circumference.',
        )
      if (size.kind === 'bias-ply')
        return rollingCircumferenceM(gearing) === null
          ? finding(
              'note',
              'A bias-ply size does not tell the diameter',
              `${gearing.tyreSize}: width ${size.widthIn} in on a ${size.rimIn} in rim.`,
              'Measure the tyre and enter its diameter.',
            )
          : null
      const fromSize = tyreCircumference.run(size).circumferenceM
      const entered = rollingCircumferenceM({ ...gearing, tyreSize: undefined })
      return entered !== null && Math.abs(entered / fromSize - 1) > TYRE_AGREES_SHARE
        ? finding(
            'warn',
            'Tyre size and circumference disagree',
            say`${gearing.tyreSize} rolls ${metres(fromSize)}; entered is ${metres(entered)}.`,
            'Roll the car one turn and measure.',
          )
        : null
    },
  },
  {
    id: 'survey.bung',
    where: at('survey', undefined, 'facts.exhaust.bung'),
    check: ({ facts }) => {
      const bung = facts.exhaust?.bung
      return bung === 'one-branch' || bung === 'far-back'
        ? finding(
            'note',
            bung === 'one-branch' ? 'The sensor would see one branch only' : 'The sensor would sit far back',
            bung === 'one-branch'
              ? 'Mixture differs between cylinders; one of them would speak for all.'
              : 'Gas arrives late and cool there, and leaks before it read as lean.',
            'A boss just after the branches merge, upright or within 80° of it.',
          )
        : null
    },
  },
  {
    id: 'survey.half-finished',
    where: at('survey', undefined, 'facts.place.startsFrom'),
    check: ({ facts }) =>
      facts.place?.startsFrom === 'half-finished' || facts.place?.startsFrom === 'earlier-injection'
        ? finding(
            'note',
            facts.place.startsFrom === 'half-finished' ? 'A conversion that somebody began' : 'An earlier injection is there',
            'Tank, pump, sensors and trigger may serve again; a low-pressure regulator may not.',
            'Go over every part as if it were new: rating, age, date code. Enter the regulator in the tank zone.',
          )
        : null,
  },
  {
    id: 'survey.assumptions',
    check: ({ resolved }) =>
      resolved.assumptions.length
        ? finding(
            'note',
            `${resolved.assumptions.length} ${resolved.assumptions.length === 1 ? 'fact is' : 'facts are'} not known and assumed`,
            say`${sayAll(resolved.assumptions.map((a) => say`${a.label} ${a.value} (${a.reason})`))}.`,
            'Measure what you can; each answer sharpens the sums.',
          )
        : null,
  },
]
