import { standardAtmosphere } from '../air/index.ts'
import { at, cc, finding, kPa, kW, metres, type Rule, say } from '../kernel/index.ts'
import {
  ANTIKNOCK_SPARE_RON,
  BAROMETER_AGREES_KPA,
  KW_PER_LITRE,
  LEAST_COMPRESSION_KPA,
  LEAST_IDLE_MAP_KPA,
  ONE_CYLINDER_CC,
  SIX_VOLT_CRANKING_V,
  SIX_VOLT_REST_V,
} from './limits.ts'

/** Octane that an engine of the time wants with its timing as made: about 84 RON at 7 to 1, and 4.7 more for each ratio above. */
const ronWanted = (compressionRatio: number): number => 84 + 4.7 * (compressionRatio - 7)

/** Facts that each may be, and together or in this size are hardly: said, so that a slip of the pen does not size a pump. */
export const believableRules: Rule[] = [
  {
    id: 'survey.six-volt',
    where: at('survey', undefined, 'facts.electrics.restV'),
    check: ({ facts }) => {
      const { restV, crankingV } = facts.electrics ?? {}
      const six = restV !== undefined ? restV < SIX_VOLT_REST_V : crankingV !== undefined && crankingV < SIX_VOLT_CRANKING_V
      return six
        ? finding(
            'stop',
            'A 6 V system',
            `${restV !== undefined ? `${restV.toFixed(1)} V at rest` : `${crankingV!.toFixed(1)} V while cranking`}: control unit, pump and injectors are made for 12 V.`,
            'Convert the car to 12 V first: battery, generator, coil, starter relay, bulbs, gauges. A 12 V battery that reads so little is dead: then measure a sound one.',
          )
        : null
    },
  },
  {
    id: 'survey.no-compression',
    where: at('survey', undefined, 'facts.health.compressionKpa'),
    check: ({ facts }) => {
      const list = facts.health?.compressionKpa ?? []
      const best = Math.max(...list)
      return list.length && best < LEAST_COMPRESSION_KPA
        ? finding(
            'warn',
            'No cylinder has the compression of a sound engine',
            say`The best reads ${kPa(best)}; a sound engine of the time reads ${kPa(LEAST_COMPRESSION_KPA)} or more, all plugs out, throttle open.`,
            'Crank it again with the throttle wide open and the battery charged, with another gauge. Low everywhere after that is worn rings or a cam out of time: cure it first.',
          )
        : null
    },
  },
  {
    id: 'survey.barometer',
    where: at('survey', undefined, 'facts.place.barometerKpa'),
    check: ({ facts }) => {
      const { altitudeM, barometerKpa } = facts.place ?? {}
      if (altitudeM === undefined || barometerKpa === undefined) return null
      const { pressureKpa } = standardAtmosphere.run({ altitudeM })
      return Math.abs(barometerKpa - pressureKpa) > BAROMETER_AGREES_KPA
        ? finding(
            'warn',
            'Barometer and altitude disagree',
            say`At ${metres(altitudeM, 0)} the air stands near ${kPa(pressureKpa, 1)}; entered is ${kPa(barometerKpa, 1)}.`,
            'A weather service tells the pressure as it would be at sea level. Read a barometer in the workshop, or the unit with the key on.',
          )
        : null
    },
  },
  {
    id: 'survey.power-size',
    where: at('survey', undefined, 'facts.engine.powerKw'),
    check: ({ facts, resolved }) => {
      const { powerKw } = facts.engine ?? {}
      const { displacementCc, barometerKpa } = resolved
      if (!powerKw || !displacementCc) return null
      // boost is worth the air that it brings
      const boosts = 1 + Math.max(0, facts.induction?.boostKpa ?? 0) / barometerKpa
      const each = powerKw / (displacementCc / 1000)
      return each < KW_PER_LITRE.least || each > KW_PER_LITRE.most * boosts
        ? finding(
            'warn',
            'Power and displacement do not go together',
            say`${kW(powerKw)} from ${cc(displacementCc)} is ${each.toFixed(0)} kW a litre; road engines of the time make ${KW_PER_LITRE.least} to ${KW_PER_LITRE.most}${boosts > 1 ? ' without boost' : ''}.`,
            'Injectors and pump are sized by it. Check both figures, and the unit of the power.',
          )
        : null
    },
  },
  {
    id: 'survey.cylinder-size',
    where: at('survey', undefined, 'facts.engine.displacementCc'),
    check: ({ facts, resolved }) => {
      const { cylinders } = facts.engine ?? {}
      if (!cylinders || !resolved.displacementCc) return null
      const each = resolved.displacementCc / cylinders
      return each < ONE_CYLINDER_CC.least || each > ONE_CYLINDER_CC.most
        ? finding(
            'warn',
            'Cylinders of an unusual size',
            say`${cc(resolved.displacementCc)} in ${cylinders} cylinders is ${cc(each)} each; car engines have ${cc(ONE_CYLINDER_CC.least)} to ${cc(ONE_CYLINDER_CC.most)}.`,
            'Check the number of cylinders and the displacement.',
          )
        : null
    },
  },
  {
    id: 'survey.octane',
    where: at('survey', undefined, 'facts.fuel.octaneRon'),
    check: ({ facts }) => {
      const { compressionRatio } = facts.engine ?? {}
      const { octaneRon } = facts.fuel ?? {}
      if (!compressionRatio || !octaneRon) return null
      const wanted = ronWanted(compressionRatio)
      return octaneRon < wanted - ANTIKNOCK_SPARE_RON
        ? finding(
            'warn',
            'The fuel is too poor for the compression',
            `${compressionRatio} to 1 wants about ${wanted.toFixed(0)} RON; ${octaneRon} is more than ${ANTIKNOCK_SPARE_RON} less, and less advance cannot make up for all of that.`,
            'Check the ratio; then a better fuel, or less compression.',
          )
        : null
    },
  },
  {
    id: 'survey.vacuum',
    where: at('survey', undefined, 'facts.cam.idleVacuumKpa'),
    check: ({ facts, resolved }) => {
      const { idleVacuumKpa } = facts.cam ?? {}
      if (idleVacuumKpa === undefined) return null
      const { barometerKpa, idleMapKpa } = resolved
      return idleMapKpa < LEAST_IDLE_MAP_KPA
        ? finding(
            'warn',
            'More vacuum than there is air',
            say`${kPa(idleVacuumKpa)} of vacuum under ${kPa(barometerKpa, 1)} of air leaves ${kPa(idleMapKpa)} in the manifold; no engine idles under ${kPa(LEAST_IDLE_MAP_KPA)}.`,
            'Read the gauge again, with its unit: inches of mercury are 3.4 kPa each.',
          )
        : null
    },
  },
]
