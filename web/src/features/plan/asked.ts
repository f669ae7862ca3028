/** Readers' requests beside the matrix: who asks, by when, and which cell would answer. */
import type { Schemas } from '@/api/client'

type Letter = Schemas['Letter']

/** "7 readers, by 2026-12-04; Ana". */
export function askedFor(letter: Letter): string {
  const many = letter.readers ?? 1
  const parts = [many === 1 ? 'one reader' : `${many} readers`]
  if (letter.wanted_by) parts.push(`by ${letter.wanted_by}`)
  const who = letter.person ? `; ${letter.person}` : ''
  return parts.join(', ') + who
}

/**
 * The cell that would answer a request on this supply, by row and column; null where it names no
 * motor of the matrix, a propeller that is not in it, or another supply.
 */
export function cellAsked(letter: Letter, matrix: Schemas['Matrix']): [number, number] | null {
  if (letter.supply && letter.supply !== matrix.supply) return null
  const row = matrix.rows.findIndex((one) => one.motor === letter.motor)
  if (row < 0 || !letter.propeller) return null
  const column = matrix.columns.findIndex((one) => one.propeller === letter.propeller)
  return column < 0 ? null : [row, column]
}

/** How many readers ask for a cell: of its motor, whichever sample, on its propeller. */
export function readersOf(
  requests: readonly Letter[],
  matrix: Schemas['Matrix'],
  row: number,
  column: number,
): number {
  const motor = matrix.rows[row]?.motor
  const propeller = matrix.columns[column]?.propeller
  return requests
    .filter(
      (one) =>
        one.motor === motor &&
        one.propeller === propeller &&
        (!one.supply || one.supply === matrix.supply),
    )
    .reduce((sum, one) => sum + (one.readers ?? 1), 0)
}
