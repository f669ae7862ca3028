/** Between what is typed and what the record keeps: shares as percent, milliohm, empty as unknown. */
import { numberOrNull } from '@/figures/readNumber'

/** A kept number as text for a field; empty where nobody knows it. */
export function asText(value: number | null | undefined, times = 1): string {
  return value == null ? '' : String(Number((value * times).toPrecision(10)))
}

/** What a field holds, for the record; null where it was left empty. Throws for text that is none. */
export function asKept(text: string, times = 1): number | null {
  const value = numberOrNull(text)
  return value === null ? null : Number((value / times).toPrecision(12))
}
