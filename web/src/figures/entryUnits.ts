/** A number typed with a unit that is not the field's: ounces into a field of grams. */
import { words } from '@/words/words'
import { readTyped } from './readNumber'

export interface Entered {
  /** The number in the field's unit, rounded to a hundredth of the typed one's last digit. */
  text: string
  /** The step of the last digit that was typed, in the field's unit. */
  step: number
  /** As it was typed: "1.02 oz". */
  typed: string
}

const PARTS = /^(.*[\d.,])\s*([^\d.,\s][^\d]*)$/u

/** What is typed as a number with another unit than `unit`; null where there is none beside it. */
export function entered(text: string, unit: string): Entered | null {
  const parts = PARTS.exec(text.trim())
  if (!parts) return null
  const [, number = '', spelled = ''] = parts
  const plain = spelled.replace(/\s/g, '').toLowerCase()
  const other = words().entry_units.find(
    (one) => one.unit === unit && one.spellings.includes(plain),
  )
  const read = readTyped(number)
  if (!other || read.kind !== 'number') return null
  const step = stepOf(number) * other.factor
  const value = (read.value - other.offset) * other.factor
  return {
    text: String(Number(value.toFixed(Math.min(9, Math.max(0, Math.ceil(2 - Math.log10(step))))))),
    step,
    typed: `${number.trim()} ${other.name}`,
  }
}

/** Without a unit that only repeats the field's own: "28.6 g" in grams. */
export function withoutOwnUnit(text: string, unit: string): string {
  const parts = PARTS.exec(text.trim())
  if (!parts || !unit) return text
  const own = (parts[2] ?? '').replace(/\s/g, '').toLowerCase()
  return own === unit.toLowerCase() ? (parts[1] ?? '').trim() : text
}

/** The last digit a number shows: 28.60 → 0.01, 28 → 1. */
function stepOf(number: string): number {
  const decimals = /[.,](\d*)$/.exec(number.trim())?.[1]?.length ?? 0
  return 10 ** -decimals
}
