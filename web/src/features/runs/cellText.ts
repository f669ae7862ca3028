/**
 * What somebody writes into a cell: a number, or what he knows instead of one. "about 40", "just
 * under 900", "890 to 910", "< 900", and "? clip 3 at 04:12" for what is read later.
 */
import { type Range, readTyped } from '@/figures/readNumber'

export type Way = 'about' | 'just_below' | 'just_above' | 'between' | 'below' | 'above'
export type CellText =
  | { kind: 'empty' }
  | { kind: 'number'; value: number }
  | { kind: 'said'; way: Way; numbers: number[] }
  | { kind: 'later'; text: string }
  | { kind: 'wrong'; why: string }

/** The longer words first: "just under" is not "under". */
const BEGINS: readonly [RegExp, Way][] = [
  [/^(?:just|barely) (?:under|below)\s+/i, 'just_below'],
  [/^(?:just|barely) (?:over|above)\s+/i, 'just_above'],
  [/^(?:~|≈|about\s|ca\.?\s|circa\s|around\s)\s*/i, 'about'],
  [/^(?:<|≤|under\s|below\s)\s*/i, 'below'],
  [/^(?:>|≥|over\s|above\s)\s*/i, 'above'],
]
const BETWEEN = /^([-−+]?[\d.,\s’']*\d)\s*(?:\.{2,3}|…|[-–—]|\bto\b)\s*([-−+]?[\d.,].*)$/i

export function readCell(text: string, within?: Range): CellText {
  const trimmed = text.trim()
  if (!trimmed) return { kind: 'empty' }
  if (trimmed.startsWith('?')) return { kind: 'later', text: trimmed.slice(1).trim() }
  for (const [begins, way] of BEGINS) {
    if (begins.test(trimmed)) return said(trimmed, way, [trimmed.replace(begins, '')], within)
  }
  const range = BETWEEN.exec(trimmed)
  if (range) return said(trimmed, 'between', [range[1] ?? '', range[2] ?? ''], within)
  return readTyped(trimmed, within)
}

function said(text: string, way: Way, parts: readonly string[], within?: Range): CellText {
  const numbers: number[] = []
  for (const part of parts) {
    const typed = readTyped(part, within)
    if (typed.kind !== 'number')
      return { kind: 'wrong', why: typed.kind === 'wrong' ? typed.why : `“${text}” has no number.` }
    numbers.push(typed.value)
  }
  const [low, high] = numbers
  if (way === 'between' && low !== undefined && high !== undefined && low >= high)
    return { kind: 'wrong', why: `“${text}”: a range goes from the smaller to the larger.` }
  if (way === 'about' && low === 0)
    return { kind: 'wrong', why: 'About 0 says nothing of how far: write a range.' }
  return { kind: 'said', way, numbers }
}
