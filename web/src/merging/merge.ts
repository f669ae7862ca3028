/** Two people wrote at one fact: which fields differ, and what is to stand. */
import type { Current } from '@/api/client'

export type Values = Record<string, unknown>

export interface MergeRow {
  field: string
  /** What one saw before writing. */
  base: unknown
  mine: unknown
  theirs: unknown
  /** Undecided only where both changed it to different things. */
  choice: 'mine' | 'theirs' | null
}

/** A form holds text where the record holds a number or nothing: 20 and '20' are one, '' is null. */
const text = (value: unknown) => (value === null || value === undefined ? '' : String(value))
const same = (a: unknown, b: unknown) => text(a) === text(b)

/** A row per field that one of the two changed; what only one changed is decided already. */
export function mergeRows(base: Values, mine: Values, current: Current): MergeRow[] {
  const fields = Object.keys(mine).filter((field) => field in current.values)
  return fields
    .map((field): MergeRow => {
      const theirs = current.values[field]
      const iChanged = !same(mine[field], base[field])
      const theyChanged = !same(theirs, base[field])
      const choice = same(mine[field], theirs)
        ? 'theirs'
        : iChanged && theyChanged
          ? null
          : iChanged
            ? 'mine'
            : 'theirs'
      return { field, base: base[field], mine: mine[field], theirs, choice }
    })
    .filter((row) => !same(row.mine, row.theirs) || !same(row.base, row.theirs))
}

/** What is to be written; null while a field is undecided. */
export function merged(rows: MergeRow[], mine: Values): Values | null {
  if (rows.some((row) => row.choice === null)) return null
  const result = { ...mine }
  for (const row of rows) result[row.field] = row.choice === 'mine' ? row.mine : row.theirs
  return result
}

/** A value as one would read it; absent is a dash. */
export function shown(value: unknown): string {
  if (value === null || value === undefined || value === '') return '—'
  if (value === true) return 'yes'
  if (value === false) return 'no'
  return String(value)
}
