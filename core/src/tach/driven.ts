import { type Context, readingsOf } from '../kernel/index.ts'
import { DRIVEN_LOOKS, DRIVEN_SPAN, SHOWN_TOLERANCE } from './limits.ts'

/** A tachometer off the car, driven from a known frequency: what it shows at one setting of it or of its converter. */
interface DrivenLook {
  frequencyHz: number
  shownRpm: number
  setting?: string
}
interface DrivenSetting {
  setting: string
  looks: number
  /** shown over what it should show, mean; and the worst of the looks off true, as a share */
  gain: number
  worstShare: number
  /** number of cylinders that it counts like; null: like none there is */
  countsLike: number | null
  /** enough looks, far enough apart, each within what is allowed */
  proved: boolean
  /** what is missing to say so, in words; null: nothing, or it reads wrong */
  wants: string | null
}
const ENGINES = [3, 4, 5, 6, 8, 10, 12]
const SAME_COUNT = 0.03

/** Speed that a frequency stands for on a tachometer made for so many cylinders: two turns for as many pulses, rpm. */
export const rpmOfFrequency = (frequencyHz: number, cylinders: number): number => (120 * frequencyHz) / cylinders

/** What each setting makes of the frequencies it was driven with, in the order they were tried. */
export function drivenSettings(looks: readonly DrivenLook[], cylinders: number): DrivenSetting[] {
  const groups = new Map<string, DrivenLook[]>()
  for (const look of looks) {
    const key = look.setting?.trim() || 'as it is'
    groups.set(key, [...(groups.get(key) ?? []), look])
  }
  return [...groups].map(([setting, group]) => {
    const gains = group.map((look) => look.shownRpm / rpmOfFrequency(look.frequencyHz, cylinders))
    const gain = gains.reduce((sum, g) => sum + g, 0) / gains.length
    const worstShare = Math.max(...gains.map((g) => Math.abs(g - 1)))
    const frequencies = group.map((look) => look.frequencyHz)
    const apart = Math.max(...frequencies) / Math.min(...frequencies)
    const right = worstShare <= SHOWN_TOLERANCE
    const enough = group.length >= DRIVEN_LOOKS && apart >= DRIVEN_SPAN
    return {
      setting,
      looks: group.length,
      gain,
      worstShare,
      countsLike: ENGINES.find((n) => Math.abs((gain * n) / cylinders - 1) < SAME_COUNT) ?? null,
      proved: right && enough,
      wants: right && !enough ? `another frequency, ${DRIVEN_SPAN} times the first` : null,
    }
  })
}
/** The same of a build; null while nothing tells what the tachometer is made for. */
export function drivenTach(c: Pick<Context, 'readings' | 'tach' | 'resolved'>): DrivenSetting[] | null {
  const cylinders = c.tach.setCylinders ?? c.resolved.cylinders
  const looks = readingsOf(c.readings, 'tach.driven').map((r) => r.value)
  return cylinders === null ? null : drivenSettings(looks, cylinders)
}
