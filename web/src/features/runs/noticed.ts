/** Between fields of what was noticed and the record: numbers where the vocabulary has a range. */
import { readTyped } from '@/figures/readNumber'
import { words } from '@/words/words'

/** For the server; a number that cannot be read goes as it was typed, and is refused by name. */
export function noticedKept(fields: Record<string, string>): Record<string, string | number> {
  const found: Record<string, string | number> = {}
  for (const one of words().noticed) {
    const text = fields[one.key]
    if (!text) continue
    const typed = readTyped(text, [one.low, one.high])
    found[one.key] = !one.choices.length && typed.kind === 'number' ? typed.value : text
  }
  return found
}

export function noticedFields(kept: Record<string, unknown>): Record<string, string> {
  return Object.fromEntries(Object.entries(kept).map(([key, value]) => [key, String(value)]))
}

/** In words, in the vocabulary's order: "Sound level 82 dB heard at 1 m, Smell: none". */
export function noticedSaid(kept: Record<string, unknown>): string[] {
  return words()
    .noticed.filter((one) => kept[one.key] !== undefined)
    .map((one) => {
      const value = kept[one.key]
      const word = one.choices.find((choice) => choice.key === value)?.label
      return word ? `${one.label}: ${word}` : `${one.label} ${String(value)} ${one.unit}`
    })
}
