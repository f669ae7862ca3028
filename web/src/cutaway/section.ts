/**
 * The half-section: right of the axis the motor is cut open, left of it the outside is seen.
 *
 * y runs down from the top of the bell. Nothing is drawn out of scale; parts nobody measures
 * (clearances, winding heads) stand at typical sizes and are dashed.
 */
import type { Dimension, Dimensions } from './dimensions'
import { type Point, polygon, rectangle, type Shape } from './shapes'

export interface Section {
  shapes: Shape[]
  /** Horizontal lines of the stator's laminations: y of each, and their ends in x. */
  laminations: { y: number[]; from: number; to: number; assumed: boolean }
  /** Box of the whole drawing [mm]. */
  box: { x: number; y: number; width: number; height: number }
  /** Middle of the air gap beside the stator, where the magnified inset looks. */
  gapAt: Point
}

const CLEARANCE_MM = 0.8
const MOST_LAMINATIONS = 90

export function section(d: Dimensions): Section {
  const at = levels(d)
  const radius = {
    stator: d.statorDiameter.value / 2,
    magnetIn: d.magnetInner.value / 2,
    magnetOut: d.magnetInner.value / 2 + d.magnetThickness.value,
    bell: d.magnetInner.value / 2 + d.magnetThickness.value + d.ringThickness.value,
    hub: d.hubDiameter.value / 2,
    bearing: Math.max(d.bearingDiameter.value / 2, d.shaftInside.value / 2 + 0.4),
    shaft: d.shaftInside.value / 2,
    prop: d.shaftDiameter.value / 2,
  }
  const tube = Math.max(radius.hub, radius.bearing + 0.5)
  const base = Math.max(d.baseDiameter.value / 2, tube + 1)
  const shapes: Shape[] = [
    shape('outside bell', rectangle(-radius.bell, at.bellTop, radius.bell, at.magnetBottom), [
      d.magnetInner,
      d.magnetThickness,
      d.ringThickness,
      d.statorHeight,
    ]),
    shape('outside base', rectangle(-base, at.baseTop, base, d.baseThickness.value), [
      d.baseThickness,
      d.baseDiameter,
    ]),
    shape(
      'bell',
      polygon([
        [radius.shaft, at.bellTop],
        [radius.bell, at.bellTop],
        [radius.bell, at.plateBottom],
        [radius.shaft, at.plateBottom],
      ]),
      [d.bellTop, d.magnetInner],
    ),
    shape(
      'ring',
      rectangle(
        radius.magnetOut,
        at.plateBottom,
        d.ringThickness.value,
        at.magnetBottom - at.plateBottom,
      ),
      [d.ringThickness, d.magnetInner, d.statorHeight],
    ),
    shape(
      'magnet',
      rectangle(
        radius.magnetIn,
        at.magnetTop,
        d.magnetThickness.value,
        at.magnetBottom - at.magnetTop,
      ),
      [d.magnetThickness, d.magnetInner, d.magnetHeight],
    ),
    shape('stator', rectangle(tube, at.statorTop, radius.stator - tube, d.statorHeight.value), [
      d.statorDiameter,
      d.statorHeight,
    ]),
    ...[at.statorTop - at.head, at.statorBottom].map((y) =>
      shape('winding', head(tube, radius.stator, y, at.head, y < at.statorTop), [ASSUMED]),
    ),
    shape(
      'tube',
      rectangle(radius.bearing, at.tubeTop, tube - radius.bearing, at.baseTop - at.tubeTop),
      [d.hubDiameter],
    ),
    ...[at.tubeTop, at.baseBottom - d.bearingHeight.value].map((y) =>
      shape(
        'bearing',
        rectangle(radius.shaft, y, radius.bearing - radius.shaft, d.bearingHeight.value),
        [d.bearingDiameter, d.bearingHeight],
      ),
    ),
    shape(
      'base',
      rectangle(radius.bearing, at.baseTop, base - radius.bearing, d.baseThickness.value),
      [d.baseThickness, d.baseDiameter],
    ),
    shape(
      'screw',
      screw(
        Math.min(d.mountCircle.value / 2, base - 1),
        d.mountThread.value,
        at.baseTop,
        at.baseBottom,
      ),
      [ASSUMED],
    ),
    shape(
      'shaft',
      polygon([
        [-radius.prop, -at.propShaft],
        [radius.prop, -at.propShaft],
        [radius.prop, at.bellTop],
        [radius.shaft, at.bellTop],
        [radius.shaft, at.baseBottom],
        [-radius.shaft, at.baseBottom],
        [-radius.shaft, at.bellTop],
        [-radius.prop, at.bellTop],
      ]),
      [d.shaftDiameter, d.shaftInside, d.shaftFree],
    ),
  ]
  if (d.hollowShaft)
    shapes.push(
      shape('bore', rectangle(0, -at.propShaft, 0.5 * radius.shaft, at.propShaft + at.baseBottom), [
        ASSUMED,
      ]),
    )
  const lead = 0.35 * radius.bell
  for (const k of [0, 1, 2])
    shapes.push(
      shape('lead', rectangle(-base - lead, at.baseTop + 0.25 + k * 0.75, lead, 0.6), [ASSUMED]),
    )
  return {
    shapes,
    laminations: {
      y: lines(at.statorTop, d.statorHeight.value, d.lamination.value),
      from: tube,
      to: radius.stator,
      assumed: d.lamination.basis !== 'measured',
    },
    box: {
      x: -base - lead,
      y: -at.propShaft,
      width: base + lead + radius.bell,
      height: at.propShaft + at.screwEnd,
    },
    gapAt: [(radius.stator + radius.magnetIn) / 2, (at.statorTop + at.statorBottom) / 2],
  }
}

const ASSUMED: Dimension = { value: 0, basis: 'assumed' }

function shape(part: string, path: string, from: Dimension[]): Shape {
  return { part, path, assumed: from.some((dimension) => dimension.basis !== 'measured') }
}

function levels(d: Dimensions) {
  const height = d.statorHeight.value
  const head = 0.05 * d.statorDiameter.value + 0.12 * height
  const overlap = (d.magnetHeight.value - height) / 2
  const plateBottom = d.bellTop.value
  const statorTop = plateBottom + CLEARANCE_MM + head
  const statorBottom = statorTop + height
  const baseTop = statorBottom + head + CLEARANCE_MM
  const baseBottom = baseTop + d.baseThickness.value
  return {
    bellTop: 0,
    plateBottom,
    head,
    statorTop,
    statorBottom,
    magnetTop: Math.max(plateBottom, statorTop - overlap),
    magnetBottom: statorBottom + overlap,
    tubeTop: plateBottom + 0.5 * CLEARANCE_MM,
    baseTop,
    baseBottom,
    screwEnd: baseBottom + 3,
    propShaft: d.shaftFree.value,
  }
}

/** A winding head: wire that bulges out of the slots, flat at the iron and round away from it. */
function head(from: number, to: number, y: number, height: number, up: boolean): string {
  const left = from + 0.12 * (to - from)
  const right = to - 0.06 * (to - from)
  const round = Math.min(height * 0.8, (right - left) / 3)
  const [flat, far] = up ? [y + height, y] : [y, y + height]
  const turn = up ? round : -round
  return (
    `M${left} ${flat}L${left} ${far + turn}Q${left} ${far} ${left + round} ${far}` +
    `L${right - round} ${far}Q${right} ${far} ${right} ${far + turn}L${right} ${flat}Z`
  )
}

/** A mounting screw from below, its head under the arm that is not drawn. */
function screw(middle: number, thread: number, top: number, bottom: number): string {
  const half = thread / 2
  const head = 0.95 * thread
  return polygon([
    [middle - half, top + 0.4],
    [middle + half, top + 0.4],
    [middle + half, bottom + 1.4],
    [middle + head, bottom + 1.4],
    [middle + head, bottom + 3],
    [middle - head, bottom + 3],
    [middle - head, bottom + 1.4],
    [middle - half, bottom + 1.4],
  ])
}

/** The true number of laminations where it can be drawn, else every few of them. */
function lines(top: number, height: number, thickness: number): number[] {
  const count = Math.max(1, Math.round(height / thickness))
  const step = Math.ceil(count / MOST_LAMINATIONS)
  const found = []
  for (let k = step; k < count; k += step) found.push(top + (k * height) / count)
  return found
}
