/** What the record of a box is about, and how findings are marked. */
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
  may_touch: 'over',
}
