/**
 * What is known of a motor's dimensions, and what has to be assumed to draw it.
 *
 * A dimension is measured, taken over from another sample, read off the size code (a claim) or
 * assumed at a typical size; only the first is drawn in full lines.
 */
export type Basis = 'measured' | 'taken' | 'claimed' | 'assumed'

export interface Dimension {
  /** Millimetres, or a count. */
  value: number
  basis: Basis
}

export interface Dimensions {
  statorDiameter: Dimension
  statorHeight: Dimension
  magnetInner: Dimension
  magnetThickness: Dimension
  ringThickness: Dimension
  hubDiameter: Dimension
  bearingDiameter: Dimension
  bearingHeight: Dimension
  shaftDiameter: Dimension
  shaftInside: Dimension
  bellTop: Dimension
  baseThickness: Dimension
  baseDiameter: Dimension
  shaftFree: Dimension
  magnetHeight: Dimension
  mountCircle: Dimension
  mountThread: Dimension
  lamination: Dimension
  slots: Dimension
  poles: Dimension
  hollowShaft: boolean | null
  flatMagnets: boolean | null
}

export interface Seen {
  attribute: string
  status: string
  value?: number | null
  choice?: string
}

/** Typical sizes as shares of the stator's diameter, or in mm where makers agree on them. */
const TYPICAL = {
  diameterMm: 22,
  aspect: 0.28,
  gapMm: 0.22,
  magnetShare: 0.07,
  ringShare: 0.05,
  hubShare: 0.42,
  bearingShare: 0.4,
  bearingHeightShare: 0.16,
  shaftShare: 0.2,
  bellTopMm: 1.6,
  baseMm: 2.5,
  baseShare: 1.13,
  shaftFreeShare: 0.55,
  mountShare: 0.72,
  mountThreadMm: 2,
  laminationMm: 0.2,
  slots: 12,
  poles: 14,
}

/** Stator diameter and height from a size code on the stator basis; null where it is none. */
export function statorOfCode(
  code: string,
  basis: string,
): { diameter: number; height: number } | null {
  // Letters around the digits are the maker's.
  const match = /^(?:[a-z]{1,4}[- ]?)?(\d{2})(\d{2}(?:\.\d+)?)(?:[- ]?[a-z]{1,4})?$/i.exec(
    code.trim(),
  )
  if (basis !== 'stator' || !match) return null
  return { diameter: Number(match[1]), height: Number(match[2]) }
}

/**
 * Every dimension of the drawing. `seen` are the observations of one sample; a number that is being
 * typed may stand among them.
 */
export function dimensionsOf(seen: Seen[], size?: { code: string; basis: string }): Dimensions {
  const measured = new Map<string, number>()
  const taken = new Map<string, number>()
  const chosen = new Map<string, string>()
  for (const item of seen) {
    const over = item.status === 'same_as' || item.status === 'inferred'
    if (typeof item.value === 'number' && item.value > 0)
      (over ? taken : measured).set(item.attribute, item.value)
    else if (item.choice) chosen.set(item.attribute, item.choice)
  }
  const code = size ? statorOfCode(size.code, size.basis) : null
  const pick = (key: string, claimed: number | undefined, typical: number): Dimension => {
    const own = measured.get(key)
    if (own !== undefined) return { value: own, basis: 'measured' }
    const other = taken.get(key)
    if (other !== undefined) return { value: other, basis: 'taken' }
    if (claimed !== undefined) return { value: claimed, basis: 'claimed' }
    return { value: typical, basis: 'assumed' }
  }
  const inner = measured.get('magnet_inner_diameter')
  const statorDiameter = pick(
    'stator_diameter',
    code?.diameter,
    inner ? inner - 2 * TYPICAL.gapMm : TYPICAL.diameterMm,
  )
  const across = statorDiameter.value
  const assumed = (value: number): Dimension => ({ value, basis: 'assumed' })
  /** The flux ring by itself, or what a measured bell leaves beside measured magnets. */
  const ring = (): Dimension => {
    const bell = measured.get('bell_outer_diameter')
    const thick = measured.get('magnet_thickness')
    if (measured.has('ring_thickness') || !bell || !inner || !thick)
      return pick('ring_thickness', undefined, TYPICAL.ringShare * across)
    const left = (bell - inner) / 2 - thick
    return left > 0 ? { value: left, basis: 'measured' } : assumed(TYPICAL.ringShare * across)
  }
  const height = pick('stator_height', code?.height, TYPICAL.aspect * across)
  const base = pick('base_diameter', undefined, TYPICAL.baseShare * across)
  const shaftShare = Math.min(TYPICAL.shaftShare * across, 0.9 * TYPICAL.hubShare * across)
  return {
    statorDiameter,
    statorHeight: height,
    magnetInner: pick('magnet_inner_diameter', undefined, across + 2 * TYPICAL.gapMm),
    magnetThickness: pick('magnet_thickness', undefined, TYPICAL.magnetShare * across),
    ringThickness: ring(),
    hubDiameter: pick('hub_diameter', undefined, TYPICAL.hubShare * across),
    bearingDiameter: pick('bearing_outer_diameter', undefined, TYPICAL.bearingShare * across),
    bearingHeight: pick('bearing_height', undefined, TYPICAL.bearingHeightShare * across),
    shaftDiameter: pick('shaft_diameter', undefined, shaftShare),
    shaftInside: measured.has('shaft_inner_diameter')
      ? pick('shaft_inner_diameter', undefined, shaftShare)
      : pick('shaft_diameter', undefined, shaftShare),
    bellTop: assumed(TYPICAL.bellTopMm),
    baseThickness: pick('base_thickness', undefined, TYPICAL.baseMm),
    baseDiameter: base,
    shaftFree: pick('shaft_free_length', undefined, TYPICAL.shaftFreeShare * across),
    // Magnets stand a little past the iron at both ends.
    magnetHeight: pick('magnet_height', undefined, 1.12 * height.value + 0.6),
    mountCircle: pick('mount_circle', undefined, TYPICAL.mountShare * base.value),
    mountThread: pick('mount_thread', undefined, TYPICAL.mountThreadMm),
    lamination: pick('lamination_thickness', undefined, TYPICAL.laminationMm),
    slots: pick('slot_count', undefined, TYPICAL.slots),
    poles: pick('pole_count', undefined, TYPICAL.poles),
    hollowShaft: answer(chosen.get('shaft_type'), 'hollow', 'solid'),
    flatMagnets: answer(chosen.get('magnet_shape'), 'flat', 'arc'),
  }
}

function answer(chosen: string | undefined, yes: string, no: string): boolean | null {
  return chosen === yes ? true : chosen === no ? false : null
}

/** Why a motor of this basis is not drawn; empty for an outrunner. */
export function notDrawn(size?: { basis: string }): string {
  return size?.basis === 'case'
    ? 'A brushed can is not drawn: it has no bell, and its parts are not on the sheet.'
    : ''
}

/** Why these dimensions cannot be one motor's; empty when they can. */
export function contradiction(d: Dimensions): string {
  if (d.magnetInner.value <= d.statorDiameter.value)
    return (
      `A stator of ${d.statorDiameter.value} mm does not fit inside magnets ` +
      `${d.magnetInner.value} mm across.`
    )
  if (d.shaftDiameter.value >= 0.9 * d.statorDiameter.value)
    return `A shaft of ${d.shaftDiameter.value} mm leaves no stator.`
  if (d.slots.value % 3 || d.slots.value < 3) return 'Slots come in threes.'
  if (d.poles.value % 2 || d.poles.value < 2) return 'Magnets come in pairs.'
  return ''
}

export function airGap(d: Dimensions): Dimension {
  const both = d.magnetInner.basis === 'measured' && d.statorDiameter.basis === 'measured'
  return {
    value: (d.magnetInner.value - d.statorDiameter.value) / 2,
    basis: both ? 'measured' : 'assumed',
  }
}

const NAMES: [keyof Dimensions, string][] = [
  ['statorDiameter', 'stator diameter'],
  ['statorHeight', 'stator height'],
  ['magnetInner', 'diameter across the magnets'],
  ['magnetThickness', 'magnet thickness'],
  ['ringThickness', 'flux ring'],
  ['hubDiameter', 'bearing tube'],
  ['bearingDiameter', 'bearings'],
  ['shaftDiameter', 'shaft'],
  ['bellTop', 'bell top'],
  ['baseThickness', 'base'],
  ['baseDiameter', 'base diameter'],
  ['shaftFree', 'free shaft'],
  ['magnetHeight', 'magnet height'],
  ['lamination', 'laminations'],
  ['slots', 'slots'],
  ['poles', 'poles'],
]

/** The names of the dimensions of one basis, for the words below the drawing. */
export function namesOf(d: Dimensions, basis: Basis): string[] {
  return NAMES.filter(([key]) => (d[key] as Dimension).basis === basis).map(([, name]) => name)
}
