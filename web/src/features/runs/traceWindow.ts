/** The part of a trace that is looked at: nearer, further, along; never beyond what was recorded. */

export interface Span {
  from: number
  until: number
}

/** So much of the part is added on both sides when it is read, so that it can be moved at once. */
const BESIDE = 0.5
/** Nearer than this nothing is to be seen. */
const LEAST_S = 0.002

const within = (from: number, length: number, whole: Span): Span => {
  const all = whole.until - whole.from
  const span = Math.min(Math.max(length, Math.min(LEAST_S, all)), all)
  const begin = Math.min(Math.max(from, whole.from), whole.until - span)
  return { from: begin, until: begin + span }
}

/** Around the same middle, `times` as long. */
export function scaled(part: Span, whole: Span, times: number): Span {
  const length = (part.until - part.from) * times
  return within((part.from + part.until - length) / 2, length, whole)
}

/** As long, further on by a share of its length. */
export function moved(part: Span, whole: Span, share: number): Span {
  const length = part.until - part.from
  return within(part.from + share * length, length, whole)
}

/** From what the chart says: parts of a hundred of the whole. */
export const spanOf = (start: number, end: number, whole: Span): Span => {
  const all = whole.until - whole.from
  return within(whole.from + (start / 100) * all, ((end - start) / 100) * all, whole)
}

export const percentOf = (part: Span, whole: Span): [number, number] => {
  const all = whole.until - whole.from || 1
  return [(100 * (part.from - whole.from)) / all, (100 * (part.until - whole.from)) / all]
}

export const isAll = (part: Span, whole: Span) =>
  part.until - part.from >= 0.999 * (whole.until - whole.from)

/** What is read for a part: null for all of it; rounded, so that the same is asked for the same. */
export function askedFor(part: Span, whole: Span): { from_s: number; until_s: number } | null {
  if (isAll(part, whole)) return null
  const beside = BESIDE * (part.until - part.from)
  const rounded = (seconds: number) => Number(seconds.toFixed(4))
  return { from_s: rounded(part.from - beside), until_s: rounded(part.until + beside) }
}
