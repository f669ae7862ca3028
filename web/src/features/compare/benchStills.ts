/** The bench's tables as stills and bars: plain words and numbers, as a picture holds them. */
import type { Schemas } from '@/api/client'
import type { StillTable } from '@/charts/stills'
import type { BarRow } from '@/figures/bars'
import { plainFigure } from '@/figures/format'
import { labelOf, unitOf } from '@/words/words'
import { groupWords, turned } from './bench'

type Bench = Schemas['BenchTable']
const underWords = (bench: Bench) => (bench.groups[0] ? groupWords(bench.groups[0]) : '')

/** The pivot, motors down. */
export function pivotStill(bench: Bench): StillTable {
  const { pivot } = bench
  return {
    title: `${labelOf(pivot.name)}, ${unitOf(pivot.name)} — ${underWords(bench)}`,
    heads: ['Motor', ...turned(pivot, false).heads.map((one) => one.name)],
    rows: pivot.motors.map((motor) => [
      motor.name,
      ...pivot.propellers.map((propeller) => {
        const cell = pivot.cells.find(
          (one) =>
            one.motor === motor.motor &&
            one.propeller_name === propeller.name &&
            one.supply === propeller.supply,
        )
        return cell ? `${cell.estimated ? '~' : ''}${plainFigure(cell.figure)}` : '—'
      }),
    ]),
    foot: '± is the standard uncertainty. ~ was never run: estimated from the other cells.',
  }
}

/** The rows with the figures of the first group. */
export function rowsStill(bench: Bench): StillTable {
  const shown = bench.figures
    .map((name, index) => ({ name, index }))
    .filter(({ index }) => bench.rows.some((row) => row.cells[index]?.figure.value != null))
    .slice(0, 5)
  return {
    title: `The bench at ${underWords(bench)}`,
    heads: [
      'Motor',
      'Propeller',
      ...shown.map(({ name }) => `${labelOf(name)}${unitOf(name) ? `, ${unitOf(name)}` : ''}`),
    ],
    rows: bench.rows.map((row) => [
      row.motor_name,
      new Set(bench.rows.map((one) => one.on)).size > 1
        ? `${row.propeller_name}, ${row.on}`
        : row.propeller_name,
      ...shown.map(({ index }) => plainFigure(row.cells[index]?.figure)),
    ]),
    foot: '± is the standard uncertainty.',
  }
}

/** The pivot's cells as bars; what was never run is left out. */
export function pivotBars(pivot: Schemas['Pivot']): BarRow[] {
  const several = new Set(pivot.propellers.map((one) => one.supply)).size > 1
  const onOf = (cell: Schemas['PivotCell']) =>
    pivot.propellers.find((one) => one.supply === cell.supply)?.on ?? ''
  return pivot.cells.flatMap((cell) => {
    if (cell.figure.value == null || cell.estimated) return []
    const name = pivot.motors.find((one) => one.motor === cell.motor)?.name ?? ''
    return [
      {
        key: `${cell.motor}|${cell.propeller_name}|${cell.supply}`,
        motor: cell.motor,
        name: several
          ? `${name}, ${cell.propeller_name}, ${onOf(cell)}`
          : `${name}, ${cell.propeller_name}`,
        value: cell.figure.value,
        u: cell.figure.u ?? null,
        claims: [],
      },
    ]
  })
}
