/** Answers of the teardown in words, and which key gives which answer. */
import type { Schemas } from '@/api/client'

type Attribute = Schemas['Attribute']
type Observation = Schemas['Observation']

export function answerInWords(attribute: Attribute, seen: Observation): string {
  if (seen.status === 'could_not_tell') return 'could not tell'
  if (seen.status === 'not_looked') return 'not looked at'
  if (seen.value !== null && seen.value !== undefined)
    return attribute.unit ? `${seen.value} ${attribute.unit}` : String(seen.value)
  return attribute.choices.find((choice) => choice.key === seen.choice)?.label ?? seen.choice ?? ''
}

export function suggestionOf(attribute: Attribute, seen: Observation): string {
  return attribute.choices.find((choice) => choice.key === seen.choice)?.suggests ?? ''
}

/** What a digit key means for a question: a choice, "could not tell", or nothing. */
export function answerOfKey(
  attribute: Attribute,
  key: string,
): { status: 'observed' | 'could_not_tell'; choice: string } | null {
  if (key === '0') return { status: 'could_not_tell', choice: '' }
  if (!/^[1-9]$/.test(key)) return null
  const choice = attribute.choices[Number(key) - 1]
  return choice ? { status: 'observed', choice: choice.key } : null
}

/** A number as typed on a bench: a decimal comma is fine, a word is not. */
export function readNumber(text: string): number | null {
  const cleaned = text.trim().replace(',', '.')
  return /^\d+(\.\d+)?$/.test(cleaned) ? Number(cleaned) : null
}

/** The next question without an answer after an index, or the one that follows. */
export function nextOpen(keys: string[], answered: Set<string>, after: number): number {
  for (let step = 1; step <= keys.length; step++) {
    const index = (after + step) % keys.length
    if (!answered.has(keys[index] as string)) return index
  }
  return Math.min(after + 1, keys.length - 1)
}
