/** Runs of one kind over the bench: the columns that hold anything, as bars and as a still. */
import type { Schemas } from '@/api/client'
import type { StillTable } from '@/charts/stills'
import type { BarRow } from '@/figures/bars'
import { plainFigure } from '@/figures/format'
import { labelOf, unitOf } from '@/words/words'

type Table = Schemas['KindTable']
export type KindRow = Table['rows'][number]

export interface KindColumn {
  name: string
  /** Its place among a row's cells. */
  index: number
}

/** Figures that anybody has. */
export const kindColumns = (table: Table): KindColumn[] =>
  table.figures
    .map((name, index) => ({ name, index }))
    .filter(({ index }) => table.rows.some((row) => row.cells[index]?.figure.value != null))

export const kindCell = (row: unknown, index: number) =>
  (row as KindRow).cells[index] as KindRow['cells'][number]

/** One column as bars, with what is claimed beside; who has no figure in it is left out. */
export function kindBars(table: Table, index: number): BarRow[] {
  return table.rows.flatMap((row) => {
    const { figure, claimed } = kindCell(row, index)
    if (figure.value == null) return []
    const name = `${row.motor_name}, ${row.load}`
    const { value, u } = figure
    return [{ key: row.key, motor: row.motor, name, value, u: u ?? null, claims: claimed }]
  })
}

export function kindStill(table: Table): StillTable {
  const columns = kindColumns(table)
  return {
    title: table.kinds.find((one) => one.kind === table.kind)?.label ?? '',
    heads: ['Motor', 'Under', ...columns.map(({ name }) => `${labelOf(name)}, ${unitOf(name)}`)],
    rows: table.rows.map((row) => [
      row.motor_name,
      row.load,
      ...columns.map(({ index }) => plainFigure(row.cells[index]?.figure)),
    ]),
    foot: '± is the standard uncertainty.',
  }
}
