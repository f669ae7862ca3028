/** The face view, bell top taken off: the true number of slots and poles, at one scale. */
import type { Dimensions } from './dimensions'
import { circle, onCircle, polygon, sector, type Shape } from './shapes'

export interface Face {
  shapes: Shape[]
  /** Radius of the whole drawing [mm]. */
  radius: number
}

const MAGNET_COVER = 0.88
const SLOT_OPENING = 0.16
const SHOE_SHARE = 0.09

export function face(d: Dimensions): Face {
  const stator = d.statorDiameter.value / 2
  const magnetIn = d.magnetInner.value / 2
  const magnetOut = magnetIn + d.magnetThickness.value
  const bell = magnetOut + d.ringThickness.value
  const shaft = d.shaftInside.value / 2
  const hub = Math.max(d.hubDiameter.value / 2, shaft + 0.9)
  const inside = d.magnetInner.basis !== 'measured'
  const shapes: Shape[] = [
    { part: 'ring', path: `${circle(bell)}${circle(magnetOut)}`, assumed: true },
  ]
  const poles = d.poles.value
  for (let k = 0; k < poles; k++) {
    const middle = (2 * Math.PI * k) / poles
    const half = (Math.PI / poles) * MAGNET_COVER
    shapes.push({
      part: k % 2 ? 'magnet south' : 'magnet north',
      path: d.flatMagnets
        ? flatMagnet(magnetIn, magnetOut, middle, half)
        : sector(magnetIn, magnetOut, middle - half, middle + half),
      assumed: inside || d.poles.basis !== 'measured',
    })
  }
  const slots = d.slots.value
  const pitch = (2 * Math.PI) / slots
  const shoe = stator * (1 - SHOE_SHARE)
  const width = 0.5 * hub * Math.sin(pitch / 2) + 0.14 * stator * Math.sin(pitch / 2)
  const unsure = d.statorDiameter.basis !== 'measured' || d.slots.basis !== 'measured'
  for (let k = 0; k < slots; k++) {
    const middle = k * pitch
    for (const side of [-1, 1])
      shapes.push({
        part: 'winding',
        path: coil(hub, shoe, width, middle, pitch, side),
        assumed: true,
      })
    shapes.push({ part: 'stator', path: stem(hub, shoe, width, middle), assumed: unsure })
    const half = (pitch / 2) * (1 - SLOT_OPENING)
    shapes.push({
      part: 'stator',
      path: sector(shoe, stator, middle - half, middle + half),
      assumed: unsure,
    })
  }
  shapes.push({ part: 'stator', path: `${circle(hub * 1.12)}${circle(hub * 0.92)}`, assumed: true })
  shapes.push({ part: 'bearing', path: `${circle(hub * 0.92)}${circle(shaft)}`, assumed: true })
  shapes.push({
    part: 'shaft',
    path: d.hollowShaft ? `${circle(shaft)}${circle(shaft / 2)}` : circle(shaft),
    assumed: d.shaftInside.basis !== 'measured',
  })
  return { shapes, radius: bell }
}

/** Turns a point given along and across a tooth to the tooth's direction. */
function turned(along: number, across: number, angle: number): [number, number] {
  const [x, y] = onCircle(along, angle)
  return [x - across * Math.sin(angle), y + across * Math.cos(angle)]
}

function stem(hub: number, shoe: number, width: number, angle: number): string {
  return polygon([
    turned(hub * 1.06, -width / 2, angle),
    turned(shoe * 1.01, -width / 2, angle),
    turned(shoe * 1.01, width / 2, angle),
    turned(hub * 1.06, width / 2, angle),
  ])
}

/** Half a coil: what lies in the slot on one side of a tooth. */
function coil(
  hub: number,
  shoe: number,
  width: number,
  angle: number,
  pitch: number,
  side: number,
): string {
  const reach = (radius: number) => 0.94 * radius * Math.tan(pitch / 2)
  const low = hub * 1.2
  const high = shoe * 0.985
  return polygon([
    turned(low, side * (width / 2), angle),
    turned(low, side * Math.max(width / 2, reach(low)), angle),
    turned(high, side * Math.max(width / 2, reach(high) * 0.97), angle),
    turned(high, side * (width / 2), angle),
  ])
}

/** A flat magnet touches the pole circle in its middle and stands off at its edges. */
function flatMagnet(inner: number, outer: number, middle: number, half: number): string {
  const across = outer * Math.sin(half) * 0.96
  const depth = outer * Math.cos(half)
  const front = Math.max(inner, depth - (outer - inner))
  return polygon([
    turned(front, -across, middle),
    turned(depth, -across, middle),
    turned(depth, across, middle),
    turned(front, across, middle),
  ])
}
