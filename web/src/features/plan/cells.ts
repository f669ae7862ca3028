/** What a cell of the matrix shows, and how the focus moves over it. */
import type { Schemas } from '@/api/client'
import { figureLine, formatNumber } from '@/figures/format'

export type Cell = Schemas['MatrixCell']
export type Sorting = 'as_named' | 'thrust_gf' | 'common_g_per_w' | 'used'

/** How a cell stands to its limits. */
export function standing(cell: Cell): 'unknown' | 'within' | 'near' | 'beyond' {
  if (cell.used === null) return 'unknown'
  if (cell.used > 1) return 'beyond'
  return cell.used > 0.85 || cell.limits.some((one) => one.may_pass) ? 'near' : 'within'
}

/** Limits of which nobody knows whether full throttle keeps them; empty where all are told. */
export function mayPassWords(cell: Cell): string {
  const names = cell.limits.filter((one) => one.may_pass).map((one) => one.name)
  return names.length ? `It is not told whether full throttle keeps: ${names.join(', ')}.` : ''
}

/** How much of a limit is used: "64 ± 2 %". */
export function shareWords({ used, u }: Cell['limits'][number]): string {
  return figureLine(100 * used, 100 * u, '%')
}

/** Width of a bar of 100 units for a limit that is used so far; what is beyond is cut at the end. */
export const barOf = (used: number | null): number => Math.min(100, Math.max(0, 100 * (used ?? 0)))

/** What a run there would teach, in words. */
export function worthWords(cell: Cell): string {
  if (cell.why_not) return cell.why_not
  const known =
    cell.unknown_pct === null ? '' : `known within ${formatNumber(cell.unknown_pct, 1)} %`
  if (cell.away) return `predicted only: ${known || 'not at hand'}`
  if (cell.barred) return `cannot be mounted: ${cell.sits_words}`
  if (!cell.worth) return `not worth running: ${known}`
  return known
}

const SITS: Record<Cell['sits'], string> = {
  good: 'The propeller sits on it',
  caution: 'It can be mounted, with care',
  impossible: 'By its measures it cannot be mounted',
  unknown: 'Whether it can be mounted is not known',
}
/** Whether the propeller sits on the motor, and by what. */
export function sitsWords(cell: Pick<Cell, 'sits' | 'sits_words' | 'barred'>): string {
  const ran = cell.sits === 'impossible' && !cell.barred ? ', though it ran' : ''
  const words = cell.sits_words.replace(/\.$/, '')
  return `${SITS[cell.sits]}${ran}${words ? `: ${words}` : ''}.`
}

/** Up to which throttle a cell may be run that breaks a limit; empty where full is free. */
export function throttleWords(cell: Cell): string {
  if (cell.most_duty_pct === null || cell.most_duty_pct >= 99.5) return ''
  return `within its limits up to a duty of about ${formatNumber(cell.most_duty_pct, 0)} %`
}

/** The order of rows by a figure of one column or of their best cell, the best first. */
export function rowOrder(cells: readonly (readonly Cell[])[], by: Sorting): number[] {
  const order = cells.map((_, i) => i)
  if (by === 'as_named') return order
  const best = (row: readonly Cell[]) => {
    const values = row.map((cell) => cell[by]).filter((value) => value !== null)
    if (!values.length) return Infinity
    return by === 'used' ? Math.min(...values) : -Math.max(...values)
  }
  const keys = cells.map(best)
  return order.sort((a, b) => (keys[a] ?? 0) - (keys[b] ?? 0) || a - b)
}

/** Where an arrow key leads from a cell; null for other keys. */
export function moved(
  key: string,
  at: readonly [number, number],
  rows: number,
  columns: number,
): [number, number] | null {
  const [row, column] = at
  const clamp = (value: number, most: number) => Math.min(most - 1, Math.max(0, value))
  switch (key) {
    case 'ArrowUp':
      return [clamp(row - 1, rows), column]
    case 'ArrowDown':
      return [clamp(row + 1, rows), column]
    case 'ArrowLeft':
      return [row, clamp(column - 1, columns)]
    case 'ArrowRight':
      return [row, clamp(column + 1, columns)]
    case 'Home':
      return [row, 0]
    case 'End':
      return [row, columns - 1]
    default:
      return null
  }
}
