import { useEventListener } from '@vueuse/core'
import { scaleLinear } from 'd3-scale'
import { computed, nextTick, onBeforeUnmount, onMounted, ref, watch, type Ref } from 'vue'
import { useSettings } from '../stores/settings.ts'
import { palettes, type Palette } from '../theme.ts'

const AXIS = 34
export const LANE = 92

interface Have {
  from: number
  to: number
  width: number
}
/** What a painter draws with: the sheet, its colours, where a moment lies on it, and the columns at hand. */
export interface Sheet<C> {
  g: CanvasRenderingContext2D
  colours: Palette
  width: number
  /** of the lanes, without the axis under them */
  lanesHeight: number
  x: (atS: number) => number
  have: (Have & { columns: C }) | null
}

/**
 * A window on a long record, drawn lane by lane on a canvas and moved by hand, wheel and keys. While it is moved the columns at hand are stretched to
 * the new window at once; exact ones come from a worker a moment later, so a picture never waits for the samples.
 */
export function useRecordWindow<C>(o: {
  canvas: Ref<HTMLCanvasElement | null>
  /** length of the record, s, which begins at 0 */
  seconds: () => number
  /** so much of the sheet stands left of the lanes, px */
  left: number
  lanes: () => number
  /** the closest look is the record over this */
  closest: number
  columns: (fromS: number, toS: number, width: number) => Promise<C>
  /** what the axis shows at a moment, and how */
  shown: (atS: number) => number
  tick?: (value: number) => string
  paint: (sheet: Sheet<C>) => void
  /** what a press near a moment takes hold of, if anything but the window itself */
  grab?: (atS: number, reachS: number) => ((atS: number) => void) | null
  /** a press that moved nothing */
  tap?: (atS: number) => void
  keys?: Readonly<Record<string, () => void>>
}) {
  const settings = useSettings()
  const view = ref({ from: 0, to: o.seconds() })
  const span = computed(() => view.value.to - view.value.from)
  const height = computed(() => o.lanes() * LANE + AXIS)
  let have: Sheet<C>['have'] = null
  let asking = false
  let askAgain = false
  let painting = false

  async function ask(): Promise<void> {
    if (asking) {
      askAgain = true
      return
    }
    const width = Math.max(50, Math.round((o.canvas.value?.clientWidth ?? 800) - o.left))
    const { from, to } = view.value
    asking = true
    try {
      have = { from, to, width, columns: await o.columns(from, to, width) }
    } finally {
      asking = false
    }
    repaint()
    if (askAgain) {
      askAgain = false
      void ask()
    }
  }
  function repaint(): void {
    if (painting) return
    painting = true
    requestAnimationFrame(() => {
      painting = false
      paint()
    })
  }
  function paint(): void {
    const el = o.canvas.value
    const g = el?.getContext('2d')
    if (!el || !g) return
    const ratio = window.devicePixelRatio || 1
    const width = el.clientWidth
    if (el.width !== Math.round(width * ratio) || el.height !== Math.round(height.value * ratio)) {
      el.width = Math.round(width * ratio)
      el.height = Math.round(height.value * ratio)
    }
    const colours = settings.dark ? palettes.dark : palettes.light
    g.setTransform(ratio, 0, 0, ratio, 0, 0)
    g.clearRect(0, 0, width, height.value)
    const lanesHeight = height.value - AXIS
    const axis = scaleLinear([o.shown(view.value.from), o.shown(view.value.to)], [o.left, width])
    g.font = "500 16px 'Barlow Condensed', sans-serif"
    g.strokeStyle = colours.hair
    g.fillStyle = colours.soft
    const words = o.tick ?? axis.tickFormat(8)
    for (const tick of axis.ticks(Math.max(3, Math.round(width / 110)))) {
      const at = axis(tick)
      g.beginPath()
      g.moveTo(at, 0)
      g.lineTo(at, lanesHeight)
      g.stroke()
      g.textAlign = at > width - 24 ? 'right' : 'center'
      g.fillText(words(tick), Math.min(at, width - 2), height.value - 12)
    }
    const x = (atS: number) => o.left + ((atS - view.value.from) / span.value) * (width - o.left)
    o.paint({ g, colours, width, lanesHeight, x, have })
  }

  function look(from: number, to: number): void {
    const whole = o.seconds()
    const width = Math.min(whole, Math.max(whole / o.closest, to - from))
    const start = Math.min(whole - width, Math.max(0, from))
    view.value = { from: start, to: start + width }
  }
  function zoom(by: number, around = (view.value.from + view.value.to) / 2): void {
    look(around - (around - view.value.from) * by, around + (view.value.to - around) * by)
  }
  const whole = (): void => look(0, o.seconds())
  const timeAt = (event: PointerEvent | WheelEvent): number => {
    const box = o.canvas.value!.getBoundingClientRect()
    return view.value.from + ((event.clientX - box.left - o.left) / (box.width - o.left)) * span.value
  }
  let drag: ((atS: number) => void) | null = null
  let pressedX: number | null = null
  const hands = {
    pointerdown(event: PointerEvent): void {
      o.canvas.value!.setPointerCapture(event.pointerId)
      const from = timeAt(event)
      const reach = (14 / (o.canvas.value!.clientWidth - o.left)) * span.value
      const caught = o.grab?.(from, reach)
      pressedX = caught ? null : event.clientX
      drag = caught ?? ((at) => look(view.value.from - (at - from), view.value.to - (at - from)))
    },
    pointermove(event: PointerEvent): void {
      // a finger that trembles moves nothing yet
      if (pressedX !== null && Math.abs(event.clientX - pressedX) < 4) return
      pressedX = null
      drag?.(timeAt(event))
    },
    pointerup(event: PointerEvent): void {
      if (pressedX !== null) o.tap?.(timeAt(event))
      drag = pressedX = null
    },
    pointercancel(): void {
      drag = pressedX = null
    },
    wheel(event: WheelEvent): void {
      event.preventDefault()
      zoom(event.deltaY > 0 ? 1.15 : 1 / 1.15, timeAt(event))
    },
    keydown(event: KeyboardEvent): void {
      const step = span.value / 10
      const act = {
        ArrowLeft: () => look(view.value.from - step, view.value.to - step),
        ArrowRight: () => look(view.value.from + step, view.value.to + step),
        '+': () => zoom(0.7),
        '-': () => zoom(1 / 0.7),
        Home: whole,
        ...o.keys,
      }[event.key]
      if (!act) return
      event.preventDefault()
      act()
    },
  }
  /** another record, or other lanes of it: what is at hand is of no use any more */
  function renew(): void {
    have = null
    void ask()
    repaint()
  }
  watch(view, () => {
    repaint()
    void ask()
  })
  watch([() => settings.dark, height], () => void nextTick(repaint))
  let sizes: ResizeObserver | null = null
  onMounted(() => {
    sizes = new ResizeObserver(() => {
      repaint()
      void ask()
    })
    sizes.observe(o.canvas.value!)
  })
  onBeforeUnmount(() => sizes?.disconnect())
  // a face of type that is first asked for by the canvas comes after its first picture
  useEventListener(document.fonts, 'loadingdone', repaint)
  return { view, span, height, look, zoom, whole, repaint, renew, hands }
}

/** Name and ends of a lane's scale, left of it, and the rule under it; what it reads at the cursor stands largest where there is one. */
export function paintLane<C>(
  { g, colours, width }: Sheet<C>,
  k: number,
  words: { name: string; value?: string; high: string; low: string },
  room?: number,
): void {
  const top = k * LANE
  const write = (text: string, y: number, size: number, ink: string): void => {
    g.fillStyle = ink
    g.font = `600 ${size}px 'Barlow Condensed', sans-serif`
    // what is long is pressed into the room there is
    g.fillText(text, 2, top + y, room)
  }
  g.textAlign = 'left'
  if (words.value === undefined) {
    write(words.name, 26, 18, colours.ink)
    write(words.high, 46, 14, colours.soft)
    write(words.low, LANE - 10, 14, colours.soft)
  } else {
    write(words.name, 21, 16, colours.soft)
    write(words.value, 54, 32, colours.ink)
    write(`${words.low} to ${words.high}`, LANE - 12, 14, colours.soft)
  }
  g.strokeStyle = colours.hair
  g.beginPath()
  g.moveTo(0, top + LANE)
  g.lineTo(width, top + LANE)
  g.stroke()
}
/**
 * One trace in its lane: an upright bar from the lowest to the highest of each column, reaching to its neighbour's, so that no step falls apart; bars
 * are filled far quicker than a line is stroked. Nothing where a column holds nothing.
 */
export function paintTrace<C>(
  { g, width, x, have }: Sheet<C>,
  k: number,
  left: number,
  trace: Float32Array,
  { low, high, colour, dashed = false }: { low: number; high: number; colour: string; dashed?: boolean },
): void {
  if (!have) return
  const top = k * LANE
  const y = scaleLinear([low, high === low ? low + 1 : high], [top + LANE - 10, top + 10]).clamp(true)
  g.fillStyle = colour
  const perColumn = (have.to - have.from) / have.width
  const first = Math.max(0, Math.floor((left - x(have.from)) / (x(perColumn) - x(0))))
  let [foot, head] = [NaN, NaN]
  for (let c = first; c < have.width; c++) {
    const from = x(have.from + c * perColumn)
    if (from > width) break
    const [below, above] = [y(trace[2 * c]), y(trace[2 * c + 1])]
    // min and max with NaN are NaN: the first of a stretch has no neighbour to reach to
    const yTop = Number.isNaN(foot) ? above : Math.min(above, foot)
    const yFoot = Number.isNaN(head) ? below : Math.max(below, head)
    ;[foot, head] = [below, above]
    if (Number.isNaN(below) || (dashed && c % 9 > 5)) continue
    const at = Math.max(left, from)
    g.fillRect(at, yTop - 0.8, Math.max(1.2, Math.min(width, x(have.from + (c + 1) * perColumn)) - at), yFoot - yTop + 1.6)
  }
}
/** An upright line over all lanes, where it is in sight. */
export function paintUpright<C>({ g, width, lanesHeight, x }: Sheet<C>, left: number, atS: number, colour: string): number | null {
  const at = x(atS)
  if (at < left || at > width) return null
  g.fillStyle = colour
  g.fillRect(at - 1, 0, 2, lanesHeight)
  return at
}
