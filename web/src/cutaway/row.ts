/** Several motors at one scale, side by side: where each drawing stands, in millimetres. */
import type { Dimensions } from './dimensions'
import { face } from './face'
import { section } from './section'

export interface Place {
  /** Left edge and width of the column. */
  x: number
  width: number
  sectionAt: readonly [number, number]
  faceAt: readonly [number, number]
}

export interface Row {
  places: Place[]
  width: number
  height: number
  /** Baseline of the names and of the face views' captions. */
  nameY: number
}

const GAP_MM = 4
const NAME_MM = 4

/** Sections stand on one line, their bases level; faces hang below, their middles level. */
export function row(motors: Dimensions[]): Row {
  const cuts = motors.map((d) => section(d).box)
  const faces = motors.map((d) => face(d).radius)
  const tallest = Math.max(...cuts.map((box) => box.height), 0)
  const largest = Math.max(...faces, 0)
  const places: Place[] = []
  let x = GAP_MM / 2
  motors.forEach((_, at) => {
    const box = cuts[at] ?? { x: 0, y: 0, width: 0, height: 0 }
    const radius = faces[at] ?? 0
    const width = Math.max(box.width, 2 * radius)
    places.push({
      x,
      width,
      sectionAt: [x + (width - box.width) / 2 - box.x, NAME_MM + tallest - box.height - box.y],
      faceAt: [x + width / 2, NAME_MM + tallest + GAP_MM + largest],
    })
    x += width + GAP_MM
  })
  return {
    places,
    width: x - GAP_MM / 2,
    height: NAME_MM + tallest + GAP_MM + 2 * largest + 3,
    nameY: NAME_MM - 1.6,
  }
}
