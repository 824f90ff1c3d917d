import {
  at,
  degC,
  type EntrySpec,
  finding,
  type Finding,
  type JudgedContext,
  latest,
  litres,
  mm,
  proved,
  readingsOf,
  type Rule,
  say,
  spaced,
} from '../kernel/index.ts'
import { boxWords, jointWords } from './choices.ts'
import { balanceOf } from './balance.ts'
import { engagementMm, jointTorque } from './bolts.ts'
import { boxesFor, boxJudged } from './boxes.ts'
import { bonnetOf, sensorGasC, sensorLengthMm } from './car-sums.ts'
import { fitupEntries, type FitupEntryKind } from './entries.ts'
import { drains, sensorStretch } from './exhaust-sensor.ts'
import { begun, drawingOf, fitupOf, hasPedalMotor, jointsFor, linkageOf, pedalFiguresOf } from './fitup-of.ts'
import {
  BALANCE_SHARE,
  CABLE_MM,
  FLAT_MM,
  FULL_DEG,
  JUMP_PCT,
  LEFT_OVER,
  LIMP_PCT,
  MAP_HOSE_MM,
  SENSOR_DEG,
  SENSOR_DRY_C,
  SENSOR_FROM_END_MM,
  SENSOR_FROM_PORT_MM,
  SPRINGS,
  TIP_IN_AIR,
} from './limits.ts'
import { drawnMm, remedies, secondDegAt } from './linkage.ts'
import { reservoirOf, vacuumMap, wantsReservoir } from './vacuum.ts'

const percent = (share: number): string => `${(100 * share).toFixed(0)} %`

const boltRules: Rule[] = [
  {
    id: 'fitup.engagement',
    check: (c) => {
      const id = jointsFor(c).find((j) => {
        const joint = fitupOf(c).joints?.[j]
        const wanted = joint && engagementMm(joint)
        return joint?.engagementMm !== undefined && wanted !== null && wanted !== undefined && joint.engagementMm < wanted
      })
      if (!id) return null
      const joint = fitupOf(c).joints![id]!
      return finding(
        'stop',
        `Too little thread, ${jointWords[id]}`,
        say`${mm(joint.engagementMm!)} in the lug; ${mm(engagementMm(joint)!)} is the least for this thread in it.`,
        'Longer bolts or studs, a thread insert where the lug is worn.',
        at('fitup', 'bolts', `choices.fitup.joints.${id}.engagementMm`),
      )
    },
  },
  {
    id: 'fitup.sheet-torque',
    check: (c) => {
      for (const id of jointsFor(c)) {
        const joint = fitupOf(c).joints?.[id]
        if (joint?.sheetNm === undefined || joint.threadMm === undefined) continue
        const { clampN, holdsN } = jointTorque(joint)!
        if (clampN > holdsN)
          return finding(
            'warn',
            `The sheet’s torque is over what the thread bears, ${jointWords[id]}`,
            `${joint.sheetNm} Nm makes ${(clampN / 1000).toFixed(1)} kN of clamp load; bolt and thread bear ${(holdsN / 1000).toFixed(1)} kN.`,
            'Look whether thread, class and lubrication are those of the sheet; the sheet goes first where they are.',
            at('fitup', 'bolts', `choices.fitup.joints.${id}.sheetNm`),
          )
      }
      return null
    },
  },
  {
    id: 'fitup.face',
    where: at('fitup', 'cards', 'fitup.ports-covered'),
    check: (c) => {
      const gapMm = latest(c.readings, 'fitup.ports-covered')?.value.gapMm
      return gapMm !== undefined && gapMm > FLAT_MM
        ? finding(
            'warn',
            'The face is not flat',
            say`${mm(gapMm, 2)} under a straightedge; ${mm(FLAT_MM, 2)} is the most: a gasket does not make up for it.`,
            'Face it, or have it faced; then look again.',
          )
        : null
    },
  },
]
const vacuumRules: Rule[] = [
  {
    id: 'fitup.map-hose',
    where: at('fitup', 'ports', 'choices.fitup.vacuum.mapHoseMm'),
    check: (c) => {
      const { mapHoseMm, mapDrains } = fitupOf(c).vacuum ?? {}
      if (mapDrains === false)
        return finding(
          'warn',
          'The pressure sensor’s hose collects water',
          'It does not run downhill to its port: fuel and water stand in it, and the load lags or lies.',
          'Sensor above its port, the hose falling all the way.',
        )
      return mapHoseMm !== undefined && mapHoseMm > MAP_HOSE_MM
        ? finding(
            'note',
            'The pressure sensor’s hose is long',
            say`${mm(mapHoseMm, 0)}; ${mm(MAP_HOSE_MM, 0)} is the most.`,
            'Move the sensor nearer, a bore of 3 to 4 mm.',
          )
        : null
    },
  },
  {
    id: 'fitup.reservoir',
    where: at('fitup', 'ports', 'choices.fitup.vacuum.reservoirL'),
    check: (c) => {
      if (!begun(c) || !wantsReservoir(c)) return null
      const r = reservoirOf(c)
      if (r.wantedL === null)
        return finding(
          'stop',
          'The engine gives too little vacuum for the booster',
          `${r.idleVacuumKpa.toFixed(0)} kPa at idle; ${r.leftKpa} kPa must be left after ${r.strokes} applications.`,
          'A vacuum pump, or brakes made for no booster, by somebody licensed for brakes.',
        )
      const has = fitupOf(c).vacuum?.reservoirL
      return has === undefined || has < r.wantedL
        ? finding(
            'warn',
            has === undefined ? 'The booster has no reservoir' : 'The booster’s reservoir is small',
            say`${r.strokes.toString()} applications with the engine giving nothing want ${litres(r.wantedL, 1)}${has === undefined ? '' : say`; there are ${litres(has, 1)}`}.`,
            'A reservoir with a check valve, on the collector.',
          )
        : null
    },
  },
]
const told = (c: JudgedContext): boolean => fitupOf(c).linkage !== undefined && !hasPedalMotor(c)
const linkageRules: Rule[] = [
  {
    id: 'fitup.locks',
    where: at('fitup', 'linkage'),
    check: (c) => {
      if (!told(c)) return null
      const { locksAt } = pedalFiguresOf(c)
      return locksAt === null
        ? null
        : finding(
            'stop',
            'The linkage locks before the pedal is down',
            `At ${percent(locksAt)} of the pedal it can go no farther: it bends, or sticks open over its dead point.`,
            'A longer lever at the throttle, or a shorter arm at the pedal.',
            at('fitup', 'linkage', linkageOf(c).kind === 'rod' ? 'choices.fitup.linkage.rod.leverMm' : 'choices.fitup.linkage.leverMm'),
          )
    },
  },
  {
    id: 'fitup.full-throttle',
    where: at('fitup', 'linkage', 'choices.fitup.linkage.pedal.armMm'),
    check: (c) => {
      if (!told(c)) return null
      const { fullDeg } = pedalFiguresOf(c)
      return fullDeg === null || fullDeg >= FULL_DEG
        ? null
        : finding(
            'warn',
            'Full throttle is not reached',
            `${fullDeg.toFixed(0)}° with the pedal on the carpet; ${FULL_DEG}° is the least.`,
            'A longer arm at the pedal or a shorter lever at the throttle; less carpet under it.',
          )
    },
  },
  {
    id: 'fitup.pedal-stop',
    where: at('fitup', 'linkage', 'choices.fitup.linkage.pedal.travelMm'),
    check: (c) => {
      if (!told(c)) return null
      const { leftOver } = pedalFiguresOf(c)
      return leftOver > LEFT_OVER
        ? finding(
            'warn',
            'The pedal pulls on when the plate is open',
            `${percent(leftOver)} of the pedal is left when the plate stands square: cable, lever and shaft take the foot.`,
            'A stop under the pedal, or a longer lever at the throttle.',
          )
        : null
    },
  },
  {
    id: 'fitup.tip-in',
    where: at('fitup', 'linkage', 'choices.fitup.linkage.leverMm'),
    check: (c) => {
      if (!told(c)) return null
      const { tipInAir, tipInPlate } = pedalFiguresOf(c)
      const jump = latest(c.readings, 'fitup.tip-in')
      const felt = jump !== null && jump.value.jumpPct > JUMP_PCT
      if (tipInAir <= TIP_IN_AIR && !felt) return null
      const better = remedies(linkageOf(c), drawingOf(c))
        .filter((r) => r.reachesFull && r.tipInAir < tipInAir - 0.01)
        .sort((a, b) => a.tipInAir - b.tipInAir)[0] as { what: string; tipInAir: number } | undefined
      return finding(
        'warn',
        'The pedal jumps at tip-in',
        felt && tipInAir <= TIP_IN_AIR
          ? `${jump.value.jumpPct.toFixed(1)} % is the least the foot can hold; the geometry gives only ${percent(tipInAir)} of the air in the first tenth: it sticks.`
          : `The first tenth of the pedal opens the plate by ${percent(tipInPlate)} and gives ${percent(tipInAir)} of the air; ${percent(TIP_IN_AIR)} is the most.`,
        felt && tipInAir <= TIP_IN_AIR
          ? 'Look for what sticks: cable, shaft, plate in its bore; then a preload spring.'
          : better
            ? `${better.what[0].toUpperCase()}${better.what.slice(1)}: ${percent(better.tipInAir)}.`
            : 'A preload spring, and a longer lever with more travel.',
      )
    },
  },
  {
    id: 'fitup.second-short',
    where: at('fitup', 'linkage', 'choices.fitup.linkage.second.fullDeg'),
    check: (c) => {
      if (!told(c)) return null
      const l = linkageOf(c)
      const deg = secondDegAt(l, Math.min(90, pedalFiguresOf(c).fullDeg ?? 0))
      return deg !== null && deg < FULL_DEG
        ? finding(
            'warn',
            'The second shaft does not reach full with the first',
            `${deg.toFixed(0)}° with the pedal on the carpet; ${FULL_DEG}° is the least.`,
            'Its link shorter, or the hole nearer its shaft; both must reach full and shut together.',
          )
        : null
    },
  },
  {
    id: 'fitup.gearbox-cable',
    where: at('fitup', 'linkage', 'choices.fitup.linkage.gearboxCable.armMm'),
    check: (c) => {
      const { armMm, wantedMm } = fitupOf(c).linkage?.gearboxCable ?? {}
      const { fullDeg } = armMm === undefined ? { fullDeg: null } : pedalFiguresOf(c)
      if (armMm === undefined || wantedMm === undefined || fullDeg === null) return null
      const drawn = drawnMm(armMm, linkageOf(c).plate, fullDeg)
      return Math.abs(drawn - wantedMm) > CABLE_MM
        ? finding(
            c.facts.gearing?.kickDown === 'throttle-valve' ? 'stop' : 'warn',
            'The gearbox cable is drawn by another length than it wants',
            say`${mm(drawn)} from shut to full; its sheet wants ${mm(wantedMm)}.`,
            say`An arm of ${mm((armMm * wantedMm) / drawn)} at the throttle.`,
          )
        : null
    },
  },
  {
    id: 'fitup.springs',
    where: at('fitup', 'linkage', 'choices.fitup.linkage.springs'),
    check: (c) => {
      const { springs } = fitupOf(c).linkage ?? {}
      return springs !== undefined && springs < SPRINGS && !hasPedalMotor(c)
        ? finding(
            'stop',
            'One spring alone shuts the throttle',
            `${springs} on it; ${SPRINGS} are wanted, each able to shut it alone.`,
            'A second spring, hooked to another place.',
          )
        : null
    },
  },
  {
    id: 'fitup.kick-down',
    where: at('fitup', 'cards', 'fitup.kick-down'),
    check: (c) => {
      const kind = c.facts.gearing?.kickDown
      if (!begun(c) || (kind !== 'cable' && kind !== 'throttle-valve') || proved(c, 'fitup.kick-down')) return null
      return finding(
        kind === 'throttle-valve' ? 'stop' : 'warn',
        'The gearbox cable is not set',
        kind === 'throttle-valve'
          ? 'Line pressure follows the throttle by it: set wrong, the gearbox burns within a drive.'
          : 'Kick-down and shift points follow the throttle by it.',
        'Set it by the gearbox’s sheet: drawn all the way at full throttle, no slack shut.',
      )
    },
  },
]
const bonnetRules: Rule[] = [
  {
    id: 'fitup.bonnet',
    where: at('fitup', 'bonnet'),
    check: (c) => {
      if (!fitupOf(c).stack) return null
      const s = bonnetOf(c)
      if (s.worstMm === null || s.worstMm >= 0) return null
      const missing = -s.worstMm
      const enough = s.lower.find((p) => p.givesMm >= missing)
      return finding(
        'warn',
        s.leftMm! < 0 ? 'The bonnet does not shut' : 'The bonnet may not shut',
        say`${mm(s.sumMm, 0)} stand on the flange, ${mm(s.liftMm, 0)} the engine lifts, ${mm(s.freeMm!, 0)} are free: ${mm(missing)} are missing at the worst.`,
        enough
          ? say`A lower ${enough.label}: it gives up to ${mm(enough.givesMm, 0)}.`
          : 'No part gives enough alone: two of them, or a raised bonnet.',
        at('fitup', 'bonnet', enough?.part),
      )
    },
  },
  {
    id: 'fitup.neck',
    where: at('fitup', 'bonnet', 'choices.fitup.neckMm'),
    check: (c) => {
      const { neckMm, bodyNeckMm } = fitupOf(c)
      return neckMm !== undefined && bodyNeckMm !== undefined && Math.abs(neckMm - bodyNeckMm) > 1
        ? finding(
            'note',
            'Air cleaner and body have other necks',
            say`${mm(neckMm, 0)} on ${mm(bodyNeckMm, 0)}.`,
            'An adapter ring: unfiltered air wears bores and plates.',
          )
        : null
    },
  },
]
const sensorAt = (field: string) => at('fitup', 'sensor', `choices.fitup.sensor.${field}`)
const sensorRules: Rule[] = [
  {
    id: 'fitup.sensor-place',
    check: (c) => {
      const { fromPortMm, toEndMm } = fitupOf(c).sensor ?? {}
      const mergeMm = fitupOf(c).sensor?.mergeMm ?? c.facts.exhaust?.mergeMm ?? null
      if (fromPortMm === undefined) return null
      if (mergeMm !== null && fromPortMm < mergeMm)
        return finding(
          'warn',
          'The exhaust sensor sees one branch',
          say`${mm(fromPortMm, 0)} from the port, the branches merge at ${mm(mergeMm, 0)}.`,
          'Behind the merge, so that all cylinders pass it.',
          sensorAt('fromPortMm'),
        )
      if (fromPortMm < SENSOR_FROM_PORT_MM.least || fromPortMm > SENSOR_FROM_PORT_MM.most) {
        const stretch = sensorStretch(mergeMm, sensorLengthMm(c))
        return finding(
          'warn',
          fromPortMm < SENSOR_FROM_PORT_MM.least
            ? 'The exhaust sensor sits too near the port'
            : 'The exhaust sensor sits far from the engine',
          say`${mm(fromPortMm, 0)}; ${mm(SENSOR_FROM_PORT_MM.least, 0)} to ${mm(SENSOR_FROM_PORT_MM.most, 0)} is the place.`,
          stretch
            ? say`Between ${mm(stretch.fromMm, 0)} and ${mm(stretch.toMm, 0)} from the port.`
            : 'This pipe has no place that meets all; the merge goes first, then the distance from the open end.',
          sensorAt('fromPortMm'),
        )
      }
      return toEndMm !== undefined && toEndMm < SENSOR_FROM_END_MM
        ? finding(
            'warn',
            'The exhaust sensor sits near the open end',
            say`${mm(toEndMm, 0)}; ${mm(SENSOR_FROM_END_MM, 0)} is the least: outside air comes back to it at idle and reads falsely lean.`,
            'Nearer the engine, or a longer pipe behind it.',
            sensorAt('toEndMm'),
          )
        : null
    },
  },
  {
    id: 'fitup.sensor-angle',
    where: sensorAt('upDeg'),
    check: (c) => {
      const { upDeg } = fitupOf(c).sensor ?? {}
      if (upDeg === undefined || drains(upDeg) === 'yes') return null
      const no = drains(upDeg) === 'no'
      return finding(
        no ? 'stop' : 'warn',
        no ? 'Water runs into the exhaust sensor' : 'The exhaust sensor hardly drains',
        `Its axis stands ${Math.abs(upDeg).toFixed(0)}° ${no ? 'under' : 'over'} level; ${SENSOR_DEG.drains}° or more over it lets water drain away.`,
        'Turn the seat up: ten to two o’clock on the pipe.',
      )
    },
  },
  {
    id: 'fitup.sensor-gas',
    where: sensorAt('fromPortMm'),
    check: (c) => {
      const gas = sensorGasC(c)
      if (!gas) return null
      return gas.idle < SENSOR_DRY_C
        ? finding(
            'note',
            'Water may stay at the exhaust sensor at idle',
            say`About ${degC(gas.idle)} at idle there.`,
            'Power its heater only when the engine is warm, and turn it well up.',
          )
        : null
    },
  },
  {
    id: 'fitup.bank-unseen',
    where: sensorAt('sees'),
    check: (c) => {
      const sees = fitupOf(c).sensor?.sees
      return (sees === 'left' || sees === 'right') && fitupOf(c).sensor?.sensors !== 2
        ? finding(
            'warn',
            `The ${sees === 'left' ? 'right' : 'left'} bank is not seen`,
            `One sensor, in the ${sees} bank’s pipe.`,
            'A second sensor, or one behind where both meet; until then look at the plugs of the other bank.',
          )
        : null
    },
  },
]
const boxRules: Rule[] = [
  {
    id: 'fitup.box',
    check: (c) => {
      if (!fitupOf(c).boxes) return null
      for (const id of boxesFor(c)) {
        const [first, ...more] = boxJudged(c, id).problems
        if (first)
          return finding(
            'warn',
            `The ${boxWords[id]} stands badly`,
            `${first[0].toUpperCase()}${first.slice(1)}${more.length ? `; ${more.join('; ')}` : ''}.`,
            'Cool, dry, on rubber, plugs down, within reach of its leads.',
            at('fitup', 'boxes', id),
          )
      }
      return null
    },
  },
]
/** A failure in these holds what is dangerous: the throttle may stay open. */
const HOLDS: ReadonlySet<string> = new Set(['fitup.linkage', 'fitup.brake-key', 'fitup.tracks', 'fitup.limp', 'fitup.ports'])
const CHECKED = [
  'fitup.linkage',
  'fitup.brake-key',
  'fitup.tracks',
  'fitup.limp',
  'fitup.ports',
  'fitup.torqued',
  'fitup.shafts',
  'fitup.bonnet',
  'fitup.sensor',
  'fitup.coolant-sensor',
  'fitup.air-sensor',
  'fitup.box',
  'fitup.dry-fit',
  'fitup.coolant-bled',
  'fitup.last-look',
] as const satisfies readonly FitupEntryKind[]
const pedalRules: Rule[] = [
  {
    id: 'fitup.default-opening',
    where: at('fitup', 'pedal', 'choices.fitup.pedal.defaultPct'),
    check: (c) => {
      const { defaultPct } = fitupOf(c).pedal ?? {}
      return hasPedalMotor(c) && defaultPct !== undefined && defaultPct > LIMP_PCT
        ? finding(
            'stop',
            'The plate stands too far open without current',
            `${defaultPct} %; ${LIMP_PCT} % is the most: a car that lost its pedal would drive on.`,
            'Another plate or spring; by its sheet, never bent.',
          )
        : null
    },
  },
]
const readingRules: Rule[] = [
  {
    id: 'fitup.failed',
    check: (c) => {
      const failures = CHECKED.flatMap((kind) => {
        const { proof } = fitupEntries[kind] as unknown as EntrySpec
        const last = new Map(readingsOf(c.readings, kind).map((r) => [proof!.subject?.(r.value as never) ?? '', r]))
        return [...last.values()].filter((r) => c.standings.get(r.id)?.stands === null)
      })
      const worst = failures.find((r) => HOLDS.has(r.kind)) ?? (failures[0] as (typeof failures)[number] | undefined)
      if (!worst) return null
      const { title, says } = fitupEntries[worst.kind] as unknown as EntrySpec
      return finding(
        HOLDS.has(worst.kind) ? 'stop' : 'warn',
        `${title}: not as it must be`,
        say`${says(worst.value as never)}${failures.length > 1 ? `; and ${failures.length - 1} more` : ''}.`,
        'Put it right, and look at it again.',
        at('fitup', 'cards', worst.kind),
      )
    },
  },
  {
    id: 'fitup.uneven',
    where: at('fitup', 'balance'),
    check: (c) => {
      const looks = readingsOf(c.readings, 'fitup.balance')
      const at = looks.at(-1)?.value.at
      const balance = balanceOf(looks.filter((r) => r.value.at === at).map((r) => r.value))
      return balance && !balance.even
        ? finding(
            'note',
            'The throttles do not breathe alike',
            `${(100 * balance.spread).toFixed(0)} % from their mean at ${spaced(at!)}; ${percent(BALANCE_SHARE)} is the most.`,
            'Turn the screws as worked out, and read all of them again.',
          )
        : null
    },
  },
]
export const fitupRules: Rule[] = [
  ...boltRules,
  ...vacuumRules,
  ...linkageRules,
  ...bonnetRules,
  ...sensorRules,
  ...boxRules,
  ...pedalRules,
  ...readingRules,
]

/** What is wrong with the port map, each by itself, so that one tap lights up its hose. */
export function portFindings(c: JudgedContext): Finding[] {
  if (!fitupOf(c).vacuum) return []
  return vacuumMap(c).problems.map((p) => ({
    id: `fitup.port-${p.consumer ?? p.port}`,
    ...finding(p.severity, p.what, p.because, p.remedy, at('fitup', 'ports', p.consumer ?? p.port ?? undefined)),
  }))
}
