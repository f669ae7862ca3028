/**
 * One look for a column of figures: the same number of decimals down the column, so that it can be
 * read at the point, and ± in a place of its own.
 */
import { decimalsFor, figureText, textAt } from './format'

export interface Columned {
  value?: number | null
  u?: number | null
}

/** How a column is written; widths are in characters. */
export interface ColumnLook {
  decimals: number
  value_ch: number
  u_ch: number
}

/** A number of the column with more digits than these tells nothing. */
const MOST_DIGITS = 5

/**
 * The decimals that the middle u of the column carries, no more than keep its largest value at
 * five digits; without any u, those that its values need.
 */
export function columnLook(figures: readonly (Columned | null | undefined)[]): ColumnLook {
  const there = figures.filter((one): one is Columned & { value: number } => one?.value != null)
  const us = there
    .map((one) => one.u ?? 0)
    .filter((u) => u > 0)
    .sort((a, b) => a - b)
  const middle = us[Math.floor((us.length - 1) / 2)]
  const largest = Math.max(0, ...there.map((one) => Math.abs(one.value)))
  const before = largest >= 1 ? Math.floor(Math.log10(largest)) + 1 : 0
  const wanted =
    middle === undefined
      ? Math.max(0, ...there.map((one) => needed(one.value)))
      : decimalsFor(middle)
  const decimals = Math.max(0, Math.min(wanted, MOST_DIGITS - before))
  const texts = there.map((one) => textAt(one.value, one.u, decimals))
  return {
    decimals,
    value_ch: Math.max(1, ...texts.map((text) => text.value.length)),
    u_ch: Math.max(0, ...texts.map((text) => text.u.length)),
  }
}

/** Decimals of a number that nobody gave a u: no zeros at its end. */
function needed(value: number): number {
  return figureText(value).value.split('.')[1]?.length ?? 0
}
