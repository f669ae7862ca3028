/** Words of the match. */
import type { Schemas } from '@/api/client'

export const PICK_WORDS: Record<string, string> = {
  strongest: 'strongest',
  thriftiest: 'thriftiest',
  chosen: 'to choose',
}

/** Who is not told apart from a pick, as a list. */
export const levelList = (level: Schemas['Level']): string =>
  [...level.names, ...(level.more ? [`${level.more} more`] : [])].join('; ')

/** The same as a sentence; nothing where everybody is told apart. */
export const levelWords = (level: Schemas['Level']): string =>
  level.names.length ? `Not told apart from it: ${levelList(level)}.` : ''

/** The sizes of both schools: the next one, and with a fifth to spare. */
export function escWords(sizes: Schemas['SchoolEsc'][]): string {
  const known = sizes.map((one) => one.size_a).filter((one): one is number => one != null)
  if (!known.length) return '—'
  return [...new Set(known)].join('–')
}

export const WINDOW_WORDS: Record<string, string> = {
  light: 'lighter than anything this bench ran: the propeller hardly loads it',
  heavy: 'heavier than anything this bench ran within its rating',
}
