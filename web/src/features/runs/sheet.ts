/** A sheet of typed readings: its columns, what cells hold, and what is pasted into it. */
import { entered } from '@/figures/entryUnits'
import { type Range, readTyped } from '@/figures/readNumber'

export interface Column {
  key: string
  label: string
  unit: string
  /** Where a comma could mean two things. */
  within?: Range
}

/** What instruments of a small bench show, in the order in which they are read. */
export const COLUMNS: readonly Column[] = [
  { key: 'throttle_pct', label: 'Throttle', unit: '%', within: [0, 100] },
  { key: 'scale_g', label: 'Scale shows', unit: 'g' },
  { key: 'voltage_v', label: 'Voltage', unit: 'V', within: [0, 120] },
  { key: 'current_a', label: 'Current', unit: 'A', within: [0, 500] },
  { key: 'power_w', label: 'Power', unit: 'W' },
  { key: 'speed_rpm', label: 'Speed', unit: 'rpm' },
  { key: 'motor_temp_c', label: 'Motor', unit: '°C' },
]

export type Cells = Record<string, string>

export const isEmpty = (row: Cells) => COLUMNS.every(({ key }) => !row[key]?.trim())

/** Why a cell is no number; empty where it is one or holds nothing. */
export function cellFault(row: Cells, { key, within }: Column): string {
  const typed = readTyped(row[key] ?? '', within)
  return typed.kind === 'wrong' ? typed.why : ''
}

/** The numbers of a row; a cell that is empty or no number is not there. */
export function numbersOf(row: Cells): Record<string, number> {
  const found: Record<string, number> = {}
  for (const { key, within } of COLUMNS) {
    const typed = readTyped(row[key] ?? '', within)
    if (typed.kind === 'number') found[key] = typed.value
  }
  return found
}

/** A cell as it stands once it is left: ounces into grams, °F into °C. */
export function settled(text: string, { unit }: Column): string {
  return entered(text, unit)?.text ?? text
}

/**
 * Cells of a spreadsheet put into the sheet from a cell on: columns by tabs, rows by lines. Rows
 * that are wanted are added; what lies beyond the last column is told, never dropped in silence.
 */
export function pasted(
  rows: readonly Cells[],
  at: { row: number; column: number },
  text: string,
): { rows: Cells[]; beyond: number } {
  const lines = text.replace(/\r/g, '').replace(/\n+$/, '').split('\n')
  const next = rows.map((row) => ({ ...row }))
  let beyond = 0
  lines.forEach((line, down) => {
    while (next.length <= at.row + down) next.push({})
    line.split('\t').forEach((cell, across) => {
      const column = COLUMNS[at.column + across]
      const row = next[at.row + down]
      if (column && row) row[column.key] = settled(cell.trim(), column)
      else if (cell.trim()) beyond += 1
    })
  })
  return { rows: next, beyond }
}

/** The sheet as a spreadsheet takes it: heads with units, then a line a row. */
export function asText(rows: readonly Cells[]): string {
  const heads = COLUMNS.map(({ label, unit }) => `${label} (${unit})`).join('\t')
  const lines = rows
    .filter((row) => !isEmpty(row))
    .map((row) => COLUMNS.map(({ key }) => row[key] ?? '').join('\t'))
  return [heads, ...lines].join('\n')
}
