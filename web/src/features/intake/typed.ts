/** What is typed at intake, read as numbers, and faults said beside their fields. */
import { readNumber } from '@/figures/readNumber'

/** A typed number or null for an empty field; undefined when it is neither. */
export function optional(text: string): number | null | undefined {
  if (!text.trim()) return null
  return readNumber(text) ?? undefined
}

/** Why a mass cannot be one of a small motor, with the likely slip; empty when it can. */
export function massFault(text: string): string {
  const value = readNumber(text)
  if (value === null) return 'Write the mass in grams, for instance 28.6.'
  if (value >= 0.5 && value <= 2000) return ''
  const slip = value / 1000
  const hint = slip >= 0.5 && slip <= 2000 ? ` Did you mean ${slip} g?` : ''
  return `A small motor weighs 0.5 to 2000 g, not ${value} g.${hint}`
}

/** Why a claimed number cannot be one of its quantity; empty when it can or nothing is typed. */
export function claimFault(
  quantity: { label: string; unit: string; low: number; high: number; words: boolean },
  text: string,
): string {
  if (!text.trim() || quantity.words) return ''
  const value = readNumber(text)
  if (value === null) return `Write a number in ${quantity.unit}.`
  if (value < quantity.low || value > quantity.high)
    return `${value} ${quantity.unit} is outside ${quantity.low} to ${quantity.high} ${quantity.unit}; check the unit.`
  return ''
}

/** The last digit a typed reading shows: 28.60 → 0.01, 28 → 1. */
export function lastDigit(text: string): number {
  const decimals = text.trim().replace(',', '.').split('.')[1]?.length ?? 0
  return Number((10 ** -decimals).toFixed(decimals))
}

/** A reading with the digits its instrument shows: 25 to 0.01 → 25.00. */
export function asRead(value: number, resolution: number): string {
  return value.toFixed(Math.max(0, Math.round(-Math.log10(resolution))))
}
