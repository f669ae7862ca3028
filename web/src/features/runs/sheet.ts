/** A sheet of typed readings: its columns, what cells hold, and what is pasted into it. */
import { entered } from '@/figures/entryUnits'
import type { Range } from '@/figures/readNumber'
import { words } from '@/words/words'
import { readCell } from './cellText'

export interface Column {
  key: string
  label: string
  unit: string
  /** Where a comma could mean two things. */
  within?: Range
  /** Shown before anybody chose columns. */
  usual?: boolean
  /** Words, not a reading. */
  text?: boolean
}

/** What instruments of a small bench show, in the order in which they are read. */
export const COLUMNS: readonly Column[] = [
  { key: 'throttle_pct', label: 'Throttle', unit: '%', within: [0, 100], usual: true },
  { key: 'scale_g', label: 'Scale shows', unit: 'g', usual: true },
  { key: 'total_gf', label: 'Added up', unit: 'gf' },
  { key: 'voltage_v', label: 'Voltage', unit: 'V', within: [0, 120], usual: true },
  { key: 'current_a', label: 'Current', unit: 'A', within: [0, 500], usual: true },
  { key: 'power_w', label: 'Power', unit: 'W', usual: true },
  { key: 'speed_rpm', label: 'Speed', unit: 'rpm', usual: true },
  { key: 'torque_nm', label: 'Torque', unit: 'N·m' },
  { key: 'motor_temp_before_c', label: 'Motor before', unit: '°C' },
  { key: 'motor_temp_c', label: 'Motor', unit: '°C', usual: true },
  { key: 'ambient_temp_c', label: 'Air', unit: '°C' },
  { key: 'vibration_g', label: 'Vibration', unit: 'g' },
  { key: 'duration_s', label: 'Held for', unit: 's' },
  { key: 'charge_mah', label: 'Charge', unit: 'mAh' },
]
/** Where a row can be seen: text, not a reading. */
export const CLIP = 'clip'
const CLIP_COLUMN: Column = { key: CLIP, label: 'Clip and time', unit: '', text: true }
/** What can be shown: the readings, and where a row can be seen. */
export const EVERY_COLUMN: readonly Column[] = [...COLUMNS, CLIP_COLUMN]
/** When the motor's temperature was typed; kept with the row here, never sent. */
export const READ_AT = 'read_at'

export type Cells = Record<string, string>
/** Column → the unit it is typed in, where that is not its own. */
export type Units = Record<string, string>

export const isEmpty = (row: Cells) => COLUMNS.every(({ key }) => !row[key]?.trim())

/** The columns that are shown: those chosen, else the usual ones and what the instruments read. */
export function shownColumns(
  chosen: readonly string[] | null,
  instruments: readonly string[],
): readonly Column[] {
  const read = instruments.map((channel) => (channel === 'thrust_gf' ? 'scale_g' : channel))
  return EVERY_COLUMN.filter(({ key, usual }) => {
    if (chosen) return chosen.includes(key)
    return usual || read.includes(key)
  })
}

/** Units that a column can be typed in, its own first. */
export function unitsOf(column: Column): string[] {
  return [
    column.unit,
    ...words()
      .entry_units.filter((one) => one.unit === column.unit)
      .map((one) => one.name),
  ]
}

/** A head with its unit; words have none. */
export const headOf = (column: Column, units: Units) =>
  column.text ? column.label : `${column.label}, ${unitIn(column, units)}`

export const unitIn = (column: Column, units: Units) => units[column.key] ?? column.unit

/** Why a cell is no number; empty where it is one, says less than one, or holds nothing. */
export function cellFault(row: Cells, { key, within, text }: Column): string {
  if (text)
    return row[CLIP]?.trim() && isEmpty(row)
      ? 'Nothing of this row was read yet: write “?” into the cells that the clip shows.'
      : ''
  const typed = readCell(row[key] ?? '', within)
  return typed.kind === 'wrong' ? typed.why : ''
}

export type SentCell = number | string | { [way: string]: number[] | string }

/** The cells of a row for the server, each in its column's own unit; one that is empty or no number
 * is not there. */
export function cellsOf(row: Cells, units: Units = {}): Record<string, SentCell> {
  const found: Record<string, SentCell> = {}
  for (const column of COLUMNS) {
    const typed = readCell(row[column.key] ?? '', column.within)
    const own = (value: number) => inOwnUnit(value, column, units)
    if (typed.kind === 'number') found[column.key] = own(typed.value)
    else if (typed.kind === 'said') found[column.key] = { [typed.way]: typed.numbers.map(own) }
    else if (typed.kind === 'later') found[column.key] = { later: typed.text }
  }
  if (row[CLIP]?.trim()) found[CLIP] = row[CLIP].trim()
  return found
}

function inOwnUnit(value: number, column: Column, units: Units): number {
  const other = words().entry_units.find(
    (one) => one.unit === column.unit && one.name === unitIn(column, units),
  )
  if (!other) return value
  return Number(((value - other.offset) * other.factor).toPrecision(12))
}

/** A cell as it stands once it is left: ounces into grams, °F into °C, where the column is in them. */
export function settled(text: string, column: Column, units: Units = {}): string {
  if (column.text) return text
  return unitIn(column, units) === column.unit ? (entered(text, column.unit)?.text ?? text) : text
}

/**
 * Cells of a spreadsheet put into the sheet from a cell on: columns by tabs, rows by lines. Rows
 * that are wanted are added; what lies beyond the last column is told, never dropped in silence.
 */
export function pasted(
  rows: readonly Cells[],
  at: { row: number; column: number },
  text: string,
  columns: readonly Column[],
  units: Units = {},
): { rows: Cells[]; beyond: number } {
  const lines = text.replace(/\r/g, '').replace(/\n+$/, '').split('\n')
  const next = rows.map((row) => ({ ...row }))
  let beyond = 0
  lines.forEach((line, down) => {
    while (next.length <= at.row + down) next.push({})
    line.split('\t').forEach((cell, across) => {
      const column = columns[at.column + across]
      const row = next[at.row + down]
      if (column && row) row[column.key] = settled(cell.trim(), column, units)
      else if (cell.trim()) beyond += 1
    })
  })
  return { rows: next, beyond }
}

/** What a row means, beside what was typed into it. */
const MEANT = [
  { key: 'thrust_gf', head: 'Thrust (gf)' },
  { key: 'power_w', head: 'Power made of it (W)' },
  { key: 'efficiency_g_per_w', head: 'Per watt (gf/W)' },
  { key: 'rise_k', head: 'Rise (K)' },
] as const
type Look = { readonly [name in (typeof MEANT)[number]['key']]?: number | null }

/** The sheet as a spreadsheet takes it: heads with units, then a line a row, what was typed and
 * what it means. */
export function asText(
  rows: readonly Cells[],
  columns: readonly Column[],
  units: Units = {},
  looks: readonly Look[] = [],
): string {
  const meant = MEANT.filter(({ key }) => looks.some((look) => look?.[key] != null))
  const heads = columns.map((column) =>
    column.text ? column.label : `${column.label} (${unitIn(column, units)})`,
  )
  const lines = rows
    .map((row, at) => ({ row, look: looks[at] }))
    .filter(({ row }) => !isEmpty(row) || row[CLIP]?.trim())
    .map(({ row, look }) =>
      [
        ...columns.map(({ key }) => plain(row[key] ?? '')),
        ...meant.map(({ key }) => (look?.[key] == null ? '' : String(round(look[key])))),
      ].join('\t'),
    )
  return [[...heads, ...meant.map(({ head }) => head)].join('\t'), ...lines].join('\n')
}

const round = (value: number) => Number(value.toPrecision(6))
/** A cell that would break the line apart, or be taken for a formula, is text. */
const plain = (text: string) => {
  const line = text.replace(/[\t\r\n]+/g, ' ').trim()
  return /^[=@]|^[+-](?![\d.,])/.test(line) ? `'${line}` : line
}

/** Columns that some row under throttle was read in: what the others still owe. */
export function readColumns(blocks: readonly { rows: readonly Cells[] }[]): string[] {
  const turning = blocks
    .flatMap((block) => block.rows)
    .filter((row) => !isEmpty(row) && !/^\s*0*\s*$/.test(row.throttle_pct ?? 'x'))
  const single = new Set(['throttle_pct', 'total_gf', 'duration_s', 'charge_mah', 'ambient_temp_c'])
  return COLUMNS.filter(
    ({ key }) => !single.has(key) && turning.some((row) => row[key]?.trim()),
  ).map(({ key }) => key)
}
