/**
 * What somebody typed or pasted, read as a number: a decimal comma, blanks between thousands.
 * Text that is no number is said to be none; it never becomes nothing.
 */

export type Typed =
  { kind: 'empty' } | { kind: 'number'; value: number } | { kind: 'wrong'; why: string }

const BLANK = "[ \\u00a0\\u2009\\u202f'’]"
const GROUPED = new RegExp(`^\\d{1,3}(?:${BLANK}\\d{3})+(?=$|[.,]\\d+$)`)
const BLANKS = new RegExp(BLANK, 'g')

function wrong(text: string): Typed {
  return { kind: 'wrong', why: `“${text.trim()}” is no number.` }
}

/** From where to where a number can lie; tells 2,000 gf from 2.000 gf. */
export type Range = readonly [number, number]

/** `within`: the possible values; where a comma could be either, the one that is possible counts. */
export function readTyped(text: string, within: Range = [-Infinity, Infinity]): Typed {
  let rest = text.replace(/[\u200b-\u200f\u2060\ufeff]/g, '').trim()
  if (!rest) return { kind: 'empty' }
  const sign = /^[-−–]/.test(rest) ? -1 : 1
  rest = rest.replace(/^[-−–+]\s*/, '')
  if (GROUPED.test(rest)) rest = rest.replace(BLANKS, '')
  if (/^[1-9]\d{0,2},\d{3}$/.test(rest)) {
    const [whole, thousandths] = rest.split(',')
    const possible = [Number(`${whole}${thousandths}`), Number(`${whole}.${thousandths}`)]
      .map((value) => sign * value)
      .filter((value) => value >= within[0] && value <= within[1])
    const [only] = possible
    if (possible.length === 1 && only !== undefined) return { kind: 'number', value: only }
    return {
      kind: 'wrong',
      why: `${rest} can be ${whole}${thousandths} or ${whole}.${thousandths}: write it one way.`,
    }
  }
  // Both signs: the last one is the decimal sign, the others stand between thousands.
  if (/^\d{1,3}(?:,\d{3})+\.\d+$/.test(rest) || /^\d{1,3}(?:,\d{3}){2,}$/.test(rest))
    rest = rest.replaceAll(',', '')
  else if (/^\d{1,3}(?:\.\d{3})+,\d+$/.test(rest) || /^\d{1,3}(?:\.\d{3}){2,}$/.test(rest))
    rest = rest.replaceAll('.', '')
  rest = rest.replace(',', '.')
  if (!/^(\d+\.?\d*|\.\d+)$/.test(rest)) return wrong(text)
  const value = Number(rest)
  return Number.isFinite(value) ? { kind: 'number', value: sign * value } : wrong(text)
}

/** A number of 0 or more, or null for anything else; for fields that say their own fault. */
export function readNumber(text: string): number | null {
  const typed = readTyped(text)
  return typed.kind === 'number' && typed.value >= 0 && !/^\s*[-−–]/.test(text) ? typed.value : null
}

/** Why a typed text is no number, in words for beside its field; empty when it is one or empty. */
export function numberFault(text: string, within?: Range): string {
  const typed = readTyped(text, within)
  return typed.kind === 'wrong' ? typed.why : ''
}

/** The number that must be there. Call it only where {@link numberFault} found nothing. */
export function numberOf(text: string, within?: Range): number {
  const typed = readTyped(text, within)
  if (typed.kind === 'number') return typed.value
  throw new TypeError(typed.kind === 'wrong' ? typed.why : 'A number is missing.')
}

/** The number, or null where the field was left empty; throws for text that is none. */
export function numberOrNull(text: string): number | null {
  return readTyped(text).kind === 'empty' ? null : numberOf(text)
}
