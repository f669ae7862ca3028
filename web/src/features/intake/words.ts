/** The words of intake for what the record keeps as keys. */
export const KINDS: Record<string, string> = {
  outrunner: 'Brushless outrunner',
  brushed: 'Brushed can',
}
export const BASES: Record<string, string> = {
  stator: 'stator',
  outer_can: 'outer can',
  case: 'case',
}
export const OBTAINED: Record<string, string> = {
  bought: 'Bought',
  loaned: 'Loaned',
  given: 'Given',
  sponsored: 'Sponsored',
  own_design: 'Own design',
  early: 'Early access',
  unknown: 'Not noted',
}
export const TURNING: Record<string, string> = {
  cw: 'Clockwise',
  ccw: 'Counter-clockwise',
  unknown: 'Not noted',
}
export const SHIPPING: Record<string, string> = {
  included: 'included',
  extra: 'extra',
  free: 'free',
  unknown: 'not known',
}
export const AVAILABILITY: Record<string, string> = {
  in_stock: 'in stock',
  scarce: 'scarce',
  sold_out: 'sold out',
  unknown: 'not known',
}
export const PARTS: Record<string, string> = {
  mounting_screw: 'Mounting screw',
  prop_screw: 'Prop screw',
  nut: 'Nut',
  washer: 'Washer',
  c_clip: 'C-clip',
  circlip: 'Circlip',
  bell_screw: 'Bell screw',
  adapter: 'Adapter ring',
  o_ring: 'O-ring',
  other: 'Other',
}
/** Which sizes say something about a part. */
export const SIZES_OF: Record<string, ('thread' | 'length' | 'inner' | 'outer' | 'height')[]> = {
  mounting_screw: ['thread', 'length'],
  prop_screw: ['thread', 'length'],
  bell_screw: ['thread', 'length'],
  nut: ['thread', 'height'],
  washer: ['inner', 'outer', 'height'],
  adapter: ['inner', 'outer', 'height'],
  o_ring: ['inner', 'outer'],
}
/** States of a finding as tags. */
export const TAGS: Record<string, string> = {
  good: 'within',
  fits: 'within',
  caution: 'caution',
  odd: 'caution',
  past_thread: 'caution',
  too_short: 'caution',
  missing: 'caution',
  impossible: 'over',
  hits_winding: 'over',
}
