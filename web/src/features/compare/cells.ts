/** What a cell of the comparison says of its difference. */
import type { Schemas } from '@/api/client'
import { deltaText, type FigureText } from '@/figures/format'

type Cell = Schemas['ComparedCell']

export const OUTCOME_WORDS: Record<string, string> = {
  different: 'different',
  equivalent: 'no measurable difference',
  unresolved: 'not resolved',
}

const MORE_IS_BETTER = ['thrust_gf', 'efficiency_g_per_w', 'motor_esc_efficiency_pct', 'torque_nm']
const NEITHER = ['speed_rpm', 'voltage_v']

/** Less is better for power, current and throttle; more for thrust, torque and efficiency. */
export function isBetter(name: string, delta: number): boolean {
  return MORE_IS_BETTER.includes(name) ? delta > 0 : delta < 0
}

/** The class of a difference; speed and voltage are neither better nor worse. */
export function deltaTone(
  name: string,
  cell: { outcome: string; delta: number | null },
): '' | 'better' | 'worse' {
  if (cell.outcome !== 'different' || cell.delta === null || NEITHER.includes(name)) return ''
  return isBetter(name, cell.delta) ? 'better' : 'worse'
}

export function deltaOf(cell: Cell): FigureText | null {
  if (cell.delta_pct === null || cell.u_pct === null) return null
  return deltaText(cell.delta_pct, cell.u_pct)
}

export function absentText(cell: Cell): string {
  return cell.absent_reason === 'not_reached' ? 'not reached' : 'not measured'
}
