/**
 * A motor from outside, to scale: side view and view from below, with a place to click for every
 * dimension. What is not measured stands at a typical size and is drawn dashed.
 */
export interface Known {
  [attribute: string]: number | undefined
}

export interface Callout {
  key: string
  /** Where its number stands [mm]. */
  x: number
  y: number
  /** The dimension line and its ends. */
  path: string
  measured: boolean
}

export interface Piece {
  part: 'bell' | 'base' | 'shaft' | 'nut' | 'washer' | 'lead' | 'hole' | 'disc' | 'thread'
  path: string
  measured: boolean
}

export interface Outside {
  side: Piece[]
  below: Piece[]
  callouts: Callout[]
  box: { width: number; height: number }
  sideAt: readonly [number, number]
  belowAt: readonly [number, number]
}

/** In the order of the hand: over all, bell, shaft, base, thread, leads. */
export const OUTSIDE_KEYS = [
  'total_height',
  'body_height',
  'bell_outer_diameter',
  'base_diameter',
  'shaft_diameter',
  'shaft_free_length',
  'prop_hold',
  'nut_height',
  'washer_height',
  'prop_hole_circle',
  'prop_hole_thread',
  'mount_circle',
  'mount_circle_second',
  'mount_hole_count',
  'mount_thread',
  'base_thickness',
  'thread_depth',
  'screw_clearance',
  'lead_gauge',
  'lead_length',
]

const MARGIN = 11
const DRAWN_LEAD_MM = 16

const rect = (x: number, y: number, w: number, h: number) => `M${x} ${y}h${w}v${h}h${-w}Z`
const circle = (x: number, y: number, r: number) =>
  `M${x - r} ${y}a${r} ${r} 0 1 0 ${2 * r} 0a${r} ${r} 0 1 0 ${-2 * r} 0Z`
const across = (x1: number, x2: number, y: number) =>
  `M${x1} ${y - 0.7}v1.4M${x1} ${y}H${x2}M${x2} ${y - 0.7}v1.4`
const down = (y1: number, y2: number, x: number) =>
  `M${x - 0.7} ${y1}h1.4M${x} ${y1}V${y2}M${x - 0.7} ${y2}h1.4`

export function outside(known: Known, code: { diameter: number; height: number } | null): Outside {
  const stator = code?.diameter ?? 22
  const size = (key: string, typical: number) => known[key] ?? typical
  const bell = size('bell_outer_diameter', 1.27 * stator)
  const body = size('body_height', (code?.height ?? 6) + 0.34 * stator + 5)
  const free = size('shaft_free_length', 0.55 * stator)
  const shaft = size('shaft_diameter', 0.22 * stator)
  const base = size('base_diameter', 1.1 * stator)
  const thick = Math.min(size('base_thickness', 2.5), 0.6 * body)
  const nut = size('nut_height', 4)
  const washer = size('washer_height', 0.5)
  const lead = 0.9
  const has = (...keys: string[]) => keys.every((key) => known[key] !== undefined)

  const side: Piece[] = [
    {
      part: 'shaft',
      path: rect(-shaft / 2, -free, shaft, free),
      measured: has('shaft_diameter', 'shaft_free_length'),
    },
    {
      part: 'bell',
      path: rect(-bell / 2, 0, bell, body - thick - 0.8),
      measured: has('bell_outer_diameter', 'body_height'),
    },
    {
      part: 'base',
      path: rect(-base / 2, body - thick, base, thick),
      measured: has('base_diameter', 'base_thickness'),
    },
    ...[0, 1, 2].map((k): Piece => ({
      part: 'lead',
      path: rect(
        base / 2,
        body - thick + 0.1 + k * (thick / 3),
        DRAWN_LEAD_MM,
        Math.min(lead, thick / 3 - 0.1),
      ),
      measured: has('lead_length', 'lead_gauge'),
    })),
  ]
  if (known.nut_height !== undefined) {
    const y = -Math.min(free, nut + washer + 6)
    side.push({ part: 'nut', path: rect(-shaft, y, 2 * shaft, nut), measured: true })
    side.push({
      part: 'washer',
      path: rect(-1.2 * shaft, y + nut, 2.4 * shaft, washer),
      measured: has('washer_height'),
    })
  }
  const thread = size('mount_thread', 3)
  const depth = Math.min(size('thread_depth', 2.5), body * 0.6)
  const room = size('screw_clearance', 1.2)
  const screwX = -Math.min(size('mount_circle', 0.7 * base), 0.86 * base) / 2
  side.push({
    part: 'thread',
    path: rect(screwX - thread / 2, body - depth, thread, depth),
    measured: has('mount_thread', 'thread_depth', 'mount_circle'),
  })

  const holes = Math.round(size('mount_hole_count', 4))
  const below: Piece[] = [
    { part: 'disc', path: circle(0, 0, bell / 2), measured: has('bell_outer_diameter') },
    { part: 'base', path: circle(0, 0, base / 2), measured: has('base_diameter') },
    { part: 'shaft', path: circle(0, 0, shaft / 2), measured: has('shaft_diameter') },
  ]
  const second = known.mount_circle_second
  const first = size('mount_circle', 0.7 * base)
  for (let k = 0; k < holes; k++) {
    const angle = (2 * Math.PI * k) / holes + Math.PI / 4
    const radius = (second !== undefined && k % 2 ? second : first) / 2
    below.push({
      part: 'hole',
      path: circle(radius * Math.cos(angle), radius * Math.sin(angle), thread / 2),
      measured: has('mount_circle', 'mount_thread', 'mount_hole_count'),
    })
  }

  const half = Math.max(bell, base) / 2
  // The view from below hangs under the side view, as drawings have it.
  const sideAt = [MARGIN + half + 4, 4 + free] as const
  const belowAt = [sideAt[0], sideAt[1] + body + 10 + half] as const
  const callouts: Callout[] = []
  const call = (key: string, at: readonly [number, number], x: number, y: number, path: string) => {
    callouts.push({ key, x: at[0] + x, y: at[1] + y, path: shift(path, at), measured: has(key) })
  }
  const left = -half
  call('total_height', sideAt, left - 10, (body - free) / 2, down(-free, body, left - 7.5))
  call('body_height', sideAt, left - 4.8, body / 2, down(0, body, left - 2.5))
  call('bell_outer_diameter', sideAt, bell / 4 + shaft, -2.2, across(-bell / 2, bell / 2, -1.2))
  call('base_diameter', sideAt, 0, body + 4.6, across(-base / 2, base / 2, body + 2.4))
  call(
    'shaft_diameter',
    sideAt,
    shaft / 2 + 4,
    -free - 1.6,
    across(-shaft / 2, shaft / 2, -free - 1.6),
  )
  call('shaft_free_length', sideAt, shaft / 2 + 6.5, -free / 2, down(-free, 0, shaft / 2 + 3.4))
  call(
    'base_thickness',
    sideAt,
    base / 2 + 6.6,
    body - thick - 1.4,
    down(body - thick, body, base / 2 + 3.4),
  )
  call(
    'thread_depth',
    sideAt,
    screwX - 4.4,
    body - depth / 2 + 0.4,
    down(body - depth, body, screwX - thread / 2 - 0.9),
  )
  call(
    'screw_clearance',
    sideAt,
    screwX + thread / 2 + 3.4,
    body - depth - room / 2,
    down(body - depth - room, body - depth, screwX + thread / 2 + 0.8),
  )
  call(
    'lead_length',
    sideAt,
    base / 2 + DRAWN_LEAD_MM - 4,
    body + 3,
    across(base / 2, base / 2 + DRAWN_LEAD_MM, body + 1.2),
  )
  call('mount_circle', belowAt, 0, half + 4.6, across(-first / 2, first / 2, half + 2.4))
  if (second !== undefined)
    call(
      'mount_circle_second',
      belowAt,
      0,
      -half - 2.4,
      across(-second / 2, second / 2, -half - 1.4),
    )
  call('mount_thread', belowAt, half + 4, -half * 0.4, '')

  return {
    side,
    below,
    callouts,
    box: { width: sideAt[0] + half + DRAWN_LEAD_MM + 8, height: belowAt[1] + half + 7 },
    sideAt,
    belowAt,
  }
}

/** A path of absolute M, H, V and relative h, v commands moved by a vector. */
function shift(path: string, [dx, dy]: readonly [number, number]): string {
  return path.replace(
    /([MHV])(-?[\d.]+)(?: (-?[\d.]+))?/g,
    (_, command: string, a: string, b?: string) => {
      if (command === 'H') return `H${Number(a) + dx}`
      if (command === 'V') return `V${Number(a) + dy}`
      return `M${Number(a) + dx} ${Number(b) + dy}`
    },
  )
}
