/** Drawing maths only: degrees clockwise from the top of the sheet to x, y and back. */
export const at = (cx: number, cy: number, radius: number, angleDeg: number): [number, number] => {
  const a = ((angleDeg - 90) * Math.PI) / 180
  return [cx + radius * Math.cos(a), cy + radius * Math.sin(a)]
}

export function ringSector(cx: number, cy: number, inner: number, outer: number, fromDeg: number, toDeg: number): string {
  const [a, b] = fromDeg <= toDeg ? [fromDeg, toDeg] : [toDeg, fromDeg]
  const large = b - a > 180 ? 1 : 0
  const [x0, y0] = at(cx, cy, outer, a)
  const [x1, y1] = at(cx, cy, outer, b)
  const [x2, y2] = at(cx, cy, inner, b)
  const [x3, y3] = at(cx, cy, inner, a)
  return `M${x0} ${y0}A${outer} ${outer} 0 ${large} 1 ${x1} ${y1}L${x2} ${y2}A${inner} ${inner} 0 ${large} 0 ${x3} ${y3}Z`
}

/** Angle of a pointer on an SVG, degrees clockwise from the top, -180 to 180. */
export function pointerAngle(event: PointerEvent, svg: SVGSVGElement, cx: number, cy: number): number {
  const box = svg.getBoundingClientRect()
  const view = svg.viewBox.baseVal
  const scale = Math.min(box.width / view.width, box.height / view.height)
  const x = (event.clientX - box.left - (box.width - view.width * scale) / 2) / scale
  const y = (event.clientY - box.top - (box.height - view.height * scale) / 2) / scale
  return (Math.atan2(x - cx, cy - y) * 180) / Math.PI
}
