/** The fit drawings, to scale: a screw through an arm into the base, a propeller on its shaft. */
export interface Block {
  part: string
  x: number
  y: number
  width: number
  height: number
}

export interface ScrewPicture {
  blocks: Block[]
  box: { x: number; y: number; width: number; height: number }
  /** Where thread ends and where the winding begins, above the arm's upper face [mm]. */
  threadEnd: number
  windingAt: number
  tip: number
}

const HEAD_MM = 2

/**
 * y runs down; the arm's upper face, where the motor stands, is y = 0. The screw comes from below.
 */
export function screwPicture(screw: {
  length: number
  arm: number
  washer: number
  depth: number
  clearance: number
  thread: number
}): ScrewPicture {
  const { length, arm, washer, depth, clearance, thread } = screw
  const tip = length - arm - washer
  const wide = 5 * thread
  const top = Math.max(tip, depth + clearance) + 3
  const bottom = arm + washer + HEAD_MM
  const blocks: Block[] = [
    { part: 'arm', x: -wide, y: 0, width: 2 * wide, height: arm },
    { part: 'base', x: -wide, y: -depth, width: 2 * wide, height: depth },
    { part: 'room', x: -wide, y: -depth - clearance, width: 2 * wide, height: clearance },
    { part: 'copper', x: -wide, y: -top, width: 2 * wide, height: top - depth - clearance },
    { part: 'washer', x: -1.3 * thread, y: arm, width: 2.6 * thread, height: washer },
    { part: 'head', x: -0.95 * thread, y: arm + washer, width: 1.9 * thread, height: HEAD_MM },
    { part: 'screw', x: -thread / 2, y: -tip, width: thread, height: length },
  ]
  return {
    blocks: blocks.filter((block) => block.height > 0),
    box: { x: -wide, y: -top, width: 2 * wide, height: top + bottom + 0.5 },
    threadEnd: depth,
    windingAt: depth + clearance,
    tip,
  }
}

export interface Ring {
  inner_mm: number
  outer_mm: number
  height_mm: number
}

export interface PropPicture {
  blocks: Block[]
  box: { x: number; y: number; width: number; height: number }
}

/** A propeller's hub, its rings, washer and nut on the shaft; y runs down, the bell top is y = 0. */
export function propPicture(fit: {
  shaft: number
  free: number
  bore: number
  hub: number
  nut: number
  washer: number
  rings: Ring[]
  /** Two screws into the bell, and the holes of the hub for them; absent where a nut holds. */
  screws?: { circle: number; thread: number; holeCircle: number; hole: number }
}): PropPicture {
  const { shaft, free, bore, hub, nut, washer, rings, screws } = fit
  const outer = Math.max(bore * 1.9, bore + 5, (screws?.holeCircle ?? 0) + 5)
  const blocks: Block[] = [
    { part: 'bell', x: -outer * 0.75, y: 0, width: outer * 1.5, height: 2 },
    { part: 'hub', x: -outer / 2, y: -hub, width: (outer - bore) / 2, height: hub },
    { part: 'hub', x: bore / 2, y: -hub, width: (outer - bore) / 2, height: hub },
    { part: 'shaft', x: -shaft / 2, y: -free, width: shaft, height: free },
  ]
  for (const ring of rings)
    for (const x of [-ring.outer_mm / 2, ring.inner_mm / 2])
      blocks.push({
        part: 'ring',
        x,
        y: -ring.height_mm,
        width: (ring.outer_mm - ring.inner_mm) / 2,
        height: ring.height_mm,
      })
  for (const side of screws ? [-1, 1] : []) {
    const { circle, thread, holeCircle, hole } = screws as NonNullable<typeof screws>
    const at = (middle: number, width: number) => (side * middle) / 2 - width / 2
    blocks.push({ part: 'room', x: at(holeCircle, hole), y: -hub, width: hole, height: hub })
    blocks.push({ part: 'screw', x: at(circle, thread), y: -hub, width: thread, height: hub + 2 })
    blocks.push({
      part: 'head',
      x: at(circle, 1.9 * thread),
      y: -hub - 1.5,
      width: 1.9 * thread,
      height: 1.5,
    })
  }
  const seat = Math.max(hub, ...rings.map((ring) => ring.height_mm))
  if (nut > 0) {
    blocks.push({
      part: 'washer',
      x: -1.3 * shaft,
      y: -seat - washer,
      width: 2.6 * shaft,
      height: washer,
    })
    blocks.push({
      part: 'nut',
      x: -0.9 * shaft,
      y: -seat - washer - nut,
      width: 1.8 * shaft,
      height: nut,
    })
  }
  const top = Math.max(free, seat + washer + nut, hub + 1.5) + 1
  return {
    blocks: blocks.filter((block) => block.height > 0 && block.width > 0),
    box: { x: -outer * 0.8, y: -top, width: outer * 1.6, height: top + 3 },
  }
}
