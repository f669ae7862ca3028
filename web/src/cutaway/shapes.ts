/** Points and paths of the drawing, in millimetres; the axis of the motor is x = 0. */
export type Point = readonly [number, number]

export interface Shape {
  part: string
  path: string
  /** Drawn dashed: at least one of its sizes is not measured. */
  assumed: boolean
}

const round = (value: number) => Math.round(value * 1000) / 1000

export function polygon(points: Point[]): string {
  const [first, ...rest] = points.map(([x, y]) => `${round(x)} ${round(y)}`)
  return `M${first}L${rest.join(' ')}Z`
}

export function rectangle(x: number, y: number, width: number, height: number): string {
  return polygon([
    [x, y],
    [x + width, y],
    [x + width, y + height],
    [x, y + height],
  ])
}

export function circle(radius: number): string {
  const r = round(radius)
  return `M${-r} 0A${r} ${r} 0 1 0 ${r} 0A${r} ${r} 0 1 0 ${-r} 0Z`
}

export const onCircle = (radius: number, angle: number): Point => [
  radius * Math.cos(angle),
  radius * Math.sin(angle),
]

/** A piece of a ring between two radii and two angles [rad]; less than half a turn. */
export function sector(inner: number, outer: number, from: number, to: number): string {
  const at = (radius: number, angle: number) => onCircle(radius, angle).map(round).join(' ')
  return (
    `M${at(inner, from)}L${at(outer, from)}A${round(outer)} ${round(outer)} 0 0 1 ${at(outer, to)}` +
    `L${at(inner, to)}A${round(inner)} ${round(inner)} 0 0 0 ${at(inner, from)}Z`
  )
}
