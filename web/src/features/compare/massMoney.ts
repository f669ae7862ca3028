/** Mass and money: the columns, a motor's cell in each, and the table as bars and as a still. */
import type { Schemas } from '@/api/client'
import type { StillTable } from '@/charts/stills'
import type { BarRow } from '@/figures/bars'
import { plainFigure } from '@/figures/format'

type Table = Schemas['MassAndMoney']
export type MassRow = Schemas['MassRow']

export interface MassColumn {
  name: string
  label: string
  unit: string
}

export function massColumns(table: Table): MassColumn[] {
  return [
    { name: 'mass_g', label: `Mass, leads at ${table.lead_length_mm} mm`, unit: 'g' },
    { name: 'max_thrust_gf', label: 'Largest thrust', unit: 'gf' },
    { name: 'thrust_per_gram', label: 'Thrust per gram', unit: 'gf/g' },
    { name: 'price', label: 'Price', unit: table.currency || 'no currency' },
    {
      name: 'thrust_per_price',
      label: 'Thrust per price',
      unit: `gf/${table.currency || 'price'}`,
    },
  ]
}

export const cellOf = (row: unknown, name: string) =>
  (row as MassRow).cells.find((one) => one.name === name) as MassRow['cells'][number]

/** One column as bars; who has no figure in it is left out. */
export function massBars(table: Table, name: string): BarRow[] {
  return table.rows.flatMap((row) => {
    const { value, u } = cellOf(row, name).figure
    if (value == null) return []
    const key = String(row.motor)
    return [{ key, motor: row.motor, name: row.motor_name, value, u: u ?? null, claims: [] }]
  })
}

export function massStill(table: Table): StillTable {
  const columns = massColumns(table)
  return {
    title: `Mass and money${table.load_words ? ` — thrust on ${table.load_words}` : ''}`,
    heads: ['Motor', ...columns.map((one) => `${one.label}, ${one.unit}`)],
    rows: table.rows.map((row) => [
      row.motor_name,
      ...columns.map((one) => plainFigure(cellOf(row, one.name).figure)),
    ]),
    foot: '± is the standard uncertainty.',
  }
}
