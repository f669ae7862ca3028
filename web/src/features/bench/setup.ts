/** The choices before a run: checked here for what a reviewer would trip over, enforced by the
 * server and the agent. */

export interface BenchDraft {
  sample: number | null
  propeller: number | null
  supply: number | null
  stand: number | null
  levels: string
  dwell_s: string
  ramp_pct_per_s: string
  current_a: string
  motor_temp_c: string
  thrust_gf: string
  voltage_floor_v: string
  air_temp_c: string
  air_pressure_hpa: string
  air_humidity_pct: string
  purpose: string
}

export const EMPTY_DRAFT: BenchDraft = {
  sample: null,
  propeller: null,
  supply: null,
  stand: null,
  levels: '20 40 60 80 100',
  dwell_s: '3',
  ramp_pct_per_s: '40',
  current_a: '40',
  motor_temp_c: '90',
  thrust_gf: '4000',
  voltage_floor_v: '',
  air_temp_c: '',
  air_pressure_hpa: '',
  air_humidity_pct: '',
  purpose: '',
}

export const CHECKLIST: { key: string; text: string }[] = [
  { key: 'eye_protection', text: 'Eye protection on; hair, sleeves and cables away' },
  { key: 'guard_in_place', text: 'Guard in place; packs on its floor side' },
  { key: 'prop_plane_clear', text: 'Nobody and nothing in the plane of the prop' },
  { key: 'prop_checked', text: 'Prop not cracked, nut tight, direction right' },
  { key: 'mount_clamped', text: 'Motor clamped to the stand, never held by hand' },
  { key: 'kill_switch_in_reach', text: 'Kill switch of the supply within reach' },
]

/** "20 40, 60" → [20, 40, 60]; null when a word is no number. */
export function readLevels(text: string): number[] | null {
  const parts = text.split(/[\s,;]+/).filter(Boolean)
  const levels = parts.map(Number)
  return parts.length && levels.every((level) => Number.isFinite(level)) ? levels : null
}

/** Seconds a steps profile takes: rests, ramps and dwells. */
export function profileSeconds(
  levels: number[],
  dwell_s: number,
  ramp: number,
  rest_s = 3,
): number {
  const stops = [0, ...levels, 0]
  const way = stops.slice(1).reduce((sum, level, i) => sum + Math.abs(level - (stops[i] ?? 0)), 0)
  return 2 * rest_s + levels.length * dwell_s + way / ramp
}

const optional = (text: string): number | null => (text.trim() ? Number(text) : null)

/** What is still missing or wrong, in words; empty when it may be armed. */
export function gapsOf(draft: BenchDraft, confirmed: Set<string>): string[] {
  const gaps: string[] = []
  if (!draft.sample) gaps.push('Choose the motor and its sample')
  if (!draft.propeller) gaps.push('Choose the propeller')
  if (!draft.supply) gaps.push('Choose the supply')
  if (!draft.stand) gaps.push('Choose the stand')
  const levels = readLevels(draft.levels)
  if (!levels) gaps.push('Write the plateaus as numbers, for instance 20 40 60')
  else if (levels.some((level) => level <= 0 || level > 100))
    gaps.push('Plateaus are above 0 and at most 100 %')
  if (!(Number(draft.dwell_s) >= 1.5)) gaps.push('A plateau lasts at least 1.5 s')
  if (!(Number(draft.ramp_pct_per_s) >= 5)) gaps.push('A ramp is at least 5 %/s')
  if (!(Number(draft.current_a) > 0)) gaps.push('Set a current limit')
  const open = CHECKLIST.filter((item) => !confirmed.has(item.key)).length
  if (open) gaps.push(`Confirm the checklist (${open} open)`)
  return gaps
}

/** The body of the arm request. Call only without gaps. */
export function armBody(draft: BenchDraft, confirmed: Set<string>, run_id: string) {
  return {
    run_id,
    sample: draft.sample as number,
    propeller: draft.propeller as number,
    supply: draft.supply as number,
    stand: draft.stand as number,
    profile: {
      levels_pct: readLevels(draft.levels) ?? [],
      dwell_s: Number(draft.dwell_s),
      ramp_pct_per_s: Number(draft.ramp_pct_per_s),
      rest_s: 3,
    },
    limits: {
      current_a: Number(draft.current_a),
      motor_temp_c: optional(draft.motor_temp_c),
      thrust_gf: optional(draft.thrust_gf),
      voltage_floor_v: optional(draft.voltage_floor_v),
    },
    air_temp_c: optional(draft.air_temp_c),
    air_pressure_hpa: optional(draft.air_pressure_hpa),
    air_humidity_pct: optional(draft.air_humidity_pct),
    purpose: draft.purpose,
    checklist: CHECKLIST.map((item) => item.key).filter((key) => confirmed.has(key)),
  }
}

/** How near a value is to its limit: 0 far, 1 near (80 % and more), 2 beyond. */
export function nearness(value: number | undefined, limit: number | null | undefined): 0 | 1 | 2 {
  if (value === undefined || !limit) return 0
  if (value > limit) return 2
  return value >= 0.8 * limit ? 1 : 0
}
