/** A column of figures as sorted bars: where each begins and ends, in per cent of the room. */

export interface BarRow {
  key: string
  motor: number
  name: string
  value: number
  u: number | null
  /** What others say of it: quoted, drawn apart. */
  claims: { value: number; source: string }[]
}

export interface Bar extends BarRow {
  /** All in per cent of the width. */
  from: number
  to: number
  low: number
  high: number
  marks: { at: number; source: string; value: number }[]
}

/** Bars from 0, the largest value first; ±2u and claims have room beside the longest. */
export function barsOf(rows: readonly BarRow[], smallestFirst = false): Bar[] {
  const ends = rows.flatMap((row) => [
    row.value + 2 * (row.u ?? 0),
    row.value - 2 * (row.u ?? 0),
    ...row.claims.map((one) => one.value),
  ])
  const most = Math.max(0, ...ends)
  const least = Math.min(0, ...rows.map((row) => row.value - 2 * (row.u ?? 0)))
  const span = most - least || 1
  const place = (value: number) => (100 * (value - least)) / span
  return [...rows]
    .sort((a, b) => (smallestFirst ? a.value - b.value : b.value - a.value))
    .map((row) => ({
      ...row,
      from: place(Math.min(0, row.value)),
      to: place(Math.max(0, row.value)),
      low: place(Math.max(least, row.value - 2 * (row.u ?? 0))),
      high: place(row.value + 2 * (row.u ?? 0)),
      marks: row.claims.map((one) => ({ at: place(one.value), ...one })),
    }))
}
