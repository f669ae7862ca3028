/** Answers of the teardown in words, and which key gives which answer. */
import type { Schemas } from '@/api/client'
import { numberFault as typedFault, readNumber } from '@/figures/readNumber'

type Attribute = Schemas['Attribute']
type Observation = Schemas['Observation']
type Answer = Partial<Schemas['ObservationRequest']>

const ORDINALS = ['less', 'same', 'more'] as const

/** An answer as one would say it, with the sample it refers to. */
export function answerInWords(attribute: Attribute, seen: Observation): string {
  if (seen.status === 'could_not_tell') return 'could not tell'
  if (seen.status === 'not_looked') return 'not looked at'
  if (seen.status === 'ordinal') {
    const at = ORDINALS.indexOf(seen.ordinal as (typeof ORDINALS)[number])
    return `${attribute.ordinal_words[at] ?? seen.ordinal} beside ${seen.reference_short}`
  }
  const own = plainAnswer(attribute, seen)
  if (seen.status === 'same_as') return `${own} (same as ${seen.reference_short})`
  if (seen.status === 'inferred') return `${own} (inferred from ${seen.reference_short})`
  return own
}

function plainAnswer(attribute: Attribute, seen: Observation): string {
  if (seen.value !== null && seen.value !== undefined)
    return attribute.unit ? `${seen.value} ${attribute.unit}` : String(seen.value)
  return attribute.choices.find((choice) => choice.key === seen.choice)?.label ?? seen.choice ?? ''
}

export function suggestionOf(attribute: Attribute, seen: Observation): string {
  return attribute.choices.find((choice) => choice.key === seen.choice)?.suggests ?? ''
}

/** Whether a letter belongs to the number before it, as in 1.1 in; over a selection it is a key. */
export function isUnitBeingTyped(field: HTMLInputElement, key: string): boolean {
  const typing = /\d/.test(field.value) && field.selectionStart === field.selectionEnd
  return typing && /^[a-zµ°"']$/i.test(key)
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

export interface Reference {
  id: number
  name: string
  /** Whether it is of the same motor or of another wind or size of the family. */
  family: boolean
  /** Whether somebody looked at this there: only then can it be taken over. */
  answered: boolean
}

/**
 * What a letter or sign means, also inside a number field, where it can be no digit: u could not
 * tell, x not looked at, s same as the reference, i inferred from it, < = > beside it.
 */
export function answerOfSign(
  attribute: Attribute,
  key: string,
  reference: Reference | null,
): Answer | null {
  if (key === 'u') return { status: 'could_not_tell', choice: '' }
  if (key === 'x') return { status: 'not_looked', choice: '' }
  if (!reference) return null
  if (key === 's' && reference.answered) return { status: 'same_as', reference: reference.id }
  if (key === 'i' && reference.answered && reference.family)
    return { status: 'inferred', reference: reference.id }
  const at = ['<', '=', '>'].indexOf(key)
  if (at < 0 || !attribute.ordinal_words.length) return null
  return { status: 'ordinal', ordinal: ORDINALS[at], reference: reference.id }
}

/** Why a typed number cannot be kept, in words beside its field; empty when it can. */
export function numberFault(attribute: Attribute, text: string): string {
  const value = readNumber(text)
  if (value === null) return `${typedFault(text)} Write a number, for instance 21.2.`.trim()
  const unit = attribute.unit ? ` ${attribute.unit}` : ''
  const high = attribute.high ?? Infinity
  if (value < attribute.low || value > high)
    return `${value}${unit} is outside ${attribute.low} to ${high}${unit}; check the unit.`
  if (attribute.integer && !Number.isInteger(value)) return 'This is counted: a whole number.'
  if (attribute.key === 'pole_count' && value % 2) return 'Magnets come in pairs: an even number.'
  if (attribute.key === 'slot_count' && value % 3) return 'Slots come in threes.'
  return ''
}

/** The next question without an answer after an index, or the one that follows. */
export function nextOpen(keys: string[], answered: Set<string>, after: number): number {
  for (let step = 1; step <= keys.length; step++) {
    const index = (after + step) % keys.length
    if (!answered.has(keys[index] as string)) return index
  }
  return Math.min(after + 1, keys.length - 1)
}
