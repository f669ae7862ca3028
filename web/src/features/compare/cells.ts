/** What a cell of the comparison says of its difference. */
import type { Schemas } from '@/api/client'
import { deltaText, type FigureText } from '@/figures/format'

type Cell = Schemas['ComparedCell']

export const OUTCOME_WORDS: Record<string, string> = {
  different: 'different',
  equivalent: 'no measurable difference',
  unresolved: 'not resolved',
}

const MORE_IS_BETTER = [
  'thrust_gf',
  'max_thrust_gf',
  'burst_thrust_gf',
  'sustained_thrust_gf',
  'held_pct',
  'efficiency_g_per_w',
  'motor_esc_efficiency_pct',
  'torque_nm',
  'peak_torque_nm',
  'accel_rpm_per_s',
  'decel_rpm_per_s',
  'continuous_power_w',
  'thrust_per_gram',
  'thrust_per_price',
]
const LESS_IS_BETTER = [
  'power_w',
  'current_a',
  'throttle_pct',
  'vibration_g',
  'no_load_current_a',
  'rise_k',
  'rise_k_per_kj',
  'rise_time_s',
  'fall_time_s',
  'dead_time_s',
  'spin_up_time_s',
  'mass_g',
  'price',
]

/** Whether a difference is for the better; null where neither way is, as of a speed or a kV. */
export function isBetter(name: string, delta: number): boolean | null {
  if (MORE_IS_BETTER.includes(name)) return delta > 0
  return LESS_IS_BETTER.includes(name) ? delta < 0 : null
}

/** The class of a difference. */
export function deltaTone(
  name: string,
  cell: { outcome: string; delta: number | null },
): '' | 'better' | 'worse' {
  if (cell.outcome !== 'different' || cell.delta === null) return ''
  const better = isBetter(name, cell.delta)
  return better === null ? '' : better ? 'better' : 'worse'
}

export function deltaOf(cell: Cell): FigureText | null {
  if (cell.delta_pct === null || cell.u_pct === null) return null
  return deltaText(cell.delta_pct, cell.u_pct)
}

export function absentText(cell: Cell): string {
  return cell.absent_reason === 'not_reached' ? 'not reached' : 'not measured'
}
